"""Candidate cures for the way back; they are tried before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.air.commands import (
    AddReturn,
    StartReturn,
)
from gale_nook.core.ducts.ends import cold_end
from gale_nook.core.ducts.layout import layout
from gale_nook.core.ducts.returns import return_openings
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.geometry.frames import add, scale
from gale_nook.core.job import Job
from gale_nook.core.plan.air import ReturnOpening
from gale_nook.core.quantities.sentences import q

ROUND_UP_MM = 10.0
MORE_AIR = (1.0, 2.0, 4.0, 8.0, 12.0)
OPEN_TIMES = 1.5  # the inlet's area, after which an opening hardly costs anything


@remedy_for("air.return_area")
def open_up(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A larger opening, one that is more open, what covers it taken away; one that nobody has
    entered yet.
    """
    yield from larger_openings(job, finding)
    end = cold_end(job)
    if return_openings(job) or end is None or finding.band.minimum is None:
        return
    side = math.ceil(math.sqrt(finding.band.minimum * 100) / ROUND_UP_MM) * ROUND_UP_MM
    at = add(end[0], scale(end[1], 80.0))
    opening = ReturnOpening(
        id="opening-1",
        name="return opening",
        x_mm=round(at[0]),
        y_mm=round(at[1]),
        z_mm=round(at[2]),
        width_mm=side + ROUND_UP_MM,
        height_mm=side,
    )
    words = f"Make an opening of {q(opening.width_mm)} by {q(opening.height_mm)} at the inlet."
    yield Remedy(words, AddReturn(item=opening))


def _opening_address(opening: ReturnOpening) -> str:
    """Where an opening stands in the plan: among the returns, or in furniture's panel."""
    if "." not in opening.id:
        return f"air.returns.{opening.id}"
    solid, own = opening.id.split(".", 1)
    return f"vehicle.solids.{solid}.hollow.openings.{own}"


def opened_up(job: Job) -> list[Change]:
    """Return what makes every opening as open as it can be, each as large as the inlet: nothing in
    front, no grille.
    """
    plan_layout = layout(job)
    changes = []
    for opening in return_openings(job):
        address = _opening_address(opening)
        changes.append(Change(address=f"{address}.covered_percent", value=0.0))
        changes.append(Change(address=f"{address}.grille", value="bare-opening"))
        if plan_layout is None:
            continue
        inlet_mm2 = math.pi * plan_layout.fan.inlet_mm**2 / 4
        if opening.width_mm * opening.height_mm < OPEN_TIMES * inlet_mm2:
            side = math.sqrt(OPEN_TIMES * inlet_mm2)
            for leaf, now in (("width_mm", opening.width_mm), ("height_mm", opening.height_mm)):
                size = math.ceil(max(side, now) / ROUND_UP_MM) * ROUND_UP_MM
                changes.append(Change(address=f"{address}.{leaf}", value=float(size)))
    return changes


def larger_openings(job: Job, finding: Finding) -> Iterator[Remedy]:
    openings = return_openings(job)
    covered = [
        Change(address=f"{_opening_address(o)}.covered_percent", value=0.0)
        for o in openings
        if o.covered_percent > 0
    ]
    if covered:
        yield Remedy("Keep clear what covers it.", SetValues(changes=tuple(covered)))
    for opening in openings:
        address = _opening_address(opening)
        if opening.grille != "bare-opening":
            grilles = sorted(job.catalogue.air_equipment.grilles, key=lambda g: -g.open_share)
            for grille in grilles:
                words = f"Cover {opening.name} with {grille.label}."
                if grille.id == "bare-opening":
                    words = f"Leave {opening.name} without a grille."
                yield Remedy(words, set_value(f"{address}.grille", grille.id))
        has = finding.measured if finding.rule == "air.return_area" else None
        wanted = (finding.band.minimum or 0.0) / has if has else 2.0
        for factor in (wanted * 1.06, wanted * 1.5, wanted * 3):
            width = math.ceil(opening.width_mm * max(factor, 1.1) / ROUND_UP_MM) * ROUND_UP_MM
            words = f"Make {opening.name} {q(width)} long."
            yield Remedy(words, set_value(f"{address}.width_mm", float(width)))
            both = math.sqrt(max(factor, 1.1))
            sides = [
                math.ceil(size * both / ROUND_UP_MM) * ROUND_UP_MM
                for size in (opening.width_mm, opening.height_mm)
            ]
            yield Remedy(
                f"Make {opening.name} {q(sides[0])} by {q(sides[1])}.",
                SetValues(
                    changes=(
                        Change(address=f"{address}.width_mm", value=float(sides[0])),
                        Change(address=f"{address}.height_mm", value=float(sides[1])),
                    )
                ),
            )


@remedy_for("air.return_space")
def from_elsewhere(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Without that opening; with one into the room in its place; by a duct from the room."""
    opening = next((o for o in return_openings(job) if o.id == finding.subject), None)
    if opening is not None and "." not in opening.id:
        if len(return_openings(job)) > 1:
            remove = RemoveItem(collection="air.returns", item_id=opening.id)
            yield Remedy("Close this opening: the others stay.", remove)
        changes = (
            Change(address=f"air.returns.{opening.id}.space", value="room"),
            Change(address=f"air.returns.{opening.id}.zone", value="living"),
        )
        yield Remedy("Move it to where it takes its air from the room.", SetValues(changes=changes))
    if opening is None:
        yield Remedy("Bring air from the room by a return duct.", StartReturn())


@remedy_for("air.zone_out")
def let_it_out(job: Job, finding: Finding) -> Iterator[Remedy]:
    """As large an opening as the air needs, which is more once it is let out."""
    for times in MORE_AIR:
        wanted = math.ceil(times * (finding.band.minimum or 0.0) / 10) * 10 + 10
        yield Remedy(
            f"Leave {q(float(wanted), 'cm2')} open to the living space.",
            set_value(f"air.zones.{finding.subject}.opening_cm2", float(wanted)),
        )
