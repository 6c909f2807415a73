"""Checks that a process keeps: by the very plan, no more than so many, and never
of another plan.
"""

from __future__ import annotations

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.plan.document import Plan, read_plan, write_plan
from gale_nook.core.plan.size import pieces
from gale_nook.web.kept import CHECK_BYTES, PIECE_BYTES, KeptChecks


def test_the_same_plan_is_checked_once_and_an_equal_one_anew(
    heron: Plan, catalogue: Catalogue
) -> None:
    """An equal plan is another object; it gets the same findings."""
    kept = KeptChecks()
    first = kept.of(heron, catalogue)
    assert kept.of(heron, catalogue) is first
    equal = read_plan(write_plan(heron).encode())
    other = kept.of(equal, catalogue)
    assert other is not first
    assert other.findings == first.findings == check(heron, catalogue).findings


def test_an_edit_is_never_shown_with_the_findings_before_it(
    heron: Plan, catalogue: Catalogue
) -> None:
    kept = KeptChecks()
    before = kept.of(heron, catalogue)
    after = kept.of(
        apply(heron, set_value("pipes.exhaust.nodes.n-2.z_mm", -400.0), catalogue), catalogue
    )
    assert after.findings != before.findings


def test_no_more_are_kept_than_so_many_the_least_looked_at_go_first(
    heron: Plan, catalogue: Catalogue
) -> None:
    kept = KeptChecks(2 * (CHECK_BYTES + PIECE_BYTES * pieces(heron)))  # room for two
    plans = [heron.model_copy() for _ in range(3)]
    first, second = (kept.of(plan, catalogue) for plan in plans[:2])
    assert kept.of(plans[0], catalogue) is first  # looked at again: the second is now the older
    kept.of(plans[2], catalogue)
    assert kept.of(plans[0], catalogue) is first
    assert kept.of(plans[1], catalogue) is not second
    kept.clear()
    assert kept.of(plans[0], catalogue) is not first
