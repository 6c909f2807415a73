"""The margin gauge: a line, the allowed band hatched, a needle whose shape tells the verdict."""

from __future__ import annotations

from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.drawing.scene import Line, Node, Point, Scene

WIDTH, HEIGHT = 300.0, 26.0
LEFT, RIGHT, AXIS = 4.0, 296.0, 9.0
BAND = 4.0


def gauge(finding: Finding) -> Scene | None:
    """Return the gauge of a finding, or None where there is no value or no limit to draw."""
    measured = finding.measured
    low = finding.band.minimum
    high = finding.band.maximum
    if measured is None or (low is None and high is None):
        return None
    first, last = _domain(measured, low, high)

    def u(value: float) -> float:
        return LEFT + (value - first) / (last - first) * (RIGHT - LEFT)

    start = u(low) if low is not None else LEFT
    end = u(high) if high is not None else RIGHT
    nodes: list[Node] = [
        Line([(LEFT, AXIS), (RIGHT, AXIS)], "gauge-line"),
        Line([(start, AXIS), (end, AXIS)], "gauge-hatch"),  # as wide as the band, and dashed
        Line(
            [(start, AXIS - BAND), (end, AXIS - BAND), (end, AXIS + BAND), (start, AXIS + BAND)],
            "gauge-band",
            closed=True,
        ),
        _needle(u(measured), finding.verdict),
    ]
    label = f"{finding.title}: {finding.verdict.value}"
    return Scene(label, (WIDTH, HEIGHT), nodes, {"class": "gauge", "aria-hidden": "true"})


def _domain(measured: float, low: float | None, high: float | None) -> tuple[float, float]:
    known = [value for value in (measured, low, high) if value is not None]
    first, last = min(known), max(known)
    if low is None:
        first = min(first, 0.0)
    span = max(last - first, abs(last) * 0.2, 1e-6)
    # an open band runs on to the end of the line
    return first - 0.12 * span, last + (0.35 if high is None else 0.12) * span


def _needle(u: float, verdict: Verdict) -> Line:
    """A stem on its head. Over: a square; tight: a diamond; accepted: an open triangle; clear: a
    triangle.
    """
    y = AXIS + 8
    heads: dict[Verdict, list[Point]] = {
        Verdict.OVER: [(u, y), (u + 5, y), (u + 5, y + 8), (u - 5, y + 8), (u - 5, y), (u, y)],
        Verdict.TIGHT: [(u, y - 1), (u + 6, y + 4), (u, y + 9), (u - 6, y + 4), (u, y - 1)],
    }
    triangle = [(u, y - 1), (u + 6, y + 8), (u - 6, y + 8), (u, y - 1)]
    cls = f"needle verdict-{verdict.value}" + (" open" if verdict is Verdict.ACCEPTED else "")
    return Line([(u, AXIS - 7), *heads.get(verdict, triangle)], cls, closed=True)
