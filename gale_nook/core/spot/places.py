"""Places for the heater that are measured at once: a grid of them, or the one where it stands.

A spot rule says what it measures between the heater and other things, as arrays over places. The
map takes the margins at every place of the floor; the exact check is one place of the same, and
only what is reported there gets its words and marks.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from functools import partial
from typing import Any

import numpy as np

from gale_nook.core.findings.finding import Band, Finding
from gale_nook.core.findings.listing import Candidate, nearest_first
from gale_nook.core.findings.rule import Rule, mark_rule, tolerance_of
from gale_nook.core.incremental import Trace, noted, seen
from gale_nook.core.job import Job, unshared_fact
from gale_nook.core.spot.field import Grid, Window


@dataclass(frozen=True, slots=True)
class Places:
    """Places that are measured at once.

    Attributes:
        job: with the heater turned as it is to be; where it stands is one of the places when there
            is only one, and does not matter else.
        cap_mm: margins beyond this are all the same.
        kept: what several rules have in common.
    """

    job: Job
    grid: Grid
    cap_mm: float = math.inf
    kept: dict[Any, Trace] = field(default_factory=dict)

    @property
    def everywhere(self) -> Window:
        return self.grid.everywhere

    def offset_mm(self, x_mm: float, y_mm: float) -> tuple[float, float]:
        """Return how far a point of the vehicle lies from the heater's reference point."""
        spot = self.job.plan.spot
        if spot is None:
            raise ValueError("the heater has no spot yet")
        return (x_mm - spot.x_mm, y_mm - spot.y_mm)

    def near(
        self, bounds: tuple[float, ...], reach_mm: float, offset: tuple[float, float]
    ) -> Window | None:
        """Return the places from which a point at an offset lies within reach of bounds, or so near
        that the margin stays under the cap; None when there are none.

        Args:
            bounds: low x, low y, low z, high x, high y, high z.
        """
        out = reach_mm + self.cap_mm
        if math.isinf(out):
            return self.everywhere
        return self.grid.window(
            bounds[0] - out - offset[0],
            bounds[1] - out - offset[1],
            bounds[3] + out - offset[0],
            bounds[4] + out - offset[1],
        )

    def once(self, key: Any, work: Callable[[], Any]) -> Any:
        """Return what some work gives, done once."""
        if key not in self.kept:
            self.kept[key] = noted(self.job, work)
        return seen(self.job, self.kept[key])


@dataclass(frozen=True, slots=True)
class Measure:
    """What a rule measures between the heater and one other thing.

    Attributes:
        subject: of the finding.
        measured: of places x (1, n) and y (m, 1), or both (k,): the values there, in the rule's
            unit; None when a measurement of the vehicle is missing.
        report: the finding for a measured value, where the heater stands.
        window: the places where it can matter.
        least: what it is never less than, over the window, where that costs less to know.
        group: measures of one group compete: those that are over or tight are reported, and the
            nearest of the clear ones. Each of no group is reported.
        same_everywhere: it does not depend on the place.
        alike: turns of the heater with the same key have the same values; None for no others.
    """

    subject: str
    band: Band
    measured: Callable[[Any, Any], Any] | None
    report: Callable[[float | None], Finding]
    window: Window
    least: Any = None
    group: str = ""
    same_everywhere: bool = False
    alike: tuple[Any, ...] | None = None

    def margins(self, value: Any) -> Any:
        """Return how far inside the band measured values lie; negative outside."""
        band = self.band
        if band.maximum is None:
            return value - (band.minimum or 0.0)
        above = band.maximum - value
        return above if band.minimum is None else np.minimum(value - band.minimum, above)


def known(values: Any) -> Callable[[Any, Any], Any]:
    """Return what was worked out for all places already, as a measure wants it."""
    return lambda _x, _y: values


MeasureFunction = Callable[[Places, Rule], Iterator[Measure]]


@dataclass(frozen=True, slots=True)
class SpotRule(Rule):
    """A check that measures at places."""

    measures: MeasureFunction | None = None


def spot_rule(
    rule_id: str, title: str, unit: str = "mm", hazard: str | None = None, keep_clear: int = 1
) -> Callable[[MeasureFunction], MeasureFunction]:
    """Mark the decorated generator of measures as a rule.

    Args:
        keep_clear: how many clear findings of each group are reported.
    """

    def mark(measures: MeasureFunction) -> MeasureFunction:
        check = partial(_findings_here, measures=measures, keep_clear=keep_clear)
        over = partial(_over_here, measures=measures)
        mark_rule(
            measures, SpotRule(rule_id, title, unit, hazard, check, over=over, measures=measures)
        )
        return measures

    return mark


def here(job: Job) -> Places | None:
    """Return the one place where the heater stands; None while it has none."""
    spot = job.plan.spot
    if spot is None:
        return None
    grid = Grid(np.array([spot.x_mm]), np.array([spot.y_mm]))
    return Places(job, grid, kept=_kept_here(job))


@unshared_fact
def _kept_here(_job: Job) -> dict[Any, Trace]:
    """What several rules have in common at the place where the heater stands: no job is held by
    what it keeps itself, or it would be there until cycles are looked for.
    """
    return {}


def _findings_here(
    job: Job, this: Rule, *, measures: MeasureFunction, keep_clear: int
) -> Iterator[Finding]:
    """The exact check: the measures at the one place, and what is reported of them."""
    at = here(job)
    if at is None:
        return
    for grouped, subjects in _groups_of(measures(at, this)).items():
        looks = [Candidate(min(map(_least_margin, of)), partial(_look, at, of)) for of in subjects]
        if grouped:
            yield from nearest_first(looks, tolerance_of(job, this.unit), keep_clear)
        else:
            yield from (look.look() for look in looks)


def _over_here(job: Job, this: Rule, *, measures: MeasureFunction) -> Iterator[Finding]:
    """What the exact check finds over; what cannot be is not looked at."""
    at = here(job)
    if at is None:
        return
    for subjects in _groups_of(measures(at, this)).values():
        for of in subjects:
            if min(map(_least_margin, of)) < 0:
                nearest, value = _nearest(at, of)
                if value is not None and nearest.margins(value) < 0:
                    yield nearest.report(value)


def _groups_of(measures: Iterable[Measure]) -> dict[str, list[list[Measure]]]:
    """The measures of each subject, by the group that they compete in; "" for those of none."""
    groups: dict[str, dict[str, list[Measure]]] = {}
    for measure in measures:
        groups.setdefault(measure.group, {}).setdefault(measure.subject, []).append(measure)
    return {group: list(subjects.values()) for group, subjects in groups.items()}


def _least_margin(measure: Measure) -> float:
    return -math.inf if measure.least is None else float(measure.margins(measure.least))


def _look(at: Places, measures: list[Measure]) -> Finding:
    nearest, value = _nearest(at, measures)
    return nearest.report(value)


def _nearest(at: Places, measures: list[Measure]) -> tuple[Measure, float | None]:
    """Return which of one subject's measures, one of each of its pieces, is nearest its limit, and
    its value.
    """
    if len(measures) == 1:
        return measures[0], _value(at, measures[0])
    best, margin, chosen = None, math.inf, measures[0]
    for measure in sorted(measures, key=_least_margin):
        if _least_margin(measure) > margin:
            break
        value = _value(at, measure)
        if value is not None and measure.margins(value) < margin:
            best = value
            margin = float(measure.margins(value))
            chosen = measure
    return chosen, best


def _value(at: Places, measure: Measure) -> float | None:
    if measure.measured is None:
        return None
    return float(np.ravel(measure.measured(*at.everywhere.places(at.grid)))[0])
