"""The plan's part for the fuel: where it comes from, a tank of one's own, the line with filter and
pump.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.base.models import (
    CatalogueId,
    CoordinateMm,
    Frozen,
    ItemId,
    Name,
    Point2,
    SizeMm,
    printable,
    unique_ids,
)
from gale_nook.core.plan.pipes import RouteNode

FuelSource = Literal[
    "take-off",
    "stand-pipe",
    "tee-feed",
    "tee-return",
    "tee-auxiliary",
    "tank-outside",
    "tank-inside",
]
OWN_TANKS: tuple[FuelSource, ...] = ("tank-outside", "tank-inside")
LEAST_SECTION_MM2 = 400.0
LinePartKind = Literal["filter", "pump", "joint", "clip", "flex", "valve", "check"]


class Indent(Frozen):
    """A dent in a tank's top or bottom: a groove for a strap, a step, a stamping.

    Attributes:
        x_mm, y_mm: its low corner, from that of the tank; depth_mm: into the tank.
    """

    id: ItemId
    of: Literal["top", "bottom"] = "top"
    x_mm: Annotated[float, Field(ge=0, le=30_000)] = 100.0
    y_mm: Annotated[float, Field(ge=0, le=30_000)] = 0.0
    length_mm: SizeMm = 40.0
    width_mm: SizeMm = 250.0
    depth_mm: SizeMm = 15.0


class OwnTank(Frozen):
    """A tank of one's own: a cross-section drawn out along or across the vehicle.

    Attributes:
        shape: a box with rounded long edges, a cylinder lying, or a profile of one's own.
        x_mm, y_mm, z_mm: low corner of its outside; length_mm along the vehicle, width_mm across
            it; of a cylinder height_mm is the diameter, and its size the other way across counts
            for nothing.
        lying: which way the cross-section is drawn out.
        edge_mm: outside radius of a box's four long edges.
        profile: corners of a profile, (across the extrusion, up) in mm from the low corner.
        wall_mm: thickness of its walls.
        outlet: where the line takes off; through the top by a pick-up pipe.
        outlet_x_mm, outlet_y_mm: of it, from the low corner.
        pick_up_mm: of the pick-up's tip, or a side outlet's middle, above the inside of the bottom.
        vent: there is one, led outside.
        filler: side from which it is filled; filler_deg: above level, of a filler in its side.
        filled_with: what comes to the filler.
        cap: of its filler: one that keeps tight, or one that breathes.
        bracket, guard: it is strapped to a bracket; stones and sun are kept off.
        turn_deg: about the upright through its middle, from rearward towards the right; before that
            it is tilted: tilt_along_deg, its rear end up, tilt_across_deg, its right side up.
        indents: dents that take from its litres, and in which no fitting seals.
        outlet_made: it came with its outlet, or one is cut in.
        bracket_on: what the bracket is bolted to; sheet_mm: thickness of a sheet; plate_mm: side of
            the plates behind it, 0 for none.
        lid: that its filler lies under; lid_mm: narrowest that it opens; lid_drain: what is spilt
            there runs outside; lid_tight: it keeps the vapour out of the room.
    """

    shape: Literal["box", "cylinder", "profile"] = "box"
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    z_mm: CoordinateMm
    length_mm: SizeMm = 400.0
    width_mm: SizeMm = 250.0
    height_mm: SizeMm = 200.0
    lying: Literal["along", "across"] = "along"
    edge_mm: Annotated[float, Field(ge=0, le=500)] = 30.0
    profile: Annotated[tuple[Point2, ...], Field(max_length=40)] = ()
    wall_mm: Annotated[float, Field(ge=0, le=30)] = 4.0
    outlet: Literal["bottom", "side", "top"] = "top"
    outlet_x_mm: Annotated[float, Field(ge=0, le=30_000)] = 60.0
    outlet_y_mm: Annotated[float, Field(ge=0, le=30_000)] = 125.0
    pick_up_mm: Annotated[float, Field(ge=0, le=2_000)] = 15.0
    vent: bool = True
    filler: Literal["top", "left", "right", "front", "rear"] = "top"
    filler_deg: Annotated[float, Field(ge=0, le=90)] = 30.0
    filled_with: Literal["nozzle", "can"] = "nozzle"
    cap: Literal["tight", "breathes"] = "tight"
    bracket: bool = True
    guard: bool = True
    turn_deg: Annotated[float, Field(ge=-180, le=180)] = 0.0
    tilt_along_deg: Annotated[float, Field(ge=-30, le=30)] = 0.0
    tilt_across_deg: Annotated[float, Field(ge=-30, le=30)] = 0.0
    indents: Annotated[tuple[Indent, ...], Field(max_length=12), AfterValidator(unique_ids)] = ()
    outlet_made: Literal["ready", "cut"] = "ready"
    bracket_on: Literal["members", "sheet"] = "members"
    sheet_mm: Annotated[float, Field(gt=0, le=20)] = 1.0
    plate_mm: Annotated[float, Field(ge=0, le=500)] = 0.0
    lid: Literal["none", "floor", "furniture"] = "none"
    lid_mm: SizeMm = 250.0
    lid_drain: bool = False
    lid_tight: bool = False

    @property
    def middle_mm(self) -> tuple[float, float, float]:
        """Its middle, about which it is turned and tilted."""
        length, width, height = self.size_mm
        return (self.x_mm + length / 2, self.y_mm + width / 2, self.z_mm + height / 2)

    @property
    def size_mm(self) -> tuple[float, float, float]:
        """Length, width and height; a lying cylinder is as wide as it is high, a profile as its
        corners reach.
        """
        if self.shape == "profile" and self.profile:
            across, height = (max(corner[axis] for corner in self.profile) for axis in (0, 1))
            return (
                (self.length_mm, across, height)
                if self.lying == "along"
                else (across, self.width_mm, height)
            )
        if self.shape != "cylinder":
            return self.length_mm, self.width_mm, self.height_mm
        if self.lying == "along":
            return self.length_mm, self.height_mm, self.height_mm
        return self.height_mm, self.width_mm, self.height_mm

    @model_validator(mode="after")
    def _believable(self) -> OwnTank:
        if self.shape == "profile":
            self._believable_profile()
        length, width, height = self.size_mm
        across = width if self.lying == "along" else length
        if self.shape == "box" and 2 * self.edge_mm > min(across, height) + 1e-9:
            raise ValueError("the rounded edges are larger than the box")
        if 2 * self.wall_mm >= min(length, width, height):
            raise ValueError("the walls leave no room inside")
        for indent in self.indents:
            ends = (indent.x_mm + indent.length_mm, indent.y_mm + indent.width_mm)
            if ends[0] > length + 1e-6 or ends[1] > width + 1e-6:
                raise ValueError("a dent reaches beyond the tank")
            if indent.depth_mm >= height / 2:
                raise ValueError("a dent is less than half as deep as the tank is high")
        return self

    def _believable_profile(self) -> None:
        if len(self.profile) < 3:
            raise ValueError("a profile has at least three corners")
        if any(value < 0 for corner in self.profile for value in corner):
            raise ValueError(
                "a profile's corners are measured from its low corner: none lies left of it "
                "or below"
            )
        edges = list(zip(self.profile, (*self.profile[1:], self.profile[0]), strict=True))
        twice = sum(a[0] * b[1] - b[0] * a[1] for a, b in edges)
        if any(
            _cross(*edges[i], *edges[j])
            for i in range(len(edges))
            for j in range(i + 1, len(edges))
        ):
            raise ValueError(
                "the profile's outline crosses itself: give its corners in order, all the way round"
            )
        if abs(twice) / 2 < LEAST_SECTION_MM2:
            raise ValueError("the profile's corners enclose next to nothing")


def _cross(a: Point2, b: Point2, c: Point2, d: Point2) -> bool:
    """Whether two edges cross between their ends."""

    def side(p: Point2, q: Point2, r: Point2) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    return side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0


class LinePart(Frozen):
    """Something in the line, at a distance from where it takes off.

    Attributes:
        length_mm: of the drawn line that a flexible stretch takes the place of.
        hose_mm: length of that stretch itself, its slack with it.
        forwards: a filter's arrow points to the heater.
        tilt_deg: of a filter away from upright.
        within_reach: it can be seen and reached once all is fitted; None where nobody has looked.
        guarded: a guard keeps stones and spray off it.
    """

    id: ItemId
    kind: LinePartKind
    at_mm: Annotated[float, Field(ge=0, le=30_000)] = 0.0
    length_mm: Annotated[float, Field(ge=0, le=5_000)] = 0.0
    hose_mm: Annotated[float, Field(ge=0, le=10_000)] = 0.0
    forwards: bool = True
    tilt_deg: Annotated[float, Field(ge=0, le=180)] = 0.0
    within_reach: bool | None = None
    guarded: bool = False


class Pump(Frozen):
    """The dosing pump as it hangs.

    Attributes:
        tilt_deg: of its axis above level, outlet end up; negative points the outlet down.
        forwards: its arrow points to the heater.
        rubber: it hangs in a rubber mount.
    """

    tilt_deg: Annotated[float, Field(ge=-90, le=90)] = 45.0
    forwards: bool = True
    rubber: bool = True


class FuelLine(Frozen):
    """The line from where it takes off to the heater's fuel port.

    Attributes:
        nodes: its corners; both ends follow from source and heater.
        suction, pressure: lines of the catalogue, before and after the pump.
    """

    nodes: Annotated[tuple[RouteNode, ...], Field(max_length=40), AfterValidator(unique_ids)] = ()
    parts: Annotated[tuple[LinePart, ...], Field(max_length=80), AfterValidator(unique_ids)] = ()
    pump: Pump = Pump()
    suction: CatalogueId = "nylon-2"
    pressure: CatalogueId = "nylon-2"

    def of_kind(self, kind: LinePartKind) -> tuple[LinePart, ...]:
        """Return the parts of a kind, from the take-off on."""
        return tuple(
            sorted((part for part in self.parts if part.kind == kind), key=lambda part: part.at_mm)
        )


class HoldsTank(Frozen):
    """A strap, a bolt or a hose of the vehicle's tank, as it was found.

    Attributes:
        x_mm, y_mm: where it is.
        lets_down_mm: of a hose or a cable: so far it lets the tank come down before it is undone.
    """

    id: ItemId
    name: Name
    kind: Literal["strap", "bolt", "hose", "cable"] = "strap"
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    lets_down_mm: Annotated[float, Field(ge=0, le=2_000)] = 150.0


class TankDrop(Frozen):
    """Lowering the vehicle's tank to get at its top.

    Attributes:
        left_l: litres still in it.
        empty_kg: what it weighs empty, with its guard.
        reach_mm: room that a hand with its tool needs over the top.
        helper: somebody holds the other end.
        holds: straps, bolts, hoses and cables.
    """

    left_l: Annotated[float, Field(ge=0, le=500)] = 10.0
    empty_kg: Annotated[float, Field(ge=0, le=100)] = 9.0
    reach_mm: Annotated[float, Field(ge=20, le=1_000)] = 160.0
    helper: bool = False
    holds: Annotated[tuple[HoldsTank, ...], Field(max_length=40), AfterValidator(unique_ids)] = ()


class SecondUser(Frozen):
    """Another heater that draws through the same take-off.

    Attributes:
        use_l_h: at its most; 0 for none.
        shared_mm, shared_bore_mm: of the line from the tank to the tee.
        own_mm, own_bore_mm: of its own, from the tee to its pump.
        pump_z_mm: height of its pump over the load floor.
        check_valve: there is one in its own line.
    """

    name: Name = "the other heater"
    use_l_h: Annotated[float, Field(ge=0, le=20)] = 0.0
    shared_mm: Annotated[float, Field(ge=0, le=20_000)] = 1500.0
    shared_bore_mm: Annotated[float, Field(ge=1, le=20)] = 6.0
    own_mm: Annotated[float, Field(ge=0, le=20_000)] = 1000.0
    own_bore_mm: Annotated[float, Field(ge=1, le=20)] = 4.0
    pump_z_mm: CoordinateMm = -200.0
    check_valve: bool = False


class Fuel(Frozen):
    """Everything about the fuel.

    Attributes:
        tank_id: the surveyed tank that the vehicle's own fuel is in; tank_wall_mm: thickness of its
            walls.
        tap_x_mm, tap_y_mm, tap_z_mm: where the line takes off the vehicle: at its tank's top, or at
            a tee.
        stand_pipe_mm: height of the pick-up's tip over the vehicle tank's bottom; of a spare
            take-off as found.
        reserve_l: left in the vehicle's tank for driving on.
        level_percent: of a full tank, at which heads and nights are told.
        filter, tee: how the job wants them; `tee` says which lines may be tapped.
        drop: lowering the vehicle's tank, where the line takes off at its top.
        take_off: kind of the spare take-off, or of that before an auxiliary line; None where nobody
            has looked.
        second: another heater on the same take-off.
        priming: what the line is filled by for the first time.
        pick_up_bore_mm: of the pick-up's own pipe; None for that of the line.
        lift_pump: where the vehicle's own is; one in the tank puts the whole feed under pressure.
    """

    source: FuelSource | None = None
    tank: OwnTank | None = None
    tank_id: ItemId | None = None
    tank_wall_mm: Annotated[float, Field(ge=0, le=30)] = 5.0
    tap_x_mm: CoordinateMm | None = None
    tap_y_mm: CoordinateMm | None = None
    tap_z_mm: CoordinateMm | None = None
    stand_pipe_mm: Annotated[float, Field(ge=0, le=1_000)] = 60.0
    reserve_l: Annotated[float, Field(ge=0, le=500)] = 12.0
    level_percent: Annotated[float, Field(ge=0, le=100)] = 100.0
    grade: CatalogueId = "winter"
    price_per_l: Annotated[float, Field(ge=0, le=100)] = 1.7
    currency: Annotated[str, Field(max_length=6), AfterValidator(printable)] = "€"
    line: FuelLine | None = None
    filter: Literal["expected", "optional"] = "expected"
    soft_suction: Literal["never", "allowed"] = "never"
    tee: Literal["feed", "return", "never"] = "never"
    lift_pump: Literal["unknown", "tank", "engine"] = "unknown"
    drop: TankDrop = TankDrop()
    take_off: CatalogueId | None = None
    second: SecondUser = SecondUser()
    priming: Literal["pump", "bulb", "syringe"] = "pump"
    pick_up_bore_mm: Annotated[float, Field(ge=1, le=20)] | None = None
