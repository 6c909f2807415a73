"""Checks of the hoses as they lie: ends, bends, holes, heat, clips, what moves."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import pairwise

from gale_nook.core.coolant.bodies import coolant_bodies
from gale_nook.core.coolant.laying import FIT_MM
from gale_nook.core.ducts.convector import OVER_THERMOSTAT_K
from gale_nook.core.findings.along import (
    edge_of_hole,
    follows,
    hangs,
    without_sleeve,
)
from gale_nook.core.findings.bend_room import bend_room_words
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import Candidate, nearest_first
from gale_nook.core.findings.rule import Rule, rule, tolerance_of
from gale_nook.core.geometry.shapes import Shape, separation, tube_shape
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.loop.graph import behind_mixers, loop_graph
from gale_nook.core.loop.hoses import (
    HoseRun,
    elbows,
    end_name,
    end_point,
    hose_runs,
    kind_of,
    loop_side,
    parts_of,
    port_mm,
)
from gale_nook.core.loop.passes import hose_passes_mm, hose_stretches
from gale_nook.core.pipes.bodies import pipe_bodies
from gale_nook.core.plan.coolant import HEATER, HosePart
from gale_nook.core.quantities.sentences import capital, counted, q
from gale_nook.core.spot.obstacles import assumed_wheel_obstacles
from gale_nook.core.spot.unit_bodies import unit_bodies
from gale_nook.core.vehicle.floor import floor_at
from gale_nook.core.vehicle.inside import bare_mm
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.core.vehicle.slide import STEP_MM, edges_mm, spans_mm

HOLE_REACH_MM = 60.0
PASSES = "outside-"
MOST_NAMED = 4
HOT_KINDS = {"exhaust", "exhaust-at-port", "silencer"}


@rule("coolant.fit", "Hoses on their ends", "mm")
def hoses_fit(job: Job, this: Rule) -> Iterator[Finding]:
    """A hose is pushed over an end of its own bore; another one slides off or never goes on."""
    for run in hose_runs(job):
        hose = run.hose
        ends = ((hose.from_part, hose.from_end), (hose.to_part, hose.to_end))
        for number, end in enumerate(ends, 1):
            port, bore = port_mm(job, end), run.kind.bore_mm
            if port is None:
                continue
            has = run.kind.outside_mm if run.kind.hard else bore
            at = run.geometry.points[0 if number == 1 else -1]
            yield this.finding(
                job,
                subject=f"{hose.id}:{number}",
                subject_name=run.name,
                measured=has,
                band=Band(port - FIT_MM, port + FIT_MM, Whose.GEOMETRY, source="the end's size"),
                tolerance=0.0,
                title=f"{capital(run.kind.label)} on the {end_name(job, end)}",
                sentence=f"The {run.kind.label} has {q(has)}; the {end_name(job, end)} "
                f"has {q(port)}.",
                marks=(Mark(at, at),),
            )


@rule("coolant.bend_room", "Room for the bends of the hoses", "mm")
def bends_fit(job: Job, this: Rule) -> Iterator[Finding]:
    """The bends at both ends of a stretch need its length; a hose that turns sharper kinks."""
    for run in hose_runs(job):
        worst = min(run.geometry.straights, key=lambda straight: straight.room_mm)
        yield this.finding(
            job,
            subject=run.hose.id,
            subject_name=run.name,
            measured=worst.room_mm,
            band=Band(0.0, None, Whose.GEOMETRY, source="geometry of the bends"),
            tolerance=0.0,
            title=f"Room for the bends of the {run.name}",
            sentence=bend_room_words(worst),
            marks=(Mark(worst.start, worst.end),),
        )


@rule("coolant.radius", "Bends of the hoses", "mm")
def bends_wide_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """A hose that is bent tighter kinks."""
    for run in hose_runs(job):
        bends = run.geometry.bends
        if not bends:
            continue
        tightest = min(bends, key=lambda bend: bend.radius_mm)
        at = run.geometry.points[tightest.corner]
        yield this.finding(
            job,
            subject=run.hose.id,
            subject_name=run.name,
            measured=round(tightest.radius_mm, 1),
            band=Band(run.kind.radius_mm, None, Whose.SHEET, source=run.kind.source),
            title=f"Tightest bend of the {run.name}",
            sentence=f"The tightest bend of the {run.name} has {q(round(tightest.radius_mm))}.",
            marks=(Mark(at, at),),
        )


@rule("coolant.elbows", "Elbows at the ends", "yes-no")
def elbows_at_ends(job: Job, this: Rule) -> Iterator[Finding]:
    """A hose that leaves an end sideways kinks there, unless an elbow turns it."""
    found = elbows(job)
    if not hose_runs(job):
        return
    names = "; ".join(f"the {end_name(job, end)}" for _, end, _ in found[:MOST_NAMED])
    more = f" and {len(found) - MOST_NAMED} more" if len(found) > MOST_NAMED else ""
    places = [end_point(job, end) for _, end, _ in found]
    yield this.yes_no(
        job,
        answer=not found,
        wanted=True,
        left_to_taste=True,
        source="workshop rule 60: no hose kinks at its end",
        sentence=f"{counted(len(found), 'end')} {'need' if len(found) != 1 else 'needs'} an elbow: "
        f"{names}{more}. They are on the list of parts."
        if found
        else "Every hose leaves its ends the way they point.",
        marks=tuple(Mark(at, at) for at in places if at is not None),
    )


@rule("coolant.rating", "Heat that hoses stand", "C", hazard="burns")
def hoses_stand_the_heat(job: Job, this: Rule) -> Iterator[Finding]:
    """The heater's coolant where it pauses, the engine's at its hottest; behind a mixing valve what
    that can be set to.
    """
    side = loop_side(job)
    if side is None:
        return
    mixed, by_engine = behind_mixers(job), _beside_engines(job)
    for run in hose_runs(job):
        hottest = max(side.to_pause_c, by_engine.get(run.hose.id, 0.0))
        hottest = min(hottest, mixed.get(run.hose.id, hottest))
        at = run.geometry.points[0]
        yield this.finding(
            job,
            subject=run.hose.id,
            subject_name=run.name,
            measured=round(hottest, 1),
            band=Band(None, run.kind.rating_c, Whose.SHEET, source=run.kind.source),
            title=f"Heat in the {run.name}",
            sentence=f"The {run.name} carries coolant of {hottest:.0f} °C at the most.",
            marks=(Mark(at, at),),
        )


def _beside_engines(job: Job) -> dict[str, float]:
    """The hottest of an engine's coolant, by the hoses of its circuit."""
    graph, results = loop_graph(job), dict[str, float]()
    for part in parts_of(job, "engine"):
        hottest = kind_of(job, part).opens_at_c + OVER_THERMOSTAT_K
        for branch in graph.circuit(graph.circuit_of[graph.node_of[part.id, "in"]]):
            results[branch.id] = max(hottest, results.get(branch.id, 0.0))
    return results


