"""Every check of the fuel: source, tank, line, pump, heads, cold."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from functools import partial

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.findings.bend_room import bend_room_words
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import Candidate, nearest_first, worst_and_nearest
from gale_nook.core.findings.rule import YES_NO, Rule, rule, tolerance_of
from gale_nook.core.fuel.hydraulics import fuel_heads
from gale_nook.core.fuel.line import FuelRun, fuel_run, supply
from gale_nook.core.fuel.noise import at_bed_db
from gale_nook.core.fuel.sources import against
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape, least_separations_mm, separation
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.covers import cover_segments
from gale_nook.core.plan.solids import Solid
from gale_nook.core.plan.words import SOURCE_WORDS
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.lean import lean_of, lean_words
from gale_nook.core.vehicle.parts import surveyed_where

TO_SETTLE = Band(None, None, Whose.GEOMETRY, source="the plan")
BEDS = {"bed"}
SIPHON = "fuel_over_heater_mm"


@rule("fuel.source", "A source of fuel", "count")
def source_settled(job: Job, this: Rule) -> Iterator[Finding]:
    """Where the fuel comes from, whether it can, and that there is a line."""
    fuel = job.plan.fuel
    if fuel.source is None:
        yield this.finding(
            job, measured=None, band=TO_SETTLE, sentence="Choose where the fuel comes from."
        )
        return
    problem = against(job, fuel.source)
    if problem:
        yield this.yes_no(
            job,
            subject=fuel.source,
            subject_name=SOURCE_WORDS[fuel.source],
            title="Source of fuel that can be had here",
            answer=False,
            wanted=True,
            whose=Whose.GEOMETRY,
            source="what the vehicle, the sheet and the job allow",
            sentence=f"It cannot be {SOURCE_WORDS[fuel.source]}: {problem}",
        )
    elif supply(job) is None:
        yield this.finding(
            job, measured=None, band=TO_SETTLE, sentence="Say where the tank or the tee is."
        )
    elif tapped_blind(job):
        words = (
            "Survey the tank, or say which it is, from which the tapped line draws: "
            "until then "
            "heights and suction are not told."
        )
        yield this.finding(job, measured=None, band=TO_SETTLE, sentence=words)
    elif fuel.line is None or fuel_run(job) is None:
        yield this.finding(
            job, measured=None, band=TO_SETTLE, sentence="There is no line to the heater yet."
        )


def tapped_blind(job: Job) -> bool:
    """Whether the line draws from a tee of which the tank is not known."""
    source = supply(job)
    return source is not None and source.vessel is None and not source.own


# --- order and pump ---


def _question(  # noqa: PLR0913 - each is named at the call
    job: Job,
    this: Rule,
    *,
    answer: bool,
    wanted: bool = True,
    words: tuple[str, str],
    at: Vec3,
    subject: str = "-",
    title: str = "",
) -> Finding:
    """A question about the line: `words` for right and wrong."""
    right = answer == wanted
    return this.yes_no(
        job,
        subject=subject,
        title=title,
        answer=answer,
        wanted=wanted,
        source="workshop rule 25: tank, filter, pump, heater",
        sentence=words[0 if right else 1],
        marks=() if right else (Mark(at, at),),
    )


@rule("fuel.pump", "Pump in the line", YES_NO, hazard="fire", run="fuel")
def pump_there(job: Job, this: Rule) -> Iterator[Finding]:
    """One dosing pump, its arrow to the heater."""
    run = fuel_run(job)
    if run is None:
        return
    middle = run.geometry.point_at(run.length_mm / 2)
    if run.pump_mm is None:
        words = ("", "There is no pump in the line.")
        yield _question(job, this, answer=False, words=words, at=middle)
        return
    yield _question(
        job,
        this,
        title="Pump's arrow to the heater",
        answer=run.line.pump.forwards,
        words=(
            "The pump's arrow points to the heater.",
            "The pump's arrow points to the tank: it is the wrong way round.",
        ),
        at=run.pump_at or middle,
    )


@rule("fuel.order", "Filter before the pump", YES_NO, run="fuel")
def order(job: Job, this: Rule) -> Iterator[Finding]:
    """Dirt is kept from the pump, not from the heater only."""
    run = fuel_run(job)
    if run is None:
        return
    if run.filter_mm is None:
        if job.plan.fuel.filter == "expected":
            yield _question(
                job,
                this,
                answer=False,
                words=("", "There is no filter in the line."),
                at=run.geometry.point_at(0.0),
            )
        return
    wrong = run.pump_mm is not None and run.filter_mm > run.pump_mm
    words = (
        "The filter sits before the pump.",
        "The filter sits after the pump, which sucks the dirt in.",
    )
    at = run.geometry.point_at(run.filter_mm)
    yield _question(job, this, answer=not wrong, words=words, at=at)


@rule("fuel.rubber", "Pump on rubber", YES_NO, run="fuel")
def on_rubber(job: Job, this: Rule) -> Iterator[Finding]:
    """It ticks all night: on bare metal the whole body hears it."""
    run = fuel_run(job)
    if run is not None and run.pump_at is not None:
        words = (
            "The pump hangs in rubber.",
            "The pump is fixed hard: it ticks through the whole body.",
        )
        answer = run.line.pump.rubber
        yield _question(job, this, answer=answer, words=words, at=run.pump_at)


@rule("fuel.pump_tilt", "Pump's tilt", "deg", run="fuel")
def pump_tilt(job: Job, this: Rule) -> Iterator[Finding]:
    """Outlet end up, so that air leaves it, as the vehicle is parked at its worst."""
    run, band = fuel_run(job), limit_band(job, "pump_tilt_deg")
    if run is None or run.pump_at is None or band is None:
        return
    askew = lean_of(job).most_deg
    tilt = run.line.pump.tilt_deg - askew
    sentence = (
        f"{lean_words(job)}, the pump's outlet end points "
        f"{q(abs(tilt), 'deg')} {'up' if tilt >= 0 else 'down'}."
    )
    if tilt < 0:
        sentence += " Air stays in it."
    yield this.finding(
        job,
        measured=tilt,
        band=band,
        sentence=sentence,
        marks=(Mark(run.pump_at, run.pump_at),),
    )


def _beds(job: Job, at: Vec3) -> Iterator[tuple[Solid, Vec3]]:
    """Every bed, with its point that is nearest to a place."""
    for solid, kind, shape in surveyed_where(job, "inside"):
        if kind.id in BEDS:
            yield (
                solid,
                min(
                    (piece.nearest(at) for piece in shape.pieces),
                    key=lambda point: math.dist(point, at),
                ),
            )


@rule("fuel.pump_bed", "Pump to the bed", "mm", run="fuel")
def pump_to_bed(job: Job, this: Rule) -> Iterator[Finding]:
    """The pump hangs away from where one sleeps."""
    run, band = fuel_run(job), limit_band(job, "pump_bed_mm")
    if run is None or run.pump_at is None or band is None:
        return
    for solid, near in _beds(job, run.pump_at):
        gap = math.dist(near, run.pump_at)
        yield this.finding(
            job,
            subject=solid.id,
            subject_name=solid.name,
            measured=gap,
            band=band,
            marks=(Mark(run.pump_at, near),),
            sentence=f"{q(gap)} from the pump to {solid.name}.",
        )


@rule("fuel.noise", "Pump's ticking at the bed", "dB", run="fuel")
def ticking(job: Job, this: Rule) -> Iterator[Finding]:
    """What is heard of it where one sleeps: through the floor, and through the body where it is
    fixed hard.
    """
    run, band = fuel_run(job), limit_band(job, "pump_noise_db")
    if run is None or run.pump_at is None or band is None:
        return
    rubber = run.line.pump.rubber
    for solid, near in _beds(job, run.pump_at):
        heard = at_bed_db(job, job.catalogue.fuel_equipment.pump, run.pump_at, near, rubber)
        yield this.finding(
            job,
            subject=solid.id,
            subject_name=solid.name,
            measured=heard,
            band=band,
            marks=(Mark(run.pump_at, near),),
            sentence=(
                f"About {heard:.0f} dB(A) of ticking at {solid.name}, the pump "
                f"{'on rubber' if rubber else 'fixed hard'}."
            ),
        )


# --- lengths, heights, pressures ---


def _length(job: Job, this: Rule, name: str, what: str, suction: bool) -> Iterator[Finding]:
    run, band = fuel_run(job), limit_band(job, name)
    if run is None or band is None or run.pump_mm is None:
        return
    length = run.suction_mm if suction else run.pressure_mm
    yield this.finding(job, measured=length, band=band, sentence=f"{q(length)} of line {what}.")


@rule("fuel.suction", "Suction line", "mm", run="fuel")
def suction_length(job: Job, this: Rule) -> Iterator[Finding]:
    """The pump pushes better than it sucks."""
    yield from _length(job, this, "fuel_suction_mm", "from the tank to the pump", suction=True)


@rule("fuel.pressure", "Pressure line", "mm", run="fuel")
def pressure_length(job: Job, this: Rule) -> Iterator[Finding]:
    """A long line takes long to prime and smooths the doses away."""
    yield from _length(job, this, "fuel_pressure_mm", "from the pump to the heater", suction=False)


def _siphon_band(job: Job) -> Band | None:
    """How far the fuel may stand above the heater: the heater's sheet says for its pump's valve how
    far above the pump, and goes before the workshop's rule.
    """
    band, pump = limit_band(job, SIPHON), limit_band(job, "fuel_over_pump_mm")
    from_sheet = pump is not None and pump.whose is Whose.SHEET
    if band is None or band.whose is not Whose.WORKSHOP or pump is None or not from_sheet:
        return band
    return Band(None, pump.maximum, pump.whose, SIPHON, f"{pump.source}: what its pump holds back")


def _worst_head(job: Job, this: Rule, name: str, which: str, sentence: str) -> Iterator[Finding]:
    """The worst of one head over full and empty, level and askew. The sentence takes {value} and
    {when}.
    """
    run = fuel_run(job)
    band = _siphon_band(job) if name == SIPHON else limit_band(job, name)
    if run is None or band is None:
        return
    results = []
    for when, there in fuel_heads(job):
        value = float(getattr(there, which))
        kind = "pa" if this.unit == "Pa" else "mm"
        shown = f"{value:.0f} Pa" if kind == "pa" else q(abs(value))
        over = "above" if value >= 0 else "below"
        results.append(
            this.finding(
                job,
                measured=value,
                band=band,
                sentence=sentence.format(value=shown, over=over, when=when),
            )
        )
    if results:
        yield min(results, key=lambda finding: finding.margin or 0.0)


@rule("fuel.level_pump", "Fuel's level against the pump", "mm", run="fuel")
def level_over_pump(job: Job, this: Rule) -> Iterator[Finding]:
    """Too far below it draws air; too far above it the pump leaks through."""
    yield from _worst_head(
        job,
        this,
        "fuel_over_pump_mm",
        "over_pump_mm",
        "The fuel stands {value} {over} the pump ({when}).",
    )


@rule("fuel.heater_pump", "Heater against the pump", "mm", run="fuel")
def heater_over_pump(job: Job, this: Rule) -> Iterator[Finding]:
    """How far the pump has to lift."""
    yield from _worst_head(
        job,
        this,
        "heater_over_pump_mm",
        "heater_over_pump_mm",
        "The heater's port is {value} {over} the pump ({when}).",
    )


@rule("fuel.siphon", "Fuel's level against the heater", "mm", hazard="fire", run="fuel")
def siphon(job: Job, this: Rule) -> Iterator[Finding]:
    """Where the fuel can stand above the heater, a leaking pump fills the burner; a valve that is
    shut while the heater rests holds it back.
    """
    run = fuel_run(job)
    if run is not None and run.valve_mm is not None:
        yield this.yes_no(
            job,
            answer=True,
            wanted=True,
            source="workshop rule 28: held back while the heater rests",
            sentence=f"A shut-off valve, {q(run.valve_mm)} from the tank, holds the fuel back "
            "while the heater rests.",
        )
        return
    yield from _worst_head(
        job,
        this,
        SIPHON,
        "over_heater_mm",
        "The fuel stands {value} {over} the heater's port ({when}).",
    )


@rule("fuel.suction_pressure", "Under-pressure at the pump", "Pa", run="fuel")
def suction_pressure(job: Job, this: Rule) -> Iterator[Finding]:
    """Too much of it and the fuel foams: height, line and filter together, on the coldest night."""
    yield from _worst_head(
        job,
        this,
        "fuel_suction_pa",
        "suction_pa",
        "{value} under the air's pressure at the pump's inlet ({when}).",
    )


@rule("fuel.delivery_pressure", "What the pump pushes against", "Pa", run="fuel")
def delivery_pressure(job: Job, this: Rule) -> Iterator[Finding]:
    """Height and line to the heater, on the coldest night."""
    yield from _worst_head(
        job,
        this,
        "fuel_delivery_pa",
        "delivery_pa",
        "The pump pushes against {value} ({when}).",
    )


@rule("fuel.wax", "Fuel in the cold", "C")
def wax(job: Job, this: Rule) -> Iterator[Finding]:
    """Waxed fuel stops the filter on just the night that the heater is for."""
    grade = job.catalogue.fuel_equipment.grade(job.plan.fuel.grade)
    band = limit_band(job, "wax_margin_k")
    if job.plan.fuel.source is None or band is None:
        return
    least = grade.waxes_c + (band.minimum or 0.0)
    yield this.finding(
        job,
        subject=grade.id,
        subject_name=grade.label,
        measured=job.plan.heat.outside_c,
        tolerance=0.0,
        band=Band(least, None, band.whose, band.name, band.source),
        sentence=(
            f"{grade.label} stops a filter at {q(grade.waxes_c, 'c')}; the coldest night is "
            f"{q(job.plan.heat.outside_c, 'c')}."
        ),
    )


# --- how the line lies ---


@rule("fuel.hump", "Humps in the line", "mm", run="fuel")
def air_traps(job: Job, this: Rule) -> Iterator[Finding]:
    """Air gathers where the line goes down again."""
    run = fuel_run(job)
    if run is None:
        return
    band = Band(None, 0.0, Whose.WORKSHOP, "hump", "workshop rule 25: the line rises all the way")
    for hump in run.air_traps:
        yield this.finding(
            job,
            subject=f"corner-{hump.corner}",
            subject_name=f"bend {hump.corner}",
            measured=hump.falls_mm,
            band=band,
            tolerance=0.0,
            sentence=(
                f"The line falls {q(hump.falls_mm)} after bend {hump.corner}: air will sit there."
            ),
            marks=(Mark(hump.at, hump.at),),
        )
    if not run.air_traps:
        yield this.finding(
            job,
            measured=0.0,
            band=band,
            tolerance=0.0,
            sentence="The line has no hump in which air would sit.",
        )


@rule("fuel.exhaust", "Line to the exhaust", "mm", hazard="fire", run="fuel")
def from_exhaust(job: Job, this: Rule) -> Iterator[Finding]:
    """Fuel and a hot pipe are kept apart, more so where it is bare; right at the heater they leave
    side by side.
    """
    run, kind = fuel_run(job), job.catalogue.solid_kinds["fuel-pipe"]
    if run is None:
        return
    results = []
    for number, stretch in enumerate(cover_segments(job), 1):
        near = separation(run.shape_before_heater, stretch.shape)
        least = (
            kind.covered_mm
            if stretch.is_covered and kind.covered_mm is not None
            else kind.exhaust_mm
        )
        band = Band(least, None, Whose.WORKSHOP, "exhaust_mm", f"{kind.label}: {kind.source}")
        results.append(
            this.finding(
                job,
                subject=f"stretch-{number}",
                subject_name="the exhaust",
                measured=near.distance_mm,
                band=band,
                sentence=f"{q(near.distance_mm)} between the fuel line and the exhaust.",
                marks=(Mark(near.start, near.end),),
            )
        )
    yield from worst_and_nearest(results, 1)


@rule("fuel.near", "Line to what is near", "mm", run="fuel")
def near_parts(job: Job, this: Rule) -> Iterator[Finding]:
    """It does not chafe, and keeps from what moves and what is hot."""
    run = fuel_run(job)
    if run is None:
        return
    own = job.plan.fuel.tank_id
    parts = [
        part
        for part in surveyed_where(job, "below")
        if part[1].id != "fuel-tank" and part[0].id != own and part[1].intake_mm > 0
    ]
    least = least_separations_mm(run.shape, [part[2] for part in parts])
    looks = (
        Candidate(gap - part[1].intake_mm, partial(_near, job, this, run, part))
        for gap, part in zip(least, parts, strict=True)
    )
    yield from nearest_first(looks, tolerance_of(job, "mm"), 1)


def _near(job: Job, this: Rule, run: FuelRun, part: tuple[Solid, SolidKind, Shape]) -> Finding:
    solid, kind, other = part
    near = separation(run.shape, other)
    words = f"{q(near.distance_mm)} between the fuel line and {solid.name}."
    if near.distance_mm < 0:
        words = f"The fuel line runs {q(-near.distance_mm)} into {solid.name}."
    return this.finding(
        job,
        subject=solid.id,
        subject_name=solid.name,
        measured=near.distance_mm,
        title=f"Fuel line to {solid.name}",
        band=Band(
            kind.intake_mm, None, Whose.WORKSHOP, "intake_mm", f"{kind.label}: {kind.source}"
        ),
        sentence=words,
        hazard=kind.hazard,
        marks=(Mark(near.start, near.end),),
    )


@rule("fuel.bend_room", "Room for the bends of the line", "mm", run="fuel")
def bends_fit(job: Job, this: Rule) -> Iterator[Finding]:
    """The bends at both ends of a stretch need its length; a line that turns sharper kinks."""
    run = fuel_run(job)
    if run is None:
        return
    worst = min(run.geometry.straights, key=lambda straight: straight.room_mm)
    yield this.finding(
        job,
        measured=worst.room_mm,
        band=Band(0.0, None, Whose.GEOMETRY, source="geometry of the bends"),
        tolerance=0.0,
        sentence=bend_room_words(worst),
        marks=(Mark(worst.start, worst.end),),
    )


@rule("fuel.clips", "Clips of the line", "mm", run="fuel")
def clips(job: Job, this: Rule) -> Iterator[Finding]:
    """A line that hangs chafes through."""
    run, band = fuel_run(job), limit_band(job, "fuel_clip_mm")
    if run is None or band is None:
        return
    ends = [0.0, *(clip.at_mm for clip in run.line.of_kind("clip")), run.length_mm]
    longest = max(b - a for a, b in itertools.pairwise(ends))
    yield this.finding(
        job,
        measured=longest,
        band=band,
        sentence=f"{q(longest)} of line hangs between two clips.",
    )


@rule("fuel.soft", "Soft line", YES_NO, run="fuel")
def soft(job: Job, this: Rule) -> Iterator[Finding]:
    """A soft line gives way to the strokes: on the pressure side never, on the suction side as the
    job wants.
    """
    run = fuel_run(job)
    if run is None:
        return
    yield _question(
        job,
        this,
        subject="pressure",
        answer=run.pressure.soft,
        wanted=False,
        words=(
            f"{run.pressure.label} to the heater.",
            f"{run.pressure.label} to the heater: it swallows the doses.",
        ),
        at=run.heater_at,
    )
    if job.plan.fuel.soft_suction == "never":
        words = (
            f"{run.suction.label} from the tank.",
            f"{run.suction.label} from the tank: it draws flat, and chafes.",
        )
        yield _question(
            job,
            this,
            subject="suction",
            answer=run.suction.soft,
            wanted=False,
            words=words,
            at=run.supply.start,
        )
