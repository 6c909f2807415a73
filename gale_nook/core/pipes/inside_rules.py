"""Checks of an exhaust that runs inside for a stretch, as the job allows it: nothing hidden that
can leak, lagged and boxed all the way, nothing near it that heat harms, an alarm beside it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import worst_and_nearest
from gale_nook.core.findings.rule import YES_NO, Remedy, Rule, remedy_for, rule
from gale_nook.core.geometry.shapes import Shape, separation, tube_shape
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import AddFitting
from gale_nook.core.pipes.inside import (
    BEYOND_MM,
    InsideStretch,
    Place,
    box_c,
    comes_in,
    exhaust_comes_in,
    inside_places,
    inside_stretches,
    is_allowed,
    mouth_inside,
    passes_mm,
    sleeve_spans_mm,
)
from gale_nook.core.pipes.panels import ring_mm
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import tube_of
from gale_nook.core.pipes.warmth import neighbour_c
from gale_nook.core.plan.pipes import Fitting, FittingKind
from gale_nook.core.plan.solids import Solid
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.parts import surveyed_where

HIDDEN = "workshop rule 76: nothing of an exhaust that can leak is hidden inside"
SEEN_MM = 300.0  # from a hatch a joint can be seen and felt
AT_A_PASS_MM = 60.0  # round a pass its own sleeve keeps the distance


@rule("pipes.inside", "Exhaust inside by the job's own rule", YES_NO, hazard="fumes", run="exhaust")
def allowed_inside(job: Job, this: Rule) -> Iterator[Finding]:
    """Told wherever it runs inside: with the reason, and with what it takes."""
    if not inside_stretches(job, "exhaust") or not is_allowed(job):
        return  # not allowed: what is not below the floor is told as that
    run = pipe_run(job, "exhaust")
    length = sum(stretch.length_mm for stretch in inside_stretches(job, "exhaust"))
    at = run.point_at(inside_stretches(job, "exhaust")[0].from_mm) if run is not None else None
    yield this.yes_no(
        job,
        answer=not mouth_inside(job, "exhaust"),
        wanted=True,
        source=HIDDEN,
        title="Exhaust that runs inside ends outside",
        sentence=(
            f"{q(round(length))} of it run inside, as this job allows: "
            f"“{job.plan.pipes.inside_reason.strip()}”."
            + (" It ends inside." if mouth_inside(job, "exhaust") else "")
        ),
        marks=(Mark(at, at),) if at is not None else (),
    )


@rule("pipes.inside_air", "Combustion air from outside", YES_NO, hazard="fumes", run="intake")
def breathes_outside(job: Job, this: Rule) -> Iterator[Finding]:
    """Never from inside, least of all from the void that the exhaust is in."""
    run = pipe_run(job, "intake")
    if run is None or not inside_stretches(job, "intake"):
        return
    inside = mouth_inside(job, "intake")
    yield this.yes_no(
        job,
        answer=not inside,
        wanted=True,
        source="workshop rule 76: the burner breathes from outside",
        sentence="It breathes from inside." if inside else "It runs inside, and ends outside.",
        marks=(Mark(run.mouth, run.mouth),),
    )


@rule("pipes.inside_joint", "Joints inside in sight", YES_NO, hazard="fumes", run="exhaust")
def joints_seen(job: Job, this: Rule) -> Iterator[Finding]:
    """None is hidden: a hatch is near enough to see and to feel it."""
    route = job.plan.pipes.exhaust
    hatches = [fitting.at_mm for fitting in route.of_kind("hatch")] if route is not None else []
    for fitting, ends in _joints_inside(job):
        seen = all(any(abs(hatch - mm) <= SEEN_MM for hatch in hatches) for mm in ends)
        words = "can be seen" if seen else "cannot be seen"
        yield _of_joint(job, this, fitting, seen, f"{words} within {q(SEEN_MM)} of a hatch")


@rule("pipes.inside_sealed", "Joints inside sealed", YES_NO, hazard="fumes", run="exhaust")
def joints_sealed(job: Job, this: Rule) -> Iterator[Finding]:
    """Each is sealed as well as clamped."""
    for fitting, _ in _joints_inside(job):
        words = "is sealed as well as clamped" if fitting.sealed else "is not sealed"
        yield _of_joint(job, this, fitting, fitting.sealed, words)


def _joints_inside(job: Job) -> Iterator[tuple[Fitting, tuple[float, ...]]]:
    """What of the exhaust could leak inside, with where."""
    route = job.plan.pipes.exhaust
    if route is None or not exhaust_comes_in(job):
        return
    for fitting in route.of_kind("joint", "silencer"):
        ends = (fitting.at_mm, fitting.end_mm) if fitting.length_mm else (fitting.at_mm,)
        if any(stretch.holds(mm) for stretch in _stretches(job) for mm in ends):
            yield fitting, ends


def _of_joint(job: Job, this: Rule, fitting: Fitting, right: bool, words: str) -> Finding:
    run = pipe_run(job, "exhaust")
    at = run.point_at(fitting.at_mm) if run is not None else (0.0, 0.0, 0.0)
    return this.yes_no(
        job,
        subject=fitting.id,
        subject_name=f"the {fitting.kind}",
        answer=right,
        wanted=True,
        source=HIDDEN,
        title=f"The {fitting.kind} inside",
        sentence=f"The {fitting.kind} at {q(fitting.at_mm)} {words}.",
        marks=(Mark(at, at),),
    )


def _stretches(job: Job) -> tuple[InsideStretch, ...]:
    return inside_stretches(job, "exhaust")


@rule("pipes.inside_look", "An opening to look at it", YES_NO, run="exhaust")
def looked_at_inside(job: Job, this: Rule) -> Iterator[Finding]:
    """Every inside stretch can be looked at without tools."""
    run, route = pipe_run(job, "exhaust"), job.plan.pipes.exhaust
    if run is None or route is None or not exhaust_comes_in(job):
        return
    for number, stretch in enumerate(_stretches(job), 1):
        there = any(stretch.holds(fitting.at_mm) for fitting in route.of_kind("hatch"))
        at = run.point_at((stretch.from_mm + stretch.to_mm) / 2)
        yield this.yes_no(
            job,
            subject=f"stretch-{number}",
            answer=there,
            wanted=True,
            source=HIDDEN,
            sentence="There is a hatch to look at it." if there else "There is no hatch to it.",
            marks=(Mark(at, at),),
        )


@rule("pipes.inside_lagged", "Lagged inside", "mm", hazard="fire", run="exhaust")
def lagged_inside(job: Job, this: Rule) -> Iterator[Finding]:
    """All the way: a bare hand's breadth is where it burns."""
    yield from _uncovered(job, this, "lagged", lambda place: place.layers > 0)


