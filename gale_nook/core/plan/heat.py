"""The plan's part for heat: build-ups, temperatures, the night and the weather."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.base.models import (
    CatalogueId,
    Frozen,
    ItemId,
    unique_ids,
)
from gale_nook.core.plan.climate import Climate
from gale_nook.core.plan.vehicle import Layer, Layers

SurfaceId = Literal[
    "roof", "left", "right", "rear", "bulkhead", "curtain", "arches", "pop-top", "canvas"
]


TemperatureC = Annotated[float, Field(ge=-60, le=60)]


HourOfDay = Annotated[float, Field(ge=0, lt=24)]


class Surface(Frozen):
    """The build-up of one surface of the load space, from inside to outside. The floor's is the
    floor stack.
    """

    id: SurfaceId
    layers: Layers


class Ribs(Frozen):
    """Metal ribs and pillars that bridge the insulation, all of one kind.

    Attributes:
        pitch_mm: from hoop to hoop (up one side, over the roof, down the other); None where there
            are none.
        stringers: ribs that run the whole length.
        length_m: typed, instead of what follows from the pitch.
    """

    kind: CatalogueId = "covered"
    pitch_mm: Annotated[float, Field(ge=50, le=5_000)] | None = None
    stringers: Annotated[int, Field(ge=0, le=40)] = 0
    length_m: Annotated[float, Field(ge=0, le=500)] | None = None


class Timer(Frozen):
    """Hours of the day in which the thermostat is set to something else; None has
    the heater off.
    """

    id: ItemId
    from_h: HourOfDay
    to_h: HourOfDay
    set_c: TemperatureC | None = None


class Night(Frozen):
    """The night that is simulated.

    Attributes:
        timers: over the set-back; where two run at once the later in the list holds.
        start_h, night_from_h, night_to_h: times of day in hours.
        start_c: temperature inside when the heater is switched on; None takes the outside's.
        night_c: what the thermostat is set back to between night_from_h and night_to_h.
        furnishing_kj_k: heat capacity of furniture, water and stores.
    """

    start_h: HourOfDay = 18.0
    hours_h: Annotated[float, Field(ge=1, le=48)] = 14.0
    start_c: TemperatureC | None = None
    night_c: TemperatureC = 14.0
    night_from_h: HourOfDay = 22.0
    night_to_h: HourOfDay = 6.5
    furnishing_kj_k: Annotated[float, Field(ge=0, le=20_000)] = 250.0
    timers: Annotated[tuple[Timer, ...], Field(max_length=12), AfterValidator(unique_ids)] = ()


def _rarer(surface: SurfaceId, *layers: tuple[str, float]) -> Surface:
    results = tuple(
        Layer(id=f"l{n}", material=material, thickness_mm=mm)
        for n, (material, mm) in enumerate(layers, 1)
    )
    return Surface(id=surface, layers=results)


RARER_SURFACES = (
    _rarer("curtain", ("curtain", 6)),
    _rarer("arches", ("steel", 1)),
    _rarer("pop-top", ("foam-closed", 10), ("grp", 3)),
    _rarer("canvas", ("canvas", 1)),
)


def _with_the_rarer(surfaces: tuple[Surface, ...]) -> tuple[Surface, ...]:
    """Add what a file leaves out: the surfaces that few vehicles have, as they come."""
    known = {surface.id for surface in surfaces}
    return (*surfaces, *(surface for surface in RARER_SURFACES if surface.id not in known))


Factor = Annotated[float, Field(ge=0.25, le=4)]


class Learned(Frozen):
    """What the log's nights have taught, as factors on what the survey and the sheet say.

    Attributes:
        loss: on what walls, windows and ribs lose; air: on the air that is renewed.
        consumption: on the heater's fuel; least: on its least output; charge: on what it draws.
        nights: that it was learned from.
    """

    loss: Factor = 1.0
    air: Factor = 1.0
    consumption: Factor = 1.0
    least: Factor = 1.0
    charge: Factor = 1.0
    nights: Annotated[int, Field(ge=0, le=100_000)] = 0


class HeatNeed(Frozen):
    """What the heat loss is computed for.

    Attributes:
        surfaces: one build-up for each surface except the floor; those that few vehicles have may
            be left out.
        cab: what lies between load space and cab; "inside" where the cab is heated too.
        cab_c: temperature of the cab on the coldest night; None takes the outside temperature.
        cab_loss_w_k: what the cab loses to the outside; given, its temperature follows by balance.
        air_changes_per_h: air of the load space renewed in an hour by leaks, where no class is
            given.
        leakage: entry of the catalogue's leakage classes, or None.
        margin_percent: added to the loss to size the heater.
        humidity_percent: of the air inside, for where moisture settles.
        mild_outside_c: a mild night of the season, where the heater should still burn clean.
        warm_up_h: from cold to the inside temperature on the coldest night; None asks for nothing.
        idle_percent: of the milder half of the season, in which a heater may cycle for want of a
            load.
        learned: from the nights in the log, where it was taken over.
    """

    surfaces: Annotated[
        tuple[Surface, ...], AfterValidator(unique_ids), AfterValidator(_with_the_rarer)
    ]
    cab: Literal["bulkhead", "curtain", "inside"] = "bulkhead"
    ribs: Ribs = Ribs()
    inside_c: TemperatureC = 19.0
    outside_c: TemperatureC = -10.0
    mild_outside_c: TemperatureC = 5.0
    cab_c: TemperatureC | None = None
    wind_m_s: Annotated[float, Field(ge=0, le=40)] = 4.0
    altitude_m: Annotated[float, Field(ge=-500, le=6000)] = 0.0
    air_changes_per_h: Annotated[float, Field(ge=0, le=30)] = 0.8
    margin_percent: Annotated[float, Field(ge=0, le=200)] = 15.0
    leakage: CatalogueId | None = None
    sleepers: Annotated[int, Field(ge=0, le=20)] = 2
    cab_loss_w_k: Annotated[float, Field(gt=0, le=2000)] | None = None
    humidity_percent: Annotated[float, Field(ge=1, le=100)] = 55.0
    warm_up_h: Annotated[float, Field(gt=0, le=24)] | None = 1.0
    idle_percent: Annotated[float, Field(ge=0, le=100)] = 50.0
    night: Night = Night()
    climate: Climate | None = None
    learned: Learned = Learned()

    @model_validator(mode="after")
    def _all_faces(self) -> HeatNeed:
        wanted = {"roof", "left", "right", "rear", "bulkhead"}
        missing = wanted - {surface.id for surface in self.surfaces}
        if missing:
            raise ValueError(f"a build-up is missing for: {', '.join(sorted(missing))}")
        if self.inside_c <= self.outside_c:
            raise ValueError("the inside must be warmer than the outside for a heat need")
        if self.cab_c is not None and not self.outside_c <= self.cab_c <= self.inside_c:
            raise ValueError("the cab's temperature lies between outside and inside")
        if not self.outside_c <= self.mild_outside_c <= self.inside_c:
            raise ValueError(
                "the mild night lies between the design temperature and the inside temperature"
            )
        return self
