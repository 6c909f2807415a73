"""Checks of what sits on the pipes: silencer, filter, joints, supports."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.inside import exhaust_comes_in, inside_stretches
from gale_nook.core.pipes.joints import bend_spans, joints_needed, kit_pipe_mm, pipe_needed_mm
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.supports import free_lengths
from gale_nook.core.pipes.tubes import tube_of, tube_words
from gale_nook.core.plan.pipes import FittingKind
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.placement import floor_holes, mount_plane_z_mm
from gale_nook.core.vehicle.floor import underside_at_mm
from gale_nook.core.vehicle.inside import within_shell

SILENCER = "workshop rule 21: a silencer, until the job says it is not needed"
FILTER = "workshop rule 20: a filter, until the job says it is not needed"


@rule("pipes.silencer", "Silencer", YES_NO, run="exhaust")
def silencer_there(job: Job, this: Rule) -> Iterator[Finding]:
    """Without one the exhaust is heard all night; some like it shorter."""
    wish = job.plan.pipes.silencer
    yield from _there(job, this, "silencer", wish, SILENCER)


@rule("pipes.filter", "Filter on the combustion air", YES_NO, run="intake")
def filter_there(job: Job, this: Rule) -> Iterator[Finding]:
    """Grit and snow end up in the burner; a filter also takes the whistle away."""
    yield from _there(job, this, "filter", job.plan.pipes.filter, FILTER)


def _there(job: Job, this: Rule, kind: FittingKind, wish: str, source: str) -> Iterator[Finding]:
    tube = tube_of(this)
    route, run = job.plan.pipes.route(tube), pipe_run(job, tube)
    if route is None or run is None:
        return
    there = bool(route.of_kind(kind))
    middle = run.point_at(run.length_mm / 2)
    yield this.yes_no(
        job,
        subject=kind,
        subject_name=tube_words(tube),
        answer=there,
        wanted=True,
        whose=Whose.WORKSHOP,
        source=source,
        left_to_taste=wish != "expected",
        marks=(Mark(middle, middle),) if not there else (),
        sentence=f"There is a {kind} on the {tube_words(tube)}."
        if there
        else f"There is no {kind} on the {tube_words(tube)}.",
    )


@rule("pipes.silencer_drain", "Silencer's drain is lowest", YES_NO, run="exhaust")
def silencer_drains(job: Job, this: Rule) -> Iterator[Finding]:
    """A silencer with its drain up holds water, which freezes and rusts it through."""
    route, run = job.plan.pipes.exhaust, pipe_run(job, "exhaust")
    if route is None or run is None:
        return
    for fitting in route.of_kind("silencer"):
        at = run.point_at(fitting.at_mm + fitting.length_mm / 2)
        yield this.yes_no(
            job,
            subject=fitting.id,
            subject_name="silencer",
            answer=fitting.drain_down,
            wanted=True,
            whose=Whose.WORKSHOP,
            source="workshop rule 21: its drain is its lowest point",
            sentence="The silencer hangs with its drain down."
            if fitting.drain_down
            else "The silencer's drain is not at its lowest.",
            marks=(Mark(at, at),),
        )


@rule("pipes.silencer_room", "Silencer on its straight", "mm", run="exhaust")
def silencer_on_a_straight(job: Job, this: Rule) -> Iterator[Finding]:
    """A silencer is stiff: it lies between two bends, not in one."""
    route = job.plan.pipes.exhaust
    run = pipe_run(job, "exhaust")
    band = limit_band(job, "silencer_room_mm")
    if route is None or run is None or band is None:
        return
    ends = [(0.0, 0.0), *bend_spans(job), (run.length_mm, run.length_mm)]
    for fitting in route.of_kind("silencer"):
        middle = fitting.at_mm + fitting.length_mm / 2
        before = max((end for _, end in ends if end <= middle), default=0.0)
        after = min((start for start, _ in ends if start >= middle), default=run.length_mm)
        in_bend = next(((a, b) for a, b in ends if a < middle < b), None)
        room = (
            min(fitting.at_mm - before, after - fitting.end_mm)
            if in_bend is None
            else -fitting.length_mm / 2
        )
        words = f"{q(room)} straight beside the silencer."
        if room < 0:
            words = f"The silencer reaches {q(-room)} into a bend or past an end."
        yield this.finding(
            job,
            subject=fitting.id,
            subject_name="silencer",
            measured=room,
            band=band,
            sentence=words,
            marks=(Mark(run.point_at(fitting.at_mm), run.point_at(fitting.end_mm)),),
        )


@rule("pipes.joints", "Joints of the exhaust", "count", run="exhaust")
def joints_placed(job: Job, this: Rule) -> Iterator[Finding]:
    """Where the kit's pipe is too short, its joints are drawn, so that each is reached and none
    lies inside.
    """
    route, run = job.plan.pipes.exhaust, pipe_run(job, "exhaust")
    if route is None or run is None:
        return
    needed = joints_needed(job)
    placed = len(route.of_kind("joint"))
    kit = kit_pipe_mm(job)
    band = Band(
        float(needed), None, Whose.GEOMETRY, "joints", "the kit's pipe first, then extension pieces"
    )
    yield this.finding(
        job,
        subject="exhaust",
        subject_name="exhaust",
        measured=float(placed),
        band=band,
        tolerance=0.0,
        sentence=f"{q(pipe_needed_mm(job))} of pipe against {q(kit)} in the kit: "
        f"{needed or 'no'} joint{'' if needed == 1 else 's'}"
        f" needed, {placed or 'none'} drawn.",
    )


@rule("pipes.joint_inside", "Joints below the floor", "mm", hazard="fumes", run="exhaust")
def joints_below(job: Job, this: Rule) -> Iterator[Finding]:
    """No joint of the exhaust lies where its leak would come into the cabin: port, joints and
    silencer are below the floor.
    """
    route, run = job.plan.pipes.exhaust, pipe_run(job, "exhaust")
    if route is None or run is None:
        return
    joints = [("port", "the port", 0.0)]
    joints += [
        (fitting.id, f"the {fitting.kind}", fitting.at_mm)
        for fitting in route.of_kind("joint", "silencer")
        if not (
            exhaust_comes_in(job)
            and any(s.holds(fitting.at_mm) for s in inside_stretches(job, "exhaust"))
        )
    ]
    band = Band(
        0.0,
        None,
        Whose.WORKSHOP,
        "joint_inside",
        "workshop rule 22: nothing of the exhaust that can leak lies inside",
    )
    results = []
    for subject, name, at_mm in joints:
        at = run.point_at(at_mm)
        underside = underside_at_mm(job, at[0], at[1])
        below = underside - at[2]
        if not within_shell(job, at) or _in_the_well(job, at):
            below = abs(below)
        results.append(
            this.finding(
                job,
                subject=subject,
                subject_name=name,
                measured=below,
                band=band,
                title=f"Joint at {name}",
                tolerance=0.0,
                sentence=(
                    f"The joint at {name} lies {q(abs(below))} "
                    f"{'below' if below >= 0 else 'above'} the floor's underside."
                ),
                marks=(Mark(at, (at[0], at[1], underside)),),
            )
        )
    worst = [finding for finding in results if finding.verdict.value == "over"]
    yield from worst or sorted(results, key=lambda finding: finding.margin or 0.0)[:1]


def _in_the_well(job: Job, point: tuple[float, float, float]) -> bool:
    """Return whether a point hangs in a hole of the mount, which is closed above and open below."""
    x, y, z = point
    for hole in floor_holes(job):
        half_x, half_y = hole.reach_mm
        off = ((x - hole.x_mm) / half_x, (y - hole.y_mm) / half_y)
        inside = max(map(abs, off)) <= 1 if hole.is_cut else math.hypot(*off) <= 1
        if inside and z <= mount_plane_z_mm(job):
            return True
    return False


@rule("pipes.support", "Supports of the exhaust", "mm", run="exhaust")
@rule("pipes.support", "Supports of the combustion air's pipe", "mm", run="intake")
def supports(job: Job, this: Rule) -> Iterator[Finding]:
    """A pipe that hangs free shakes its port loose."""
    tube = tube_of(this)
    run, band = pipe_run(job, tube), limit_band(job, "support_spacing_mm")
    if run is None or band is None:
        return
    longest = max(free_lengths(job, tube), key=lambda hold: hold.length_mm)
    yield this.finding(
        job,
        subject=tube,
        subject_name=tube_words(tube),
        measured=longest.length_mm,
        band=band,
        sentence=(
            f"{q(longest.length_mm)} free between {q(longest.from_mm)} and "
            f"{q(longest.to_mm)} "
            "from the port."
        ),
        marks=(Mark(run.point_at(longest.from_mm), run.point_at(longest.to_mm)),),
    )