@rule("coolant.heater_hole", "Hoses through the heater's holes", "mm")
def hoses_pass_the_mount(job: Job, this: Rule) -> Iterator[Finding]:
    """The outside of a hose, with its lagging, passes the hole that the mount has for it."""
    mount, sheet = chosen_mount(job), heater_sheet(job)
    if mount is None or sheet is None or mount.through != "floor" or mount.place != "below":
        return
    holes = [hole for hole in mount.holes if "hose" in hole.name]
    for run in hose_runs(job):
        if HEATER not in {run.hose.from_part, run.hose.to_part} or not holes:
            continue
        hole = min(holes, key=lambda each: each.diameter_mm)
        at = run.geometry.points[0 if run.hose.from_part == HEATER else -1]
        yield this.finding(
            job,
            subject=run.hose.id,
            subject_name=run.name,
            measured=run.outside_mm,
            band=Band(None, hole.diameter_mm, Whose.SHEET, source=sheet.source),
            tolerance=0.0,
            title=f"{capital(run.name)} through the floor",
            sentence=f"The {run.name} is {q(run.outside_mm)} thick outside; the mount's hole has "
            f"{q(hole.diameter_mm)}.",
            marks=(Mark(at, at),),
        )


@rule("coolant.holes", "Holes for the hoses", "mm")
def holes_wide_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """A hose passes its hole; where it leads outside there is one."""
    for run in hose_runs(job):
        for hole in run.hose.of_kind("hole"):
            at = run.geometry.point_at(min(hole.at_mm, run.length_mm))
            yield this.finding(
                job,
                subject=f"{run.hose.id}:{hole.id}",
                subject_name=f"hole of the {run.name}",
                measured=hole.diameter_mm,
                band=Band(run.outside_mm, None, Whose.SHEET, source="the hose's outside"),
                tolerance=0.0,
                title=f"Hole of the {run.name}",
                sentence=f"A hole of {q(hole.diameter_mm)} for the {run.name} of "
                f"{q(run.outside_mm)} outside.",
                marks=(Mark(at, at),),
            )
        yield from _without_hole(job, this, run)


