"""Checks of the filter as it hangs, and of what spray and stones reach of pump and filter."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import YES_NO, Remedy, Rule, remedy_for, rule
from gale_nook.core.fuel.commands import PutLine
from gale_nook.core.fuel.line import FuelRun, fuel_run
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.spray import wedges
from gale_nook.core.plan.fuel import LinePart
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.inside import is_inside
from gale_nook.core.vehicle.lean import lean_of, lean_words

SEEN = "workshop rule 71: a filter is looked at every year"
TRIED_MM = (100.0, 200.0, 350.0, 500.0, 800.0)


@rule("fuel.filter_arrow", "Filter's arrow to the heater", YES_NO, run="fuel")
def filter_forwards(job: Job, this: Rule) -> Iterator[Finding]:
    """The wrong way round its paper sheds into the pump what it caught."""
    for run, part in _filters(job):
        at = _at(run, part)
        words = "points to the heater" if part.forwards else "points to the tank: turn it round"
        yield this.yes_no(
            job,
            subject=part.id,
            answer=part.forwards,
            wanted=True,
            source="the filter's own arrow",
            sentence=f"The filter's arrow {words}.",
            marks=(Mark(at, at),),
        )


@rule("fuel.filter_tilt", "Filter upright", "deg", run="fuel")
def filter_upright(job: Job, this: Rule) -> Iterator[Finding]:
    """Its bowl holds water only where that stays below its outlet, and fills only where air gets
    out.
    """
    band = limit_band(job, "filter_tilt_deg")
    if band is None:
        return
    askew = lean_of(job).most_deg
    for run, part in _filters(job):
        at, tilt = _at(run, part), part.tilt_deg + askew
        yield this.finding(
            job,
            subject=part.id,
            measured=tilt,
            band=band,
            sentence=f"{lean_words(job)} it stands {q(tilt, 'deg')} off upright.",
            marks=(Mark(at, at),),
        )


@rule("fuel.filter_reach", "Filter in sight and within reach", YES_NO, run="fuel")
def filter_reached(job: Job, this: Rule) -> Iterator[Finding]:
    """Nobody changes a filter that takes a tank down to get at."""
    for run, part in _filters(job):
        at = _at(run, part)
        if part.within_reach is None:
            words = "Look whether the filter can be seen and reached once all is fitted."
            yield this.finding(
                job,
                subject=part.id,
                measured=None,
                band=Band(None, None, Whose.WORKSHOP, source=SEEN),
                sentence=words,
                marks=(Mark(at, at),),
            )
            continue
        words = "can" if part.within_reach else "cannot"
        yield this.yes_no(
            job,
            subject=part.id,
            answer=part.within_reach,
            wanted=True,
            source=SEEN,
            sentence=f"The filter {words} be seen and reached once all is fitted.",
            marks=(Mark(at, at),),
        )


@rule("fuel.spray", "Pump and filter out of the wheels' spray", "mm", run="fuel")
def out_of_spray(job: Job, this: Rule) -> Iterator[Finding]:
    """Stones break plugs and bowls, salt water eats them; behind a guard they last."""
    run, band = fuel_run(job), limit_band(job, "pump_spray_mm")
    if run is None or band is None:
        return
    for part in run.line.parts:
        if part.kind not in {"pump", "filter"} or part.guarded:
            continue
        at = _at(run, part)
        behind = min(wedges(job), key=lambda each: each.outside_mm(at), default=None)
        if behind is None or is_inside(job, at):
            continue
        gap = behind.outside_mm(at)
        where = "clear of" if gap >= 0 else "inside"
        yield this.finding(
            job,
            subject=part.id,
            subject_name=f"the {part.kind}",
            measured=gap,
            band=band,
            tolerance=0.0,
            title=f"The {part.kind} out of the wheels' spray",
            sentence=f"The {part.kind} lies {q(abs(gap))} {where} the spray behind the "
            f"{behind.name}.",
            marks=(Mark(at, at),),
        )


@remedy_for("fuel.filter_arrow")
def turn_filter(job: Job, finding: Finding) -> Iterator[Remedy]:
    """The other way round."""
    del job
    yield Remedy(
        "Turn the filter round.", set_value(f"fuel.line.parts.{finding.subject}.forwards", True)
    )


@remedy_for("fuel.filter_tilt")
def stand_filter_up(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Upright."""
    del job
    words = "Hang the filter upright."
    yield Remedy(words, set_value(f"fuel.line.parts.{finding.subject}.tilt_deg", 0.0))


@remedy_for("fuel.spray")
def out_of_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Elsewhere along the line, in the order that it has; else a guard."""
    run = fuel_run(job)
    if run is None:
        return
    part = next((p for p in run.line.parts if p.id == finding.subject), None)
    if part is None:
        return
    for away in TRIED_MM:
        for at in (part.at_mm - away, part.at_mm + away):
            if _in_order(run, part, at):
                moved = part.model_copy(update={"at_mm": round(at)})
                parts = tuple(moved if p.id == part.id else p for p in run.line.parts)
                line = run.line.model_copy(update={"parts": parts})
                yield Remedy(f"Move the {part.kind} to {q(at)} from the tank.", PutLine(line=line))
    yield Remedy(
        f"Put a guard round the {part.kind}.",
        set_value(f"fuel.line.parts.{part.id}.guarded", True),
    )


def _in_order(run: FuelRun, part: LinePart, at_mm: float) -> bool:
    """Whether a filter stays before the pump, or a pump behind the filter."""
    if not 0 < at_mm < run.length_mm:
        return False
    if part.kind == "filter":
        return run.pump_mm is None or at_mm < run.pump_mm
    return run.filter_mm is None or at_mm > run.filter_mm


def _filters(job: Job) -> Iterator[tuple[FuelRun, LinePart]]:
    run = fuel_run(job)
    if run is not None:
        yield from ((run, part) for part in run.line.of_kind("filter"))


def _at(run: FuelRun, part: LinePart) -> tuple[float, float, float]:
    return run.geometry.point_at(min(part.at_mm, run.length_mm))
