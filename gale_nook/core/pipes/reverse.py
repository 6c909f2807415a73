"""Turning the order of a run's corners round: for one that was typed from its far end."""

from __future__ import annotations

from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.route import RouteGeometry, moved_along
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Route, Tube


def reversed_run(before: Job, tube: Tube) -> Route:
    """Return a burner pipe with its corners in the other order.

    What sits on it stays where it is in space, or goes to the place on the new run that is nearest
    to there.

    Raises:
        BadInput: there is no such run.
    """
    route, run = before.plan.pipes.route(tube), pipe_run(before, tube)
    if route is None or run is None:
        problem = "There is no run yet whose corners could be turned round."
        raise BadInput(f"pipes.{tube}", None, problem)
    turned = route.model_copy(update={"nodes": tuple(reversed(route.nodes))})
    after = _run_with(before, tube, turned)
    fittings = tuple(
        fitting.model_copy(
            update={"at_mm": moved_along(run, after, fitting.at_mm, fitting.length_mm)}
        )
        for fitting in route.fittings
    )
    return turned.model_copy(update={"fittings": fittings})


def _run_with(job: Job, tube: Tube, route: Route) -> RouteGeometry | None:
    pipes = job.plan.pipes.model_copy(update={tube: route})
    return pipe_run(job.with_parts(pipes=pipes), tube)