def _without_hole(job: Job, this: Rule, run: HoseRun) -> Iterator[Finding]:
    """Where a hose leads outside, or back, and nobody has said through which hole."""
    for number, crossing in enumerate(hose_passes_mm(job, run.hose.id), 1):
        if any(abs(hole.at_mm - crossing) <= HOLE_REACH_MM for hole in run.hose.of_kind("hole")):
            continue
        at = run.geometry.point_at(crossing)
        yield this.finding(
            job,
            subject=f"{run.hose.id}:{PASSES}{number}",
            subject_name=f"{run.name} to the outside",
            measured=None,
            band=Band(None, None, Whose.GEOMETRY, source="the hose's way"),
            title=f"{capital(run.name)} to the outside",
            sentence=f"The {run.name} leads outside {q(round(crossing))} from its start and has no "
            "hole there.",
            marks=(Mark(at, at),),
        )


@rule("coolant.edges", "Edges of the hoses' holes", "yes-no")
def holes_filled(job: Job, this: Rule) -> Iterator[Finding]:
    """A bare edge cuts through a hose."""
    for run in hose_runs(job):
        for hole in run.hose.of_kind("hole"):
            at = run.geometry.point_at(min(hole.at_mm, run.length_mm))
            yield this.yes_no(
                job,
                subject=f"{run.hose.id}:{hole.id}",
                subject_name=f"hole of the {run.name}",
                answer=hole.fitting,
                wanted=True,
                source="workshop rule 60: a grommet or a bulkhead fitting in every hole",
                title=f"Edge of the hole of the {run.name}",
                sentence=edge_of_hole(run.name, "a grommet or a fitting" if hole.fitting else ""),
                marks=(Mark(at, at),),
            )


@rule("coolant.clips", "Clips of the hoses", "mm")
def hoses_clipped(job: Job, this: Rule) -> Iterator[Finding]:
    """A hose that hangs chafes and pulls off its end."""
    band = limit_band(job, "hose_clip_mm")
    if band is None:
        return
    for run in hose_runs(job):
        held = [p.at_mm for p in run.hose.of_kind("clip", "hole") if p.at_mm < run.length_mm]
        places = [0.0, *sorted(held), run.length_mm]
        from_mm, to_mm = max(pairwise(places), key=lambda pair: pair[1] - pair[0])
        yield this.finding(
            job,
            subject=run.hose.id,
            subject_name=run.name,
            measured=round(to_mm - from_mm, 1),
            band=band,
            title=f"Clips of the {run.name}",
            sentence=hangs(run.name, to_mm - from_mm),
            marks=(Mark(run.geometry.point_at(from_mm), run.geometry.point_at(to_mm)),),
        )


