"""Turning the order of the fuel line's bends round: for one that was typed from the heater."""

from __future__ import annotations

from gale_nook.core.errors import BadInput
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.geometry.route import moved_along
from gale_nook.core.job import Job
from gale_nook.core.plan.fuel import FuelLine


def reversed_line(before: Job) -> FuelLine:
    """Return the fuel line with its bends in the other order, and what sits on it where it was.

    Raises:
        BadInput: there is no line.
    """
    line, run = before.plan.fuel.line, fuel_run(before)
    if line is None or run is None:
        problem = "There is no fuel line yet whose bends could be turned round."
        raise BadInput("fuel.line", None, problem)
    turned = line.model_copy(update={"nodes": tuple(reversed(line.nodes))})
    fuel = before.plan.fuel.model_copy(update={"line": turned})
    after = fuel_run(before.with_parts(fuel=fuel))
    geometry = after.geometry if after is not None else None
    parts = tuple(
        part.model_copy(update={"at_mm": moved_along(run.geometry, geometry, part.at_mm)})
        for part in line.parts
    )
    return turned.model_copy(update={"parts": parts})
