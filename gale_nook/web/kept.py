"""Checks that this process keeps: a revision never changes, and whoever looks at it goes from station to station.

Nothing is lost with a process: another one checks anew.
"""

from __future__ import annotations

import threading
from collections import OrderedDict

from gale_nook.core.catalogue import Catalogue
from gale_nook.core.checking import Check, check
from gale_nook.core.plan.document import Plan

MOST = 16


class KeptChecks:
    """The last checks, by the very plan and catalogue that they are of; both are held, so that their ids stay theirs."""

    def __init__(self, most: int = MOST) -> None:
        self._most = most
        self._kept: OrderedDict[tuple[int, int], tuple[Plan, Catalogue, Check]] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, plan: Plan, catalogue: Catalogue) -> Check:
        """Return the check of a plan, made now or kept."""
        key = (id(plan), id(catalogue))
        with self._lock:
            found = self._kept.get(key)
            if found is not None:
                self._kept.move_to_end(key)
                return found[2]
        made = check(plan, catalogue)
        with self._lock:
            self._kept[key] = (plan, catalogue, made)
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return made

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()


kept_checks = KeptChecks()