@rule("coolant.outline", "The loop within the vehicle", "mm")
def within_the_vehicle(job: Job, this: Rule) -> Iterator[Finding]:
    """Hoses and parts lie within the body, and over the ground; parts wholly in the room, or wholly
    under it.
    """
    shell = job.plan.vehicle.shell
    half = shell.outer_width_mm / 2
    for body in coolant_bodies(job):
        low_x, low_y, low_z, high_x, high_y, high_z = body.shape.bounds
        inside = min(
            low_x - shell.front_x_mm,
            shell.rear_x_mm - high_x,
            low_y + half,
            half - high_y,
            shell.inside_height_mm - high_z,
            low_z - shell.ground_z_mm,
        )
        yield this.finding(
            job,
            subject=body.id,
            subject_name=body.name,
            measured=round(inside, 1),
            band=Band(0.0, None, Whose.GEOMETRY, source="the vehicle's main dimensions"),
            title=f"{capital(body.name)} within the vehicle",
            sentence=f"{capital(body.name)} lies {q(round(abs(inside)))} "
            f"{'within' if inside >= 0 else 'outside'} the vehicle's outline.",
            marks=(Mark((low_x, low_y, low_z), (high_x, high_y, high_z)),),
        )


@rule("coolant.part_room", "Parts of the loop in the room or under it", "mm")
def parts_in_the_room(job: Job, this: Rule) -> Iterator[Finding]:
    """A part that reaches through a wall or the floor is in both."""
    shell = job.plan.vehicle.shell
    half = shell.floor_width_mm / 2
    floors = {f"coolant.{part.id}" for part in parts_of(job, "floor")}  # they lie in it
    for body in coolant_bodies(job):
        if body.kind == "hose" or body.id in floors:
            continue
        low_x, low_y, low_z, high_x, high_y, high_z = body.shape.bounds
        floor = floor_at(job, (low_x + high_x) / 2, (low_y + high_y) / 2)
        across = min(low_y + half, half - high_y, low_x - shell.bulkhead_x_mm)
        in_room = min(across, shell.rear_x_mm - high_x, low_z - floor.finish_z_mm)
        under = floor.underside_z_mm - high_z
        in_bay = shell.bulkhead_x_mm - high_x
        yield this.finding(
            job,
            subject=body.id,
            subject_name=body.name,
            measured=round(max(in_room, under, in_bay), 1),
            band=Band(0.0, None, Whose.GEOMETRY, source="the floor and the walls"),
            title=f"{capital(body.name)} in the room or under it",
            sentence=f"{capital(body.name)} reaches {q(round(-max(in_room, under, in_bay)))} "
            "through the floor or a wall."
            if max(in_room, under, in_bay) < 0
            else f"{capital(body.name)} lies on one side of floor and walls.",
            marks=(Mark((low_x, low_y, low_z), (high_x, high_y, high_z)),),
        )


@rule("coolant.slide", "Slack of a hose that follows a slide-out", "mm", hazard="burns")
def hoses_to_the_slide(job: Job, this: Rule) -> Iterator[Finding]:
    """A hose from what stands still to what moves is long enough for both ends of the travel."""
    slide, shell = job.plan.vehicle.slide, job.plan.vehicle.shell
    band = limit_band(job, "hose_slack_mm")
    if slide is None or band is None:
        return
    for run in hose_runs(job):
        for at_mm in edges_mm(slide, shell, run.geometry):
            flex = flex_at(run, at_mm)
            from_mm = flex.at_mm if flex is not None else at_mm - STEP_MM
            to_mm = flex.at_mm + flex.length_mm if flex is not None else at_mm + STEP_MM
            from_mm, to_mm = max(from_mm, 0.0), min(to_mm, run.length_mm)
            ends = (run.geometry.point_at(from_mm), run.geometry.point_at(to_mm))
            longest = max(spans_mm(slide, shell, ends))
            has = to_mm - from_mm + (flex.slack_mm if flex is not None else 0.0)
            yield this.finding(
                job,
                subject=f"{run.hose.id}:{round(at_mm)}",
                subject_name=run.name,
                measured=round(has - longest, 1),
                band=band,
                title=f"{capital(run.name)} at the slide-out's edge",
                sentence=follows(longest, has, flex is not None),
                marks=(Mark(*ends),),
            )


def flex_at(run: HoseRun, at_mm: float) -> HosePart | None:
    """Return the flexible stretch of a hose at a distance from its start."""
    stretches = run.hose.of_kind("flex")
    return next((p for p in stretches if p.at_mm <= at_mm <= p.at_mm + p.length_mm), None)


