"""What the core knows of heaters, materials, solid kinds and workshop rules: typed, frozen, and
handed in.

The data itself lives in files that `gale_nook.catalogue` reads; the core never opens a file.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.errors import UnknownEntry
from gale_nook.core.plan.base import CatalogueId, Frozen, Name, Note, unique_ids

OffsetMm = Annotated[float, Field(ge=-1000, le=1000)]
FanPoint = tuple[Annotated[float, Field(ge=0, le=1000)], Annotated[float, Field(ge=0, le=3000)]]
SheetPath = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_.-]*$", max_length=80)]


class Sourced(Frozen):
    """A catalogue entry: its id, what it is called, and where its values come from."""

    id: CatalogueId
    label: Name
    source: Name


class Material(Sourced):
    """A material of a build-up.

    Attributes:
        conductivity_w_mk: design value; None for an unventilated air layer.
        facing_emissivity: of the foil that an air layer faces; None for ordinary surfaces on both
            sides.
    """

    conductivity_w_mk: Annotated[float, Field(ge=0.01, le=500)] | None
    density_kg_m3: Annotated[float, Field(ge=1, le=12_000)]
    heat_capacity_j_kgk: Annotated[float, Field(ge=300, le=5_000)]
    use: Literal["lining", "insulation", "skin", "floor", "air"]
    facing_emissivity: Annotated[float, Field(gt=0, le=1)] | None = None


class BuildUpPreset(Sourced):
    """A usual build-up to start from: pairs of material and thickness (mm), from
    inside to outside.
    """

    layers: Annotated[
        tuple[tuple[CatalogueId, Annotated[float, Field(gt=0, le=300)]], ...], Field(min_length=1)
    ]


class Leakage(Sourced):
    """How tight a body is: changes of air an hour at 4 m/s of wind."""

    changes_per_h: Annotated[float, Field(gt=0, le=20)]


class BodyType(Sourced):
    """A kind of body to begin a survey from.

    Attributes:
        floor: (material, thickness) from the walked-on surface down.
        corrugation: depth and pitch of the floor's ribs.
        openings: (kind, name, face, start, base, length, height, glazing).
        pop_top: start, length, width, rise.
    """

    fuel: Literal["diesel", "petrol", "electric", "none"]
    datum: Name
    shell: dict[str, float]
    floor: tuple[tuple[CatalogueId, float], ...]
    corrugation: tuple[float, float | None]
    rib_pitch_mm: float | None
    pop_top: tuple[float, float, float, float] | None = None
    openings: tuple[tuple[str, Name, str, float, float, float, float, CatalogueId], ...]


class PipeKind(Sourced):
    """A kind of burner pipe.

    Attributes:
        roughness_mm: equivalent sand roughness of its corrugation.
        emissivity: of its skin.
        silencer_k: loss of the silencer on it, in velocity heads.
    """

    wall_mm: Annotated[float, Field(gt=0, le=5)]
    roughness_mm: Annotated[float, Field(ge=0, le=5)]
    emissivity: Annotated[float, Field(gt=0, le=1)]
    silencer_k: Annotated[float, Field(ge=0, le=50)] = 0.0


class PipeWorks(Sourced):
    """What the heat and the flow of a burner's pipes are worked out with.

    Attributes:
        lagging_mm: thickness of one layer.
        shield_emissivity: of both faces of a bright shield.
        neighbour_emissivity, neighbour_film_w_m2k: of whatever is near a hot pipe, in still air.
        warm_day_c: air under the vehicle on a warm day, when neighbours get hottest.
        entry_k, cap_k, joint_k, filter_k: losses in velocity heads.
        sleeve_mm, grommet_mm: what a bulkhead fitting keeps between the panel's edge and an
            exhaust, and a cool pipe.
        spray_reach_mm, spray_rise_deg, spray_spread_deg: how far, how steep and how wide a wheel
            throws what it picks up.
        tyre_width_mm: of a wheel that is not surveyed.
    """

    lagging_mm: Annotated[float, Field(gt=0, le=50)]
    lagging_w_mk: Annotated[float, Field(gt=0.01, le=1)]
    lagging_emissivity: Annotated[float, Field(gt=0, le=1)]
    shield_emissivity: Annotated[float, Field(gt=0, le=1)]
    neighbour_emissivity: Annotated[float, Field(gt=0, le=1)]
    neighbour_film_w_m2k: Annotated[float, Field(gt=0, le=50)]
    warm_day_c: Annotated[float, Field(ge=-20, le=60)]
    entry_k: Annotated[float, Field(ge=0, le=10)]
    cap_k: Annotated[float, Field(ge=0, le=50)]
    joint_k: Annotated[float, Field(ge=0, le=10)]
    filter_k: Annotated[float, Field(ge=0, le=50)]
    sleeve_mm: Annotated[float, Field(ge=5, le=200)]
    grommet_mm: Annotated[float, Field(ge=0, le=50)]
    spray_reach_mm: Annotated[float, Field(ge=100, le=5000)]
    spray_rise_deg: Annotated[float, Field(gt=0, lt=80)]
    spray_spread_deg: Annotated[float, Field(ge=0, lt=60)]
    tyre_width_mm: Annotated[float, Field(ge=50, le=600)]


class FuelGrade(Sourced):
    """A diesel: its density at 15 °C, viscosity at 40 °C and at 0 °C, and where wax stops a filter.

    Attributes:
        burnt_in: for when it is sold.
    """

    density_kg_m3: Annotated[float, Field(gt=700, lt=900)]
    warm_mm2_s: Annotated[float, Field(gt=0.5, lt=10)]
    cold_mm2_s: Annotated[float, Field(gt=0.8, lt=40)]
    waxes_c: Annotated[float, Field(ge=-60, le=20)]
    burnt_in: Name


class FuelLineKind(Sourced):
    """A line that fuel runs in; a soft one gives way to the pump's strokes."""

    bore_mm: Annotated[float, Field(gt=0.5, le=20)]
    outer_mm: Annotated[float, Field(gt=1, le=30)]
    soft: bool


