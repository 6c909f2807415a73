"""Candidate cures by what sits on the pipes: supports, joints, silencer, filter, lagging and
shields.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import AddFitting, PutFittings
from gale_nook.core.pipes.joints import bend_spans, proposed_joints
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.start import FILTER_MM, SILENCER_MM
from gale_nook.core.pipes.supports import proposed_supports
from gale_nook.core.pipes.tubes import tube_of
from gale_nook.core.plan.pipes import Fitting, FittingKind, Tube
from gale_nook.core.quantities.sentences import q

ROOM_MM = 15.0
COVER_MM = 60.0  # a cover reaches this far past the place that needs it
MOST_LAYERS = 2


@remedy_for("pipes.support")
def hold_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Supports as far apart as they may be, factory holes and threads first."""
    tube, most = tube_of(finding), finding.band.maximum
    if most is None:
        return
    supports = proposed_supports(job, tube, most)
    if not supports:
        return
    on_factory = sum(1 for support in supports if support.feature is not None)
    where = f", {on_factory} on factory holes or threads" if on_factory else ""
    words = f"Hold it at {len(supports)} place{'s' if len(supports) > 1 else ''}{where}."
    yield Remedy(words, PutFittings(tube=tube, kind="support", fittings=supports))


@remedy_for("pipes.joints")
def draw_the_joints(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Joints where the kit's pipe and each extension piece end."""
    joints = proposed_joints(job)
    if joints:
        places = " and ".join(q(joint.at_mm) for joint in joints)
        command = PutFittings(tube="exhaust", kind="joint", fittings=joints)
        yield Remedy(f"Join it at {places} from the port, where the pieces end.", command)


@remedy_for("pipes.silencer")
def fit_a_silencer(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A silencer in the middle of the longest straight that has room for it."""
    for at in places_on_straights(job, "exhaust", SILENCER_MM):
        yield from _added(
            job,
            "exhaust",
            "silencer",
            at,
            SILENCER_MM,
            f"Fit a silencer {q(at)} from the port, drain down.",
        )


@remedy_for("pipes.silencer_drain")
def drain_down(_job: Job, finding: Finding) -> Iterator[Remedy]:
    """Turn it over."""
    yield Remedy(
        "Turn the silencer so that its drain is lowest.",
        set_value(f"pipes.exhaust.fittings.{finding.subject}.drain_down", True),
    )


@remedy_for("pipes.silencer_room")
def move_the_silencer(job: Job, finding: Finding) -> Iterator[Remedy]:
    """To the middle of a straight that has room for it."""
    route = job.plan.pipes.exhaust
    fitting = (
        next((f for f in route.fittings if f.id == finding.subject), None)
        if route is not None
        else None
    )
    if fitting is None:
        return
    for at in places_on_straights(job, "exhaust", fitting.length_mm):
        yield Remedy(
            f"Move the silencer to {q(at)} from the port.",
            set_value(f"pipes.exhaust.fittings.{fitting.id}.at_mm", at),
        )


@remedy_for("pipes.filter", run="intake")
def fit_a_filter(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A filter near the mouth, where it can be reached."""
    run = pipe_run(job, "intake")
    if run is not None:
        at = float(max(round(run.length_mm - FILTER_MM - 30), 0))
        yield from _added(
            job, "intake", "filter", at, FILTER_MM, f"Fit a filter {q(at)} from the port."
        )


def _added(
    job: Job, tube: Tube, kind: FittingKind, at_mm: float, length_mm: float, words: str
) -> Iterator[Remedy]:
    route = job.plan.pipes.route(tube)
    if route is not None:
        item = Fitting(
            id=fresh_id(route.fittings, kind), kind=kind, at_mm=at_mm, length_mm=length_mm
        )
        yield Remedy(words, AddFitting(collection=f"pipes.{tube}.fittings", item=item))


def places_on_straights(job: Job, tube: Tube, length_mm: float) -> list[float]:
    """Return where something of a length can begin: in the middle of each straight with room, the
    longest first.
    """
    run = pipe_run(job, tube)
    if run is None:
        return []
    ends = [0.0, *(edge for span in bend_spans(job) for edge in span), run.length_mm]
    straights = sorted(zip(ends[::2], ends[1::2], strict=True), key=lambda pair: pair[0] - pair[1])
    return [
        float(round((a + b - length_mm) / 2))
        for a, b in straights
        if b - a >= length_mm + 2 * ROOM_MM
    ]


@remedy_for("pipes.heat")
@remedy_for("pipes.clearance", run="exhaust")
def cover_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lag the stretch beside the neighbour, once or twice, or put a shield between."""
    run, route = pipe_run(job, "exhaust"), job.plan.pipes.exhaust
    if run is None or route is None or not finding.marks:
        return
    middle = run.distance_of(finding.marks[0].start)
    for reach in (COVER_MM, 2 * COVER_MM, 4 * COVER_MM, run.length_mm):
        start = max(math.floor(middle - reach), 0)
        end = min(math.ceil(middle + reach), math.ceil(run.length_mm))
        for kind, layers in (("lagging", 1), ("lagging", MOST_LAYERS), ("shield", 1)):
            item = Fitting(
                id=fresh_id(route.fittings, kind),
                kind=kind,
                at_mm=start,
                length_mm=end - start,
                layers=layers,
            )
            what = {"lagging": "Lag" if layers == 1 else "Lag twice", "shield": "Shield"}[kind]
            words = (
                f"{what} {q(float(end - start))} of the pipe beside {finding.subject_name}, "
                f"from {q(float(start))} on."
            )
            yield Remedy(words, AddFitting(collection="pipes.exhaust.fittings", item=item))
