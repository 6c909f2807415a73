"""The plan's part for the electrics: battery and feed, leads, controller, alarms, nights."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import (
    CatalogueId,
    CoordinateMm,
    Frozen,
    ItemId,
    Name,
    Note,
    Point3,
    unique_ids,
)
from gale_nook.core.plan.pipes import RouteNode

FeedPoint = Literal["posts", "bus-bar", "fuse-panel", "isolator", "kill-switch", "old-wires"]
LeadKind = Literal["supply", "pump", "controller", "sensor"]
LeadPartKind = Literal["fuse", "clip", "joint", "hole", "guard", "loop"]
SensorChoice = Literal["controller", "heater", "lead"]
MountedOn = Literal["furniture", "partition", "outer-wall"]


class Battery(Frozen):
    """What feeds the heater.

    Attributes:
        x_mm, y_mm, z_mm: the middle of its terminals.
        chemistry: catalogue entry.
        charge_percent: what is in it when the night begins.
        open_v: measured at rest, with nothing drawn; it counts in the place of the charge.
        resistance_mohm: measured inner resistance; None for what is typical of its kind.
        temperature_c: that it has on the coldest morning.
        belongs: to the body itself, or to what tows or carries it.
    """

    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm
    chemistry: CatalogueId = "agm"
    nominal_v: Literal[12, 24] = 12
    capacity_ah: Annotated[float, Field(gt=0, le=2000)] = 100.0
    age_years: Annotated[float, Field(ge=0, le=30)] = 2.0
    charge_percent: Annotated[float, Field(ge=0, le=100)] = 80.0
    open_v: Annotated[float, Field(gt=0, le=60)] | None = None
    resistance_mohm: Annotated[float, Field(gt=0, le=500)] | None = None
    temperature_c: Annotated[float, Field(ge=-50, le=60)] = 0.0
    belongs: Literal["body", "vehicle"] = "body"


class LeadPart(Frozen):
    """Something on a lead.

    Attributes:
        at_mm: where it begins, along the lead from its start.
        length_mm: of a guarded stretch; of a loop, what it has over the drawn line.
        diameter_mm: of a hole; grommet: it is lined; plug_off: the plug is taken off to pass it.
        rating_a: of a fuse.
    """

    id: ItemId
    kind: LeadPartKind
    at_mm: Annotated[float, Field(ge=0, le=30_000)] = 0.0
    length_mm: Annotated[float, Field(ge=0, le=20_000)] = 0.0
    diameter_mm: Annotated[float, Field(ge=3, le=100)] = 20.0
    grommet: bool = True
    plug_off: bool = False
    rating_a: Annotated[float, Field(gt=0, le=100)] = 20.0


class Lead(Frozen):
    """A cable or lead: from the battery to the heater (supply), or from the heater to what it
    serves.

    Attributes:
        nodes: its corners between its ends.
        one_way_mm: typed length, one way; None for the drawn line with its allowance.
        area_mm2: of each conductor; of a lead as it came in the kit it is the sheet's.
        laid_from, laid_to: where its ends were when it was laid; None where nobody noted it.
    """

    id: LeadKind
    nodes: Annotated[tuple[RouteNode, ...], Field(max_length=40), AfterValidator(unique_ids)] = ()
    parts: Annotated[tuple[LeadPart, ...], Field(max_length=80), AfterValidator(unique_ids)] = ()
    one_way_mm: Annotated[float, Field(gt=0, le=60_000)] | None = None
    area_mm2: Annotated[float, Field(ge=0.2, le=150)] = 6.0
    laid_from: Point3 | None = None
    laid_to: Point3 | None = None

    def of_kind(self, *kinds: LeadPartKind) -> tuple[LeadPart, ...]:
        """Return the parts of some kinds, from the lead's start on."""
        return tuple(sorted((p for p in self.parts if p.kind in kinds), key=lambda p: p.at_mm))