@rule("coolant.chafe", "Hoses sleeved outside", "mm", hazard="burns")
def sleeved_outside(job: Job, this: Rule) -> Iterator[Finding]:
    """Under the vehicle stones and grit work through a hose."""
    band = limit_band(job, "hose_bare_mm")
    if band is None:
        return
    for run in hose_runs(job):
        outside = [s for s in hose_stretches(job)[run.hose.id] if not s.inside]
        if not outside:
            continue
        sleeves = [(part.at_mm, part.length_mm) for part in run.hose.of_kind("guard")]
        bare = list(bare_mm(outside, sleeves))
        places = (tuple(run.geometry.point_at(mm) for mm in ends) for ends in bare)
        length = sum(to_mm - from_mm for from_mm, to_mm in bare)
        yield this.finding(
            job,
            subject=run.hose.id,
            subject_name=run.name,
            measured=round(length, 1),
            band=band,
            title=f"Sleeve of the {run.name}",
            sentence=without_sleeve(run.name, sum(s.to_mm - s.from_mm for s in outside), length),
            marks=tuple(Mark(start, end) for start, end in places),
        )


@dataclass(frozen=True, slots=True)
class Thing:
    """Something that hoses are kept from, by a named limit."""

    id: str
    name: str
    shape: Shape
    limit: str


@rule("coolant.hot", "Hoses away from hot things", "mm", hazard="fire")
def away_from_heat(job: Job, this: Rule) -> Iterator[Finding]:
    """A hose beside the exhaust cooks until it splits."""
    things = [
        Thing(body.kind, f"the {body.kind}", body.shape, "hose_hot_mm")
        for body in pipe_bodies(job)
        if body.kind in HOT_KINDS
    ]
    things += [
        Thing(solid.id, solid.name, shape, "hose_hot_mm")
        for solid, kind, shape in surveyed_parts(job)
        if kind.id in {"vehicle-exhaust", "bay-hot", "other-exhaust"}
    ]
    things += [
        Thing(body.id, body.name, body.shape, "hose_hot_mm")
        for body in unit_bodies(job)
        if body.kind == "unit-exhaust"
    ]
    yield from _kept_from(job, this, things)


@rule("coolant.moving", "Hoses away from what moves", "mm", hazard="burns")
def away_from_moving(job: Job, this: Rule) -> Iterator[Finding]:
    """A wheel or an axle through its travel tears a hose off."""
    things = [
        Thing(solid.id, solid.name, shape, "hose_moving_mm")
        for solid, kind, shape in surveyed_parts(job)
        if kind.id in {"wheel", "suspension"}
    ]
    things += [
        Thing(part.id, part.name, part.shape, "hose_moving_mm")
        for part in assumed_wheel_obstacles(job)
    ]
    yield from _kept_from(job, this, things)


def _kept_from(job: Job, this: Rule, things: Sequence[Thing]) -> Iterator[Finding]:
    bands = {thing.limit: limit_band(job, thing.limit) for thing in things}
    kept = [(thing, band) for thing in things if (band := bands[thing.limit]) is not None]
    tolerance = tolerance_of(job, "mm")
    for run in hose_runs(job):
        shape = tube_shape(run.geometry.centre_line, run.outside_mm)
        looks = []
        for thing, band in kept:
            gap = separation(shape, thing.shape)
            look = partial(_gap_finding, job, this, run, (thing, band, gap))
            looks.append(Candidate(gap.distance_mm - (band.minimum or 0.0), look))
        yield from nearest_first(looks, tolerance, 1)


def _gap_finding(job: Job, this: Rule, run: HoseRun, kept: tuple) -> Finding:  # type: ignore[type-arg]
    thing, band, gap = kept
    return this.finding(
        job,
        subject=f"{run.hose.id}:{thing.id}"[:80],
        subject_name=thing.name,
        measured=gap.distance_mm,
        band=band,
        title=f"{capital(run.name)} to {thing.name}",
        sentence=f"{q(gap.distance_mm)} between the {run.name} and {thing.name}.",
        marks=(Mark(gap.start, gap.end),),
    )
