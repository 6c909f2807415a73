"""Reading the data files into the core's catalogue, and checking every row against
physical bands.
"""

from __future__ import annotations

import csv
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path
from typing import Any, TypeVar

import yaml
from pydantic import BaseModel, ValidationError

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.limit import Limit, LimitBand
from gale_nook.core.base.material import Material
from gale_nook.core.base.sourced import Sourced
from gale_nook.core.catalogue.air import AirEquipment
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.catalogue.coolant import CoolantEquipment
from gale_nook.core.catalogue.envelope import (
    BuildUpPreset,
    CabGuess,
    Glazing,
    Leakage,
    Region,
    RibKind,
)
from gale_nook.core.catalogue.firing import FiringBook
from gale_nook.core.catalogue.fuel import FuelEquipment
from gale_nook.core.catalogue.handover import HandoverBook
from gale_nook.core.catalogue.items import CatalogueItem, Caution
from gale_nook.core.catalogue.log import LogBook
from gale_nook.core.catalogue.pipes import PipeKind, PipePhysics
from gale_nook.core.catalogue.planner import PlannerBook
from gale_nook.core.catalogue.power import PowerEquipment
from gale_nook.core.catalogue.practice import PracticeBook
from gale_nook.core.catalogue.room import RoomBook, RoomFile
from gale_nook.core.catalogue.sound import SoundPhysics
from gale_nook.core.catalogue.survey import (
    BodyType,
    RestsOn,
    SolidKind,
    SolidMaterial,
    UsualPart,
    UsualValue,
)
from gale_nook.core.catalogue.work import WorkBook
from gale_nook.core.errors import BadInput
from gale_nook.core.heater.sheets import NOT_A_PART, contradictions, limit_troubles

HERE = Path(__file__).parent
Row = TypeVar("Row", bound=BaseModel)
Entry = TypeVar("Entry", bound=Sourced)


@lru_cache(maxsize=1)
def load_catalogue() -> Catalogue:
    """Return the bundled catalogue; raises BadInput naming file and row where a value cannot be
    right.
    """
    bands = {row.id: row for row in _rows("limit_bands.yaml", LimitBand)}
    workshop = {
        name: _row("workshop_limits.yaml", Limit, raw)
        for name, raw in _read(HERE / "workshop_limits.yaml").items()
    }
    for path, value, problem in limit_troubles("workshop_limits.yaml", workshop, bands):
        raise BadInput(path, value, problem)
    parts = _by_id(_rows("parts.yaml", CatalogueItem))
    materials = _by_id(_rows("materials.yaml", Material))
    kinds = _by_id(_rows("solid_kinds.yaml", SolidKind))
    heaters = {sheet.id: sheet for sheet in _sheets()}
    for sheet in heaters.values():
        check_sheet(sheet, bands, parts)
    return Catalogue(
        heaters=heaters,
        materials=materials,
        build_ups=_presets(materials),
        leakage=_by_id(_rows("leakage.yaml", Leakage)),
        bodies=_by_id(_rows("bodies.yaml", BodyType)),
        body_parts=_body_parts(kinds),
        pipes=_by_id(_rows("pipes.yaml", PipeKind)),
        pipe_physics=_row("pipe_physics.yaml", PipePhysics, _read(HERE / "pipe_physics.yaml")),
        fuel_equipment=_row(
            "fuel_equipment.yaml", FuelEquipment, _read(HERE / "fuel_equipment.yaml")
        ),
        air_equipment=_air_equipment(parts),
        power_equipment=_row(
            "power_equipment.yaml", PowerEquipment, _read(HERE / "power_equipment.yaml")
        ),
        coolant_equipment=_coolant_equipment(),
        sound=_row("sound.yaml", SoundPhysics, _read(HERE / "sound.yaml")),
        firing=_row("firing.yaml", FiringBook, _read(HERE / "firing.yaml")),
        work=_work(parts),
        log=_row("log.yaml", LogBook, _read(HERE / "log.yaml")),
        planner=_row("planner.yaml", PlannerBook, _read(HERE / "planner.yaml")),
        handover=_row("handover.yaml", HandoverBook, _read(HERE / "handover.yaml")),
        practice=_row("practice.yaml", PracticeBook, _read(HERE / "practice.yaml")),
        cab=_row("cab.yaml", CabGuess, _read(HERE / "cab.yaml")),
        regions=_by_id(_rows("regions.yaml", Region)),
        glazings=_by_id(_rows("glazings.yaml", Glazing)),
        rib_kinds=_by_id(_rows("ribs.yaml", RibKind)),
        solid_kinds=kinds,
        solid_materials=_by_id(_rows("solid_materials.yaml", SolidMaterial)),
        usual_values=_by_id(_rows("usual_values.yaml", UsualValue)),
        rests_on=tuple(_rows("rests_on.yaml", RestsOn)),
        room=_room(kinds),
        workshop_limits=workshop,
        limit_bands=bands,
        parts=parts,
        cautions=tuple(_rows("cautions.yaml", Caution)),
    )


