"""The clear-spot map against calling the exact checker for every cell; its growth by solids and by
grid; a crowded drag.
"""

from __future__ import annotations

import random
from collections.abc import Iterator

from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.checking import checked
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid, Solid, TubeSolid
from gale_nook.core.spot.costs import Weights
from gale_nook.core.spot.floor_map import YAWS, FloorMap
from gale_nook.core.spot.search import best_spots
from gale_nook.demo.load import demo_plan

KINDS = ("member", "brake-pipe", "wiring", "furniture", "fuel-pipe")


def crowded(count: int) -> Plan:
    """Return Heron with as many made-up solids in place of its own: half of them
    boxes, half tubes.
    """
    plan, chance = demo_plan("heron"), random.Random(count)
    solids: list[Solid] = []
    for number in range(count):
        kind = KINDS[number % len(KINDS)]
        x, y, z = chance.uniform(200, 4000), chance.uniform(-800, 700), chance.uniform(-250, -60)
        z = chance.uniform(60, 700) if kind == "furniture" else z
        if number % 2:
            ends = (
                (x, y, z),
                (x + chance.uniform(-600, 600), y + chance.uniform(-300, 300), z + 10),
            )
            solids.append(
                TubeSolid(id=f"s-{number}", name="tube", kind=kind, points=ends, diameter_mm=12)
            )
        else:
            box = {
                "x_mm": x,
                "y_mm": y,
                "z_mm": z,
                "length_mm": 90,
                "width_mm": 60,
                "height_mm": 40,
            }
            solids.append(
                BoxSolid.model_validate({"id": f"s-{number}", "name": "box", "kind": kind, **box})
            )
    return plan.model_copy(
        update={"vehicle": plan.vehicle.model_copy(update={"solids": tuple(solids)})}
    )


def figures() -> Iterator[tuple[Figure, str]]:
    book = load_catalogue()
    job = Job(demo_plan("heron"), book)
    cells = FloorMap(job).grid
    count = len(cells.x_mm) * len(cells.y_mm) * len(YAWS)

    def one_cell() -> None:
        checked(job.with_plan(job.plan), frozenset({"spot"}))

    def whole() -> None:
        _ = FloorMap(job).fields

    figure = compare("map of Heron, four turns, 10 mm", whole, "one exact spot check", one_cell, 5)
    faster = count / figure.ratio
    yield (
        figure,
        f"under 300 ms; {count} cells, {faster:.0f} × faster than one by one (at least 200)",
    )

    def best() -> None:
        best_spots(job, Weights())

    yield compare("best spots of Heron", best, "its map", whole, 3), "-"
    for step in (20.0, 10.0, 5.0):

        def grid(step: float = step) -> None:
            _ = FloorMap(job, step).fields

        yield compare(f"map of Heron, grid of {step:g} mm", grid, "at 10 mm", whole, 3), "growth"
    few = Job(crowded(25), book)

    def base() -> None:
        _ = FloorMap(few).fields

    for number in (25, 100, 400):
        many = Job(crowded(number), book)

        def crowd(many: Job = many) -> None:
            _ = FloorMap(many).fields

        aim = "under 600 ms" if number == 400 else "growth near linear"
        yield compare(f"map with {number} solids", crowd, "with 25", base, 3), aim
