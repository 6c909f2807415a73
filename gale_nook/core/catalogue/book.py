"""What the core knows of heaters, materials, solid kinds and workshop rules: typed, frozen, and
handed in.

The data itself lives in files that `gale_nook.catalogue` reads; the core never opens a file.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.limit import Limit, LimitBand
from gale_nook.core.base.material import Material
from gale_nook.core.catalogue.air import AirEquipment
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
from gale_nook.core.catalogue.room import RoomBook
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
from gale_nook.core.errors import UnknownEntry


@dataclass(frozen=True, slots=True)
class Catalogue:
    """Everything the rules look up, by id."""

    heaters: Mapping[str, HeaterSheet]
    materials: Mapping[str, Material]
    build_ups: Mapping[str, BuildUpPreset]
    regions: Mapping[str, Region]
    leakage: Mapping[str, Leakage]
    cab: CabGuess
    bodies: Mapping[str, BodyType]
    body_parts: Mapping[str, UsualPart]
    pipes: Mapping[str, PipeKind]
    pipe_physics: PipePhysics
    fuel_equipment: FuelEquipment
    air_equipment: AirEquipment
    power_equipment: PowerEquipment
    coolant_equipment: CoolantEquipment
    sound: SoundPhysics
    firing: FiringBook
    work: WorkBook
    practice: PracticeBook
    log: LogBook
    planner: PlannerBook
    handover: HandoverBook
    glazings: Mapping[str, Glazing]
    rib_kinds: Mapping[str, RibKind]
    solid_kinds: Mapping[str, SolidKind]
    solid_materials: Mapping[str, SolidMaterial]
    usual_values: Mapping[str, UsualValue]
    rests_on: tuple[RestsOn, ...]
    room: RoomBook
    workshop_limits: Mapping[str, Limit]
    limit_bands: Mapping[str, LimitBand]
    parts: Mapping[str, CatalogueItem]
    cautions: tuple[Caution, ...]

    def cautions_at(self, station: str, moves: str) -> tuple[Caution, ...]:
        """Return the cautions of a station, for a body that moves so: itself, towed, carried or
        afloat.
        """
        return tuple(
            caution
            for caution in self.cautions
            if station in caution.stations and (not caution.moves or moves in caution.moves)
        )

    def heater(self, sheet_id: str) -> HeaterSheet:
        """Return a heater's sheet; raises UnknownEntry."""
        try:
            return self.heaters[sheet_id]
        except KeyError:
            raise UnknownEntry("heater", sheet_id) from None
