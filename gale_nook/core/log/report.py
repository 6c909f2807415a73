"""A season in figures, for the command line and other programs."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import asdict
from typing import Any

from gale_nook.core.job import Job
from gale_nook.core.log.entries import LogEntry
from gale_nook.core.log.season import season
from gale_nook.core.log.service import due_list


def log_report(job: Job, entries: Sequence[LogEntry], today: str) -> dict[str, Any]:
    """Return nights, what was learned and what is due as plain data."""
    found = season(job, entries)
    return {
        "plan": job.plan.name,
        "nights": [
            {
                "on": night.entry.on,
                "used_l": night.used.litres,
                "doubt": night.used.doubt,
                "planned_l": night.planned_l,
                "low_l": night.low_l,
                "learned_l": night.learned_l,
                "high_l": night.high_l,
                "reasons": list(night.reasons),
            }
            for night in found.nights
        ],
        "factors": [asdict(factor) for factor in found.fit.factors] if found.fit else [],
        "missed_percent": {"plan": found.off_percent, "learned": found.learned_percent},
        "drift_percent_a_month": found.drift.percent_a_month if found.drift else None,
        "litres": found.litres,
        "hours_h": found.hours_h,
        "due": [
            {"id": due.kind.id, "label": due.kind.label, "state": due.state, "why": due.why}
            for due in due_list(job, entries, found.nights, today)
        ],
    }


def log_lines(report: dict[str, Any]) -> Iterator[str]:
    """Yield a report as lines of text."""
    off = [night for night in report["nights"] if night["reasons"] or night["doubt"]]
    yield f"{len(report['nights'])} nights, {report['litres']:.1f} l, {report['hours_h']:.0f} h"
    for factor in report["factors"]:
        yield (
            f"{factor['name']:12} {factor['middle']:.2f} ({factor['low']:.2f} to "
            f"{factor['high']:.2f})"
        )
    if report["drift_percent_a_month"] is not None:
        yield f"drift        {report['drift_percent_a_month']:+.1f} % a month"
    for night in off:
        yield f"{night['on']}   {night['doubt'] or night['reasons'][0]}"
    for due in report["due"]:
        if due["state"] != "later":
            yield f"{due['state']:12} {due['label']}: {due['why']}"
