"""Where a pipe is held: the gaps between its supports, and a proposal that takes factory holes and
threads first.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Fitting, Tube
from gale_nook.core.plan.vehicle import Feature
from gale_nook.core.spot.fixing_holes import fixing_hole, is_too_near
from gale_nook.core.vehicle.floor import underside_at_mm

SPARE = 0.95  # of the spacing that may be, so that a proposal is not tight
REACH_MM = 150.0  # a bracket bent from flat steel reaches this far in plan
CLEAR_MM = 25.0  # of bends and silencers


@dataclass(frozen=True, slots=True)
class Hold:
    """A free length between two places where the pipe is held; the mouth's end hangs free."""

    from_mm: float
    to_mm: float

    @property
    def length_mm(self) -> float:
        return self.to_mm - self.from_mm


def free_lengths(job: Job, tube: Tube) -> tuple[Hold, ...]:
    """Return the free lengths from the port over all supports to the mouth."""
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    if run is None or route is None:
        return ()
    length = run.length_mm
    held = [0.0, *(min(fitting.at_mm, length) for fitting in route.of_kind("support")), length]
    return tuple(Hold(start, end) for start, end in itertools.pairwise(held))


def fixings(job: Job) -> list[tuple[Feature, tuple[float, float]]]:
    """Return the declared factory holes and threads under the floor, with where they are in the
    vehicle's frame.
    """
    vehicle, result = job.plan.vehicle, []
    for feature in vehicle.features:
        at = feature.below if feature.below is not None else feature.inside
        if feature.fixing and at is not None:
            mirrored = feature.below is not None and vehicle.below_mirrored
            result.append((feature, (at[0], -at[1] if mirrored else at[1])))
    return result


def hangs_from(job: Job, fitting: Fitting, point: Vec3) -> Vec3:
    """Return where a support's bracket is fixed: at its factory hole, or straight
    above the pipe.
    """
    for feature, (x, y) in fixings(job):
        if feature.id == fitting.feature:
            return (x, y, underside_at_mm(job, x, y))
    return (point[0], point[1], underside_at_mm(job, point[0], point[1]))


def proposed_supports(job: Job, tube: Tube, spacing_mm: float) -> tuple[Fitting, ...]:
    """Return supports from the port on, each as far as it may be and on a factory hole where one is
    in reach.

    The last one stands near the mouth; what lies outside the vehicle's edge is never farther than a
    spacing from it.
    """
    run = pipe_run(job, tube)
    if run is None:
        return ()
    known = _fixings_along(job, tube)
    results: list[Fitting] = []
    held, spacing_mm = 0.0, spacing_mm * SPARE
    while run.length_mm - held > spacing_mm:
        reach = [
            (at, feature)
            for at, feature in known
            if held + spacing_mm / 3 <= at <= held + spacing_mm
        ]
        at, feature = (
            max(reach, key=lambda pair: pair[0])
            if reach
            else (_free_place(job, tube, held, spacing_mm), None)
        )
        results.append(_support(len(results) + 1, at, feature))
        held = at
    return tuple(results)


def _support(number: int, at_mm: float, feature: Feature | None) -> Fitting:
    return Fitting(
        id=f"support-{number}",
        kind="support",
        at_mm=float(math.floor(at_mm)),
        feature=feature.id if feature is not None else None,
    )


def _fixings_along(job: Job, tube: Tube) -> list[tuple[float, Feature]]:
    """Factory fixings in reach of the pipe, by the distance from the port where a
    bracket meets it.
    """
    run, result = pipe_run(job, tube), []
    if run is None:
        return []
    for feature, (x, y) in fixings(job):
        at = _beside_what_sits_there(job, tube, run.distance_of((x, y, run.mouth[2])))
        px, py, _ = run.point_at(at)
        if math.hypot(px - x, py - y) <= REACH_MM:
            result.append((at, feature))
    return sorted(result, key=lambda pair: pair[0])


def _beside_what_sits_there(job: Job, tube: Tube, at_mm: float) -> float:
    """The distance itself, or the nearer end of the silencer or filter that lies there."""
    route = job.plan.pipes.route(tube)
    for fitting in route.of_kind("silencer", "filter") if route is not None else ():
        before, after = fitting.at_mm - CLEAR_MM, fitting.end_mm + CLEAR_MM
        if before < at_mm < after:
            return before if at_mm - before <= after - at_mm else after
    return at_mm


def _free_place(job: Job, tube: Tube, held_mm: float, spacing_mm: float) -> float:
    """The farthest place within a spacing that is under the floor, clear of what sits on the pipe,
    and where a rivet nut can be set.
    """
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    wished = held_mm + spacing_mm
    otherwise: float | None = None
    if run is None or route is None:
        return wished
    half = job.plan.vehicle.shell.outer_width_mm / 2
    for back in range(0, int(spacing_mm * 0.6), 10):
        at = wished - back
        taken = any(
            f.at_mm - CLEAR_MM < at < f.end_mm + CLEAR_MM
            for f in route.of_kind("silencer", "filter")
        )
        point = run.point_at(at)
        if taken or abs(point[1]) >= half:
            continue
        hung = (point[0], point[1], underside_at_mm(job, point[0], point[1]))
        if not is_too_near(job, fixing_hole(job, "", "support", hung)):
            return at
        otherwise = at if otherwise is None else otherwise
    return wished if otherwise is None else otherwise
