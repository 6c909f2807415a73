"""The first firing in figures, for the command line and other programs."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from gale_nook.core.firing.expected import Range, expected_phases
from gale_nook.core.firing.places import surveyed_places
from gale_nook.core.firing.pre_checks import pre_checks
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import say


def firing_report(job: Job) -> dict[str, Any]:
    """Return the band of every reading in every phase, the checks before, and the places to
    measure, as plain data; what has no band is left out.
    """
    return {
        "plan": job.plan.name,
        "checks": [{"id": each.id, "text": each.text} for each in pre_checks(job)],
        "phases": [
            {
                "phase": each.phase,
                "begins_s": _ends(each.begins_s),
                "lasts_s": _ends(each.lasts_s),
                "expected": {
                    name: {"low": value.low, "high": value.high, "how": say(value.how)}
                    for name, value in each.values.items()
                },
                "read": job.plan.firing.reading(each.phase).model_dump(
                    mode="json", exclude={"id"}, exclude_none=True
                ),
            }
            for each in expected_phases(job)
        ],
        "places": [
            {
                "id": place.id,
                "name": place.name,
                "expected_c": place.expected_c,
                "most_c": place.most_c,
            }
            for place in surveyed_places(job)
        ],
    }


def _ends(span: Range | None) -> list[float] | None:
    return list(span) if span is not None else None


def firing_lines(report: dict[str, Any]) -> Iterator[str]:
    """Yield the report as lines of text."""
    yield f"{report['plan']}: what the first firing should show"
    for phase in report["phases"]:
        bands = ", ".join(
            f"{name} {band['low']:.4g} to {band['high']:.4g}"
            for name, band in phase["expected"].items()
        )
        begins = phase["begins_s"]
        when = f" from {begins[0]:g} to {begins[1]:g} s" if begins is not None else ""
        yield f"{phase['phase']}{when}: {bands}"
    for place in report["places"]:
        most = f", {place['most_c']:.0f} at most" if place["most_c"] is not None else ""
        yield f"{place['name']}: {place['expected_c']:.0f} °C{most}"