class PumpKind(Sourced):
    """A dosing pump.

    Attributes:
        stroke_share: of the time in which fuel moves.
        prime_hz: strokes a second while priming.
        filter_pa: what a clean filter takes at least output's flow.
        length_mm, diameter_mm: of its body.
        tick_db: sound power of its ticking on rubber, dB(A); hard_db: more where it is fixed to the
            body.
    """

    stroke_share: Annotated[float, Field(gt=0, le=1)]
    prime_hz: Annotated[float, Field(gt=0, le=30)]
    filter_pa: Annotated[float, Field(ge=0, le=20_000)]
    length_mm: Annotated[float, Field(gt=10, le=500)]
    diameter_mm: Annotated[float, Field(gt=5, le=200)]
    tick_db: Annotated[float, Field(ge=10, le=110)]
    hard_db: Annotated[float, Field(ge=0, le=40)]


class FillWith(Sourced):
    """What a tank is filled with: how long and thick it is at the filler, and how steep it has to
    come.
    """

    length_mm: Annotated[float, Field(ge=50, le=1000)]
    diameter_mm: Annotated[float, Field(ge=10, le=400)]
    least_deg: Annotated[float, Field(ge=0, le=90)]


class FuelWorks(Frozen):
    """Diesels, lines, the pump, and what tanks are filled with."""

    grades: tuple[FuelGrade, ...]
    lines: tuple[FuelLineKind, ...]
    pump: PumpKind
    fills: tuple[FillWith, ...]

    def fill(self, fill_id: str) -> FillWith:
        return next(fill for fill in self.fills if fill.id == fill_id)

    def grade(self, grade_id: str) -> FuelGrade:
        return next(grade for grade in self.grades if grade.id == grade_id)

    def line(self, line_id: str) -> FuelLineKind:
        return next(line for line in self.lines if line.id == line_id)


class CabGuess(Sourced):
    """A usual cab, where its loss is not measured: how much of its length is cab, its height, glass
    and air.
    """

    length_share: Annotated[float, Field(gt=0, le=1)]
    height_mm: Annotated[float, Field(gt=500, le=3000)]
    glass_share: Annotated[float, Field(ge=0, le=1)]
    u_glass_w_m2k: Annotated[float, Field(gt=0.2, le=8)]
    u_shell_w_m2k: Annotated[float, Field(gt=0.2, le=8)]
    changes_per_h: Annotated[float, Field(ge=0, le=20)]


class Region(Sourced):
    """A made-up region: the mean of each month from January on, and the spread of its hours."""

    mean_c: Annotated[
        tuple[Annotated[float, Field(ge=-50, le=45)], ...], Field(min_length=12, max_length=12)
    ]
    spread_k: Annotated[float, Field(gt=0.5, le=15)]


class Glazing(Sourced):
    """A kind of window, door or vent; `u_covered_w_m2k` holds with its insulating cover on."""

    u_w_m2k: Annotated[float, Field(ge=0.2, le=8)]
    u_covered_w_m2k: Annotated[float, Field(ge=0.2, le=8)]


