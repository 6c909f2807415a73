"""Checks of the leads as they lie: long enough, dry joints, holes, heat, clips, what moves."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import pairwise

from gale_nook.core.air.bodies import air_bodies
from gale_nook.core.findings.along import edge_of_hole, hangs, without_sleeve
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import Candidate, nearest_first
from gale_nook.core.findings.rule import Rule, rule, tolerance_of
from gale_nook.core.geometry.shapes import Shape, separation
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.bodies import pipe_bodies
from gale_nook.core.pipes.spray import wedges
from gale_nook.core.plan.power import LeadPart
from gale_nook.core.power.leads import (
    LEAD_WORDS,
    LeadRun,
    lead_runs,
    leads_to_lay,
    passing_mm,
    settled_runs,
)
from gale_nook.core.power.passes import (
    lead_shapes,
    passes_mm,
    stretches_mm,
)
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.spot.obstacles import assumed_wheel_obstacles
from gale_nook.core.spot.unit_bodies import unit_bodies
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.core.vehicle.inside import bare_mm, is_inside
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.core.vehicle.slide import edges_mm

HOLE_REACH_MM = 60.0
TAIL, PASSES = "tail", "outside-"  # in subjects


@rule("power.reach", "Length of the leads", "mm")
def long_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """A lead as it comes is long enough, or it is lengthened at a joint."""
    for run in settled_runs(job):
        if run.kit is None or run.lead.id == "supply":
            continue
        # only what still comes with the heater can be joined to
        joints = [p for p in run.lead.of_kind("joint") if p.at_mm <= run.kit.length_mm]
        short = run.missing_mm > 0
        words = (
            f"The {run.name} needs {q(round(run.length_mm))}; {q(run.kit.length_mm)} come with it."
        )
        if short and joints:
            words += f" It is lengthened by {q(round(run.missing_mm))} at its joint."
        measured = run.length_mm if joints and short else run.kit.length_mm
        yield this.finding(
            job,
            subject=run.lead.id,
            subject_name=run.name,
            measured=round(measured, 1),
            band=Band(round(run.length_mm, 1), None, Whose.GEOMETRY, source="the lead's way"),
            tolerance=0.0,
            title=f"Length of the {run.name}",
            sentence=words,
        )


@rule("power.joints", "Joints and plugs inside and dry", "yes-no")
def joints_dry(job: Job, this: Rule) -> Iterator[Finding]:
    """Outside a crimp or a plug rots, in the spray within one winter."""
    sprays = wedges(job)
    for run in settled_runs(job):
        for joint_id, what, at_mm in _joined(run):
            at = run.geometry.point_at(at_mm)
            outside = not is_inside(job, at)
            wet = next((w.name for w in sprays if w.outside_mm(at) < 0), "") if outside else ""
            where = "inside" if not outside else f"in the spray of the {wet}" if wet else "outside"
            yield this.yes_no(
                job,
                subject=f"{run.lead.id}:{joint_id}",
                subject_name=f"{what} of the {run.name}",
                answer=not outside,
                wanted=True,
                source="workshop rule 54: joints and plugs stay inside and dry",
                title=f"{capital(what)} of the {run.name}",
                sentence=f"The {what} of the {run.name} lies {where}.",
                marks=(Mark(at, at),),
            )


def _joined(run: LeadRun) -> Iterator[tuple[str, str, float]]:
    """What is joined on a lead: its id, what it is, and where; of the supply also where the cable
    meets the heater's own lead.
    """
    for part in run.lead.of_kind("joint", "fuse"):
        yield part.id, part.kind, min(part.at_mm, run.drawn_mm)
    if run.lead.id == "supply" and run.kit is not None:
        yield TAIL, "plug", max(run.drawn_mm - run.kit.length_mm, 0.0)


@rule("power.holes", "Holes for the leads", "mm")
def plugs_pass(job: Job, this: Rule) -> Iterator[Finding]:
    """A plug passes its hole, or is taken off; where a lead leads outside there is a hole."""
    for run in settled_runs(job):
        for hole in run.lead.of_kind("hole"):
            at = run.geometry.point_at(min(hole.at_mm, run.drawn_mm))
            told = "with its plug taken off" if hole.plug_off else "with its plug on"
            yield this.finding(
                job,
                subject=f"{run.lead.id}:{hole.id}",
                subject_name=f"hole of the {run.name}",
                measured=hole.diameter_mm,
                band=Band(
                    round(passing_mm(job, run, hole.plug_off), 1),
                    None,
                    Whose.SHEET,
                    source="what has to pass",
                ),
                tolerance=0.0,
                title=f"Hole of the {run.name}",
                sentence=f"A hole of {q(hole.diameter_mm)} for the {run.name}"
                f"{'' if run.lead.id == 'supply' else f', {told}'}.",
                marks=(Mark(at, at),),
            )
        yield from _without_hole(job, this, run)


def _without_hole(job: Job, this: Rule, run: LeadRun) -> Iterator[Finding]:
    """Where a lead leads outside, or back, and nobody has said through which hole."""
    holes = run.lead.of_kind("hole")
    for number, crossing in enumerate(passes_mm(job)[run.lead.id], 1):
        if any(abs(hole.at_mm - crossing) <= HOLE_REACH_MM for hole in holes):
            continue
        at = run.geometry.point_at(crossing)
        yield this.finding(
            job,
            subject=f"{run.lead.id}:{PASSES}{number}",
            subject_name=f"{run.name} to the outside",
            measured=None,
            band=Band(None, None, Whose.GEOMETRY, source="the lead's way"),
            title=f"{capital(run.name)} to the outside",
            sentence=f"The {run.name} leads outside {q(round(crossing))} from its start and has no "
            "hole there: put one in, with its grommet.",
            marks=(Mark(at, at),),
        )


@rule("power.grommet", "Edges of the leads' holes", "yes-no", hazard="fire")
def holes_lined(job: Job, this: Rule) -> Iterator[Finding]:
    """A bare edge of steel cuts through insulation."""
    for run in settled_runs(job):
        for hole in run.lead.of_kind("hole"):
            at = run.geometry.point_at(min(hole.at_mm, run.drawn_mm))
            yield this.yes_no(
                job,
                subject=f"{run.lead.id}:{hole.id}",
                subject_name=f"hole of the {run.name}",
                answer=hole.grommet,
                wanted=True,
                source="workshop rule 54: a grommet in every hole",
                title=f"Grommet in the hole of the {run.name}",
                sentence=edge_of_hole(run.name, "a grommet" if hole.grommet else ""),
                marks=(Mark(at, at),),
            )


HOT = {
    "exhaust": ("cable_hot_mm", "the exhaust"),
    "exhaust-at-port": ("cable_hot_mm", "the exhaust at its port"),
    "silencer": ("cable_hot_mm", "the silencer"),
    "duct": ("cable_duct_mm", "a hot duct"),
    "duct-end": ("cable_duct_mm", "a hot duct"),
}


@rule("power.hot", "Leads away from hot things", "mm", hazard="fire")
def away_from_heat(job: Job, this: Rule) -> Iterator[Finding]:
    """Insulation beside the exhaust or a hot duct melts."""
    back = job.plan.air.return_duct  # it brings the room's own air
    planned = [
        Thing(body.id if body.kind.startswith("duct") else body.kind, name, body.shape, limit)
        for body in (*pipe_bodies(job), *air_bodies(job))
        if body.kind in HOT and (back is None or body.id != f"air.{back.id}")
        for limit, name in (HOT[body.kind],)
    ]
    surveyed = [
        Thing(solid.id, solid.name, shape, "cable_hot_mm")
        for solid, kind, shape in surveyed_parts(job)
        if kind.id in {"vehicle-exhaust", "bay-hot", "other-exhaust"}
    ]
    others = [
        Thing(body.id, body.name, body.shape, "cable_hot_mm")
        for body in unit_bodies(job)
        if body.kind == "unit-exhaust"
    ]
    yield from _kept_from(job, this, (*planned, *surveyed, *others))


@rule("power.moving", "Leads away from what moves", "mm", hazard="fire")
def away_from_moving(job: Job, this: Rule) -> Iterator[Finding]:
    """A wheel or an axle through its travel tears a lead off."""
    moving = [
        Thing(solid.id, solid.name, shape, "cable_moving_mm")
        for solid, kind, shape in surveyed_parts(job)
        if kind.id in {"wheel", "suspension"}
    ]
    moving += [
        Thing(part.id, part.name, part.shape, "cable_moving_mm")
        for part in assumed_wheel_obstacles(job)
    ]
    yield from _kept_from(job, this, moving)


@dataclass(frozen=True, slots=True)
class Thing:
    """Something that leads are kept from, by a named limit."""

    id: str
    name: str
    shape: Shape
    limit: str


def _kept_from(job: Job, this: Rule, things: Sequence[Thing]) -> Iterator[Finding]:
    """Of each lead what is over or tight, and the nearest that is clear."""
    for run in settled_runs(job):
        looks = []
        for thing in things:
            band = limit_band(job, thing.limit)
            stretches = _beside(job, run, thing.shape)
            if band is None or not stretches:
                continue
            least = min(_apart_mm(stretch, thing.shape) for stretch in stretches)
            look = partial(_gap_finding, job, this, run, (thing, band, stretches))
            looks.append(Candidate(least - (band.minimum or 0.0), look))
        yield from nearest_first(looks, tolerance_of(job, "mm"), 1)


def _gap_finding(
    job: Job, this: Rule, run: LeadRun, kept: tuple[Thing, Band, list[Shape]]
) -> Finding:
    thing, band, stretches = kept
    near = min(
        (separation(stretch, thing.shape) for stretch in stretches),
        key=lambda found: found.distance_mm,
    )
    return this.finding(
        job,
        subject=f"{run.lead.id}:{thing.id}"[:80],
        subject_name=thing.name,
        measured=near.distance_mm,
        band=band,
        title=f"{capital(run.name)} to {thing.name}",
        sentence=f"{q(near.distance_mm)} between the {run.name} and {thing.name}.",
        marks=(Mark(near.start, near.end),),
    )


def _apart_mm(one: Shape, other: Shape) -> float:
    """What the distance of two shapes is never less than: that of their bounds."""
    a, b = one.bounds, other.bounds
    return math.hypot(*(max(a[i] - b[i + 3], b[i] - a[i + 3], 0.0) for i in range(3)))


def _beside(job: Job, run: LeadRun, shape: Shape) -> list[Shape]:
    """The stretches of a lead that a thing is held against: those outside, and those inside where
    it reaches over the floor. What lies below the floor has the floor between.
    """
    inside, outside = lead_shapes(job)[run.lead.id]
    return [*outside, *(inside if shape.high_z_mm > floor_underside_z_mm(job) else ())]


@rule("power.clips", "Clips of the leads", "mm")
def clipped(job: Job, this: Rule) -> Iterator[Finding]:
    """A cable that hangs chafes through."""
    band = limit_band(job, "cable_clip_mm")
    if band is None:
        return
    for run in settled_runs(job):
        held = [
            part.at_mm for part in run.lead.of_kind("clip", "hole") if part.at_mm < run.drawn_mm
        ]
        places = [0.0, *sorted(held), run.drawn_mm]
        from_mm, to_mm = max(pairwise(places), key=lambda pair: pair[1] - pair[0])
        yield this.finding(
            job,
            subject=run.lead.id,
            subject_name=run.name,
            measured=round(to_mm - from_mm, 1),
            band=band,
            title=f"Clips of the {run.name}",
            sentence=hangs(run.name, to_mm - from_mm),
            marks=(Mark(run.geometry.point_at(from_mm), run.geometry.point_at(to_mm)),),
        )


@rule("power.chafe", "Leads sleeved outside", "mm", hazard="fire")
def sleeved_outside(job: Job, this: Rule) -> Iterator[Finding]:
    """Grit and stones work through bare insulation under the vehicle."""
    band = limit_band(job, "cable_bare_mm")
    if band is None:
        return
    for run in settled_runs(job):
        outside = [s for s in stretches_mm(job)[run.lead.id] if not s.inside]
        if not outside:
            continue
        sleeves = [(part.at_mm, part.length_mm) for part in run.lead.of_kind("guard")]
        bare = list(bare_mm(outside, sleeves))
        length = sum(to_mm - from_mm for from_mm, to_mm in bare)
        whole = sum(s.to_mm - s.from_mm for s in outside)
        places = (tuple(run.geometry.point_at(mm) for mm in ends) for ends in bare)
        yield this.finding(
            job,
            subject=run.lead.id,
            subject_name=run.name,
            measured=round(length, 1),
            band=band,
            title=f"Sleeve of the {run.name}",
            sentence=without_sleeve(run.name, whole, length),
            marks=tuple(Mark(start, end) for start, end in places),
        )


@rule("power.loops", "Leads that follow a slide-out", "mm", hazard="fire")
def loops_reach(job: Job, this: Rule) -> Iterator[Finding]:
    """A lead from what stands still to what moves has a loop as long as the travel."""
    slide, shell = job.plan.vehicle.slide, job.plan.vehicle.shell
    if slide is None:
        return
    for run in settled_runs(job):
        edges = edges_mm(slide, shell, run.geometry)
        for number, at_mm in enumerate(edges, 1):
            slack = sum(loop.length_mm for loop in _loops_at(run, edges, at_mm, slide.travel_mm))
            at = run.geometry.point_at(at_mm)
            yield this.finding(
                job,
                subject=f"{run.lead.id}:edge-{number}",
                subject_name=run.name,
                measured=slack,
                band=Band(slide.travel_mm, None, Whose.GEOMETRY, source="the slide-out's travel"),
                title=f"{capital(run.name)} over the slide-out's edge",
                sentence=f"The {run.name} has {q(slack)} of loop where the slide-out moves by "
                f"{q(slide.travel_mm)}.",
                marks=(Mark(at, at),),
            )


def _loops_at(
    run: LeadRun, edges: list[float], at_mm: float, within_mm: float
) -> Iterator[LeadPart]:
    """The loops at an edge: a loop serves the one that it is nearest to."""
    for loop in run.lead.of_kind("loop"):
        nearest = min(edges, key=lambda edge: abs(edge - loop.at_mm))
        if nearest == at_mm and abs(loop.at_mm - at_mm) <= within_mm:
            yield loop


@rule("power.pump_pair", "Pump's lead told apart", "yes-no")
def pump_told_apart(job: Job, this: Rule) -> Iterator[Finding]:
    """The pump's lead looks like others: marked at both ends it is not plugged in wrong."""
    if any(run.lead.id == "pump" for run in settled_runs(job)):
        yield this.yes_no(
            job,
            answer=job.plan.power.pump_marked,
            wanted=True,
            left_to_taste=True,
            source="workshop rule 54: what can be mistaken is marked at both ends",
            sentence="The pump's lead is marked at both ends."
            if job.plan.power.pump_marked
            else "Mark the pump's lead at both ends.",
        )


@rule("power.laid", "Leads that are laid", "yes-no")
def leads_laid(job: Job, this: Rule) -> Iterator[Finding]:
    """Each lead that comes with the heater has its way."""
    for kind in leads_to_lay(job):
        if kind == "supply":
            continue  # that is told by itself
        yield this.finding(
            job,
            subject=kind,
            subject_name=LEAD_WORDS[kind],
            measured=None,
            band=Band(None, None, Whose.GEOMETRY, source="the plan"),
            title=f"The {LEAD_WORDS[kind]}",
            sentence=f"Lay the {LEAD_WORDS[kind]}: its length, its holes and its joint follow.",
        )
    for run in lead_runs(job):
        if not run.is_settled:
            yield this.finding(
                job,
                subject=f"{run.lead.id}:moved",
                subject_name=run.name,
                measured=None,
                band=Band(None, None, Whose.GEOMETRY, source="the plan"),
                title=f"The {run.name}, laid for another place",
                sentence=f"An end of the {run.name} has moved by {q(round(run.moved_mm))} since it "
                "was laid: lay it anew, or keep its way if that still holds.",
            )