class Controller(Frozen):
    """Where the controller hangs, and what is round it.

    Attributes:
        sensor: by which the heater regulates: the controller's own, the heater's own, or one on a
            lead of its own.
        sensor_x_mm, sensor_y_mm, sensor_z_mm: of one on a lead.
        sun, damp: the sun shines on it; it gets wet or steamed.
    """

    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm
    mounted: MountedOn = "furniture"
    sensor: SensorChoice = "controller"
    sensor_x_mm: CoordinateMm | None = None
    sensor_y_mm: CoordinateMm | None = None
    sensor_z_mm: CoordinateMm | None = None
    sun: bool = False
    damp: bool = False


class Alarm(Frozen):
    """A CO or smoke alarm."""

    id: ItemId
    kind: Literal["co", "smoke"] = "co"
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm
    shut_in: bool = False  # behind a door, a curtain or in a locker


class OtherLoad(Frozen):
    """Something else that the battery feeds through the night."""

    id: ItemId
    name: Name
    charge_ah: Annotated[float, Field(ge=0, le=2000)] = 5.0


class ChargeSource(Frozen):
    """Charge that comes in by day.

    Attributes:
        hours_h: of driving or of full sun in a day.
        current_a: that it gives while it does; charge_ah: of a day, where that is known itself.
    """

    id: ItemId
    name: Name
    kind: Literal["typed", "drive", "sun"] = "drive"
    hours_h: Annotated[float, Field(ge=0, le=24)] = 1.0
    current_a: Annotated[float, Field(ge=0, le=300)] = 20.0
    charge_ah: Annotated[float, Field(ge=0, le=2000)] = 0.0


class Disconnect(Frozen):
    """A device that protects the battery.

    Attributes:
        acts_v: at which it acts.
        stops: only the start of the heater; or everything, the after-run too.
    """

    acts_v: Annotated[float, Field(gt=0, le=60)] = 11.8
    stops: Literal["start", "everything"] = "start"


class Power(Frozen):
    """Everything about the electrics.

    Attributes:
        feed: where the feed is taken.
        old_wires_checked: the wires of an older appliance were looked at: joints, fuse, area.
        body_return: the current comes back through the body; body_return_reason: why.
        allowance_percent: of a lead's drawn length, for ends and slack.
        bundle: cables that lie together with the supply; surroundings_c: the warmest air round
            them; insulation_c: that their insulation takes.
        switch: whether a switch in the feed is allowed, with a warning.
        start_load_a: drawn by others while the heater starts.
        idle_days: in a row, in which the heater stands switched on and unused.
        pump_marked: the pump's lead is told apart at both ends.
    """

    battery: Battery | None = None
    feed: FeedPoint = "posts"
    old_wires_checked: bool = False
    body_return: bool = False
    body_return_reason: Note = ""
    leads: Annotated[tuple[Lead, ...], Field(max_length=4), AfterValidator(unique_ids)] = ()
    controller: Controller | None = None
    alarms: Annotated[tuple[Alarm, ...], Field(max_length=12), AfterValidator(unique_ids)] = ()
    loads: Annotated[tuple[OtherLoad, ...], Field(max_length=30), AfterValidator(unique_ids)] = ()
    charging: Annotated[
        tuple[ChargeSource, ...], Field(max_length=12), AfterValidator(unique_ids)
    ] = ()
    disconnect: Disconnect | None = None
    allowance_percent: Annotated[float, Field(ge=0, le=50)] = 10.0
    bundle: Annotated[int, Field(ge=1, le=30)] = 2
    surroundings_c: Annotated[float, Field(ge=0, le=90)] = 40.0
    insulation_c: Literal[70, 90, 105] = 90
    switch: Literal["never", "with-care"] = "never"
    start_load_a: Annotated[float, Field(ge=0, le=300)] = 3.0
    idle_days: Annotated[float, Field(ge=0, le=365)] = 7.0
    pump_marked: bool = False

    def lead(self, kind: str) -> Lead | None:
        return next((lead for lead in self.leads if lead.id == kind), None)
