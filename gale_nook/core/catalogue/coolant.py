"""Coolant, hoses and the parts of a loop: what the coolant's side is computed from."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from functools import cached_property
from typing import Annotated, Literal, NamedTuple

from pydantic import Field

from gale_nook.core.base.heater_sheet import FlowPoint, LoopSide
from gale_nook.core.base.models import CatalogueId, Frozen, Note
from gale_nook.core.base.sourced import Sourced

Fluid = Literal["ethylene", "propylene"]
PartKind = Literal[
    "pump",
    "header",
    "matrix",
    "calorifier",
    "floor",
    "coil",
    "engine",
    "plate",
    "mixer",
    "diverter",
    "valve",
    "check",
    "bleed",
    "drain",
    "tee",
    "reducer",
    "bulkhead",
]
OffsetMm = Annotated[float, Field(ge=-1000, le=1000)]


class HoseKind(Sourced):
    """A hose, or a pipe that is laid in a floor.

    Attributes:
        rating_c: that it stands for good.
        radius_mm: least radius of a bend, of its middle line.
        wall_w_mk: conductivity of its wall.
        hard: it is a pipe and is joined, not pushed on.
        barrier: it lets no oxygen through.
    """

    bore_mm: Annotated[float, Field(ge=4, le=60)]
    outside_mm: Annotated[float, Field(ge=6, le=80)]
    roughness_mm: Annotated[float, Field(gt=0, le=1)]
    rating_c: Annotated[float, Field(ge=40, le=250)]
    radius_mm: Annotated[float, Field(ge=10, le=500)]
    wall_w_mk: Annotated[float, Field(gt=0, le=5)]
    hard: bool = False
    barrier: bool = True


class FanLevel(Frozen):
    """A step of a convector's fan: what it blows, and what it draws."""

    label: CatalogueId
    air_m3_h: Annotated[float, Field(ge=0, le=2000)]
    power_w: Annotated[float, Field(ge=0, le=200)]


class LoopPartKind(Sourced):
    """A part of the loop as it is bought.

    Attributes:
        size_mm: along, across, up, at yaw 0.
        ports: where its ends lie from its middle, at yaw 0, by their names.
        port_mm: outside diameter of its ends; port_mms: of those that differ.
        content_l: of coolant.
        loss_kpa: through it at 10 l/min of water; 0 where it hardly resists.
        pump: (flow in l/min, head in kPa), flow rising; power_w: that it draws.
        self_priming: it may stand above the coolant.
        fans, ua_w_k: a convector's fan, and its conductance at 10 l/min and 200 m³/h.
        duct_mm, inlet_mm, static_pa: of a convector that can blow into ducts: bores of its two air
            ends, and the fan's pressure at its highest step where nothing flows; 0 for none.
        air_out, air_in: where its air ends lie from its middle, at yaw 0.
        tank_l, coil_w_k, standing_w_k: of a calorifier: water, conductance of its coil, of its
            insulation.
        relief, scald_valve: it comes with a relief valve, with a mixing valve at its tap.
        area_w_mk: of a metre of floor pipe, from the coolant to the room.
        floor_j_mk: what a metre's floor stores.
        surface_share: of the way from the room to the coolant that the surface over it reaches.
        block_j_k, block_w_k, engine_w: what an engine with its coolant stores; what it passes on
            to the coolant that flows through it; what it gives while driving.
        block_lost_w_k: from its block to the air outside.
        opens_at_c: its thermostat.
        plate_w_k: of a plate exchanger at 10 l/min on both sides.
        low_c, high_c: between which a mixing valve can be set.
        cap_kpa: pressure at which a header's cap opens; 0 for a vented one.
    """

    kind: PartKind
    size_mm: tuple[float, float, float]
    ports: Mapping[CatalogueId, tuple[OffsetMm, OffsetMm, OffsetMm]]
    port_mm: Annotated[float, Field(ge=6, le=60)] = 16.0
    port_mms: Mapping[CatalogueId, float] = {}
    content_l: Annotated[float, Field(ge=0, le=100)] = 0.0
    loss_kpa: Annotated[float, Field(ge=0, le=200)] = 0.0
    pump: tuple[FlowPoint, ...] = ()
    power_w: Annotated[float, Field(ge=0, le=300)] = 0.0
    self_priming: bool = False
    fans: tuple[FanLevel, ...] = ()
    ua_w_k: Annotated[float, Field(ge=0, le=2000)] = 0.0
    duct_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    inlet_mm: Annotated[float, Field(ge=0, le=300)] = 0.0
    static_pa: Annotated[float, Field(ge=0, le=2000)] = 0.0
    air_out: tuple[OffsetMm, OffsetMm, OffsetMm] = (0.0, 0.0, 0.0)
    air_in: tuple[OffsetMm, OffsetMm, OffsetMm] = (0.0, 0.0, 0.0)
    tank_l: Annotated[float, Field(ge=0, le=300)] = 0.0
    coil_w_k: Annotated[float, Field(ge=0, le=3000)] = 0.0
    standing_w_k: Annotated[float, Field(ge=0, le=20)] = 0.0
    relief: bool = False
    scald_valve: bool = False
    area_w_mk: Annotated[float, Field(ge=0, le=10)] = 0.0
    floor_j_mk: Annotated[float, Field(ge=0, le=50_000)] = 0.0
    surface_share: Annotated[float, Field(ge=0, le=1)] = 0.0
    block_j_k: Annotated[float, Field(ge=0, le=2_000_000)] = 0.0
    block_w_k: Annotated[float, Field(ge=0, le=5000)] = 0.0
    block_lost_w_k: Annotated[float, Field(ge=0, le=200)] = 0.0
    engine_w: Annotated[float, Field(ge=0, le=100_000)] = 0.0
    opens_at_c: Annotated[float, Field(ge=40, le=120)] = 82.0
    plate_w_k: Annotated[float, Field(ge=0, le=5000)] = 0.0
    low_c: Annotated[float, Field(ge=0, le=90)] = 0.0
    high_c: Annotated[float, Field(ge=0, le=95)] = 90.0
    cap_kpa: Annotated[float, Field(ge=0, le=300)] = 0.0


