"""First proposals: a tank of one's own where there is room, and a line that rises to the heater
clear of heat.

Every line over a range of lanes along the vehicle is drawn, with filter, pump and clips where they
may be; the checks say which breaks the fewest limits.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import islice

from gale_nook.core.errors import BadInput
from gale_nook.core.findings.rule import Rule
from gale_nook.core.fuel.checks import LINE_CHECKS
from gale_nook.core.fuel.line import supply
from gale_nook.core.fuel.tank_pose import tank_shape
from gale_nook.core.fuel.together import FUEL_TOGETHER
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import separation
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.heater.limits import least_of, most_of
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.fuel import FuelLine, FuelSource, LinePart, OwnTank, Pump
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.plan.size import pieces
from gale_nook.core.routing.families import dog_leg, lanes_mm, length_mm
from gale_nook.core.routing.proving import Proved, RunKind, first_clear_or_best, proved
from gale_nook.core.spot.placement import heater_port, port_point
from gale_nook.core.vehicle.floor import floor_finish_z_mm, floor_underside_z_mm
from gale_nook.core.vehicle.parts import surveyed_where

OTHER_LANE_MM, OTHER_HEIGHT_MM = 240.0, 90.0  # lines that differ by less are one
LANE_MM = 120.0
BESIDE_MM = 960.0
PUMP_PLACES_MM = (350.0, 600.0, 200.0, 900.0, 1200.0)
RADIUS_MM = 30.0
TILT_DEG = 45.0
UNDER_MM = (
    0.0,
    115.0,
    135.0,
    160.0,
    210.0,
    260.0,
    330.0,
)  # the floor, at which a line passes under rails and members
RISE_MM = 10.0
SHORT_OF_MM = 14.0
LEAST_TRIED, TRIED_PIECES = 6, 6_000  # lines, and lines times pieces of what was surveyed
TANK_STEP_MM = 100.0
TANK_GAP_MM, EDGE_MM = 15.0, 40.0


def starting_tank(job: Job, source: FuelSource) -> OwnTank:
    """Return a tank of usual size in the first clear place from the rear on: under the floor, or on
    it.
    """
    first = next(_usual_tanks(job, source), None)
    if first is None:
        raise BadInput("fuel.source", source, "The vehicle is too short for a tank of its own.")
    return next(tanks_with_room(job, source), first)


def tanks_with_room(job: Job, source: FuelSource) -> Iterator[OwnTank]:
    """Yield tanks of usual size in clear places from the rear on: under the floor, or on it."""
    around = [
        shape
        for _, _, shape in surveyed_where(job, "inside" if source == "tank-inside" else "below")
    ]
    for tank in _usual_tanks(job, source):
        if all(separation(tank_shape(tank), other).distance_mm >= TANK_GAP_MM for other in around):
            yield tank


def _usual_tanks(job: Job, source: FuelSource) -> Iterator[OwnTank]:
    """Tanks of usual size from the rear on, at both sides and in the middle."""
    shell, size = job.plan.vehicle.shell, (460.0, 240.0, 180.0)
    inside = source == "tank-inside"
    z = floor_finish_z_mm(job) if inside else floor_underside_z_mm(job) - size[2] - 40
    half = (shell.floor_width_mm if inside else shell.outer_width_mm) / 2
    x = shell.rear_x_mm - size[0] - 150
    while x > shell.bulkhead_x_mm:
        for y in (half - size[1] - EDGE_MM, -half + EDGE_MM, 0.0 - size[1] / 2):
            yield OwnTank(
                x_mm=round(x),
                y_mm=round(y),
                z_mm=round(z),
                length_mm=size[0],
                width_mm=size[1],
                height_mm=size[2],
                outlet_y_mm=size[1] / 2,
                filler="left" if y < 0 else "right",
            )
        x -= TANK_STEP_MM


@fact
def starting_line(job: Job) -> FuelLine:
    """Return the line that breaks the fewest limits of those that are tried.

    It is a beginning: where much was surveyed fewer are tried, so that it is there at once;
    `line_proposals` tries them all.

    Raises:
        BadInput: source, tank, heater or spot are missing.
    """
    most = max(LEAST_TRIED, TRIED_PIECES // max(pieces(job.plan), 1))
    best = first_clear_or_best(islice(tried_lines(job), most))
    if best is None:
        raise BadInput("fuel.line", None, "No line can be drawn from there to the heater.")
    return best.candidate.line if not best.over else best_pump_place(job, best)


@dataclass(frozen=True, slots=True)
class LineCandidate:
    """A line that may be tried.

    Attributes:
        lane_mm: right of the centre line, along which it runs.
        under_mm: the floor, at which it does; 0 where it rises steadily.
        led_round: what stands there, in place of running along a lane.
    """

    lane_mm: float
    under_mm: float
    line: FuelLine
    length_mm: float
    led_round: bool = False


def line_kind(job: Job, beside: tuple[Rule, ...] = (FUEL_TOGETHER,)) -> RunKind[LineCandidate]:
    """Return how lines are proved.

    Args:
        beside: checks of all else, of which a line may put nothing over that was not.
    """
    return RunKind(
        fit_out=lambda candidate: _with_line(job, candidate.line),
        checks=LINE_CHECKS,
        cost=lambda candidate: candidate.length_mm,
        differ=lambda one, other: (
            abs(one.lane_mm - other.lane_mm) >= OTHER_LANE_MM
            or abs(one.under_mm - other.under_mm) >= OTHER_HEIGHT_MM
        ),
        before=_with_line(job, None),
        beside=beside,
    )


def tried_lines(
    job: Job, beside: tuple[Rule, ...] = (FUEL_TOGETHER,)
) -> Iterator[Proved[LineCandidate]]:
    """Yield lines with what is over on them, the shortest first: straight to a lane along the
    vehicle, along it, and across to the heater.

    Raises:
        BadInput: source, tank, heater or spot are missing.
    """
    if job.plan.spot is None or heater_sheet(job) is None or chosen_mount(job) is None:
        raise BadInput(
            "fuel.line", None, "The line ends at the heater: choose a heater and a spot first."
        )
    if supply(job) is None:
        raise BadInput(
            "fuel.line", None, "The line begins at the tank: say first where the fuel comes from."
        )
    yield from proved(line_kind(job, beside), _candidates(job))


def best_pump_place(job: Job, tried: Proved[LineCandidate]) -> FuelLine:
    """Return a line with its pump where it breaks the fewest limits."""
    others = proved(line_kind(job), with_other_pump_places(job, tried.candidate))
    return min([tried, *others], key=lambda each: each.cost).candidate.line


def _candidates(job: Job) -> Iterator[LineCandidate]:
    source = supply(job)
    if source is None:
        return
    start, end = source.start, port_point(job, heater_port(job, "fuel"))
    floor_z = floor_underside_z_mm(job)
    for under in UNDER_MM:
        for lane in lanes_mm(start, end, LANE_MM, BESIDE_MM):
            low_z = floor_z - under if under else None
            points = dog_leg(start, float(lane), end, 2 * RADIUS_MM, low_z, RISE_MM)
            points = _short_of(points, end, float(lane))
            length = length_mm([start, *points, end])
            line = fitted_line(job, points, length, min(PUMP_PLACES_MM[0], length / 2))
            yield LineCandidate(float(lane), under, line, drawn_length_mm(job, line))


def _short_of(points: list[Vec3], end: Vec3, lane_mm: float) -> list[Vec3]:
    """The corners with the last one a little short of the port: the line leans to it, and comes
    away from the exhaust's port sooner than by hanging straight down.
    """
    if not points or points[-1][:2] != end[:2]:
        return points
    x, y, z = points[-1]
    return [*points[:-1], (x, y + math.copysign(SHORT_OF_MM, lane_mm - y), z)]


def with_other_pump_places(job: Job, candidate: LineCandidate) -> Iterator[LineCandidate]:
    """Yield a line with its pump elsewhere, filter and clips with it."""
    source = supply(job)
    if source is None:
        return
    end = port_point(job, heater_port(job, "fuel"))
    points = [(n.x_mm, n.y_mm, n.z_mm) for n in candidate.line.nodes]
    length = length_mm([source.start, *points, end])
    for pump_mm in PUMP_PLACES_MM:
        if pump_mm < 0.8 * length:
            yield replace(candidate, line=fitted_line(job, points, length, pump_mm))


def fitted_line(
    job: Job, points: list[Vec3], length: float, pump_mm: float, filter_mm: float | None = None
) -> FuelLine:
    """Return a line through corners, from where it takes off, with its pump at a distance from
    there, and filter and clips on it; its length is given in mm.

    Args:
        filter_mm: where the filter sits; left out, halfway to the pump.
    """
    at_filter = pump_mm / 2 if filter_mm is None else filter_mm
    nodes = tuple(
        RouteNode(
            id=f"n-{number}", x_mm=round(x), y_mm=round(y), z_mm=round(z), radius_mm=RADIUS_MM
        )
        for number, (x, y, z) in enumerate(points, 1)
    )
    apart = most_of(job, "fuel_clip_mm", 300.0)
    count = math.ceil(length / (0.95 * apart))
    clips = tuple(
        LinePart(id=f"clip-{n}", kind="clip", at_mm=round(length * n / count))
        for n in range(1, count)
    )
    filters = (
        (LinePart(id="filter", kind="filter", at_mm=round(at_filter)),)
        if job.plan.fuel.filter == "expected"
        else ()
    )
    pump = LinePart(id="pump", kind="pump", at_mm=round(pump_mm))
    return FuelLine(nodes=nodes, parts=(*filters, pump, *clips), pump=Pump(tilt_deg=_tilt(job)))


def _tilt(job: Job) -> float:
    """The usual tilt, within what the sheet allows."""
    return min(
        max(TILT_DEG, least_of(job, "pump_tilt_deg", 0.0)),
        most_of(job, "pump_tilt_deg", 90.0),
    )


def _with_line(job: Job, line: FuelLine | None) -> Job:
    fuel = job.plan.fuel.model_copy(update={"line": line})
    return job.with_parts(fuel=fuel)


def drawn_length_mm(job: Job, line: FuelLine) -> float:
    source, end = supply(job), port_point(job, heater_port(job, "fuel"))
    points = [(n.x_mm, n.y_mm, n.z_mm) for n in line.nodes]
    return length_mm([*([source.start] if source else []), *points, end])