@rule("pipes.inside_boxed", "Boxed inside", "mm", hazard="fire", run="exhaust")
def boxed_inside(job: Job, this: Rule) -> Iterator[Finding]:
    """All the way: nothing is pushed against it, and nobody touches it."""
    yield from _uncovered(job, this, "boxed", lambda place: place.box is not None)


def _uncovered(
    job: Job, this: Rule, what: str, covered: Callable[[Place], bool]
) -> Iterator[Finding]:
    if not exhaust_comes_in(job):
        return
    places = inside_places(job)
    for number, stretch in enumerate(_stretches(job), 1):
        own = [place for place in places if stretch.holds(place.at_mm)]
        bare = [place for place in own if not covered(place)]
        step = stretch.length_mm / max(len(own) - 1, 1)
        length = min(len(bare) * step, stretch.length_mm)
        at = (bare or own)[0].point
        yield this.finding(
            job,
            subject=f"stretch-{number}",
            measured=round(length, 1),
            band=Band(None, 0.0, Whose.WORKSHOP, f"inside_{what}", "workshop rule 76"),
            tolerance=0.0,
            sentence=f"{q(round(length))} of {q(round(stretch.length_mm))} inside are not {what}.",
            marks=(Mark(at, (bare or own)[-1].point),),
        )