class RibKind(Sourced):
    """A kind of thermal bridge along a rib."""

    psi_w_mk: Annotated[float, Field(ge=0, le=3)]


class SolidKind(Sourced):
    """What a kind of solid implies for the work around it.

    Attributes:
        where: inside, below the floor, outside the shell, or in the engine bay.
        hazard: what drilling into it or heating it would be; None for furniture and the like.
        hole_mm: metal to leave between the edge of a hole and it; None when a hole cannot reach it.
        exhaust_mm: gap between an unlagged exhaust pipe and it; None where there is no such rule.
        covered_mm: the same where the pipe is lagged or a shield stands between; None as for an
            unlagged pipe.
        heat_c: what it can stand for good; None for what heat does not harm.
        intake_mm: gap between the combustion-air pipe and it; 0 where it may touch.
        mouth_mm: distance of the exhaust's mouth from it; None where there is no such rule.
        body_mm: gap between the heater's body and it; 0 where it may touch.
        through: a pipe may pass through it in a fitting.
    """

    where: Literal["inside", "below", "outside", "engine-bay"]
    hazard: Literal["structure", "brakes", "fire", "restraint", "shock", "fumes"] | None = None
    hole_mm: Annotated[float, Field(ge=0, le=500)] | None = None
    exhaust_mm: Annotated[float, Field(ge=0, le=1000)] | None = None
    covered_mm: Annotated[float, Field(ge=0, le=1000)] | None = None
    heat_c: Annotated[float, Field(ge=20, le=1000)] | None = None
    intake_mm: Annotated[float, Field(ge=0, le=1000)] = 0.0
    mouth_mm: Annotated[float, Field(ge=0, le=5000)] | None = None
    body_mm: Annotated[float, Field(ge=0, le=500)] = 0.0
    through: bool = False


class SolidMaterial(Sourced):
    """What a material asks of a hot pipe: heat that it stands for good, gap to a bare and to a
    covered one; None for nothing.
    """

    heat_c: Annotated[float, Field(ge=20, le=1000)] | None = None
    exhaust_mm: Annotated[float, Field(ge=0, le=1000)] | None = None
    covered_mm: Annotated[float, Field(ge=0, le=1000)] | None = None


class Limit(Frozen):
    """A permitted band; at least one end is given. The unit follows from the limit's name."""

    minimum: float | None = None
    maximum: float | None = None
    source: Name

    @model_validator(mode="after")
    def _has_an_end(self) -> Limit:
        if self.minimum is None and self.maximum is None:
            raise ValueError("a limit needs a minimum or a maximum")
        if self.minimum is not None and self.maximum is not None and self.minimum > self.maximum:
            raise ValueError("a limit's minimum lies above its maximum")
        return self

    def holds(self, value: float) -> bool:
        """Return whether a value lies within the band."""
        return (self.minimum is None or value >= self.minimum) and (
            self.maximum is None or value <= self.maximum
        )


class LimitBand(Frozen):
    """Between which values a limit of this name is physically believable, and what it is called."""

    id: CatalogueId
    label: Name
    unit: Literal["mm", "deg", "W", "Pa", "K", "count", "dB"]
    lowest: float
    highest: float


class Port(Frozen):
    """Where a pipe leaves the heater, from the mount's reference point.

    Attributes:
        x_mm, y_mm: towards the warm end and to its right, at yaw 0.
        drop_mm: below the mount's plane (floor finish for inside mounts, underside for those
            below).
        direction: unit vector along which the pipe leaves, at yaw 0.
        diameter_mm: outside diameter of the pipe.
    """

    x_mm: OffsetMm
    y_mm: OffsetMm
    drop_mm: OffsetMm
    direction: tuple[float, float, float] = (0.0, 0.0, -1.0)
    diameter_mm: Annotated[float, Field(gt=0, le=200)]

    @model_validator(mode="after")
    def _unit_vector(self) -> Port:
        if not math.isclose(math.hypot(*self.direction), 1.0, abs_tol=1e-3):
            raise ValueError("a port's direction is a unit vector")
        return self


