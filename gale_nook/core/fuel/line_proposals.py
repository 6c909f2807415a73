"""Ways for the fuel line that really differ, each with its pump and filter placed, and what speaks
for and against it.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.findings.rule import Rule
from gale_nook.core.fuel.checks import LINE_CHECKS
from gale_nook.core.fuel.commands import PutLine
from gale_nook.core.fuel.hydraulics import fuel_heads
from gale_nook.core.fuel.line import FuelRun, fuel_run
from gale_nook.core.fuel.line_search import searched_lines
from gale_nook.core.fuel.priming import prime
from gale_nook.core.fuel.start import LineCandidate, best_pump_place, line_kind, tried_lines
from gale_nook.core.fuel.together import FUEL_TOGETHER
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape
from gale_nook.core.job import Job
from gale_nook.core.plan.fuel import FuelLine
from gale_nook.core.quantities.sentences import q
from gale_nook.core.routing.proving import Proved, RunKind, best_that_differ, proved
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.core.vehicle.parts import surveyed_where

MOST_WAYS = 3
MOST_LOOKED_AT = 5  # another place of its pump may clear one that is shorter
CLIP_REACH_MM = 45.0  # from the line to what a clip can be put on
STEP_MM = 50.0
CARRIES = {"member", "rail"}
NEAR = {"fuel.near", "fuel.exhaust"}


@dataclass(frozen=True)
class LineProposal:
    """One way.

    Attributes:
        where: it leads, in words with marked quantities.
        suction_pa: the most under-pressure at the pump, of all levels and ways of standing.
        prime_minutes: to fill it.
        clipped_percent: of its length that runs along floor, members or rails where a clip can hold
            it.
        over: checks of the line that it breaks.
        least: of its distances to other things the one with the least margin.
    """

    where: str
    line: FuelLine
    length_mm: float
    suction_mm: float
    suction_pa: float
    prime_minutes: float
    clipped_percent: float
    over: tuple[Finding, ...]
    least: Finding | None

    @property
    def command(self) -> PutLine:
        return PutLine(line=self.line)


def line_proposals(
    job: Job, beside: tuple[Rule, ...] = (FUEL_TOGETHER,)
) -> tuple[LineProposal, ...]:
    """Return up to three ways, those that break the fewest limits first, then the shorter; raises
    BadInput as `starting_line`.

    Args:
        beside: checks of all else; what a way puts over of them that was not is told with it.
    """
    kind = line_kind(job, beside)
    found = itertools.chain(tried_lines(job, beside), proved(kind, searched_lines(job)))
    kept = best_that_differ(kind, found, MOST_LOOKED_AT)
    results = (_proposal_of(job, kind, tried) for tried in kept)
    drawn = [proposal for proposal in results if proposal is not None]
    best = sorted(drawn, key=lambda proposal: (len(proposal.over), proposal.length_mm))
    return tuple(best[:MOST_WAYS])


def _proposal_of(
    job: Job, kind: RunKind[LineCandidate], tried: Proved[LineCandidate]
) -> LineProposal | None:
    line = best_pump_place(job, tried) if tried.over else tried.candidate.line
    fuel = job.plan.fuel.model_copy(update={"line": line})
    there = job.with_parts(fuel=fuel)
    run = fuel_run(there)
    primed = prime(there, run) if run is not None else None
    if run is None or primed is None:
        return None
    of_line = findings_of(there, LINE_CHECKS)
    near = [f for f in of_line if f.rule in NEAR and f.verdict is not Verdict.OVER]
    return LineProposal(
        _where(tried.candidate),
        line,
        run.length_mm,
        run.suction_mm,
        max((head.suction_pa for _, head in fuel_heads(there)), default=0.0),
        primed.most_minutes,
        clipped_percent(there, run),
        tuple(kind.over(there, all_of_it=True)),
        min(near, key=lambda f: f.margin or 0.0, default=None),
    )


def _where(tried: LineCandidate) -> str:
    if tried.led_round:
        return f"round what stands there, {q(tried.under_mm)} under the floor"
    lane = tried.lane_mm
    beside = (
        "on the centre line"
        if abs(lane) < 1
        else f"{q(abs(lane))} {'right' if lane > 0 else 'left'} of the centre line"
    )
    return (
        f"along {beside}, "
        f"{f'{q(tried.under_mm)} under the floor' if tried.under_mm else 'rising steadily'}"
    )


def clipped_percent(job: Job, run: FuelRun) -> float:
    """Return how much of a line runs where it can be clipped: along the floor, or along a member or
    rail.
    """
    carriers = [shape for _, kind, shape in surveyed_where(job, "below") if kind.id in CARRIES]
    count = max(math.ceil(run.length_mm / STEP_MM), 1)
    points = [
        run.geometry.point_at((share + 0.5) / count * run.length_mm) for share in range(count)
    ]
    held = sum(1 for point in points if _can_clip(job, carriers, point))
    return 100.0 * held / count


def _can_clip(job: Job, carriers: Sequence[Shape], point: Vec3) -> bool:
    if abs(point[2] - floor_underside_z_mm(job)) <= CLIP_REACH_MM:
        return True
    return any(
        math.dist(piece.nearest(point), point) <= CLIP_REACH_MM
        for shape in carriers
        for piece in shape.pieces
    )
