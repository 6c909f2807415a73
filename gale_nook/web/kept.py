"""Jobs that this process keeps with what was worked out of them.

A revision never changes, and whoever looks at it goes from station to station.

Nothing is lost with a process: another one works it out anew.
"""

from __future__ import annotations

import hashlib

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, checked
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan, compact
from gale_nook.core.plan.size import pieces
from gale_nook.store.bounded import BoundedCache

MOST_BYTES = 60_000_000
JOB_BYTES = 1_500_000  # measured for a plan with few parts
PIECE_BYTES = 6_000  # more for each convex piece of the survey


class KeptJobs:
    """The last jobs, by the content of their plans."""

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self._kept: BoundedCache[tuple[bytes, int], Job] = BoundedCache(most_bytes)

    def of(self, plan: Plan, catalogue: Catalogue) -> Job:
        """Return the job of a plan, made now or kept; of an equal plan it is the same one."""
        # the job holds its catalogue, so that its id stays its own
        key = (hashlib.sha256(compact(plan).encode()).digest(), id(catalogue))
        size = JOB_BYTES + PIECE_BYTES * pieces(plan)
        return self._kept.of(key, lambda: Job(plan, catalogue), size)

    def check_of(self, plan: Plan, catalogue: Catalogue) -> Check:
        """Return the check of a plan, made now or kept."""
        return checked(self.of(plan, catalogue))

    def clear(self) -> None:
        self._kept.clear()


kept_jobs = KeptJobs()