class MountHole(Frozen):
    """A hole of a mount, from its reference point at yaw 0: round, or a square-cornered cut.

    Attributes:
        diameter_mm: of a round hole; of the drill for the corners of a cut.
        length_mm, width_mm: of a cut, along and across the heater; None for a round hole.
        z_mm: above the mount's plane, of a hole through a wall or the bulkhead; None for one in the
            floor.
    """

    name: Name
    x_mm: OffsetMm
    y_mm: OffsetMm
    diameter_mm: Annotated[float, Field(gt=0, le=400)]
    length_mm: Annotated[float, Field(gt=0, le=600)] | None = None
    width_mm: Annotated[float, Field(gt=0, le=600)] | None = None
    z_mm: OffsetMm | None = None

    @model_validator(mode="after")
    def _cut_has_both(self) -> MountHole:
        if (self.length_mm is None) != (self.width_mm is None):
            raise ValueError("a cut has a length and a width; a round hole has neither")
        return self

    def half_mm(self, yaw_deg: int) -> tuple[float, float]:
        """Return half the cut along the vehicle and across it; (0, 0) for a round hole."""
        if self.length_mm is None or self.width_mm is None:
            return 0.0, 0.0
        half = (self.length_mm / 2, self.width_mm / 2)
        return half if yaw_deg % 180 == 0 else half[::-1]


class Body(Frozen):
    """The heater's body at yaw 0: centre from the mount's reference point, and its size."""

    x_mm: OffsetMm
    y_mm: OffsetMm
    length_mm: Annotated[float, Field(gt=0, le=2000)]
    width_mm: Annotated[float, Field(gt=0, le=1000)]
    height_mm: Annotated[float, Field(gt=0, le=1000)]
    mass_kg: Annotated[float, Field(gt=0, le=100)]


class Mount(Frozen):
    """A way of fixing the heater, with its holes and the floor stack that it passes.

    Attributes:
        place: of the heater: in the cabin, under the floor, or in the engine bay.
        through: what its holes go through; a wall is the one that its ports point at, the bulkhead
            is that of the engine bay.
        stack: thickness that it passes: of the floor; from the body to the outer skin; of the
            bulkhead.
        body: of the heater as it stands on this mount, where that is not as on the others: on its
            side, or in a box.
        ports: of the heater on this mount, where they are others than the sheet's.
        limits: of the sheet that are others on this mount.
        sealing, service: what is to be said of them on the build sheet.
    """

    id: CatalogueId
    label: Name
    place: Literal["inside", "below", "engine-bay"] = "inside"
    through: Literal["floor", "wall", "bulkhead"] = "floor"
    holes: Annotated[tuple[MountHole, ...], Field(max_length=12)]
    stack: Limit
    body: Body | None = None
    ports: dict[Literal["exhaust", "intake", "fuel"], Port] = Field(default_factory=dict)
    limits: Annotated[dict[CatalogueId, Limit], Field(max_length=40, default_factory=dict)]
    sealing: Note = ""
    service: Note = ""

    @model_validator(mode="after")
    def _holes_belong(self) -> Mount:
        if any((hole.z_mm is None) != (self.through == "floor") for hole in self.holes):
            raise ValueError(
                "a hole through a wall or bulkhead has a height above the mount's plane; "
                "one in "
                "the floor has none"
            )
        if (self.place == "engine-bay") != (self.through == "bulkhead"):
            raise ValueError(
                "a heater in the engine bay has its fittings through the bulkhead, and no other has"
            )
        if self.through == "wall" and not all(
            name in self.ports and self.ports[name].direction[2] == 0
            for name in ("exhaust", "intake")
        ):
            raise ValueError(
                "a mount through a wall has an exhaust and an intake port of its own that "
                "point level"
            )
        return self


class Output(Frozen):
    """What the burner gives and how it burns."""

    minimum_w: Annotated[float, Field(gt=0, le=50_000)]
    maximum_w: Annotated[float, Field(gt=0, le=50_000)]
    compensated_to_m: Annotated[float, Field(ge=0, le=6000)] = 0.0
    efficiency: Annotated[float, Field(gt=0.3, le=1)]
    excess_air: Annotated[float, Field(ge=1, le=5)]
    fuel_l_h_minimum: Annotated[float, Field(gt=0, le=10)]
    fuel_l_h_maximum: Annotated[float, Field(gt=0, le=10)]
    dose_ml: Annotated[float, Field(gt=0, le=1)]

    @model_validator(mode="after")
    def _rising(self) -> Output:
        if self.minimum_w >= self.maximum_w:
            raise ValueError("the least output must lie below the most")
        return self


