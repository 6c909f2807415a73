"""The duct network against a general pipe-network library on the same trees; the warm air's rules
against the pipes'.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from benchmarks.duct_trees import by_library, network_of, tree_case
from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.air.station import AIR
from gale_nook.core.apply import applied
from gale_nook.core.checking import check, checked
from gale_nook.core.ducts.network import solve
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.fitted.usable import usable
from gale_nook.core.job import Job
from gale_nook.demo.load import demo_plan

OUTLETS = (3, 10, 30)


def figures() -> Iterator[tuple[Figure, str]]:
    yield from _against_the_library()
    book, plan = load_catalogue(), demo_plan("heron")

    def rules() -> None:
        check(plan, book, ("air",))

    def pipe_rules() -> None:
        check(plan, book, ("pipes",))

    yield (
        compare("Heron's air and all its rules, from nothing", rules, "its pipe rules", pipe_rules),
        "-",
    )
    yield (
        compare("Heron's usable output", lambda: usable(Job(plan, book)), "its air rules", rules),
        "-",
    )
    job = Job(plan, book)
    checked(job)

    def rules_again() -> None:
        findings_of(job, AIR.rules)

    yield (
        compare("all air rules of Heron, its air known", rules_again, "its pipe rules", pipe_rules),
        "under 10 ms",
    )
    turned = set_value("air.ducts.bed.outlet.open_percent", 60.0)

    def throttled() -> None:
        checked(job.with_plan(applied(job, turned)), frozenset({"air"}))

    yield compare("a throttle turned", throttled, "its air rules", rules), "under 50 ms"


def _against_the_library() -> Iterator[tuple[Figure, str]]:
    # Even trees, with no duct near laminar flow, where the library has a law of its own.
    cases = [tree_case(n, seed=n + 2, source_pa=160.0 * n**0.7, even=True) for n in OUTLETS]
    theirs = by_library([*cases, *cases])[len(cases) :]  # what it reads once is read by then
    for outlets, case, answer in zip(OUTLETS, cases, theirs, strict=True):
        network = network_of(case, answer["density_kg_m3"], answer["viscosity_pa_s"])
        ours = np.array(solve(network).branch_kg_s)
        other = np.array(answer["flow_kg_s"])
        apart = 100 * float(np.abs(ours / other - 1).max())
        figure = compare(f"a tree of {outlets} outlets", lambda n=network: solve(n), "itself", int)
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
