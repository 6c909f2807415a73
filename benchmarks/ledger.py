"""The ledger of what takes room: every pair of Heron, and its growth by surveyed parts."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from benchmarks.spot import crowded
from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.geometry import shapes
from gale_nook.core.job import Job
from gale_nook.core.ledger.body import Body
from gale_nook.core.plan.document import Plan
from gale_nook.core.stations import RULES, STATIONS
from gale_nook.demo.load import demo_plan

TOGETHER = tuple(rule for rule in RULES if rule.id.endswith(".together"))


def bodies_of(job: Job) -> tuple[Body, ...]:
    return tuple(body for station in STATIONS for body in station.bodies(job))


def figures() -> Iterator[tuple[Figure, str]]:
    book = load_catalogue()
    heron = bodies_of(Job(demo_plan("heron"), book))
    every = list(itertools.combinations(heron, 2))

    def bounds_one_by_one() -> None:
        for one, other in every:
            a, b = one.shape.bounds, other.shape.bounds
            max(max(a[i] - b[i + 3], b[i] - a[i + 3]) for i in range(3))

    def ledger(plan: Plan) -> None:
        # nothing remembered of the plan, as after an edit of a part
        shapes.separation.cache_clear()
        job = Job(plan, book)
        for rule in TOGETHER:
            tuple(rule.check(job, rule))

    name = f"the bounds of Heron's {len(every)} pairs"
    yield (
        compare("ledger of all Heron", lambda: ledger(demo_plan("heron")), name, bounds_one_by_one),
        "under 10 ms",
    )
    for count in (25, 100, 400):
        plan = crowded(count)
        yield (
            compare(
                f"the same with {count} made-up parts",
                lambda plan=plan: ledger(plan),  # type: ignore[misc]
                name,
                bounds_one_by_one,
                10,
            ),
            "-",
        )
