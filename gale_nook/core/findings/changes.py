"""Findings of one plan against those of another: what changed, the worst first."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from gale_nook.core.findings.finding import SEVERITY, Finding

LEAST_CHANGE = 0.05  # of a margin, in its unit, that is told


@dataclass(frozen=True, slots=True)
class Changed:
    """A finding before and after; None where there was none."""

    before: Finding | None
    after: Finding | None

    @property
    def worse(self) -> bool:
        """Whether its verdict got worse."""
        if self.after is None or self.before is None:
            return self.before is None
        return SEVERITY[self.after.verdict] < SEVERITY[self.before.verdict]

    @property
    def turned(self) -> bool:
        """Whether its verdict is another, or it is new or gone."""
        if self.after is None or self.before is None:
            return True
        return self.after.verdict is not self.before.verdict


def changes(before: Iterable[Finding], after: Iterable[Finding]) -> tuple[Changed, ...]:
    """Return every finding whose verdict or margin differs, the worst first."""
    then = {finding.key: finding for finding in before}
    now = {finding.key: finding for finding in after}
    changed = [
        Changed(then.get(key), now.get(key))
        for key in dict.fromkeys([*now, *then])
        if _differs(then.get(key), now.get(key))
    ]
    return tuple(sorted(changed, key=_worst_first))


def _differs(before: Finding | None, after: Finding | None) -> bool:
    if before is None or after is None:
        return True
    if before.verdict is not after.verdict:
        return True
    if before.margin is None or after.margin is None:
        return before.margin is not after.margin
    return abs(before.margin - after.margin) > LEAST_CHANGE


def _worst_first(changed: Changed) -> tuple[bool, int, float]:
    after = changed.after
    rank = SEVERITY[after.verdict] if after is not None else len(SEVERITY)
    margin = after.margin if after is not None and after.margin is not None else 0.0
    return (not changed.worse, rank, margin)
