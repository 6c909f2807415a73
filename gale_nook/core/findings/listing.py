"""Choosing what to report when one rule looks at many things."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

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
