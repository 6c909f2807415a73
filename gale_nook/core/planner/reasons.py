"""Why there is no layout: the smallest sets of wishes and limits that forbid it, and what giving up
each would allow.
"""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.judging import over_findings
from gale_nook.core.job import Job
from gale_nook.core.planner.fitting import Stopped
from gale_nook.core.planner.places import MappedMount, Node
from gale_nook.core.planner.wished import Wish, allowed, every_wish, with_wishes, without
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.checks import SPOT_CHECKS
from gale_nook.core.spot.floor_map import YAWS
from gale_nook.core.spot.search import at_place
from gale_nook.core.stations import BY_WORD

MOST_TOGETHER = 3  # wishes that are given up at once
MOST_REASONS = 6
TOGETHER = f"No place is left by more than {MOST_TOGETHER} wishes together: give up some of them."
NEAREST_TRIED = 12
M2 = 1e6


@dataclass(frozen=True, slots=True)
class Reason:
    """One thing that would have to give.

    Attributes:
        wishes: ids of wishes that together forbid it; empty where a limit does.
        sentence: what stands in the way, with figures.
        allows: what giving it up would allow.
    """

    wishes: tuple[str, ...]
    sentence: str
    allows: str = ""


def why_none(
    job: Job,
    maps: Sequence[MappedMount],
    nodes: Sequence[Node],
    stopped: Sequence[tuple[Node, Stopped]],
) -> tuple[Reason, ...]:
    """Return the reasons why no layout was found, the smallest sets first."""
    if maps and not nodes:
        reasons = tuple(_of_places(job, maps))
        return reasons[:MOST_REASONS] or (Reason((), TOGETHER),)
    if not nodes:
        return (Reason((), _no_choice(job)),)
    return tuple(_of_stops(job, stopped))[:MOST_REASONS]


def _no_choice(job: Job) -> str:
    hole = job.plan.wishes.most_hole_mm
    if hole is not None:
        return f"Every mount of this heater that the floor suits needs a hole over {q(hole)}."
    if job.plan.wishes.fill_from != "any":
        return f"No tank that is filled from the {job.plan.wishes.fill_from} finds room."
    return "No mount of this heater suits the floor, or no source of fuel can be used here."


def _of_places(job: Job, maps: Sequence[MappedMount]) -> Iterator[Reason]:
    """Where the heater may not stand anywhere: by which wishes, else by which limits."""
    wishes = [w for w in every_wish(job) if w.of_place or w.id.startswith(("part:", "area:"))]
    if not any(each.clear[yaw].any() for each in maps for yaw in YAWS):
        yield from _nearest_limits(job, maps)
        return
    area, _ = _room_without(job, maps, frozenset())
    if area > 0:
        words = (
            "from none of them can all be led on: its hole, its warm end or a tank is in the way"
        )
        yield Reason((), f"{area:.2f} m² of floor are clear for the heater, but {words}.")
        return
    yield from _wishes_in_the_way(job, maps, wishes)


def _wishes_in_the_way(
    job: Job, maps: Sequence[MappedMount], wishes: Sequence[Wish]
) -> Iterator[Reason]:
    """The smallest sets of wishes without which there are places."""
    forbid: list[frozenset[str]] = []
    for count in range(1, MOST_TOGETHER + 1):
        for some in itertools.combinations(wishes, count):
            ids = frozenset(wish.id for wish in some)
            if any(known <= ids for known in forbid):
                continue
            area, margin = _room_without(job, maps, ids)
            if area > 0:
                forbid.append(ids)
                words = " and ".join(wish.words for wish in some)
                allows = f"Without it {area:.2f} m² are clear, by up to {q(round(margin))}."
                yield Reason(tuple(sorted(ids)), f"Wished for is {words}.", allows)