def _work(parts: dict[str, CatalogueItem]) -> WorkBook:
    """The work, every kind in a stretch that there is, and every part of a shop that there is."""
    book = _row("work.yaml", WorkBook, _read(HERE / "work.yaml"))
    groups, shops = {each.id for each in book.groups}, {each.id for each in book.shops}
    for kind in book.kinds:
        if kind.group not in groups:
            raise BadInput(f"work.yaml {kind.id}", kind.group, "is no stretch of the work")
    for part in parts.values():
        if part.shop not in shops:
            raise BadInput(f"parts.yaml {part.id}", part.shop, "is no kind of shop")
    return book


def _body_parts(kinds: dict[str, SolidKind]) -> dict[str, UsualPart]:
    """The parts that body types usually have, each of a kind that there is."""
    parts = _by_id(_rows("body_parts.yaml", UsualPart))
    for part in parts.values():
        if part.kind not in kinds:
            raise BadInput(f"body_parts.yaml {part.id}", part.kind, "is not a kind of part")
    return parts


def check_sheet(
    sheet: HeaterSheet, bands: dict[str, LimitBand], parts: dict[str, CatalogueItem]
) -> None:
    """Raise BadInput where a heater's sheet contradicts itself, physics, or the bands of its
    limits.
    """
    for path, value, problem in contradictions(sheet, bands, parts):
        raise BadInput(f"{sheet.id}.{path}", value, problem)


def _air_equipment(parts: dict[str, CatalogueItem]) -> AirEquipment:
    """The warm air's equipment, every part that it is bought as known."""
    file = "air_equipment.yaml"
    row = _row(file, AirEquipment, _read(HERE / file))
    bought = [(e.id, e.part) for e in row.ducts]
    bought += [(e.id, e.part) for e in row.splitters]
    bought += [(e.id, e.part) for e in row.outlets]
    bought += [(e.id, e.part) for e in row.clips]
    for entry, part in bought:
        if part not in parts:
            raise BadInput(f"{file} {entry}", part, NOT_A_PART)
    return row


def _coolant_equipment() -> CoolantEquipment:
    """The loop's equipment with the table of mixes."""
    file = "coolant_equipment.yaml"
    with (HERE / "coolant_mixes.csv").open(encoding="utf-8", newline="") as table:
        mixes = list(csv.DictReader(table))
    return _row(file, CoolantEquipment, {**_read(HERE / file), "mixes": mixes})


def _room(kinds: dict[str, SolidKind]) -> RoomBook:
    """What takes room, every kind of it known."""
    file = "room.yaml"
    row = _row(file, RoomFile, _read(HERE / file))
    things = _by_id(list(row.things))
    pairs = [(entry.these, entry.those) for entry in row.shared]
    pairs += [(entry.these, entry.those) for entry in row.told]
    for these, those in pairs:
        for kind in (*these, *those):
            if kind not in things and kind not in kinds:
                raise BadInput(file, kind, "is no kind of part or thing")
    for thing in row.things:
        if thing.id in kinds or (thing.like is not None and thing.like not in kinds):
            raise BadInput(
                f"{file} {thing.id}", thing.like, "has to be a kind of its own, like one of a part"
            )
    return RoomBook(
        row.wheel, things, row.shared, {entry.kind: entry.reason for entry in row.without}, row.told
    )


def _presets(materials: dict[str, Material]) -> dict[str, BuildUpPreset]:
    presets = _by_id(_rows("build_ups.yaml", BuildUpPreset))
    for preset in presets.values():
        for material, _ in preset.layers:
            if material not in materials:
                raise BadInput(
                    f"build_ups.yaml {preset.id}", material, "is not in the materials list"
                )
    return presets


def _sheets() -> Iterator[HeaterSheet]:
    for path in sorted((HERE / "heaters").glob("*.yaml")):
        yield _row(path.name, HeaterSheet, _read(path))


def _rows(file: str, model: type[Row]) -> list[Row]:
    return [_row(file, model, raw) for raw in _read(HERE / file)]


def _row(file: str, model: type[Row], raw: Any) -> Row:
    try:
        return model.model_validate(raw)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        raise BadInput(file, raw, f"{first['loc']}: {first['msg']}") from None


def _by_id(rows: list[Entry]) -> dict[str, Entry]:
    return {row.id: row for row in rows}


def _read(path: Path) -> Any:
    return yaml.load(path.read_text("utf-8"), Loader=yaml.CSafeLoader)
