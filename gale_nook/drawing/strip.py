"""The strip of a first firing: phases side by side, for each reading its band, the trace of a
device and what was typed.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from gale_nook.core.base.phases import PHASES, PhaseWord
from gale_nook.core.firing.expected import Expected, PhaseExpected
from gale_nook.core.plan.firing import Firing, Trace
from gale_nook.drawing.scene import Circle, Line, Node, Point, Rect, Scene, Text

WIDTH, LEFT, TOP, ROW, GAP, FOOT = 780.0, 66.0, 30.0, 76.0, 10.0, 4.0
SHARES = {"check": 0.9, "full": 1.2}  # of a column's width; 1 for the others
ROWS: tuple[tuple[str, str, str], ...] = (
    ("voltage_v", "voltage", "V"),
    ("current_a", "current", "A"),
    ("pump_hz", "ticks", "/s"),
    ("outlet_c", "warm end", "°C"),
)
ROOM_SHARE = 0.12  # of a row's range, kept free over and under it
INSET = 3.0
TEXT_ROOM_PX = 15.0


@dataclass(frozen=True, slots=True)
class Column:
    """Where a phase stands on the strip."""

    phase: PhaseWord
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class Scale:
    """Of a row: which value stands at its lower edge, and at its upper."""

    least: float
    most: float
    top: float

    def y(self, value: float) -> float:
        share = (value - self.least) / (self.most - self.least)
        return self.top + ROW - TEXT_ROOM_PX - share * (ROW - TEXT_ROOM_PX)


def strip(
    expected: Sequence[PhaseExpected], firing: Firing, labels: Mapping[PhaseWord, str]
) -> Scene | None:
    """Return the strip; None without anything expected.

    Args:
        labels: of the phases.
    """
    if not expected:
        return None
    columns, nodes = _columns(), list[Node]()
    height = TOP + len(ROWS) * (ROW + GAP) + FOOT
    for column in columns:
        nodes.append(
            Rect(
                (column.low, TOP - 6),
                (column.high - column.low - INSET, height - TOP),
                "strip-phase",
            )
        )
        middle = (column.low + column.high) / 2
        nodes.append(Text((middle, TOP - 12), labels[column.phase], "strip-title", "middle"))
    for number, (name, words, unit) in enumerate(ROWS):
        top = TOP + number * (ROW + GAP)
        nodes += _row(name, (words, unit), top, columns, expected, firing)
    label = "Phases of the first firing: expected bands, and what was read"
    return Scene(label, (WIDTH, height), nodes, {"class": "drawing strip"})


def _columns() -> list[Column]:
    shares = [SHARES.get(phase, 1.0) for phase in PHASES]
    wide, results, at = (WIDTH - LEFT) / sum(shares), [], LEFT
    for phase, share in zip(PHASES, shares, strict=True):
        results.append(Column(phase, at, at + share * wide))
        at += share * wide
    return results


def _row(
    name: str,
    words: tuple[str, str],
    top: float,
    columns: Sequence[Column],
    expected: Sequence[PhaseExpected],
    firing: Firing,
) -> Iterator[Node]:
    bands = {each.phase: each.values[name] for each in expected if name in each.values}
    scale = _scale(name, top, bands, firing)
    yield Text((LEFT - 8, top + 30), words[0], "strip-name", "end")
    yield Text((LEFT - 8, top + 46), words[1], "strip-unit", "end")
    if scale is None:
        return
    for column in columns:
        band = bands.get(column.phase)
        if band is not None:
            yield from _band(column, band, scale)
    if firing.trace is not None:
        yield from _trace(name, firing.trace, columns, scale)
    for column in columns:
        read = getattr(firing.reading(column.phase), name)
        if read is not None:
            yield from _dot(column, read, bands.get(column.phase), scale)


def _scale(
    name: str, top: float, bands: Mapping[PhaseWord, Expected], firing: Firing
) -> Scale | None:
    """From the least to the most that is shown of a row; None where there is nothing."""
    values = [end for band in bands.values() for end in (band.low, band.high)]
    values += [read for each in firing.readings if (read := getattr(each, name)) is not None]
    if firing.trace is not None:
        values += [value for value in getattr(firing.trace, name) if value is not None]
    if not values:
        return None
    least, most = min(values), max(values)
    room = ROOM_SHARE * (most - least) or 1.0
    return Scale(least - room, most + room, top)


def _band(column: Column, band: Expected, scale: Scale) -> Iterator[Node]:
    high, low = scale.y(band.high), scale.y(band.low)
    text = f"{_figure(band.low)} to {_figure(band.high)}"
    yield Rect(
        (column.low, high),
        (column.high - column.low - INSET, max(low - high, 2.0)),
        "strip-band",
        title=f"expected: {text}",
    )
    middle = (column.low + column.high - INSET) / 2
    words = "none" if band.high == 0 else text
    yield Text((middle, scale.top + ROW - 1), words, "strip-figure", "middle")


def _figure(value: float) -> str:
    return f"{value:.0f}" if abs(value) >= 30 else f"{value:.1f}".removesuffix(".0")


def _trace(name: str, trace: Trace, columns: Sequence[Column], scale: Scale) -> Iterator[Node]:
    """The trace in each phase, stretched over its column; of a phase that came twice, each time."""
    spans = {column.phase: column for column in columns}
    begins = {p: _first(trace, p) for p in PHASES}
    ends = {p: _last(trace, p) for p in PHASES}
    piece: list[Point] = []
    phase = ""
    for at_s, word, value in zip(trace.at_s, trace.phase, getattr(trace, name), strict=True):
        if word != phase or value is None:
            if len(piece) > 1:
                yield Line(piece, "strip-trace")
            piece, phase = [], word
        if value is not None:
            column, start, end = spans[word], begins[word], ends[word]
            share = (at_s - start) / (end - start) if end > start else 0.5
            x = column.low + share * (column.high - column.low - INSET)
            piece.append((x, scale.y(value)))
    if len(piece) > 1:
        yield Line(piece, "strip-trace")


def _first(trace: Trace, phase: str) -> float:
    return next((s for s, word in zip(trace.at_s, trace.phase, strict=True) if word == phase), 0.0)


def _last(trace: Trace, phase: str) -> float:
    pairs = zip(reversed(trace.at_s), reversed(trace.phase), strict=True)
    return next((s for s, word in pairs if word == phase), 0.0)


def _dot(column: Column, read: float, band: Expected | None, scale: Scale) -> Iterator[Node]:
    """What was read: a ring in its band, a filled square outside."""
    at = ((column.low + column.high - INSET) / 2, scale.y(read))
    outside = band is not None and not band.low - 1e-9 <= read <= band.high + 1e-9
    title = f"read: {read:.4g}"
    if outside:
        yield Rect((at[0] - 5, at[1] - 5), (10.0, 10.0), "strip-dot over", title=title)
        yield Text((at[0], at[1] - 9), _figure(read), "strip-read over", "middle", halo=True)
    else:
        yield Circle(at, 4.5, "strip-dot", title=title)
