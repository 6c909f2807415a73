"""Whether somebody has looked at where the heater goes: below its holes, and where its body stands.

What was not looked at is to measure, on the map as in the check.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.looked import LookedWhere
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.field import Grid
from gale_nook.core.spot.placement import (
    body_corners,
    floor_holes,
    free_shelf,
    heater_finish_z_mm,
    heater_underside_z_mm,
)
from gale_nook.core.vehicle.looked import (
    TOUCHING_MM,
    Rect,
    missing_in,
    place_words,
    unlooked,
    unseen,
)
from gale_nook.core.vehicle.looked_findings import SOURCE as LOOKED_SOURCE

LOOKED, ASSUMED, TO_MEASURE = 0, 1, 2  # what is known of a place, in the map's picture


@dataclass(frozen=True, slots=True)
class Needed:
    """A rectangle in plan that has to be looked at, for one thing of the heater."""

    where: LookedWhere
    name: str
    rect: Rect


def around_holes_mm(job: Job) -> float:
    """Return how far round a hole has to be looked at: the most metal that any kind of part below
    wants left beside one.
    """
    kinds = job.catalogue.solid_kinds.values()
    return max(kind.hole_mm or 0.0 for kind in kinds if kind.where == "below")


def needed_areas(job: Job) -> tuple[Needed, ...]:
    """Return what has to be looked at where the heater stands; nothing without a place."""
    spot, mount, corners = job.plan.spot, chosen_mount(job), body_corners(job)
    if spot is None or mount is None or corners is None:
        return ()
    around, results = around_holes_mm(job), []
    for hole in floor_holes(job):
        (reach_x, reach_y), x, y = hole.reach_mm, hole.x_mm, hole.y_mm
        out_x, out_y = reach_x + around, reach_y + around
        rect = (x - out_x, y - out_y, x + out_x, y + out_y)
        looked: LookedWhere = "below" if free_shelf(job) is None else "inside"
        results.append(Needed(looked, f"the {hole.name}", rect))
    where: LookedWhere = mount.place
    results.append(Needed(where, "the heater with its clear air", _body_rect(job, corners)))
    return tuple(results)


def _body_rect(job: Job, corners: tuple[Any, Any]) -> Rect:
    """The body with the clear air that its sheet asks for at its ends and sides, in plan."""
    low, high = corners
    yaw = job.plan.spot.yaw_deg if job.plan.spot is not None else 0
    inlet, outlet, side = (
        _least(job, name) for name in ("inlet_gap_mm", "outlet_gap_mm", "side_gap_mm")
    )
    before, behind = (inlet, outlet) if yaw in {0, 90} else (outlet, inlet)
    if yaw in {0, 180}:
        return (low[0] - before, low[1] - side, high[0] + behind, high[1] + side)
    return (low[0] - side, low[1] - before, high[0] + side, high[1] + behind)


def _least(job: Job, name: str) -> float:
    band = limit_band(job, name)
    return (band.minimum or 0.0) if band is not None else 0.0


@rule("spot.looked_at", "Somebody has looked there", YES_NO)
def looked_at(job: Job, this: Rule) -> Iterator[Finding]:
    """A hole is not clear of what nobody has looked for."""
    needed = needed_areas(job)
    for where in dict.fromkeys(each.where for each in needed):
        here = [each for each in needed if each.where == where]
        missing = [(e, part) for e in here if (part := missing_in(unlooked(job, where), e.rect))]
        if missing:
            yield _to_measure(job, this, where, missing)
            continue
        finding = this.yes_no(
            job,
            subject=where,
            subject_name=WORDS[where],
            answer=True,
            wanted=True,
            whose=Whose.GEOMETRY,
            source=LOOKED_SOURCE,
            title=f"Looked at {WORDS[where]}",
            sentence=f"All that matters to the heater {WORDS[where]} lies in looked-at areas.",
        )
        assumed = any(missing_in(unseen(job, where), each.rect) for each in here)
        yield replace(finding, assumed=(f"what is {WORDS[where]}",)) if assumed else finding


WORDS: dict[LookedWhere, str] = {
    "below": "below the floor",
    "inside": "inside",
    "engine-bay": "in the engine bay",
}


def _to_measure(
    job: Job, this: Rule, where: LookedWhere, missing: list[tuple[Needed, Rect]]
) -> Finding:
    parts = "; ".join(f"{place_words(rect)} ({each.name})" for each, rect in missing)
    z = heater_underside_z_mm(job) if where == "below" else heater_finish_z_mm(job)
    around = f", {q(around_holes_mm(job))} round each hole" if where == "below" else ""
    return this.finding(
        job,
        subject=where,
        subject_name=WORDS[where],
        measured=None,
        band=Band(None, None, Whose.GEOMETRY, source=LOOKED_SOURCE),
        title=f"Look {WORDS[where]}",
        sentence=f"Nobody has looked {WORDS[where]} {parts}. Look there{around}, enter what there "
        "is, and add it to the looked-at areas.",
        marks=tuple(Mark((rect[0], rect[1], z), (rect[2], rect[3], z)) for _, rect in missing),
    )


def looked_states(job: Job, grid: Grid) -> Any:
    """Return what is known of each place of a grid, as turned in the job: LOOKED, ASSUMED or
    TO_MEASURE, (ny, nx).
    """
    states = np.full(grid.shape, LOOKED, dtype=np.int8)
    spot = job.plan.spot
    if spot is None:
        return states
    at = (spot.x_mm, spot.y_mm)
    for each in needed_areas(job):
        for rects, state in (
            (unseen(job, each.where), ASSUMED),
            (unlooked(job, each.where), TO_MEASURE),
        ):
            for rect in rects:
                rows, columns = _touching(grid, at, each.rect, rect)
                here = states[rows, columns]
                np.maximum(here, state, out=here)
    return states


def _touching(grid: Grid, at: tuple[float, float], needed: Rect, rect: Rect) -> tuple[slice, slice]:
    """The rows and columns of the places from which a rectangle, needed at another place, lies over
    one that stays.
    """
    spans = []
    for axis, values in ((1, grid.y_mm), (0, grid.x_mm)):
        low = rect[axis] - (needed[axis + 2] - at[axis]) + TOUCHING_MM
        high = rect[axis + 2] - (needed[axis] - at[axis]) - TOUCHING_MM
        first = int(np.searchsorted(values, low, side="right"))
        spans.append(slice(first, max(first, int(np.searchsorted(values, high)))))
    return spans[0], spans[1]
