"""Short routes: of the combustion air from its port, and of an exhaust that leaves through a wall.

Neither has to be led to an edge of the vehicle, so there is nothing to search a grid for: a fan of
short runs all round is tried, and the shortest that every check lets pass are shown.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial

from gale_nook.core.findings.finding import by_severity
from gale_nook.core.findings.rule import Rule
from gale_nook.core.geometry.frames import Vec3, add, angle_deg, norm, scale, sub
from gale_nook.core.geometry.route import route_geometry
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.heater.limits import least_of, limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.checks import checks_of
from gale_nook.core.pipes.clamps import proposed_clamps
from gale_nook.core.pipes.finder import constraints_of
from gale_nook.core.pipes.mouth_rules import FORWARD
from gale_nook.core.pipes.proposals import fitted_out
from gale_nook.core.pipes.route_proposal import RouteProposal, proposal_of
from gale_nook.core.pipes.runs import pipe_run, through_body_mm, with_route, without_route
from gale_nook.core.pipes.start import FILTER_MM
from gale_nook.core.pipes.supports import proposed_supports
from gale_nook.core.pipes.together import PIPES_TOGETHER
from gale_nook.core.plan.pipes import Fitting, Route, RouteNode, Tube
from gale_nook.core.plan.words import TUBE_WORDS
from gale_nook.core.routing.families import directions_round, fan
from gale_nook.core.routing.proving import RunKind, first_clear, proved
from gale_nook.core.spot.placement import heater_port, port_direction, port_point

REACHES_MM: dict[Tube, tuple[float, ...]] = {
    "intake": (160.0, 240.0, 340.0, 460.0, 620.0),
    "exhaust": (200.0, 280.0, 360.0, 480.0, 700.0),
}
DROPS_MM = (0.0, 40.0, 90.0)  # more than the bend needs
FALLS_DEG: dict[Tube, tuple[float, ...]] = {
    "intake": (5.0, 15.0),
    "exhaust": (6.0, 15.0, 45.0, 85.0),
}
DIRECTIONS = 16
LEAST_TURN_DEG: dict[Tube, float] = {
    "intake": 0.0,
    "exhaust": 88.0,
}  # an exhaust goes along its wall, not away from it
DROP_COSTS = 2.0  # a millimetre down brings it nearer to spray and stones
PART = 48  # runs that are tried at a time
APART_MM = 250.0  # nearer mouths are one way
ROOM_FOR_FILTER_MM = 30.0


def is_short(job: Job, tube: Tube) -> bool:
    """Return whether a pipe's ways are short ones."""
    mount = chosen_mount(job)
    return tube == "intake" or (mount is not None and mount.through == "wall")


@dataclass(frozen=True, slots=True)
class ShortRun:
    """A run that may be tried: its corners after the port, and what it costs."""

    points: tuple[Vec3, ...]
    costs: float


def short_runs(job: Job, tube: Tube) -> tuple[ShortRun, ...]:
    """Return every run that may be tried, the cheapest first. Needs a heater in its place."""
    port, leaving = port_point(job, heater_port(job, tube)), port_direction(job, tube)
    straight_mm = least_of(job, "first_straight_mm", 0.0) + job.plan.settings.tolerance_mm + 5
    first_mm = _radius_mm(job, tube) + max(straight_mm, through_body_mm(job, tube))
    directions = [
        direction
        for direction in directions_round(DIRECTIONS, FALLS_DEG[tube])
        if LEAST_TURN_DEG[tube] <= angle_deg(leaving, direction) < 120
    ]
    results = []
    for more in DROPS_MM:
        corner = _first_corner(job, tube, port, leaving, first_mm + more)
        for points, direction, reach in fan(corner, directions, REACHES_MM[tube]):
            if _may_end(job, tube, points[-1], direction):
                results.append(ShortRun(points, first_mm + DROP_COSTS * more + reach))
    return tuple(sorted(results, key=lambda run: run.costs))


def _first_corner(job: Job, tube: Tube, port: Vec3, leaving: Vec3, out_mm: float) -> Vec3:
    """The end of the first straight; out of a level port it falls as little as it has to, or water
    would stand in it.
    """
    x, y, z = add(port, scale(leaving, out_mm))
    if tube == "exhaust" and leaving[2] > -0.7:
        z -= out_mm * math.tan(math.radians(constraints_of(job).falls_deg[0]))
    return (x, y, z)


def _may_end(job: Job, tube: Tube, mouth: Vec3, direction: Vec3) -> bool:
    """What can be said of a mouth before the checks are asked."""
    forward = "intake_forward_deg" if tube == "intake" else "mouth_forward_deg"
    if angle_deg(direction, FORWARD) < least_of(job, forward, 0.0):
        return False
    other = pipe_run(job, "exhaust" if tube == "intake" else "intake")
    if other is None:
        return True
    blowing, gas, breathing = (
        (other.mouth, other.mouth_direction, mouth)
        if tube == "intake"
        else (mouth, direction, other.mouth)
    )
    apart = least_of(job, "mouths_apart_mm", 0.0) <= norm(sub(breathing, blowing))
    return apart and angle_deg(gas, sub(breathing, blowing)) >= least_of(
        job, "mouths_facing_deg", 0.0
    )