@rule("pipes.inside_touch", "Touch of the boxed exhaust", "C", hazard="fire", run="exhaust")
def touched(job: Job, this: Rule) -> Iterator[Finding]:
    """The hottest place of the box that a hand or bedding can come to, at most output."""
    band = limit_band(job, "inside_touch_c")
    if band is None or not exhaust_comes_in(job):
        return
    hottest = max(inside_places(job), key=lambda place: box_c(job, place))
    celsius = box_c(job, hottest)
    what = "its box" if hottest.box is not None else "the pipe itself"
    yield this.finding(
        job,
        measured=celsius,
        band=band,
        sentence=(
            f"On a warm day {what} gets {q(round(celsius), 'c')} there, from a skin of "
            f"{q(round(hottest.skin_c), 'c')}."
        ),
        marks=(Mark(hottest.point, hottest.point),),
    )


@rule("pipes.inside_heat", "Heat inside on timber and foam", "C", hazard="fire", run="exhaust")
def warms_inside(job: Job, this: Rule) -> Iterator[Finding]:
    """Every part inside and the lining of every wall along the whole stretch; what nobody has said
    the stuff of stands what timber does, and metal what it gets.
    """
    band = limit_band(job, "inside_stuff_c")
    if band is None or not exhaust_comes_in(job):
        return
    found, places = [], inside_places(job)
    for solid, kind, shape in surveyed_where(job, "inside"):
        if kind.heat_c is None and _is_metal(job, solid):
            continue
        most = kind.heat_c if kind.heat_c is not None else band.maximum
        gaps = [(separation(_piece(place), shape).distance_mm, place) for place in places]
        if gaps and most is not None:
            nearest = min(gaps, key=lambda each: each[0])
            found.append(_warmed(job, this, (solid.id, solid.name), nearest, most))
    for name, gap, place in _linings(job):
        who = (name.replace(" ", "-"), f"lining of the {name}")
        found.append(_warmed(job, this, who, (gap, place), band.maximum or 0.0))
    yield from worst_and_nearest(found, 3)


def _is_metal(job: Job, solid: Solid) -> bool:
    """Whether a part is of a stuff that heat does not harm."""
    stuff = job.catalogue.solid_materials.get(solid.material)
    return stuff is not None and stuff.heat_c is None


def _piece(place: Place) -> Shape:
    x, y, z = place.point
    return tube_shape(((x, y, z - 0.5), (x, y, z + 0.5)), place.diameter_mm)


def _linings(job: Job) -> Iterator[tuple[str, float, Place]]:
    """The walls, the roof and the bulkhead with where the pipe is nearest to each, but where it
    passes through.
    """
    shell, half = job.plan.vehicle.shell, job.plan.vehicle.shell.floor_width_mm / 2
    passes = passes_mm(job, "exhaust")
    places = [
        place
        for place in inside_places(job)
        if all(abs(place.at_mm - at) > AT_A_PASS_MM for at in passes)
    ]
    if not places:
        return
    ways: tuple[tuple[str, int, float, float], ...] = (
        ("left wall", 1, 1.0, -half),
        ("right wall", 1, -1.0, half),
        ("roof", 2, -1.0, shell.inside_height_mm),
        ("rear doors", 0, -1.0, shell.rear_x_mm),
        ("bulkhead", 0, 1.0, shell.bulkhead_x_mm),
    )
    for name, axis, sign, plane in ways:
        gaps = [
            (max(sign * (p.point[axis] - plane) - p.diameter_mm / 2, 0.0), p.at_mm, p)
            for p in places
        ]
        gap, _, near = min(gaps, key=lambda each: each[:2])
        yield name, gap, near