class MixRow(Frozen):
    """Properties of a coolant of some strength at some temperature."""

    fluid: Fluid
    percent: Annotated[float, Field(ge=0, le=60)]
    celsius: Annotated[float, Field(ge=-60, le=120)]
    density_kg_m3: Annotated[float, Field(gt=800, lt=1300)]
    heat_capacity_j_kgk: Annotated[float, Field(gt=2000, lt=5000)]
    viscosity_pa_s: Annotated[float, Field(gt=1e-4, lt=1)]
    conductivity_w_mk: Annotated[float, Field(gt=0.1, lt=1)]
    freezes_c: Annotated[float, Field(ge=-60, le=1)]


MixValues = tuple[float, float, float, float]


class MixTable(NamedTuple):
    """The mixes of one fluid: temperatures, strengths, freezing of each, and by strength and
    temperature density, heat capacity, the viscosity's logarithm, conductivity.
    """

    celsius: tuple[float, ...]
    percents: tuple[float, ...]
    freezes_c: tuple[float, ...]
    values: tuple[tuple[MixValues, ...], ...]

    @classmethod
    def of(cls, rows: Iterable[MixRow], fluid: str) -> MixTable:
        """Return the table of a fluid's rows."""
        place = {(row.percent, row.celsius): row for row in rows if row.fluid == fluid}
        percents = tuple(sorted({percent for percent, _ in place}))
        celsius = tuple(sorted({celsius for _, celsius in place}))
        return cls(
            celsius,
            percents,
            tuple(place[percent, celsius[0]].freezes_c for percent in percents),
            tuple(tuple(_values(place[p, c]) for c in celsius) for p in percents),
        )


def _values(row: MixRow) -> MixValues:
    logarithm = math.log(row.viscosity_pa_s)
    return (row.density_kg_m3, row.heat_capacity_j_kgk, logarithm, row.conductivity_w_mk)


class CoolantEquipment(Frozen):
    """All of it.

    Attributes:
        mixes: rows of the table, by fluid, strength by volume, and temperature, all rising;
            mix_source: whence they are.
        pure_density: of the pure glycols and of water at 20 °C, kg/m³.
        typical: what is taken of a heater's loop that its sheet does not tell.
        lagging_w_mk: of lagging on hoses.
        still_w_m2k, under_w_m2k: from a hose's skin to the air inside, and under the vehicle.
    """

    hoses: tuple[HoseKind, ...]
    parts: tuple[LoopPartKind, ...]
    mixes: tuple[MixRow, ...]
    mix_source: Note
    pure_density: Mapping[CatalogueId, float]
    typical: LoopSide
    lagging_w_mk: Annotated[float, Field(gt=0, le=1)]
    still_w_m2k: Annotated[float, Field(gt=0, le=50)]
    under_w_m2k: Annotated[float, Field(gt=0, le=100)]

    @cached_property
    def _by_id(self) -> tuple[dict[str, HoseKind], dict[str, LoopPartKind]]:
        return {h.id: h for h in self.hoses}, {p.id: p for p in self.parts}

    def hose(self, hose_id: str) -> HoseKind:
        return self._by_id[0][hose_id]

    def part(self, part_id: str) -> LoopPartKind:
        return self._by_id[1][part_id]

    @cached_property
    def mix_tables(self) -> dict[str, MixTable]:
        """The mixes of each fluid as a table."""
        return {fluid: MixTable.of(self.mixes, fluid) for fluid in ("ethylene", "propylene")}
