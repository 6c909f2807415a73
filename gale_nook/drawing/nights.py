"""The season as a strip: for each night what was predicted, with its band, and what was used; the
charge below the litres where it was read.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from gale_nook.core.log.season import NightLine
from gale_nook.drawing.scene import Circle, Line, Node, Rect, Scene, Text

WIDTH, LEFT, TOP, FOOT = 780.0, 44.0, 12.0, 34.0
ROW, GAP = 144.0, 18.0
ROOM_SHARE = 0.08
MOST_TICKS = 5
LABEL_PX = 76.0
BAR_SHARE = 0.7
DOT_PX, SQUARE_PX = 3.0, 4.0


@dataclass(frozen=True, slots=True)
class Mark:
    """What a row shows of a night; None for what is not known."""

    low: float | None
    planned: float | None
    high: float | None
    read: float | None
    fits: bool
    counts: bool

    @property
    def values(self) -> list[float]:
        return [each for each in (self.planned, self.high, self.read) if each is not None]


def nights_strip(nights: Sequence[NightLine]) -> Scene | None:
    """Return the strip of some nights, the oldest first; None without any."""
    if not nights:
        return None
    wide = (WIDTH - LEFT) / len(nights)
    middles = [LEFT + (number + 0.5) * wide for number in range(len(nights))]
    days = [night.entry.on for night in nights]
    nodes = list(_row([_litres(night) for night in nights], "l", TOP, (middles, days), wide))
    foot = TOP + ROW
    if any(night.entry.charge_ah is not None for night in nights):
        charges = [_charge(night) for night in nights]
        nodes += _row(charges, "Ah", foot + GAP, (middles, days), wide)
        foot += GAP + ROW
    last = -LABEL_PX
    for middle, day in zip(middles, days, strict=True):
        if middle - last >= LABEL_PX:
            nodes.append(Text((middle, foot + 16), day[5:], "strip-figure", "middle"))
            last = middle
    label = "Nights: litres and charge predicted with their bands, and what was used"
    return Scene(label, (WIDTH, foot + FOOT), nodes, {"class": "drawing nights"})


def _litres(night: NightLine) -> Mark:
    fits = not night.reasons
    return Mark(night.low_l, night.planned_l, night.high_l, night.used.litres, fits, night.counts)


def _charge(night: NightLine) -> Mark:
    read = night.entry.charge_ah
    fits = read is None or night.high_ah is None or read <= 2 * night.high_ah
    return Mark(night.low_ah, night.planned_ah, night.high_ah, read, fits, counts=True)


def _row(
    marks: Sequence[Mark],
    unit: str,
    top: float,
    at: tuple[Sequence[float], Sequence[str]],
    wide: float,
) -> Iterator[Node]:
    most = max([value for mark in marks for value in mark.values] + [0.1]) * (1 + ROOM_SHARE)

    def y(value: float) -> float:
        return top + ROW * (1 - min(max(value, 0.0), most) / most)

    yield from _scale(most, unit, top, y)
    for mark, middle, day in zip(marks, *at, strict=True):
        yield from _night(mark, (middle, f"{day}: "), unit, wide * BAR_SHARE, y)


def _scale(most: float, unit: str, top: float, y: Callable[[float], float]) -> Iterator[Node]:
    steps = (0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0)
    step = next((s for s in steps if most / s <= MOST_TICKS), 500.0)
    value = 0.0
    while value <= most:
        at = y(value)
        yield Line([(LEFT, at), (WIDTH, at)], "night-rule")
        yield Text((LEFT - 6, at + 4), f"{value:g}", "strip-figure", "end")
        value += step
    yield Text((LEFT - 24, top + 10), unit, "strip-unit", "end")


def _night(
    mark: Mark,
    at: tuple[float, str],
    unit: str,
    wide: float,
    y: Callable[[float], float],
) -> Iterator[Node]:
    middle, day = at
    left, right = middle - wide / 2, middle + wide / 2
    if mark.low is not None and mark.high is not None:
        top, foot = y(mark.high), y(mark.low)
        words = f"{day}{mark.low:.2f} to {mark.high:.2f} {unit} expected"
        yield Rect((left, top), (wide, max(foot - top, 1.0)), "strip-band", title=words)
    if mark.planned is not None:
        yield Line([(left, y(mark.planned)), (right, y(mark.planned))], "night-planned")
    if mark.read is None:
        return
    high, title = y(mark.read), f"{day}{mark.read:.2f} {unit} used"
    if not mark.counts:
        yield Circle((middle, high), DOT_PX, "night-dot", title=title)
    elif mark.fits:
        yield Circle((middle, high), DOT_PX, "strip-dot", title=title)
    else:
        corner, size = (middle - SQUARE_PX, high - SQUARE_PX), (2 * SQUARE_PX, 2 * SQUARE_PX)
        yield Rect(corner, size, "strip-dot over", title=title)
