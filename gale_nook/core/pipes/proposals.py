"""Ways for the exhaust as proposals: straightened, fitted out, and put before every check of the
pipes.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import partial

from gale_nook.core.findings.rule import Rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.ledger.body import Body
from gale_nook.core.pipes.checks import checks_of
from gale_nook.core.pipes.clamps import proposed_clamps
from gale_nook.core.pipes.finder import RouteConstraints, constraints_of, find_route
from gale_nook.core.pipes.fitting_remedies import places_on_straights
from gale_nook.core.pipes.joints import proposed_joints
from gale_nook.core.pipes.route_proposal import RouteProposal, proposal_of
from gale_nook.core.pipes.runs import with_route, without_route
from gale_nook.core.pipes.start import SILENCER_MM
from gale_nook.core.pipes.supports import proposed_supports
from gale_nook.core.pipes.together import PIPES_TOGETHER
from gale_nook.core.plan.pipes import EdgeName, Fitting, Route, RouteNode
from gale_nook.core.routing.grid_search import MOST_LOOKED_AT, FoundRoute
from gale_nook.core.routing.proving import RunKind, first_clear
from gale_nook.core.spot.placement import heater_port, port_point

EDGE_WORDS: dict[EdgeName, str] = {
    "left": "the left side",
    "right": "the right side",
    "rear": "the rear",
}
HASTE = 1.3
# (gap on top, haste): more gap where bends cut off too much of their corners, then again without
# haste
TRIES = ((8.0, HASTE), (0.0, HASTE), (25.0, HASTE), (8.0, 1.0), (0.0, 1.0))


@dataclass(frozen=True, slots=True)
class SearchEffort:
    """How long a way is looked for.

    Attributes:
        tries: (gap on top, haste) of each search, one after another until one is clear.
        most: places that each looks at before it is given up.
    """

    tries: tuple[tuple[float, float], ...] = TRIES
    most: int = MOST_LOOKED_AT


USUAL_EFFORT = SearchEffort()


def propose(
    job: Job,
    edge: EdgeName,
    avoid: tuple[Vec3, ...] = (),
    beside: tuple[Rule, ...] = (PIPES_TOGETHER,),
    others: tuple[Body, ...] = (),
    effort: SearchEffort = USUAL_EFFORT,
) -> RouteProposal | None:
    """Return a way to an edge, away from mouths that were found before; None where the search finds
    none.

    Needs a heater in its place.

    Args:
        beside: checks of all else, of which it may put nothing over that was not.
        others: bodies of what other stations have planned.
        effort: how long it is looked for.
    """
    wanted = replace(constraints_of(job), avoid=avoid, others=others, most=effort.most)
    for extra, haste in effort.tries:
        result = find_route(job, edge, replace(wanted, extra_mm=extra, haste=haste))
        if result is None and extra == 0:
            return None  # nor is there one with more gap
        kind = exhaust_runs(job, beside)
        proposal = _proved(kind, edge, result, wanted) if result is not None else None
        if proposal is not None:
            return proposal
    return None


def proposals(job: Job) -> Iterator[RouteProposal]:
    """Yield up to one way to each edge that the job permits, then others to the same edges until
    there are three.
    """
    results: list[RouteProposal] = []
    reached: list[EdgeName] = []
    for edge in edges_nearest_first(job):
        proposal = propose(job, edge)
        if proposal is not None:
            results.append(proposal)
            reached.append(edge)
            yield proposal
    for edge in reached:
        if len(results) >= 3:
            return
        proposal = propose(job, edge, tuple(other.mouth for other in results))
        if proposal is not None:
            results.append(proposal)
            yield proposal


def edges_nearest_first(job: Job) -> tuple[EdgeName, ...]:
    """Return the edges that the job permits, the one nearest to the exhaust's port first. Needs a
    heater in its place.
    """
    x, y, _ = port_point(job, heater_port(job, "exhaust"))
    shell = job.plan.vehicle.shell
    half = shell.outer_width_mm / 2
    away: dict[EdgeName, float] = {"left": half + y, "right": half - y, "rear": shell.rear_x_mm - x}
    return tuple(sorted(job.plan.pipes.edges, key=lambda edge: away[edge]))


def route_of(found: FoundRoute, radius_mm: float) -> Route:
    """Return the corners of a way as a route, on whole millimetres and never less steep for it."""
    nodes = tuple(
        RouteNode(
            id=f"n-{number}", x_mm=round(x), y_mm=round(y), z_mm=math.floor(z), radius_mm=radius_mm
        )
        for number, (x, y, z) in enumerate(found.corners, 1)
    )
    return Route(nodes=nodes)


def exhaust_runs(job: Job, beside: tuple[Rule, ...]) -> RunKind[Route]:
    """Return how runs of the exhaust are fitted out and proved."""
    return RunKind(
        fit_out=partial(fitted_out, job),
        checks=checks_of("exhaust"),
        cost=lambda route: float(len(route.nodes)),
        differ=lambda one, other: one != other,
        before=without_route(job, "exhaust"),
        beside=beside,
    )


def _proved(
    kind: RunKind[Route], edge: EdgeName, found: FoundRoute, wanted: RouteConstraints
) -> RouteProposal | None:
    """The route fitted out, if nothing of the exhaust is over with it; corners that are not needed
    are left out.
    """
    route = route_of(found, wanted.radius_mm)
    best = first_clear(kind, [route])
    if best is None:
        return None
    for node in route.nodes[1:-1]:
        fewer = tuple(n for n in best.candidate.nodes if n.id != node.id)
        if len(fewer) > 1:
            best = first_clear(kind, [Route(nodes=fewer)]) or best
    return proposal_of(best.job, "exhaust", f"to {EDGE_WORDS[edge]}", edge)


def fitted_out(job: Job, route: Route) -> Job:
    """Return the job with a route for the exhaust that has its silencer, joints and supports."""
    bare = with_route(job, "exhaust", route)
    fittings: tuple[Fitting, ...] = ()
    places = places_on_straights(bare, "exhaust", SILENCER_MM)
    if job.plan.pipes.silencer == "expected" and places:
        fittings = (
            Fitting(id="silencer", kind="silencer", at_mm=places[0], length_mm=SILENCER_MM),
        )
    for more in (proposed_joints, _clamps, _supports):
        so_far = with_route(job, "exhaust", route.model_copy(update={"fittings": fittings}))
        fittings = (*fittings, *more(so_far))
    return with_route(job, "exhaust", route.model_copy(update={"fittings": fittings}))


def _clamps(job: Job) -> tuple[Fitting, ...]:
    return proposed_clamps(job, "exhaust")


def _supports(job: Job) -> tuple[Fitting, ...]:
    band = limit_band(job, "support_spacing_mm")
    return (
        proposed_supports(job, "exhaust", band.maximum)
        if band is not None and band.maximum is not None
        else ()
    )
