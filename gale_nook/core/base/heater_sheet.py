"""The heater's sheet: what it gives, needs and allows; shared by catalogue and plan."""

from __future__ import annotations

import itertools
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.base.limit import Limit
from gale_nook.core.base.models import CatalogueId, Frozen, Name, Note, unique_ids
from gale_nook.core.base.mount import Body, Mount, Port
from gale_nook.core.base.sourced import Sourced

FanPoint = tuple[Annotated[float, Field(ge=0, le=1000)], Annotated[float, Field(ge=0, le=3000)]]


SheetPath = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_.-]*$", max_length=80)]


class Output(Frozen):
    """What the burner gives and how it burns.

    Attributes:
        below_minimum: what it does where the room needs less than its least output: it stops and
            starts again when that is cold, or idles on at its least.
    """

    minimum_w: Annotated[float, Field(gt=0, le=50_000)]
    maximum_w: Annotated[float, Field(gt=0, le=50_000)]
    compensated_to_m: Annotated[float, Field(ge=0, le=6000)] = 0.0
    efficiency: Annotated[float, Field(gt=0.3, le=1)]
    excess_air: Annotated[float, Field(ge=1, le=5)]
    fuel_l_h_minimum: Annotated[float, Field(gt=0, le=10)]
    fuel_l_h_maximum: Annotated[float, Field(gt=0, le=10)]
    dose_ml: Annotated[float, Field(gt=0, le=1)]
    below_minimum: Literal["stops", "idles"] = "stops"

    @model_validator(mode="after")
    def _rising(self) -> Output:
        if self.minimum_w >= self.maximum_w:
            raise ValueError("the least output must lie below the most")
        return self


LoadKind = Literal["resistive", "current", "power"]


class KitLead(Frozen):
    """A lead that comes with the heater.

    Attributes:
        length_mm: from the heater's body; of the supply, to where the cable is joined to it.
        area_mm2: of each conductor; conductors: how many.
        plug_width_mm, plug_height_mm: of the plug at its far end, that has to pass holes.
    """

    id: Literal["supply", "pump", "controller", "sensor"]
    length_mm: Annotated[float, Field(gt=0, le=20_000)]
    area_mm2: Annotated[float, Field(gt=0, le=50)]
    conductors: Annotated[int, Field(ge=1, le=30)] = 2
    plug_width_mm: Annotated[float, Field(gt=0, le=100)]
    plug_height_mm: Annotated[float, Field(gt=0, le=100)]


class Pin(Frozen):
    """A pin of a plug: what leads there, in which colour, and for what."""

    plug: Name
    pin: Annotated[int, Field(ge=1, le=60)]
    colour: Name
    function: Name
    lead: Literal["supply", "pump", "controller", "sensor"]


class Wiring(Frozen):
    """The heater's harness.

    Attributes:
        fuse_a: that the sheet asks for; None where it does not.
        sensors: by which it can regulate.
    """

    fuse_a: Annotated[float, Field(gt=0, le=100)] | None = None
    leads: Annotated[tuple[KitLead, ...], Field(max_length=4)] = ()
    sensors: tuple[Literal["controller", "heater", "lead"], ...] = ("controller", "heater")
    pins: Annotated[tuple[Pin, ...], Field(max_length=60)] = ()


class Electrical(Frozen):
    """Supply side of the heater.

    Attributes:
        glow_load, run_load: what happens to the current as the voltage falls: an element that
            resists draws less, a motor that is held at its speed draws more.
        second_glow_s: how long it glows once more after each stop, to burn itself clean.
        standby_w: drawn while it is switched on and does not run.
    """

    voltage_v: Annotated[float, Field(gt=0, le=60)]
    glow_current_a: Annotated[float, Field(gt=0, le=60)]
    run_minimum_a: Annotated[float, Field(gt=0, le=60)]
    run_maximum_a: Annotated[float, Field(gt=0, le=60)]
    cut_out_v: Annotated[float, Field(gt=0, le=60)]
    after_run_s: Annotated[float, Field(ge=0, le=1800)]
    second_glow_s: Annotated[float, Field(ge=0, le=600)] = 0.0
    standby_w: Annotated[float, Field(ge=0, le=20)] = 0.0
    glow_load: LoadKind = "resistive"
    run_load: LoadKind = "power"

    @model_validator(mode="after")
    def _in_order(self) -> Electrical:
        if self.run_minimum_a > self.run_maximum_a:
            raise ValueError("the least running current lies above the most")
        if self.cut_out_v >= self.voltage_v:
            raise ValueError("the cut-out lies at or above the supply's voltage")
        return self


class FanCurve(Frozen):
    """Warm-air fan at full speed: static pressure p0·(1−(q/q0)²), or through measured points.

    What a sheet does not say is None; a usual value is taken then, and said to be one.

    Attributes:
        duct_mm, inlet_mm: bores of the warm and the cold end.
        points: (flow in m³/h, static pressure in Pa), flow rising, pressure falling.
        speed_at_minimum: fan's speed at least output, as a share of that at most.
        share_at_minimum, share_at_maximum: of the output that goes into the air that is blown; the
            rest leaves through the casing.
        outlet_limit_c: of the air at the warm end, at which the heater throttles.
        bend_counts_mm: length that the sheet counts for a square bend of a duct.
    """

    static_pressure_pa: Annotated[float, Field(gt=0, le=3000)]
    free_flow_m3_h: Annotated[float, Field(gt=0, le=1000)]
    duct_mm: Annotated[float, Field(gt=0, le=200)]
    inlet_mm: Annotated[float, Field(ge=20, le=200)] | None = None
    points: Annotated[tuple[FanPoint, ...], Field(max_length=40)] = ()
    speed_at_minimum: Annotated[float, Field(gt=0, le=1)] | None = None
    share_at_minimum: Annotated[float, Field(gt=0.3, le=1)] | None = None
    share_at_maximum: Annotated[float, Field(gt=0.3, le=1)] | None = None
    outlet_limit_c: Annotated[float, Field(ge=50, le=200)] | None = None
    bend_counts_mm: Annotated[float, Field(ge=0, le=3000)] | None = None

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


