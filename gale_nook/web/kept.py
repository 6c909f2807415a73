"""Jobs that this process keeps with what was worked out of them.

A revision never changes, and whoever looks at it goes from station to station. The next one takes
over what its edit does not touch.

Nothing is lost with a process: another one works it out anew.
"""

from __future__ import annotations

import hashlib

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, checked
from gale_nook.core.incremental import TraceStore
from gale_nook.core.job import Job, new_store
from gale_nook.core.plan.document import Plan, compact
from gale_nook.core.plan.size import pieces
from gale_nook.store.bounded import BoundedCache

MOST_BYTES = 60_000_000
JOB_BYTES = 1_500_000  # measured for a plan with few parts
PIECE_BYTES = 6_000  # more for each convex piece of the survey
MOST_STORES = 24  # jobs whose next plan takes over what the one before knew


class KeptJobs:
    """The last jobs, by the content of their plans."""

    def __init__(self, most_bytes: int = MOST_BYTES, most_stores: int = MOST_STORES) -> None:
        self._kept: BoundedCache[tuple[bytes, int], Job] = BoundedCache(most_bytes)
        self._stores: BoundedCache[int, TraceStore] = BoundedCache(most_stores)

    def of(self, plan: Plan, catalogue: Catalogue, job_id: int | None = None) -> Job:
        """Return the job of a plan, made now or kept; of an equal plan it is the same one.

        Args:
            job_id: whose plan it is: facts are taken over from its other plans.
        """
        # the job holds its catalogue, so that its id stays its own
        key = (hashlib.sha256(compact(plan).encode()).digest(), id(catalogue))
        size = JOB_BYTES + PIECE_BYTES * pieces(plan)
        return self._kept.of(key, lambda: Job(plan, catalogue, self._store(job_id)), size)

    def _store(self, job_id: int | None) -> TraceStore:
        return new_store() if job_id is None else self._stores.of(job_id, new_store, 1)

    def check_of(self, plan: Plan, catalogue: Catalogue) -> Check:
        """Return the check of a plan, made now or kept."""
        return checked(self.of(plan, catalogue))

    def clear(self) -> None:
        self._kept.clear()
        self._stores.clear()


kept_jobs = KeptJobs()
