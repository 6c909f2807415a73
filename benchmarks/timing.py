"""Measuring a call and its baseline turn by turn, so that a change of the machine's speed hits
both.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass

WARM_UP = 3


@dataclass(frozen=True)
class Figure:
    """Medians in milliseconds of a call and of its baseline, and the median of their ratios."""

    name: str
    median_ms: float
    baseline: str
    baseline_ms: float
    ratio: float

    def line(self, aim: str) -> str:
        return (
            f"{self.name:44} {self.median_ms:8.2f} ms   {self.ratio:6.2f} × {self.baseline} "
            f"({self.baseline_ms:.2f} ms)   aim: {aim}"
        )


def compare(
    name: str,
    call: Callable[[], object],
    baseline_name: str,
    baseline: Callable[[], object],
    rounds: int = 40,
) -> Figure:
    """Return the figure of a call against its baseline, in `rounds` pairs."""
    for _ in range(WARM_UP):
        call()
        baseline()
    pairs = [(_ms(call), _ms(baseline)) for _ in range(rounds)]
    ratio = statistics.median(a / b for a, b in pairs)
    return Figure(
        name,
        statistics.median(a for a, _ in pairs),
        baseline_name,
        statistics.median(b for _, b in pairs),
        ratio,
    )


def _ms(call: Callable[[], object]) -> float:
    begun = time.perf_counter()
    call()
    return (time.perf_counter() - begun) * 1000
