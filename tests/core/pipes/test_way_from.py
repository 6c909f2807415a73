"""A way found from a place holds when the heater is put there."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.job import Job
from gale_nook.core.pipes.proposals import proposals
from gale_nook.core.pipes.way_from import exhaust_way_from
from gale_nook.core.plan.document import Plan
from gale_nook.core.spot.search import at_place, without_runs


def test_what_is_promised_from_a_place_is_found_there(heron: Plan, catalogue: Catalogue) -> None:
    """Where Heron's heater stands: the same way as the finder's first, with nothing of it over."""
    spot = heron.spot
    assert spot is not None
    found = exhaust_way_from(Job(heron, catalogue), spot)
    there = without_runs(at_place(Job(heron, catalogue), spot))
    way = next(iter(proposals(there)))
    assert (found.where, found.length_mm) == (way.where, way.length_mm)
    plan = apply(there.plan, way.command, catalogue)
    over = [f for f in check(plan, catalogue).findings if f.verdict.value == "over"]
    assert [f.rule for f in over if "exhaust" in f.runs] == []


@pytest.mark.parametrize("edges", [("left",), ("rear",)])
def test_it_keeps_to_the_edges_that_are_wanted(
    edges: tuple[str, ...], heron: Plan, catalogue: Catalogue
) -> None:
    pipes = heron.pipes.model_copy(update={"edges": edges})
    assert heron.spot is not None
    job = Job(heron.model_copy(update={"pipes": pipes}), catalogue)
    found = exhaust_way_from(job, heron.spot)
    assert found.where in {"", f"to the {edges[0]} side", f"to the {edges[0]}"}
