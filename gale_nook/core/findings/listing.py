"""Choosing what to report when one rule looks at many things."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from gale_nook.core.findings.finding import Finding, Verdict


def worst_and_nearest(findings: Iterable[Finding], keep_clear: int = 2) -> Iterator[Finding]:
    """Yield every finding that is not clear, and the clear ones with the smallest margins."""
    clear = []
    for finding in findings:
        if finding.verdict is Verdict.CLEAR:
            clear.append(finding)
        else:
            yield finding
    clear.sort(key=lambda f: (f.margin if f.margin is not None else 0.0, f.subject))
    yield from clear[:keep_clear]


@dataclass(frozen=True, slots=True)
class Candidate:
    """Something a rule may have to look at: a margin that it cannot fall below, and
    the exact look.
    """

    least_margin: float
    look: Callable[[], Finding]


def nearest_first(
    candidates: Iterable[Candidate], tolerance: float, keep_clear: int = 2
) -> Iterator[Finding]:
    """Yield what `worst_and_nearest` would of all candidates, looking closely at as few as that
    needs.

    They are taken by their least margin; once that is past the tolerance and past the margins of
    `keep_clear` clear ones, no later one can be reported.
    """
    clear: list[Finding] = []
    for candidate in sorted(candidates, key=lambda c: c.least_margin):
        if candidate.least_margin > tolerance and len(clear) >= keep_clear:
            worst_kept = heapq.nsmallest(keep_clear, (f.margin or 0.0 for f in clear))
            if not worst_kept or candidate.least_margin > worst_kept[-1]:
                break
        finding = candidate.look()
        if finding.verdict is Verdict.CLEAR:
            clear.append(finding)
        else:
            yield finding
    clear.sort(key=lambda f: (f.margin if f.margin is not None else 0.0, f.subject))
    yield from clear[:keep_clear]