class Electrical(Frozen):
    """Supply side of the heater."""

    voltage_v: Annotated[float, Field(gt=0, le=60)]
    glow_current_a: Annotated[float, Field(gt=0, le=60)]
    run_minimum_a: Annotated[float, Field(gt=0, le=60)]
    run_maximum_a: Annotated[float, Field(gt=0, le=60)]
    cut_out_v: Annotated[float, Field(gt=0, le=60)]
    after_run_s: Annotated[float, Field(ge=0, le=1800)]

    @model_validator(mode="after")
    def _in_order(self) -> Electrical:
        if self.run_minimum_a > self.run_maximum_a:
            raise ValueError("the least running current lies above the most")
        if self.cut_out_v >= self.voltage_v:
            raise ValueError("the cut-out lies at or above the supply's voltage")
        return self


class FanCurve(Frozen):
    """Warm-air fan at full speed: static pressure p0·(1−(q/q0)²), or through measured points.

    Attributes:
        points: (flow in m³/h, static pressure in Pa), flow rising, pressure falling.
    """

    static_pressure_pa: Annotated[float, Field(gt=0, le=3000)]
    free_flow_m3_h: Annotated[float, Field(gt=0, le=1000)]
    duct_mm: Annotated[float, Field(gt=0, le=200)]
    points: Annotated[tuple[FanPoint, ...], Field(max_length=40)] = ()

    @model_validator(mode="after")
    def _falling(self) -> FanCurve:
        for (flow, pressure), (more, less) in itertools.pairwise(self.points):
            if more <= flow:
                raise ValueError(
                    f"the fan curve's flow does not rise from {flow:g} to {more:g} m³/h"
                )
            if less >= pressure:
                raise ValueError(
                    f"the fan curve does not fall: {pressure:g} Pa at {flow:g} m³/h, "
                    f"{less:g} Pa "
                    f"at {more:g} m³/h"
                )
        return self


class KitPart(Frozen):
    """What is in the heater's box."""

    part: CatalogueId
    quantity: Annotated[float, Field(gt=0, le=10_000)]


class HeaterSheet(Sourced):
    """A heater with its limit sheet.

    Attributes:
        source: of every value that has none of its own.
        sources: of single values, by their path in the sheet (`output.minimum_w`).
        joint_counts_mm: length that the sheet counts for each joint of an extended exhaust.
        tee_allowed: a tee in an unpressurised line of the vehicle may feed it.
    """

    medium: Literal["air", "coolant"]
    summary: Note = ""
    output: Output
    body: Body
    exhaust: Port
    intake: Port
    fuel: Port
    mounts: Annotated[
        tuple[Mount, ...], Field(min_length=1, max_length=12), AfterValidator(unique_ids)
    ]
    electrical: Electrical
    fan: FanCurve | None = None
    noise_db: Annotated[float, Field(ge=20, le=90)] | None = None
    joint_counts_mm: Annotated[float, Field(ge=0, le=1000)] = 0.0
    tee_allowed: bool = False
    limits: Annotated[dict[CatalogueId, Limit], Field(max_length=80)]
    kit: Annotated[tuple[KitPart, ...], Field(max_length=60)] = ()
    sources: Annotated[dict[SheetPath, Name], Field(max_length=300, default_factory=dict)]

    @model_validator(mode="after")
    def _air_has_a_fan(self) -> HeaterSheet:
        if (self.medium == "air") != (self.fan is not None):
            raise ValueError("an air heater has a fan curve and a coolant heater has none")
        return self

    def mount(self, mount_id: str) -> Mount | None:
        return next((mount for mount in self.mounts if mount.id == mount_id), None)


class Part(Sourced):
    """Something that is bought or cut.

    Attributes:
        stock_mm: length in which it is sold; None where it is cut from a roll, or no length.
    """

    unit: Literal["piece", "mm"]
    use: str
    stock_mm: Annotated[float, Field(gt=0, le=20_000)] | None = None


class Caution(Frozen):
    """A caution, the stations that show it, and its place in the order of work."""

    id: CatalogueId
    stations: tuple[str, ...]
    text: str


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
    pipes: Mapping[str, PipeKind]
    pipe_works: PipeWorks
    fuel_works: FuelWorks
    glazings: Mapping[str, Glazing]
    rib_kinds: Mapping[str, RibKind]
    solid_kinds: Mapping[str, SolidKind]
    solid_materials: Mapping[str, SolidMaterial]
    workshop_limits: Mapping[str, Limit]
    limit_bands: Mapping[str, LimitBand]
    parts: Mapping[str, Part]
    cautions: tuple[Caution, ...]

    def heater(self, sheet_id: str) -> HeaterSheet:
        """Return a heater's sheet; raises UnknownEntry."""
        try:
            return self.heaters[sheet_id]
        except KeyError:
            raise UnknownEntry("heater", sheet_id) from None