def _warmed(
    job: Job, this: Rule, who: tuple[str, str], where: tuple[float, Place], most_c: float
) -> Finding:
    gap, place = where
    works = job.catalogue.pipe_physics
    if place.box is not None:
        free = max(gap - place.box.box_mm, 0.0)
        wide = place.diameter_mm + 2 * place.box.box_mm
        celsius = neighbour_c(box_c(job, place), wide, free, works.warm_day_c, works)
        words = f"{q(round(free))} from its box of {q(round(box_c(job, place)), 'c')}"
    else:
        celsius = neighbour_c(place.skin_c, place.diameter_mm, gap, works.warm_day_c, works)
        words = f"{q(round(max(gap, 0.0)))} from a skin of {q(round(place.skin_c), 'c')}"
    source = "what timber and foam stand for good"
    return this.finding(
        job,
        subject=who[0],
        subject_name=who[1],
        measured=celsius,
        band=Band(None, most_c, Whose.WORKSHOP, "heat_c", source),
        title=f"Heat on {who[1]}",
        sentence=f"{capital(who[1])} gets up to {q(round(celsius), 'c')}, {words}.",
        marks=(Mark(place.point, place.point),),
    )


@rule(
    "pipes.inside_alarm", "CO alarm beside the exhaust inside", "mm", hazard="fumes", run="exhaust"
)
def alarm_beside(job: Job, this: Rule) -> Iterator[Finding]:
    """It stands where a leak would come out, besides the one at the sleepers' heads."""
    band = limit_band(job, "inside_alarm_mm")
    if band is None or not exhaust_comes_in(job):
        return
    places = inside_places(job)
    alarms = [a for a in job.plan.power.alarms if a.kind == "co"]
    if not alarms:
        yield this.finding(
            job,
            measured=None,
            band=band,
            sentence="There is no CO alarm yet: hang one beside it.",
            marks=(Mark(places[0].point, places[0].point),),
        )
        return
    gap, place, alarm = min(
        (
            (math.dist(place.point, (a.x_mm, a.y_mm, a.z_mm)), place, a)
            for place in places
            for a in alarms
        ),
        key=lambda each: each[0],
    )
    yield this.finding(
        job,
        measured=gap,
        band=band,
        sentence=f"{q(round(gap))} from the exhaust inside to the nearest CO alarm.",
        marks=(Mark(place.point, (alarm.x_mm, alarm.y_mm, alarm.z_mm)),),
    )


@rule(
    "pipes.inside_sleeve", "Sleeve where the exhaust passes out", "mm", hazard="fire", run="exhaust"
)
@rule("pipes.inside_sleeve", "Sleeve where the combustion air passes out", "mm", run="intake")
def sleeved_out(job: Job, this: Rule) -> Iterator[Finding]:
    """At every hole through floor or wall a bulkhead fitting keeps the edge away and closes it."""
    tube = tube_of(this)
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    if run is None or route is None or not comes_in(job, tube):
        return
    fittings, run_at = route.of_kind("bulkhead"), run.point_at
    for number, (low, high) in enumerate(sleeve_spans_mm(job, tube), 1):
        reach = BEYOND_MM + 1.0
        bare = min(
            (max(f.at_mm - low - reach, high - f.end_mm - reach, 0.0) for f in fittings),
            default=high - low,
        )
        yield this.finding(
            job,
            subject=f"pass-{number}",
            measured=bare,
            band=Band(None, 0.0, Whose.WORKSHOP, "inside_sleeve", "workshop rule 76"),
            tolerance=0.0,
            sentence="A bulkhead fitting carries it through."
            if bare == 0
            else f"It passes through from {q(round(low))} to {q(round(high))} from the port "
            "without a bulkhead fitting all the way.",
            marks=(Mark(run_at(low), run_at(high)),),
        )


# --- cures ---


