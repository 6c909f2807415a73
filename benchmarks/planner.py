"""Whole layouts: how soon the first is there and how soon all, against one whole check of the same
plan; and of many generated vehicles, whether what is shown is clear.

Run by itself: it takes minutes.
"""

from __future__ import annotations

import statistics
import sys
import time
from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.checking import check
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.planner.search import LayoutSearch, find_layouts
from gale_nook.demo.load import demo_plan
from tests.vans import small_van

DEMOS = ("heron", "dunlin", "plover", "coot", "quarto", "wren")
VEHICLES = 50
BOOK = load_catalogue()


@dataclass(frozen=True)
class Timed:
    """A search.

    Attributes:
        first_s: until the first layout was told; None for none.
        check_s: one whole check of the plan, from nothing.
    """

    found: LayoutSearch
    first_s: float | None
    all_s: float
    check_s: float

    def line(self, name: str) -> str:
        first = f"{self.first_s:6.1f} s" if self.first_s is not None else "  none  "
        ratio = self.all_s / self.check_s
        return (
            f"{name:12} first {first}   all {self.all_s:6.1f} s   "
            f"{len(self.found.layouts)} layouts   "
            f"{self.found.tried:4} of {self.found.choices:5} choices   {ratio:6.0f} × one check"
        )


def timed(plan: Plan, effort: str) -> Timed:
    """Return one search with its times."""
    begun = time.perf_counter()
    check(plan, BOOK)
    check_s = time.perf_counter() - begun
    first: list[float] = []
    begun = time.perf_counter()

    def told(_done: int, _of: int, _words: str, found: LayoutSearch | None) -> None:
        if found is not None and found.layouts and not first:
            first.append(time.perf_counter() - begun)

    found = find_layouts(Job(plan, BOOK), effort, told)  # type: ignore[arg-type]
    return Timed(found, first[0] if first else None, time.perf_counter() - begun, check_s)


def lines(effort: str) -> Iterator[str]:
    """Yield the figures of the demo's plans, then of generated vehicles."""
    for name in DEMOS:
        yield timed(demo_plan(name), effort).line(name)
    firsts, over, none = [], 0, 0
    for seed in range(VEHICLES):
        plan = small_van(seed, more=3 + seed % 8)
        result = timed(plan, "quick")
        firsts += [result.first_s] if result.first_s is not None else []
        none += not result.found.layouts
        for layout in result.found.layouts:
            over += check(apply(plan, layout.command, BOOK), BOOK).tally()["over"]
    median = statistics.median(firsts) if firsts else 0.0
    yield (
        f"{VEHICLES} vehicles: first after {median:.1f} s in the median, {none} without any, "
        f"{over} findings over in all layouts"
    )


if __name__ == "__main__":
    for line in lines(sys.argv[1] if len(sys.argv) > 1 else "usual"):
        print(line, flush=True)