def parts_of_runs(runs: tuple[ShortRun, ...]) -> int:
    """Return how many parts the runs are tried in."""
    return math.ceil(len(runs) / PART)


def short_route(
    job: Job,
    tube: Tube,
    runs: tuple[ShortRun, ...],
    part: int,
    avoid: tuple[Vec3, ...] = (),
    beside: tuple[Rule, ...] = (PIPES_TOGETHER,),
) -> RouteProposal | None:
    """Return the cheapest run of one part that every check lets pass, away from mouths that were
    found before.

    Args:
        beside: checks of all else, of which it may put nothing over that was not.
    """
    kind = _short_kind(job, tube, beside)
    candidates = (
        run
        for run in runs[part * PART : (part + 1) * PART]
        if all(norm(sub(run.points[-1], other)) >= APART_MM for other in avoid)
    )
    result = first_clear(kind, candidates)
    if result is None:
        return None
    return proposal_of(result.job, tube, _where(job, tube, result.candidate.points[-1]))


def _short_kind(
    job: Job, tube: Tube, beside: tuple[Rule, ...] = (PIPES_TOGETHER,)
) -> RunKind[ShortRun]:
    return RunKind(
        fit_out=partial(_fitted, job, tube),
        checks=checks_of(tube),
        cost=lambda run: run.costs,
        differ=lambda one, other: norm(sub(one.points[-1], other.points[-1])) >= APART_MM,
        before=without_route(job, tube),
        beside=beside,
    )


def short_routes(job: Job, tube: Tube) -> Iterator[RouteProposal]:
    """Yield up to three ways, of which no two end near one another."""
    runs = short_runs(job, tube)
    mouths: tuple[Vec3, ...] = ()
    for part in range(parts_of_runs(runs)):
        while len(mouths) < 3:
            proposal = short_route(job, tube, runs, part, mouths)
            if proposal is None:
                break
            mouths = (*mouths, proposal.mouth)
            yield proposal


def short_obstruction(job: Job, tube: Tube, runs: tuple[ShortRun, ...]) -> str:
    """Return what is over on the run that breaks the fewest limits, of a sample of all that were
    tried.
    """
    if not runs:
        return (
            f"Every direction from the {TUBE_WORDS[tube]}'s port points forward or brings both "
            "mouths together: move the other mouth."
        )
    tried = proved(_short_kind(job, tube), runs[:: max(len(runs) // PART, 1)])
    least = min(
        (each.over for each in tried),
        key=lambda findings: (len(findings), -min((f.margin or 0.0 for f in findings), default=0)),
        default=(),
    )
    least = tuple(by_severity(least))
    words = " ".join(finding.sentence for finding in least[:3])
    count = f"{len(least)} limit{'' if len(least) == 1 else 's'}"
    return (
        f"No short run from the {TUBE_WORDS[tube]}'s port keeps to every limit; the best one "
        f"breaks {count}. {words}"
    )


def _fitted(job: Job, tube: Tube, run: ShortRun) -> Job | None:
    """The job with a run that has all that sits on it; None where the filter finds
    no room on it.
    """
    radius = _radius_mm(job, tube)
    nodes = tuple(
        RouteNode(
            id=f"n-{number}", x_mm=round(x), y_mm=round(y), z_mm=math.floor(z), radius_mm=radius
        )
        for number, (x, y, z) in enumerate(run.points, 1)
    )
    if tube == "exhaust":
        return fitted_out(job, Route(nodes=nodes))
    fittings: tuple[Fitting, ...] = ()
    if job.plan.pipes.filter == "expected":
        port = port_point(job, heater_port(job, "intake"))
        geometry = route_geometry(
            port, port_direction(job, "intake"), [(p, radius) for p in run.points]
        )
        at = geometry.length_mm - FILTER_MM - ROOM_FOR_FILTER_MM
        if geometry.straights[-1].room_mm < FILTER_MM + ROOM_FOR_FILTER_MM:
            return None
        fittings = (
            Fitting(id="filter", kind="filter", at_mm=float(math.floor(at)), length_mm=FILTER_MM),
        )
    bare = with_route(job, "intake", Route(nodes=nodes, fittings=fittings))
    fittings = (*fittings, *proposed_clamps(bare, "intake"))
    clamped = with_route(job, "intake", Route(nodes=nodes, fittings=fittings))
    spacing = limit_band(job, "support_spacing_mm")
    if spacing is None or spacing.maximum is None:
        return clamped
    supports = proposed_supports(clamped, "intake", spacing.maximum)
    if not supports:
        return clamped
    return with_route(job, "intake", Route(nodes=nodes, fittings=(*fittings, *supports)))


def _where(job: Job, tube: Tube, mouth: Vec3) -> str:
    """Which way a mouth lies from the port, in words."""
    x, y, _ = port_point(job, heater_port(job, tube))
    dx, dy = mouth[0] - x, mouth[1] - y
    parts = [
        word
        for word, value in (
            ("rearward", dx),
            ("forward", -dx),
            ("to the right", dy),
            ("to the left", -dy),
        )
        if value > 0.38 * math.hypot(dx, dy)
    ]
    return " and ".join(parts)


def _radius_mm(job: Job, tube: Tube) -> float:
    return least_of(job, f"{tube}_radius_mm", 45.0) + 5.0