FlowPoint = tuple[Annotated[float, Field(ge=0, le=100)], Annotated[float, Field(ge=0, le=200)]]


class LoopSide(Frozen):
    """A coolant heater's side of the loop.

    Attributes:
        flow, back: where the hot coolant leaves, and where it comes back.
        port_outside_mm: of both ends, that hoses are pushed over.
        content_l: of the heater itself.
        loss_kpa: through it at 10 l/min.
        least_l_min: flow below which it may not burn.
        most_rise_k: between its two ends.
        half_w: its output between full and pause; None where it goes from full to pause.
        to_half_c, to_full_c: at its outlet, rising and falling, between full and half load.
        to_pause_c, restart_c: at which it stops burning, and starts again.
        pump: (flow in l/min, head in kPa) of its own pump, flow rising; none where it has none.
        pump_w: that its own pump draws.
    """

    flow: Port
    back: Port
    port_outside_mm: Annotated[float, Field(ge=8, le=40)]
    content_l: Annotated[float, Field(gt=0, le=10)]
    loss_kpa: Annotated[float, Field(gt=0, le=100)]
    least_l_min: Annotated[float, Field(gt=0, le=60)]
    most_rise_k: Annotated[float, Field(gt=0, le=60)]
    half_w: Annotated[float, Field(gt=0, le=50_000)] | None = None
    to_half_c: Annotated[float, Field(ge=30, le=110)]
    to_full_c: Annotated[float, Field(ge=20, le=110)]
    to_pause_c: Annotated[float, Field(ge=30, le=115)]
    restart_c: Annotated[float, Field(ge=20, le=110)]
    pump: Annotated[tuple[FlowPoint, ...], Field(max_length=20)] = ()
    pump_w: Annotated[float, Field(ge=0, le=200)] = 0.0

    @model_validator(mode="after")
    def _in_order(self) -> LoopSide:
        if not self.to_full_c < self.to_half_c <= self.to_pause_c:
            raise ValueError("the switching temperatures do not rise from full to half to pause")
        if self.restart_c >= self.to_pause_c:
            raise ValueError("it would start again no colder than it pauses")
        for (flow, head), (more, less) in itertools.pairwise(self.pump):
            if more <= flow or less >= head:
                raise ValueError(
                    f"the pump's curve rises, or goes back: {head:g} kPa at {flow:g} l/min, then "
                    f"{less:g} kPa at {more:g} l/min"
                )
        return self


class KitPart(Frozen):
    """What is in the heater's box."""

    part: CatalogueId
    quantity: Annotated[float, Field(gt=0, le=10_000)]


class ServiceEvery(Frozen):
    """How often a heater's sheet asks for something to be serviced, instead of what is usual.

    Attributes:
        id: of the service, as the log has it.
    """

    id: CatalogueId
    every_h: Annotated[float, Field(gt=0, le=100_000)] | None = None
    every_l: Annotated[float, Field(gt=0, le=100_000)] | None = None
    every_starts: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    months: Annotated[int, Field(ge=1, le=120)] | None = None


class HeaterSheet(Sourced):
    """A heater with its limit sheet.

    Attributes:
        source: of every value that has none of its own.
        sources: of single values, by their path in the sheet (`output.minimum_w`).
        loop: of a coolant heater; None where its sheet was written without it.
        noise_db, noise_at_m, noise_how: sound pressure of its body at most output, at what distance
            that is told, and how it was measured.
        joint_counts_mm: length that the sheet counts for each joint of an extended exhaust.
        pump_upright: its pump is held upright while the line is filled.
        tee_allowed: a tee in an unpressurised line of the vehicle may feed it.
        service: intervals of its own.
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
    wiring: Wiring = Wiring()
    fan: FanCurve | None = None
    loop: LoopSide | None = None
    noise_db: Annotated[float, Field(ge=20, le=90)] | None = None
    noise_at_m: Annotated[float, Field(ge=0.2, le=20)] = 1.0
    noise_how: Note = ""
    joint_counts_mm: Annotated[float, Field(ge=0, le=1000)] = 0.0
    tee_allowed: bool = False
    pump_upright: bool = False
    limits: Annotated[dict[CatalogueId, Limit], Field(max_length=80)]
    kit: Annotated[tuple[KitPart, ...], Field(max_length=60)] = ()
    service: Annotated[
        tuple[ServiceEvery, ...], Field(max_length=20), AfterValidator(unique_ids)
    ] = ()
    sources: Annotated[dict[SheetPath, Name], Field(max_length=300, default_factory=dict)]

    @model_validator(mode="after")
    def _fan_or_loop(self) -> HeaterSheet:
        if (self.medium == "air") != (self.fan is not None):
            raise ValueError("an air heater has a fan curve and a coolant heater has none")
        if self.medium == "air" and self.loop is not None:
            raise ValueError("an air heater has no side of a coolant loop")
        return self

    def mount(self, mount_id: str) -> Mount | None:
        return next((mount for mount in self.mounts if mount.id == mount_id), None)
