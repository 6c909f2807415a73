"""Laying hoses: square or slanting from end to end, round what stands there, clipped, sleeved, and
through the floor with grommets.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from gale_nook.core.coolant.before import BEFORE_COOLANT
from gale_nook.core.coolant.bodies import hose_body, part_bodies
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import box_shape
from gale_nook.core.heater.limits import most_of
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, body_of
from gale_nook.core.ledger.pairs import too_near
from gale_nook.core.loop.hoses import HoseRun, end_point, hose_run, hose_runs, port_mm
from gale_nook.core.loop.passes import hose_passes_mm
from gale_nook.core.plan.coolant import Coolant, Hose, HosePart
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.vehicle.floor import floor_finish_z_mm
from gale_nook.core.vehicle.inside import is_inside, route_stretches, sleeve_spans, within_shell

CLIP_MM, HOLE_SPARE_MM, RADIUS_MM, RISE_MM = 300.0, 2.0, 110.0, 20.0
WIDE_HOSE, NARROW_HOSE = "rubber-20", "rubber-16"
FIT_MM = 1.0  # that a hose's bore and an end may differ
ROUND_MM = (130.0, 200.0, 300.0, 450.0)  # so far aside a hose is led round something
SLANTS = (0.0, 0.25)  # of the way, at which it turns aside


def laid_out(job: Job, coolant: Coolant) -> Coolant:
    """Return a loop with every hose laid, clipped, and its holes in the floor filled."""
    there = with_loop(job, coolant)
    hoses = tuple(laid_hose(there, hose) for hose in coolant.hoses)
    return coolant.model_copy(update={"hoses": hoses})


def laid_hose(job: Job, hose: Hose) -> Hose:
    """Return a hose laid round what stands there, clipped; through the floor with a grommet."""
    start = end_point(job, (hose.from_part, hose.from_end))
    end = end_point(job, (hose.to_part, hose.to_end))
    if start is None or end is None:
        return hose
    return fitted_hose(*_clear_way(job, hose, start, end))


def _clear_way(job: Job, hose: Hose, start: Vec3, end: Vec3) -> tuple[Job, Hose]:
    """The first way that shares its place with nothing; where there is none the one that does with
    the fewest things.
    """
    best: tuple[int, Job, Hose] | None = None
    for nodes in _ways(job, start, end):
        bare = hose.model_copy(update={"nodes": nodes, "parts": ()})
        there = with_hose(job, bare)
        run = hose_run(there, hose.id)
        met = meets(job, [hose_body(there, run)]) if run is not None else 0
        if best is None or met < best[0]:
            best = (met, there, bare)
        if met == 0:
            break
    if best is None:
        raise ValueError("there is always the straight way")
    return best[1], best[2]


def meets(job: Job, bodies: list[Body]) -> int:
    """Return with how many things bodies would share their place."""
    return sum(1 for _ in too_near(job.catalogue.room, bodies, _others(job)))


def part_meets(job: Job, kind: str, at: Vec3) -> int:
    """Return with how many things a part of a kind would share its place."""
    size = job.catalogue.coolant_equipment.part(kind).size_mm
    low = (at[0] - size[0] / 2, at[1] - size[1] / 2, at[2] - size[2] / 2)
    body = body_of(job, "loop-part", box_shape(low, size), thing_id="coolant.tried", name="")
    return meets(job, [body])


def loop_meets(job: Job) -> int:
    """Return how many things of a loop share their place with another one, or lie in front of or
    behind the cabin.
    """
    own = [*(hose_body(job, run) for run in hose_runs(job)), *part_bodies(job)]
    among = sum(1 for _ in too_near(job.catalogue.room, own, own, within=True))
    rear_mm = job.plan.vehicle.shell.rear_x_mm
    return meets(job, own) + among + sum(body.shape.bounds[3] > rear_mm for body in own)


@fact
def _others(job: Job) -> tuple[Body, ...]:
    """Everything that a hose may not share its place with."""
    return tuple(body for bodies in BEFORE_COOLANT for body in bodies(job))


def _ways(job: Job, start: Vec3, end: Vec3) -> Iterator[tuple[RouteNode, ...]]:
    """Straight from end to end first; then aside, rising or falling evenly all the way, so that no
    air stays in it.
    """
    points = _corners(job, start, end)
    yield _nodes(points)
    a, b = (points or [start])[0], (points or [end])[-1]
    a, b = (start if _is_under(job, end) else a), (end if _is_under(job, start) else b)
    along = math.dist(a[:2], b[:2])
    if along < 2 * RADIUS_MM:
        return
    across = ((a[1] - b[1]) / along, (b[0] - a[0]) / along)
    for aside in (sign * mm for mm in ROUND_MM for sign in (1, -1)):
        for slant in SLANTS:
            detour = _detour(a, b, (across[0] * aside, across[1] * aside), slant)
            if all(is_inside(job, p) for p in detour) or not is_inside(job, a):
                before = points if _is_under(job, start) else []
                after = points if _is_under(job, end) else []
                yield _nodes([*before, *detour, *after])


def _detour(a: Vec3, b: Vec3, aside: tuple[float, float], slant: float) -> list[Vec3]:
    """Two corners beside the straight from one point to another, its rise shared out evenly."""
    shares = (slant, 1.0 - slant)
    flat = [
        (
            a[0] + (b[0] - a[0]) * share + aside[0],
            a[1] + (b[1] - a[1]) * share + aside[1],
        )
        for share in shares
    ]
    whole = [a[:2], *flat, b[:2]]
    legs = [math.dist(one, other) for one, other in itertools.pairwise(whole)]
    z = [a[2] + (b[2] - a[2]) * sum(legs[: n + 1]) / sum(legs) for n in range(2)]
    return [(x, y, height) for (x, y), height in zip(flat, z, strict=True)]


def fitting_kind(job: Job, hose: Hose) -> str:
    """Return the kind of hose that goes on both ends of a hose; its own where that does, or none
    does.
    """
    works = job.catalogue.coolant_equipment
    ends = ((hose.from_part, hose.from_end), (hose.to_part, hose.to_end))
    sizes = [size for end in ends if (size := port_mm(job, end)) is not None]
    for kind in (hose.kind, WIDE_HOSE, NARROW_HOSE):
        if all(abs(works.hose(kind).bore_mm - size) <= FIT_MM for size in sizes):
            return kind
    return hose.kind


def fitted_hose(job: Job, hose: Hose) -> Hose:
    """Return a hose with clips evenly along it, and a hole wherever it leads outside."""
    run = hose_run(job, hose.id)
    if run is None:
        return hose
    parts = [*even_clips(job, run.length_mm)]
    hole = math.ceil(run.outside_mm + HOLE_SPARE_MM)
    parts += [
        HosePart(id=f"hole-{n}", kind="hole", at_mm=round(at), diameter_mm=hole)
        for n, at in enumerate(hose_passes_mm(job, hose.id), 1)
    ]
    parts += sleeves(job, run)
    return hose.model_copy(update={"parts": tuple(parts)})


def sleeves(job: Job, run: HoseRun) -> list[HosePart]:
    """Return sleeves over what of a hose lies outside."""
    spans = sleeve_spans(route_stretches(job, run.geometry))
    return [
        HosePart(id=f"guard-{n}", kind="guard", at_mm=at, length_mm=length)
        for n, (at, length) in enumerate(spans, 1)
    ]


def even_clips(job: Job, length_mm: float) -> tuple[HosePart, ...]:
    """Return clips evenly along a hose, a little nearer to one another than they may be."""
    apart = 0.9 * most_of(job, "hose_clip_mm", CLIP_MM)
    count = math.ceil(length_mm / apart)
    return tuple(
        HosePart(id=f"clip-{n}", kind="clip", at_mm=round(length_mm * n / count))
        for n in range(1, count)
    )


def _corners(job: Job, start: Vec3, end: Vec3) -> list[Vec3]:
    """Straight from end to end; where one end lies under the floor, straight up through it first,
    and up to the header at its own place.
    """
    lane_z = floor_finish_z_mm(job) + RADIUS_MM + RISE_MM
    points: list[Vec3] = []
    if _is_under(job, start) and not _is_under(job, end):
        points.append((start[0], start[1], lane_z))
    if _is_under(job, end) and not _is_under(job, start):
        points.append((end[0], end[1], lane_z))
    return points


def _nodes(points: list[Vec3]) -> tuple[RouteNode, ...]:
    return tuple(
        RouteNode(id=f"n{n}", x_mm=round(x), y_mm=round(y), z_mm=round(z), radius_mm=RADIUS_MM)
        for n, (x, y, z) in enumerate(points, 1)
    )


def _is_under(job: Job, point: Vec3) -> bool:
    return point[2] < floor_finish_z_mm(job) and within_shell(job, point)


def with_loop(job: Job, coolant: Coolant) -> Job:
    """Return the job with a loop."""
    return job.with_parts(coolant=coolant)


def with_hose(job: Job, hose: Hose) -> Job:
    """Return the job with a hose in the place of what there was of its id."""
    coolant = job.plan.coolant
    hoses = tuple(hose if other.id == hose.id else other for other in coolant.hoses)
    return with_loop(job, coolant.model_copy(update={"hoses": hoses}))
