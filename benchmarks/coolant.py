"""Coolant loops against a general pipe-network library; the loop's rules, its night, and a level as
it is dragged.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from benchmarks.duct_trees import by_library
from benchmarks.loops import loop_case, network_of_loop
from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import applied
from gale_nook.core.checking import checked
from gale_nook.core.coolant.station import COOLANT
from gale_nook.core.ducts.network import solve
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.fuel.station import FUEL
from gale_nook.core.job import Job
from gale_nook.core.loop.night import loop_night
from gale_nook.demo.load import demo_plan

RUNGS = (2, 5, 14)  # 4, 13 and 40 branches
ALONE = frozenset({"coolant"})


def figures() -> Iterator[tuple[Figure, str]]:
    yield from _against_the_library()
    book = load_catalogue()
    job = Job(demo_plan("quarto"), book)
    checked(job)
    levels = iter(range(1, 10_000))

    def rules() -> None:
        findings_of(job, COOLANT.rules)

    def fuel_rules() -> None:
        findings_of(job, FUEL.rules)

    def dragged() -> None:
        level = set_value("coolant.parts.floor-pump.level_percent", 40.0 + next(levels) / 200)
        checked(job.with_plan(applied(job, level)), ALONE)

    def night() -> None:
        loop_night(Job(job.plan, book))

    yield compare("all coolant rules of Quarto", rules, "its fuel rules", fuel_rules), "under 10 ms"
    yield compare("coolant as a level is dragged", dragged, "its fuel rules", fuel_rules), "100 ms"
    yield compare("a night of the loop", night, "its fuel rules", fuel_rules, 8), "under 60 ms"


def _against_the_library() -> Iterator[tuple[Figure, str]]:
    cases = [loop_case(rungs, seed=rungs, source_pa=15_000.0) for rungs in RUNGS]
    theirs = by_library([*cases, *cases])[len(cases) :]  # what it reads once is read by then
    for case, answer in zip(cases, theirs, strict=True):
        network = network_of_loop(case, answer["density_kg_m3"], answer["viscosity_pa_s"])
        ours, other = np.array(solve(network).branch_kg_s), np.array(answer["flow_kg_s"])
        large = np.abs(other) > 0.1 * np.abs(other).max()
        apart = 100 * float(np.abs(ours[large] / other[large] - 1).max())
        branches = len(case["branches"])
        figure = compare(
            f"a loop of {branches} branches", lambda n=network: solve(n), "itself", int
        )
        their_ms = answer["seconds"] * 1000
        yield (
            Figure(
                figure.name,
                figure.median_ms,
                f"the library, flows {apart:.2f} % apart",
                their_ms,
                figure.median_ms / their_ms,
            ),
            "under 0.05 × and 1 %",
        )
