"""Jobs that a process keeps: by what is in their plans, no more than so many, and never of another
plan.
"""

from __future__ import annotations

import gc
import weakref

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check, checked
from gale_nook.core.edits.values import set_value
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan, read_plan, write_plan
from gale_nook.core.plan.size import pieces
from gale_nook.web.kept import JOB_BYTES, PIECE_BYTES, KeptJobs


def test_an_equal_plan_is_worked_out_once(heron: Plan, catalogue: Catalogue) -> None:
    """A plan that was read again is another object with the same content."""
    kept = KeptJobs()
    first = kept.of(heron, catalogue)
    assert kept.of(read_plan(write_plan(heron).encode()), catalogue) is first
    assert checked(first).findings is checked(first).findings
    assert checked(first).findings == check(heron, catalogue).findings


def test_an_edit_is_never_shown_with_the_findings_before_it(
    heron: Plan, catalogue: Catalogue
) -> None:
    kept = KeptJobs()
    moved = apply(heron, set_value("pipes.exhaust.nodes.n-2.z_mm", -400.0), catalogue)
    before, after = kept.of(heron, catalogue), kept.of(moved, catalogue)
    assert checked(after).findings != checked(before).findings


def test_no_more_are_kept_than_so_many_the_least_looked_at_go_first(
    heron: Plan, catalogue: Catalogue
) -> None:
    kept = KeptJobs(2 * (JOB_BYTES + PIECE_BYTES * pieces(heron)))  # room for two
    plans = [heron.model_copy(update={"note": f"{number}"}) for number in range(3)]
    first, second = (kept.of(plan, catalogue) for plan in plans[:2])
    assert kept.of(plans[0], catalogue) is first  # looked at again: the second is now the older
    kept.of(plans[2], catalogue)
    assert kept.of(plans[0], catalogue) is first
    assert kept.of(plans[1], catalogue) is not second
    kept.clear()
    assert kept.of(plans[0], catalogue) is not first


def test_facts_are_taken_over_by_the_next_plan_of_the_same_job_alone(
    heron: Plan, catalogue: Catalogue
) -> None:
    kept = KeptJobs()
    plans = [heron.model_copy(update={"note": f"{number}"}) for number in range(3)]
    first, next_one, other = (
        kept.of(plan, catalogue, job_id) for plan, job_id in zip(plans, (1, 1, 2), strict=True)
    )
    assert next_one.store is first.store
    assert other.store is not first.store
    assert checked(next_one).findings is checked(first).findings


def test_a_job_goes_when_nobody_asks_for_it(heron: Plan, catalogue: Catalogue) -> None:
    """At once: nothing that is kept of it holds it in a circle."""
    job = Job(heron, catalogue)
    checked(job)
    gone = weakref.ref(job)
    gc.disable()
    try:
        del job
        assert gone() is None
    finally:
        gc.enable()