@remedy_for("pipes.inside_lagged")
@remedy_for("pipes.inside_boxed")
@remedy_for("pipes.inside_touch")
@remedy_for("pipes.inside_heat")
def cover_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lagging and a box over each inside stretch; wider or thicker where they are there."""
    route = job.plan.pipes.exhaust
    if route is None:
        return
    kind: FittingKind = "lagging" if finding.rule == "pipes.inside_lagged" else "box"
    for stretch in _stretches(job):
        covers = [
            f
            for f in route.of_kind(kind)
            if f.at_mm <= stretch.to_mm and f.end_mm >= stretch.from_mm
        ]
        if not covers:
            for wide in (40.0, 70.0, 100.0) if kind == "box" else (40.0,):
                item = Fitting(
                    id=fresh_id(route.fittings, kind),
                    kind=kind,
                    at_mm=math.floor(stretch.from_mm),
                    length_mm=math.ceil(stretch.length_mm) + 1,
                    layers=3,
                    box_mm=wide,
                )
                words = f"Box in all of it that runs inside, {q(wide)} free round it."
                yield Remedy(
                    words if kind == "box" else "Lag all of it that runs inside.",
                    AddFitting(collection="pipes.exhaust.fittings", item=item),
                )
        elif kind == "box":
            for wider in (60.0, 90.0, 130.0):
                if wider > covers[0].box_mm:
                    yield Remedy(
                        f"Leave {q(wider)} round it in its box.",
                        set_value(f"pipes.exhaust.fittings.{covers[0].id}.box_mm", wider),
                    )
        for lagging in route.of_kind("lagging"):
            if lagging.layers < 4 and finding.rule in {"pipes.inside_touch", "pipes.inside_heat"}:
                yield Remedy(
                    f"Lag it {lagging.layers + 1} times.",
                    set_value(f"pipes.exhaust.fittings.{lagging.id}.layers", lagging.layers + 1),
                )


@remedy_for("pipes.inside_sealed")
def seal_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """With what its maker gives for it."""
    del job
    words = "Seal it, as well as clamp it."
    yield Remedy(words, set_value(f"pipes.exhaust.fittings.{finding.subject}.sealed", True))


@remedy_for("pipes.inside_joint")
@remedy_for("pipes.inside_sealed")
def show_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A hatch at it; else one piece of pipe all the way."""
    route = job.plan.pipes.exhaust
    joint = next((f for f in route.fittings if f.id == finding.subject), None) if route else None
    if joint is None or route is None:
        return
    middle = round((joint.at_mm + joint.end_mm) / 2)
    hatch = Fitting(id=fresh_id(route.fittings, "hatch"), kind="hatch", at_mm=middle)
    yield Remedy(
        f"Make a hatch at the {joint.kind}.",
        AddFitting(collection="pipes.exhaust.fittings", item=hatch),
    )
    if joint.kind == "joint":
        yield Remedy(
            "Take one piece of pipe all the way: no joint inside.",
            RemoveItem(collection="pipes.exhaust.fittings", item_id=joint.id),
        )


@remedy_for("pipes.inside_look")
def make_a_hatch(job: Job, finding: Finding) -> Iterator[Remedy]:
    """In the middle of the stretch."""
    route = job.plan.pipes.exhaust
    number = int(finding.subject.rpartition("-")[2]) - 1
    if route is None or number >= len(_stretches(job)):
        return
    stretch = _stretches(job)[number]
    at = round((stretch.from_mm + stretch.to_mm) / 2)
    yield Remedy(
        f"Make a hatch to look at it, {q(at)} from the port.",
        AddFitting(
            collection="pipes.exhaust.fittings",
            item=Fitting(id=fresh_id(route.fittings, "hatch"), kind="hatch", at_mm=at),
        ),
    )


@remedy_for("pipes.inside_sleeve")
def sleeve_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A bulkhead fitting through all that it passes."""
    tube = tube_of(finding)
    route, number = job.plan.pipes.route(tube), int(finding.subject.rpartition("-")[2]) - 1
    spans = sleeve_spans_mm(job, tube)
    if route is None or number >= len(spans):
        return
    wide = heater_port(job, tube).diameter_mm + 2 * ring_mm(job, tube)
    low, high = math.floor(spans[number][0]), math.ceil(spans[number][1])
    yield Remedy(
        f"Carry it through in a bulkhead fitting, its hole {q(wide)} wide.",
        AddFitting(
            collection=f"pipes.{tube}.fittings",
            item=Fitting(
                id=fresh_id(route.fittings, "bulkhead"),
                kind="bulkhead",
                at_mm=low,
                length_mm=high - low,
            ),
        ),
    )
