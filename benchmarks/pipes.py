"""The pipes' rules against the distance calls they make; the search for a way, and its growth by
cells and by solids.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import fcl

from benchmarks.core import recorded_pairs
from benchmarks.spot import crowded
from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.checking import check
from gale_nook.core.geometry.shapes import separation
from gale_nook.core.job import Job
from gale_nook.core.pipes.finder import constraints_of, find_route
from gale_nook.core.pipes.proposals import HASTE, proposals
from gale_nook.core.pipes.runs import pipe_shape
from gale_nook.demo.load import demo_plan


def figures() -> Iterator[tuple[Figure, str]]:
    book, plan = load_catalogue(), demo_plan("heron")
    request = fcl.DistanceRequest(enable_nearest_points=True, enable_signed_distance=True)
    made = recorded_pairs("heron", ("pipes",))

    def rules() -> None:
        check(plan, book, ("pipes",))

    def bare() -> None:
        for a, b in made:
            fcl.distance(a, b, request, fcl.DistanceResult())

    yield (
        compare("all pipe rules of Heron", rules, f"its {len(made)} bare distance calls", bare),
        "under 10 ms",
    )
    job = Job(plan, book)
    yield from _tubes_apart(job)

    def way(at: Job, step_mm: float = 20.0) -> None:
        find_route(at, "left", replace(constraints_of(at), step_mm=step_mm, haste=HASTE))

    def ways() -> None:
        list(proposals(Job(plan, book)))

    yield (
        compare("a way for Heron, 20 mm", lambda: way(job), "all its pipe rules", rules, 5),
        "under 2 s",
    )
    yield (
        compare("three ways for Heron, proved by every rule", ways, "one way", lambda: way(job), 3),
        "under 2 s",
    )
    for step in (40.0, 20.0, 10.0):
        cells = f"a way for Heron, grid of {step:g} mm"
        yield (
            compare(cells, lambda s=step: way(job, s), "at 20 mm", lambda: way(job), 3),
            "growth",
        )  # type: ignore[misc]
    few = Job(crowded(25), book)
    for number in (25, 100, 400):
        many = Job(crowded(number), book)
        found = find_route(many, "left", replace(constraints_of(many), haste=HASTE))
        name = f"a way with {number} solids ({'found' if found else 'none there'})"
        yield compare(name, lambda m=many: way(m), "with 25", lambda: way(few), 3), "growth"  # type: ignore[misc]


def _tubes_apart(job: Job) -> Iterator[tuple[Figure, str]]:
    hot, cool = pipe_shape(job, "exhaust"), pipe_shape(job, "intake")
    if hot is None or cool is None:
        return
    pairs = [(a.body, b.body) for a in hot.pieces for b in cool.pieces]
    request = fcl.DistanceRequest(enable_nearest_points=True, enable_signed_distance=True)

    def by_library() -> None:
        for a, b in pairs:
            fcl.distance(a, b, request, fcl.DistanceResult())

    name = f"the library's distances of all {len(pairs)} pairs of pieces"
    yield (
        compare(
            "both pipes apart, in closed form", lambda: separation(hot, cool), name, by_library
        ),
        "-",
    )
