"""A way that was found for one of the burner's pipes, as it is shown and taken."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.pipes.checks import PIPE_CHECKS
from gale_nook.core.pipes.commands import TakeRun
from gale_nook.core.pipes.pressure import pressure_losses
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import EdgeName, Route, Tube

NEAR = {
    "exhaust": {"pipes.clearance", "pipes.mouth_opening", "pipes.mouth_part"},
    "intake": {"pipes.clearance", "pipes.tubes_apart", "pipes.mouths_apart"},
}


@dataclass(frozen=True)
class RouteProposal:
    """A way that every check of its pipe lets pass, and what speaks for and against it.

    Attributes:
        where: it leads, in words.
        least: of its checks the one with the least margin in mm.
        mouth: in the vehicle's frame, mm.
        edge: of the vehicle, where it has to end at one.
    """

    tube: Tube
    where: str
    route: Route
    length_mm: float
    bend_sum_deg: float
    back_pressure_pa: float | None
    joints: int
    on_factory_fixings: int
    least: Finding | None
    mouth: Vec3
    edge: EdgeName | None = None

    @property
    def command(self) -> TakeRun:
        return TakeRun(tube=self.tube, route=self.route)


def proposal_of(
    job: Job, tube: Tube, where: str, edge: EdgeName | None = None
) -> RouteProposal | None:
    """Return what there is to say of a job's run as a way."""
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    if run is None or route is None:
        return None
    near = [
        finding
        for finding in findings_of(job, PIPE_CHECKS)
        if finding.rule in NEAR[tube] and tube in finding.runs
    ]
    loss = pressure_losses(job).get(tube)
    return RouteProposal(
        tube,
        where,
        route,
        run.length_mm,
        run.bend_sum_deg,
        loss.total_pa if loss is not None else None,
        len(route.of_kind("joint")),
        sum(1 for fitting in route.of_kind("support") if fitting.feature is not None),
        min(near, key=lambda f: f.margin if f.margin is not None else math.inf, default=None),
        run.mouth,
        edge,
    )
