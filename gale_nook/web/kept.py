"""Checks that this process keeps: a revision never changes, and whoever looks at it goes from
station to station.

Nothing is lost with a process: another one checks anew.
"""

from __future__ import annotations

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, check
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.size import pieces
from gale_nook.store.bounded import BoundedCache

MOST_BYTES = 60_000_000
CHECK_BYTES = 1_500_000  # measured for a plan with few parts
PIECE_BYTES = 6_000  # more for each convex piece of the survey


class KeptChecks:
    """The last checks, by the plan and catalogue that they are of."""

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self._kept: BoundedCache[tuple[int, int], tuple[Plan, Catalogue, Check]] = BoundedCache(
            most_bytes
        )

    def of(self, plan: Plan, catalogue: Catalogue) -> Check:
        """Return the check of a plan, made now or kept."""
        size = CHECK_BYTES + PIECE_BYTES * pieces(plan)
        # both are held beside the check, so that their ids stay theirs
        return self._kept.of(
            (id(plan), id(catalogue)), lambda: (plan, catalogue, check(plan, catalogue)), size
        )[2]

    def clear(self) -> None:
        self._kept.clear()


kept_checks = KeptChecks()
