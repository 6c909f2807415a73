"""Checks of the ducts as they run: lengths, bends, bores, what they bear, what holds them."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from gale_nook.core.air.bodies import duct_name
from gale_nook.core.ducts.convector import ducted_convector, ducts_wanted
from gale_nook.core.ducts.layout import layout
from gale_nook.core.ducts.passes import all_runs
from gale_nook.core.ducts.places import OUTSIDE, place_of
from gale_nook.core.ducts.tree import DuctRun, duct_runs
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.fitted.closing import needed_w
from gale_nook.core.fitted.usable import usable
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.vehicle.looked_findings import run_looked_at

STRAIGHT_DEG = 3.0  # a bend by less is none to the air
BENDS_COUNT_MM = 300.0  # where the sheet does not say what it counts for a bend
HAND_MM = 40.0


def blown_runs(job: Job) -> tuple[DuctRun, ...]:
    """Return the tree's ducts, where the heater blows into ducts."""
    return duct_runs(job) if ducts_wanted(job) else ()


def ways(job: Job) -> list[list[DuctRun]]:
    """Return, for each outlet, the ducts from the heater to it."""
    runs = {run.duct.id: run for run in blown_runs(job)}
    results = []
    for run in runs.values():
        if run.duct.outlet is None:
            continue
        way = [run]
        while way[0].duct.comes_from is not None:
            way.insert(0, runs[way[0].duct.comes_from])
        results.append(way)
    return results


def first_straight_mm(run: DuctRun) -> float:
    """Return how far the air runs straight first, up to a bend or a splitter."""
    if run.geometry.port_angle_deg > STRAIGHT_DEG:
        return 0.0
    bends = {bend.corner: bend for bend in run.geometry.bends}
    passed = 0.0
    for straight in run.geometry.straights:
        bend = bends.get(straight.index + 1)
        turns = bend is not None and bend.angle_deg > STRAIGHT_DEG
        passed += straight.length_mm
        if turns and bend is not None:
            return max(passed - bend.tangent_mm, 0.0)
    return passed


def bend_counts_mm(job: Job) -> float:
    """Return the length that the sheet counts for a square bend."""
    sheet = heater_sheet(job)
    known = sheet.fan.bend_counts_mm if sheet is not None and sheet.fan is not None else None
    return known if known is not None else BENDS_COUNT_MM


def counted_mm(job: Job, way: list[DuctRun]) -> float:
    """Return the length of a way as the sheet counts it: every square of its bends as a length."""
    return sum(run.length_mm for run in way) + bends_deg(way) / 90 * bend_counts_mm(job)


def bends_deg(way: list[DuctRun]) -> float:
    """Return the sum of a way's bends."""
    return sum(run.geometry.bend_sum_deg for run in way)


@rule("air.first_straight", "First straight after the heater", "mm")
def straight_first(job: Job, this: Rule) -> Iterator[Finding]:
    """A bend close to the warm end lets the air strike its sensor unevenly."""
    runs, band = blown_runs(job), limit_band(job, "duct_first_straight_mm")
    if not runs or band is None:
        return
    first = runs[0]
    measured = first_straight_mm(first)
    start = first.geometry.points[0]
    end = first.geometry.point_at(measured) if measured > 0 else start
    found = usable(job)
    computed = job.plan.air.first_straight == "computed"
    words = f"The air runs {q(measured)} straight first."
    if computed and found is not None and found.usable_w >= needed_w(job) and found.at is not None:
        yield this.yes_no(
            job,
            answer=True,
            wanted=True,
            source="as the job wants it: the computed way decides",
            sentence=(
                f"{words} The sheet asks for {q(band.minimum or 0.0)}; as the job wants it, the "
                f"computed way decides, and {q(round(found.usable_w), 'w')} can be used where "
                f"{q(round(needed_w(job)), 'w')} are needed."
            ),
            marks=(Mark(start, end),),
        )
        return
    yield this.finding(
        job,
        measured=measured,
        band=band,
        sentence=words,
        marks=(Mark(start, end),),
    )


@rule("air.length", "Length of the longest way", "mm")
def not_too_long(job: Job, this: Rule) -> Iterator[Finding]:
    """The way to the farthest outlet as the sheet counts it."""
    every, band = ways(job), limit_band(job, "duct_length_mm")
    if not every or band is None:
        return
    longest = max(every, key=lambda way: counted_mm(job, way))
    plain, counted = sum(run.length_mm for run in longest), counted_mm(job, longest)
    name = longest[-1].duct.outlet.name if longest[-1].duct.outlet is not None else ""
    yield this.finding(
        job,
        subject_name=name,
        measured=counted,
        band=band,
        tolerance=50.0,
        sentence=(
            f"{q(round(plain))} to {name}, and {bends_deg(longest):.0f}° of bends counted as "
            f"{q(round(counted - plain))} more."
        ),
    )


