"""The check of the whole Heron plan against the bare distance calls that it makes."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from itertools import count
from typing import Any

import fcl

from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.checking import check, checked
from gale_nook.core.geometry import shapes
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_shape
from gale_nook.core.spot.obstacles import obstacles
from gale_nook.core.spot.placement import heater_body_shape
from gale_nook.core.vehicle.parts import surveyed_where
from gale_nook.demo.load import demo_plan

STEP_MM = 0.1


def recorded_pairs(
    plan_name: str, stations: tuple[str, ...] | None = None
) -> list[tuple[Any, Any]]:
    """Return every pair of bodies whose distance a check of the plan, or of some stations, asks the
    collision library for.
    """
    pairs: list[tuple[Any, Any]] = []
    original = fcl.distance

    def recording(a: Any, b: Any, request: Any, result: Any) -> float:
        pairs.append((a, b))
        return float(original(a, b, request, result))

    shapes.separation.cache_clear()  # else it is asked only for what is new
    shapes.fcl.distance = recording
    try:
        check(demo_plan(plan_name), load_catalogue(), stations)
    finally:
        shapes.fcl.distance = original
    return pairs


def every_pair(plan_name: str) -> list[tuple[Any, Any]]:
    """Return every pair of pieces that has to be clear of one another: exhaust and body against all
    around them.
    """
    job = Job(demo_plan(plan_name), load_catalogue())
    if pipe_shape(job, "exhaust") is None or heater_body_shape(job) is None:
        raise ValueError(f"{plan_name} has no heater or no exhaust")
    below = [shape for _, _, shape in surveyed_where(job, "below")]
    around = [obstacle.shape for obstacle in obstacles(job)]
    sides = ((pipe_shape(job, "exhaust"), below), (heater_body_shape(job), around))
    return [
        (a.body, b.body)
        for shape, others in sides
        for other in others
        for a in shape.pieces
        for b in other.pieces
    ]


def figures() -> Iterator[tuple[Figure, str]]:
    book = load_catalogue()
    plan = demo_plan("heron")
    request = fcl.DistanceRequest(enable_nearest_points=True, enable_signed_distance=True)
    everything = every_pair("heron")
    made = recorded_pairs("heron")

    def bare(pairs: list[tuple[Any, Any]]) -> None:
        for a, b in pairs:
            fcl.distance(a, b, request, fcl.DistanceResult())

    def whole() -> None:
        check(plan, book)

    steps = count(1)

    def moved() -> None:
        spot = plan.spot.model_copy(update={"x_mm": plan.spot.x_mm + next(steps) * STEP_MM})
        check(plan.model_copy(update={"spot": spot}), book)

    name = f"bare distance calls of all {len(everything)} pairs of pieces"
    yield (
        compare("check of the whole Heron plan", whole, name, lambda: bare(everything)),
        "under 15 ms, under 3 ×",
    )
    yield (
        compare(
            "that check with the heater moved each time", moved, name, lambda: bare(everything)
        ),
        "-",
    )
    name = f"the {len(made)} bare distance calls left after pruning"
    yield compare("check of the whole Heron plan", whole, name, lambda: bare(made)), "-"
    yield from after_edits()


def after_edits() -> Iterator[tuple[Figure, str]]:
    """The check of the next revision, of which that of the one before is known."""
    book, steps = load_catalogue(), count(1)
    for name in ("heron", "quarto"):
        plan = demo_plan(name)
        job = Job(plan, book)
        checked(job)
        heat, spot, line = plan.heat, plan.spot, plan.fuel
        if spot is None:
            raise ValueError(f"{name} has no heater in its place")
        edits: dict[str, Callable[[int], dict[str, Any]]] = {
            "a new note": lambda n: {"note": f"{n}"},
            "another level in the tank": lambda n, line=line: {  # type: ignore[misc]
                "fuel": line.model_copy(update={"level_percent": 40 + n * STEP_MM})
            },
            "another altitude": lambda n, heat=heat: {  # type: ignore[misc]
                "heat": heat.model_copy(update={"altitude_m": 500 + n * STEP_MM})
            },
            "the heater moved": lambda n, spot=spot: {  # type: ignore[misc]
                "spot": spot.model_copy(update={"x_mm": spot.x_mm + n * STEP_MM})
            },
        }
        for words, edit in edits.items():
            after = partial(_after, job, edit, steps)
            yield (
                compare(
                    f"check of {name.title()} after {words}",
                    lambda after=after: checked(after()),  # type: ignore[misc]
                    "from nothing",
                    lambda after=after: checked(Job(after().document, book)),  # type: ignore[misc]
                    8,
                ),
                "-",
            )


def _after(job: Job, edit: Callable[[int], dict[str, Any]], steps: Iterator[int]) -> Job:
    return job.with_parts(**edit(next(steps)))
