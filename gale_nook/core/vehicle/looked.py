"""Where somebody has looked, and what of a place nobody has: there everything is to be measured."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence

import shapely

from gale_nook.core.job import Job, fact
from gale_nook.core.plan.looked import LookedArea, LookedWhere
from gale_nook.core.plan.vehicle import Shell
from gale_nook.core.quantities.sentences import q

Rect = tuple[float, float, float, float]  # low x, low y, high x, high y, in mm
TOUCHING_MM = 1e-6
SEEN = ("seen", "measured", "drawing")


@fact
def looked_domain(job: Job, where: LookedWhere) -> Rect:
    """Return what there is to look at: the underside, the room inside, or the engine bay."""
    shell = job.plan.vehicle.shell
    if where == "below":
        half = shell.outer_width_mm / 2
        return (shell.front_x_mm, -half, shell.rear_x_mm, half)
    half = shell.floor_width_mm / 2
    if where == "inside":
        return (job.plan.vehicle.body_front_x_mm, -half, shell.rear_x_mm, half)
    end = shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.bulkhead_x_mm
    return (shell.front_x_mm, -shell.outer_width_mm / 2, end, shell.outer_width_mm / 2)


@fact
def unlooked(job: Job, where: LookedWhere) -> tuple[Rect, ...]:
    """Return rectangles that together are what nobody has said anything of."""
    return _uncovered(looked_domain(job, where), _areas(job, where))


@fact
def unseen(job: Job, where: LookedWhere) -> tuple[Rect, ...]:
    """Return the same of what nobody has seen, measured or read off a drawing: what is assumed
    counts as unseen.
    """
    areas = [area for area in _areas(job, where) if area.how in SEEN]
    return _uncovered(looked_domain(job, where), areas)


def named_places(shell: Shell) -> dict[str, float]:
    """Return the places along a vehicle that an area can be said to reach from or to."""
    named = {
        "nose": shell.front_x_mm,
        "front axle": shell.front_axle_x_mm,
        "bulkhead": shell.bulkhead_x_mm,
        "rear axle": shell.rear_axle_x_mm,
        "rear doors": shell.rear_x_mm,
    }
    return dict(sorted(named.items(), key=lambda each: each[1]))


def looked_share(job: Job, where: LookedWhere) -> float:
    """Return how much of the load space's floor was looked at there, 0 to 1."""
    shell = job.plan.vehicle.shell
    half = shell.floor_width_mm / 2
    floor = (shell.bulkhead_x_mm, -half, shell.rear_x_mm, half)
    open_mm2 = sum(_area_mm2(_overlap(rect, floor)) for rect in unlooked(job, where))
    return 1.0 - open_mm2 / _area_mm2(floor)


def missing_in(rects: Iterable[Rect], needed: Rect) -> Rect | None:
    """Return the rectangle round what of a needed one lies in others; None where none does."""
    parts = [part for rect in rects if _area_mm2(part := _overlap(rect, needed)) > 0]
    return _round(parts)


def missing_along(
    rects: Iterable[Rect], points: Sequence[tuple[float, ...]], around_mm: float
) -> Rect | None:
    """Return the rectangle round what of a run in plan, and of what lies so near beside it, lies in
    rectangles; None where nothing does.
    """
    plan = [point[:2] for point in points]
    line = shapely.LineString(plan) if len(plan) > 1 else shapely.Point(plan[0])
    band = line.buffer(max(around_mm, TOUCHING_MM))
    parts = [
        part.bounds
        for rect in rects
        if (part := band.intersection(shapely.box(*rect))).area > TOUCHING_MM
    ]
    return _round(parts)


def place_words(rect: Rect) -> str:
    """Return a rectangle in plan in words, from the datum and the centre line."""
    low_x, low_y, high_x, high_y = rect
    return f"from {q(low_x)} to {q(high_x)} behind the datum, {_across(low_y, high_y)}"


def _across(low_mm: float, high_mm: float) -> str:
    if low_mm >= 0:
        return f"{q(low_mm)} to {q(high_mm)} right of centre"
    if high_mm <= 0:
        return f"{q(-high_mm)} to {q(-low_mm)} left of centre"
    return f"from {q(-low_mm)} left to {q(high_mm)} right of centre"


def _areas(job: Job, where: LookedWhere) -> list[LookedArea]:
    return [area for area in job.plan.vehicle.looked_at if area.where == where]


def _uncovered(domain: Rect, areas: Sequence[LookedArea]) -> tuple[Rect, ...]:
    """What the areas leave of the domain: cells between all their edges, those side by side in a
    row as one.
    """
    covered = [(a.from_x_mm, a.left_y_mm, a.to_x_mm, a.right_y_mm) for a in areas]
    xs = _edges(domain[0], domain[2], [(c[0], c[2]) for c in covered])
    ys = _edges(domain[1], domain[3], [(c[1], c[3]) for c in covered])
    results: list[Rect] = []
    for low_y, high_y in itertools.pairwise(ys):
        start: float | None = None
        for low_x, high_x in itertools.pairwise(xs):
            middle = ((low_x + high_x) / 2, (low_y + high_y) / 2)
            is_open = not any(_holds(cover, middle) for cover in covered)
            start = (low_x if start is None else start) if is_open else None
            if start is not None:
                if results and results[-1][:2] == (start, low_y):
                    results.pop()
                results.append((start, low_y, high_x, high_y))
    return tuple(results)


def _edges(low: float, high: float, ends: Iterable[tuple[float, float]]) -> list[float]:
    inner = {end for pair in ends for end in pair if low < end < high}
    return sorted({low, high} | inner)


def _holds(rect: Rect, point: tuple[float, float]) -> bool:
    return rect[0] <= point[0] <= rect[2] and rect[1] <= point[1] <= rect[3]


def _overlap(one: Rect, other: Rect) -> Rect:
    return (
        max(one[0], other[0]),
        max(one[1], other[1]),
        min(one[2], other[2]),
        min(one[3], other[3]),
    )


def _area_mm2(rect: Rect) -> float:
    wide, high = rect[2] - rect[0], rect[3] - rect[1]
    return wide * high if min(wide, high) > TOUCHING_MM else 0.0


def _round(parts: Sequence[Rect]) -> Rect | None:
    if not parts:
        return None
    return (
        min(part[0] for part in parts),
        min(part[1] for part in parts),
        max(part[2] for part in parts),
        max(part[3] for part in parts),
    )