@rule("air.bends", "Bends of a way", "deg")
def not_too_many_bends(job: Job, this: Rule) -> Iterator[Finding]:
    """The sum of the bends on the way to an outlet."""
    every, band = ways(job), limit_band(job, "duct_bend_sum_deg")
    if not every or band is None:
        return
    worst = max(every, key=bends_deg)
    name = worst[-1].duct.outlet.name if worst[-1].duct.outlet is not None else ""
    yield this.finding(
        job,
        subject_name=name,
        measured=bends_deg(worst),
        band=band,
        sentence=f"{q(bends_deg(worst), 'deg')} of bends on the way to {name}.",
    )


@rule("air.bore", "Bore of a duct", "mm")
def wide_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """No duct is narrower than the sheet allows, nor than the outlet that it feeds."""
    runs = blown_runs(job)
    main, branch = limit_band(job, "duct_bore_mm"), limit_band(job, "duct_branch_mm")
    before_split = {run.duct.id for run in runs if _is_trunk(run, runs)}
    bores = job.catalogue.air_equipment
    for run in runs:
        band = main if run.duct.id in before_split else branch
        outlet = run.duct.outlet
        at = run.geometry.point_at(run.length_mm / 2)
        wanted = bores.outlet(outlet.kind).bore_mm if outlet is not None else 0.0
        if band is None or (band.minimum or 0.0) < wanted:
            band = Band(wanted, None, Whose.GEOMETRY, source="bore of its outlet")
        yield this.finding(
            job,
            subject=run.duct.id,
            subject_name=duct_name(run),
            measured=run.kind.bore_mm,
            band=band,
            tolerance=0.0,
            title=f"Bore of {duct_name(run)}",
            sentence=f"{run.kind.label}: {q(run.kind.bore_mm)} wide inside.",
            marks=(Mark(at, at),),
        )


def _is_trunk(run: DuctRun, runs: tuple[DuctRun, ...]) -> bool:
    """Whether all the air goes through a duct: no splitter lies before it."""
    known = {each.duct.id: each for each in runs}
    before = run.duct.comes_from
    while before is not None:
        if known[before].duct.splitter is not None:
            return False
        before = known[before].duct.comes_from
    return True


@rule("air.radius", "Bend radius of a duct", "mm")
def not_kinked(job: Job, this: Rule) -> Iterator[Finding]:
    """Bent tighter than its kind allows, a duct kinks."""
    for run in all_runs(job):
        bends = [b for b in run.geometry.bends if b.angle_deg > STRAIGHT_DEG]
        if not bends:
            continue
        least = min(bends, key=lambda bend: bend.radius_mm)
        at = run.geometry.points[least.corner]
        yield this.finding(
            job,
            subject=run.duct.id,
            subject_name=duct_name(run),
            measured=least.radius_mm,
            band=Band(
                run.kind.least_radius_mm, None, Whose.WORKSHOP, "least_radius_mm", run.kind.source
            ),
            tolerance=0.0,
            title=f"Tightest bend of {duct_name(run)}",
            sentence=f"Bend {least.corner} is drawn with a radius of {q(least.radius_mm)}; "
            f"{run.kind.label} kinks under {q(run.kind.least_radius_mm)}.",
            marks=(Mark(at, at),),
        )


@rule("air.bend_room", "Room for the bends of a duct", "mm")
def bends_fit(job: Job, this: Rule) -> Iterator[Finding]:
    """The bends at both ends of a straight need its length."""
    for run in all_runs(job):
        straights = run.geometry.straights
        worst = min(straights, key=lambda straight: straight.room_mm)
        yield this.finding(
            job,
            subject=run.duct.id,
            subject_name=duct_name(run),
            measured=worst.room_mm,
            band=Band(0.0, None, Whose.GEOMETRY, "duct_bend_room_mm", "geometry of the bend"),
            tolerance=0.0,
            title=f"Room for the bends of {duct_name(run)}",
            sentence=f"{q(round(worst.room_mm))} are left of stretch {worst.index + 1} once its "
            "bends have theirs.",
            marks=(Mark(worst.start, worst.end),),
        )


@rule("air.rating", "Air temperature that a duct bears", "C", hazard="fire")
def bears_the_air(job: Job, this: Rule) -> Iterator[Finding]:
    """As hot as the heater lets the air get before it throttles, whatever is open."""
    plan_layout = layout(job)
    if plan_layout is None:
        return
    hottest = plan_layout.fan.outlet_limit_c
    for run in blown_runs(job):
        ratings = [(run.kind.rating_c, run.kind.label, run.kind.source)]
        if run.duct.outlet is not None:
            outlet = job.catalogue.air_equipment.outlet(run.duct.outlet.kind)
            ratings.append((outlet.rating_c, outlet.label, outlet.source))
        rating, label, source = min(ratings)
        at = run.geometry.point_at(run.length_mm / 2)
        yield this.finding(
            job,
            subject=run.duct.id,
            subject_name=duct_name(run),
            measured=hottest,
            band=Band(None, rating, Whose.WORKSHOP, "rating_c", source),
            title=f"{label}: what it bears",
            sentence=f"The air can get {q(hottest, 'c')}{_why(job)}; {label} "
            f"bears {q(rating, 'c')}.",
            marks=(Mark(at, at),),
        )