def _room_without(
    job: Job, maps: Sequence[MappedMount], dropped: frozenset[str]
) -> tuple[float, float]:
    """How large the clear places are without some wishes, in m², and by how much they are clear."""
    freed = with_wishes(job, without(job.plan.wishes, dropped))
    area, best = 0.0, 0.0
    for each in maps:
        grid, step = each.floor.grid, float(np.diff(each.floor.grid.x_mm[:2]).sum() or 1.0)
        every = np.zeros(grid.shape, dtype=bool)
        for yaw in YAWS:
            there = each.floor.job.with_parts(wishes=freed.plan.wishes)
            may = each.clear[yaw] & allowed(there, grid, yaw)
            every |= may
            if may.any():
                best = max(best, float(each.floor.fields[yaw].margin_mm[may].max()))
        area = max(area, float(every.sum()) * step * step / M2)
    return area, best


def _nearest_limits(job: Job, maps: Sequence[MappedMount]) -> Iterator[Reason]:
    """Where no place keeps every limit: what is over at the places that come nearest."""
    best: list[tuple[int, float, tuple[Finding, ...]]] = []
    for each in maps:
        for yaw in YAWS:
            margins = np.where(each.wished[yaw], each.floor.fields[yaw].margin_mm, -np.inf)
            order = np.argsort(-margins, axis=None, kind="stable")[:NEAREST_TRIED]
            for flat in order[:: max(len(order) // 3, 1)]:
                iy, ix = np.unravel_index(int(flat), margins.shape)
                base = each.floor.job.plan.spot
                if base is None or not np.isfinite(margins[iy, ix]):
                    continue
                grid = each.floor.grid
                at = {"x_mm": float(grid.x_mm[ix]), "y_mm": float(grid.y_mm[iy]), "yaw_deg": yaw}
                there = at_place(job, base.model_copy(update=at))
                over = tuple(over_findings(there, SPOT_CHECKS))
                if over:
                    best.append((len(over), -min(f.margin or 0.0 for f in over), over))
    best.sort(key=lambda each: each[:2])
    for _, _, over in best[:1]:
        for finding in over:
            lacks = f"It lacks {q(round(-(finding.margin or 0.0), 1))}."
            allows = lacks if finding.unit == "mm" and finding.margin else ""
            yield Reason((), finding.sentence, allows)


def _of_stops(job: Job, stopped: Sequence[tuple[Node, Stopped]]) -> Iterator[Reason]:
    """Where places are clear but nothing can be laid from them: what stops most of them, and the
    nearest that any came.
    """
    count = Counter(stop.at for _, stop in stopped)
    for station, number in count.most_common():
        stops = [stop for _, stop in stopped if stop.at == station]
        least = min(stops, key=lambda stop: (len(stop.over), _short_by(stop), stop.sentence))
        label = BY_WORD[station].label if station in BY_WORD else station
        sentence = f"{label} stops {number} of {len(stopped)} choices. {least.sentence}"
        yield Reason((), sentence, _helps(job, station))


def _short_by(stop: Stopped) -> float:
    return max((-(f.margin or 0.0) for f in stop.over), default=0.0)


def _helps(job: Job, station: str) -> str:
    """What could be allowed, where the job or the wishes forbid it."""
    pipes, wishes = job.plan.pipes, job.plan.wishes
    if station == "pipes":
        if len(pipes.edges) < 3:
            missing = [e for e in ("left", "right", "rear") if e not in pipes.edges]
            return f"The exhaust may not end at the {' or '.join(missing)}: allow it at Pipes."
        if pipes.mouth_from_mm is not None or pipes.mouth_to_mm is not None:
            return "Its mouth may only be on a stretch of the sides: widen that at Pipes."
    if station == "fuel" and (wishes.sources or job.plan.fuel.source is not None):
        return "Allow another source of fuel."
    if station == "air" and len(job.plan.air.wanted) > 1:
        return "Leave out an outlet, or allow thicker ducts to pass."
    if wishes.under_sill == "never":
        return "Allow things lower than the sill."
    return ""
