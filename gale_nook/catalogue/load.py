"""Reading the data files into the core's catalogue, and checking every row against physical bands."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path
from typing import Any, TypeVar

import yaml
from pydantic import BaseModel, ValidationError

from gale_nook.core.catalogue import (
    BuildUpPreset,
    Catalogue,
    Caution,
    Glazing,
    HeaterSheet,
    Leakage,
    Limit,
    LimitBand,
    Material,
    Part,
    Region,
    RibKind,
    SolidKind,
    Sourced,
)
from gale_nook.core.errors import BadInput
from gale_nook.core.fuel_energy import output_w

HERE = Path(__file__).parent
FUEL_RATE_TOLERANCE = 0.03  # sheets round their fuel rates
Row = TypeVar("Row", bound=BaseModel)
Entry = TypeVar("Entry", bound=Sourced)


@lru_cache(maxsize=1)
def load_catalogue() -> Catalogue:
    """Return the bundled catalogue; raises BadInput naming file and row where a value cannot be right."""
    bands = {row.id: row for row in _rows("limit_bands.yaml", LimitBand)}
    workshop = {
        name: _row("workshop_limits.yaml", Limit, raw) for name, raw in _read(HERE / "workshop_limits.yaml").items()
    }
    _check_limits("workshop_limits.yaml", workshop, bands)
    parts = _by_id(_rows("parts.yaml", Part))
    materials = _by_id(_rows("materials.yaml", Material))
    heaters = {sheet.id: sheet for sheet in _sheets()}
    for sheet in heaters.values():
        check_sheet(sheet, bands, parts)
    return Catalogue(
        heaters=heaters,
        materials=materials,
        build_ups=_presets(materials),
        leakage=_by_id(_rows("leakage.yaml", Leakage)),
        regions=_by_id(_rows("regions.yaml", Region)),
        glazings=_by_id(_rows("glazings.yaml", Glazing)),
        rib_kinds=_by_id(_rows("ribs.yaml", RibKind)),
        solid_kinds=_by_id(_rows("solid_kinds.yaml", SolidKind)),
        workshop_limits=workshop,
        limit_bands=bands,
        parts=parts,
        cautions=tuple(_rows("cautions.yaml", Caution)),
    )


def check_sheet(sheet: HeaterSheet, bands: dict[str, LimitBand], parts: dict[str, Part]) -> None:
    """Raise BadInput where a heater's sheet contradicts itself, physics, or the bands of its limits."""
    place = f"{sheet.id}"
    _check_limits(place, sheet.limits, bands)
    for item in sheet.kit:
        if item.part not in parts:
            raise BadInput(f"{place}.kit", item.part, "is not in the parts list")
    output = sheet.output
    pairs = ((output.minimum_w, output.fuel_l_h_minimum), (output.maximum_w, output.fuel_l_h_maximum))
    for stated_w, fuel_l_h in pairs:
        burnt_w = output_w(fuel_l_h, output.efficiency)
        if abs(burnt_w / stated_w - 1) > FUEL_RATE_TOLERANCE:
            raise BadInput(f"{place}.output", fuel_l_h, f"burns to {burnt_w:.0f} W, not the stated {stated_w:.0f} W")


def _presets(materials: dict[str, Material]) -> dict[str, BuildUpPreset]:
    presets = _by_id(_rows("build_ups.yaml", BuildUpPreset))
    for preset in presets.values():
        for material, _ in preset.layers:
            if material not in materials:
                raise BadInput(f"build_ups.yaml {preset.id}", material, "is not in the materials list")
    return presets


def _check_limits(place: str, limits: dict[str, Limit], bands: dict[str, LimitBand]) -> None:
    for name, limit in limits.items():
        if name not in bands:
            raise BadInput(f"{place}.{name}", name, "has no entry in limit_bands.yaml")
        for end in (limit.minimum, limit.maximum):
            if end is not None and not bands[name].lowest <= end <= bands[name].highest:
                raise BadInput(f"{place}.{name}", end, f"lies outside {bands[name].lowest} to {bands[name].highest}")


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
