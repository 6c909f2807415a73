"""The findings on the board: a number each, worst first, and for the chosen one its dimension line
with its figure.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.mapping import Frame, frame_round
from gale_nook.drawing.scene import Badge, Circle, Group, Line, Node, Project, Text

Key = tuple[str, str, str]

AROUND_MM = 220.0  # shown round a finding that is looked at


def mark_numbers(findings: Iterable[Finding]) -> dict[Key, int]:
    """Return the number on the drawing of each finding, by its key: of those that are not clear and
    that can be drawn, worst first.
    """
    drawn = [f for f in findings if f.verdict is not Verdict.CLEAR and f.marks]
    return {finding.key: number for number, finding in enumerate(drawn, 1)}


def frame_of(finding: Finding) -> Frame | None:
    """Return the frame that shows a finding's marks; None where it has none."""
    points = [point for mark in finding.marks for point in (mark.start, mark.end)]
    return frame_round(points, AROUND_MM) if points else None


def marks(
    findings: Iterable[Finding],
    numbers: Mapping[Key, int],
    project: Project,
    system: UnitSystem,
) -> Iterator[Node]:
    """Yield each finding's marks on one drawing: badge, dimension lines, and the measured value."""
    for finding in findings:
        number = numbers.get(finding.key)
        if number is None:
            continue
        ends = [(project(mark.start), project(mark.end)) for mark in finding.marks]
        value = _value(finding, system)
        lines: list[Node] = []
        for start, end in ends:
            lines += [
                Line([start, end], "dimension"),
                Circle(start, 2.2, "dimension-end"),
                Circle(end, 2.2, "dimension-end"),
            ]
        (u0, v0), (u1, v1) = ends[0]
        middle = ((u0 + u1) / 2, (v0 + v1) / 2)
        figure = [Text((middle[0] + 12, middle[1] - 8), value, "dimension-text", halo=True)]
        yield Group(
            [
                Group([*lines, *(figure if value else ())], {"class": "measured"}),
                Badge(middle, str(number), "badge"),
            ],
            {
                "class": f"mark verdict-{finding.verdict.value}",
                "data-finding": f"{finding.rule} {finding.subject}",
                "data-number": str(number),
            },
            title=f"{number}. {finding.title}" + (f": {value}" if value else ""),
        )


def _value(finding: Finding, system: UnitSystem) -> str:
    """The measured value; nothing for what is counted, which the list of findings says better."""
    kind = {"mm": "mm", "deg": "deg", "W": "w", "C": "c"}.get(finding.unit)
    if finding.measured is None or kind is None:
        return ""
    return format_quantity(
        finding.measured if kind != "c" else round(finding.measured), kind, system
    )