def _why(job: Job) -> str:
    by_coolant = ducted_convector(job) is not None
    return ", as its coolant" if by_coolant else " before the heater throttles"


@rule("air.clips", "Clips of a duct", "mm")
def held(job: Job, this: Rule) -> Iterator[Finding]:
    """A duct that hangs sags, kinks and pulls off."""
    band = limit_band(job, "duct_clip_mm")
    if band is None:
        return
    for run in all_runs(job):
        clips = [part.at_mm for part in run.duct.of_kind("clip", "panel")]
        marks = [0.0, *(min(at, run.length_mm) for at in clips), run.length_mm]
        spans = [(b - a, a, b) for a, b in itertools.pairwise(sorted(marks))]
        longest, start, end = max(spans)
        yield this.finding(
            job,
            subject=run.duct.id,
            subject_name=duct_name(run),
            measured=longest,
            band=band,
            title=f"Clips of {duct_name(run)}",
            sentence=f"{q(round(longest))} of it hang free.",
            marks=(Mark(run.geometry.point_at(start), run.geometry.point_at(end)),),
        )


@rule("air.clip_stuff", "What a duct is held with", "C", hazard="fire")
def clips_bear_heat(job: Job, this: Rule) -> Iterator[Finding]:
    """A tie that softens lets go."""
    plan_layout = layout(job)
    if plan_layout is None:
        return
    for run in blown_runs(job):
        clips = run.duct.of_kind("clip")
        if not clips:
            continue
        kinds = [job.catalogue.air_equipment.clip(part.stuff) for part in clips]
        weakest = min(kinds, key=lambda kind: kind.rating_c)
        at = run.geometry.point_at(clips[0].at_mm)
        yield this.finding(
            job,
            subject=run.duct.id,
            subject_name=duct_name(run),
            measured=plan_layout.fan.outlet_limit_c,
            band=Band(None, weakest.rating_c, Whose.WORKSHOP, "rating_c", weakest.source),
            title=f"Clips of {duct_name(run)}: what they bear",
            sentence=f"{capital(weakest.label)}s hold air of up to "
            f"{q(plan_layout.fan.outlet_limit_c, 'c')}; they bear {q(weakest.rating_c, 'c')}.",
            marks=(Mark(at, at),),
        )


STEP_OUTSIDE_MM = 25.0


@rule("air.outside", "Ducts outside lagged and guarded", "mm")
def covered_outside(job: Job, this: Rule) -> Iterator[Finding]:
    """Outside a bare duct loses its heat, and the road breaks it."""
    for run in all_runs(job):
        count = max(1, math.ceil(run.length_mm / STEP_OUTSIDE_MM))
        places = [run.length_mm * (i + 0.5) / count for i in range(count)]
        outside = [mm for mm in places if place_of(job, run.geometry.point_at(mm)) == OUTSIDE]
        if not outside:
            continue
        bare = [mm for mm in outside if not _is_covered(run, mm)]
        at = run.geometry.point_at((bare or outside)[0])
        yield this.finding(
            job,
            subject=run.duct.id,
            subject_name=duct_name(run),
            measured=len(bare) * run.length_mm / count,
            band=Band(None, 0.0, Whose.WORKSHOP, "duct_outside", "workshop rule 37: lag and guard"),
            tolerance=0.0,
            title=f"{capital(duct_name(run))} outside",
            sentence=f"{q(round(len(bare) * run.length_mm / count))} of it lie outside without "
            "both lagging and a guard.",
            marks=(Mark(at, at),),
        )


def _is_covered(run: DuctRun, at_mm: float) -> bool:
    kinds = {p.kind for p in run.duct.parts if p.at_mm <= at_mm <= p.end_mm}
    return {"lagging", "guard"} <= kinds


@rule("air.looked_at", "Somebody has looked along a duct below", YES_NO)
def looked_along(job: Job, this: Rule) -> Iterator[Finding]:
    """A duct under the floor is not clear of what nobody has looked for."""
    for run in all_runs(job):
        below = [p for p in run.geometry.centre_line if place_of(job, p) == OUTSIDE]
        if below:
            yield run_looked_at(job, this, below, HAND_MM, (run.duct.id, duct_name(run)))


@rule("air.old_duct", "Duct of an older appliance", YES_NO, hazard="fire")
def old_duct_sound(job: Job, this: Rule) -> Iterator[Finding]:
    """What was made for another heater may be split, full of dust, or of a stuff that does not bear
    this one's air: its kind is held to that like any other, and it is looked at.
    """
    for run in blown_runs(job):
        duct = run.duct
        if not duct.was_there:
            continue
        at = run.geometry.point_at(run.length_mm / 2)
        name = duct_name(run)
        yield this.yes_no(
            job,
            subject=duct.id,
            subject_name=name,
            answer=duct.checked,
            wanted=True,
            source="workshop rule 78: what is used again is looked at from end to end",
            title=f"{capital(name)}, used again",
            sentence=f"{capital(name)} was there before: "
            + (
                "it was looked at, inside and out."
                if duct.checked
                else "nobody has looked at it, inside and out."
            ),
            marks=(Mark(at, at),),
        )
