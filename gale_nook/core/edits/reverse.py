"""Turning the order of a line's corners round: for one that was typed from its far end."""

from __future__ import annotations

from typing import Any

from gale_nook.core.errors import BadInput
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.pipes import Tube


def reversed_run(before: Job, tube: Tube) -> dict[str, Any]:
    """Return a burner pipe as plain data with its corners in the other order.

    What sits on it stays where it is in space, or goes to the place on the new run that is nearest
    to there.

    Raises:
        BadInput: there is no such run.
    """
    route, run = before.plan.pipes.route(tube), pipe_run(before, tube)
    if route is None or run is None:
        raise BadInput(
            f"pipes.{tube}", None, "There is no run yet whose corners could be turned round."
        )
    turned = route.model_copy(update={"nodes": tuple(reversed(route.nodes))})
    pipes = before.plan.pipes.model_copy(update={tube: turned})
    there = pipe_run(_job(before, before.plan.model_copy(update={"pipes": pipes})), tube)
    fittings = tuple(
        fitting.model_copy(update={"at_mm": _moved(run, there, fitting.at_mm, fitting.length_mm)})
        for fitting in route.fittings
    )
    return turned.model_copy(update={"fittings": fittings}).model_dump(mode="json")


def reversed_line(before: Job) -> dict[str, Any]:
    """Return the fuel line likewise; raises BadInput where there is none."""
    line, run = before.plan.fuel.line, fuel_run(before)
    if line is None or run is None:
        raise BadInput(
            "fuel.line", None, "There is no fuel line yet whose bends could be turned round."
        )
    turned = line.model_copy(update={"nodes": tuple(reversed(line.nodes))})
    fuel = before.plan.fuel.model_copy(update={"line": turned})
    there = fuel_run(_job(before, before.plan.model_copy(update={"fuel": fuel})))
    parts = tuple(
        part.model_copy(
            update={
                "at_mm": _moved(
                    run.geometry, there.geometry if there is not None else None, part.at_mm
                )
            }
        )
        for part in line.parts
    )
    return turned.model_copy(update={"parts": parts}).model_dump(mode="json")


def _job(before: Job, plan: Plan) -> Job:
    return before.with_plan(plan)


def _moved(
    old: RouteGeometry, new: RouteGeometry | None, at_mm: float, length_mm: float = 0.0
) -> float:
    """Where something begins on the new line, so that its middle is nearest to where it was."""
    if new is None:
        return at_mm
    middle = new.distance_of(old.point_at(at_mm + length_mm / 2))
    return max(float(round(min(middle - length_mm / 2, new.length_mm - length_mm))), 0.0)
