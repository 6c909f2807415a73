"""The season as a strip: for each night what was predicted, with its band, and what was used."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from gale_nook.core.log.season import NightLine
from gale_nook.drawing.scene import Circle, Line, Node, Rect, Scene, Text

WIDTH, HEIGHT, LEFT, TOP, FOOT = 780.0, 190.0, 44.0, 12.0, 34.0
ROOM_SHARE = 0.08
MOST_TICKS = 5
LABEL_PX = 76.0
BAR_SHARE = 0.7


def nights_strip(nights: Sequence[NightLine]) -> Scene | None:
    """Return the strip of some nights, the oldest first; None without any."""
    if not nights:
        return None
    values = [
        value
        for night in nights
        for value in (night.used.litres, night.planned_l, night.high_l)
        if value is not None
    ]
    most = max([*values, 0.1]) * (1 + ROOM_SHARE)
    wide = (WIDTH - LEFT) / len(nights)

    def y(litres: float) -> float:
        share = min(max(litres, 0.0), most) / most
        return HEIGHT - FOOT - share * (HEIGHT - FOOT - TOP)

    nodes: list[Node] = list(_scale(most, y))
    last = -LABEL_PX
    for number, night in enumerate(nights):
        middle = LEFT + (number + 0.5) * wide
        nodes += _night(night, middle, wide * BAR_SHARE, y)
        if middle - last >= LABEL_PX:
            nodes.append(
                Text((middle, HEIGHT - FOOT + 16), night.entry.on[5:], "strip-figure", "middle")
            )
            last = middle
    label = "Nights: litres predicted with their band, and litres used"
    return Scene(label, (WIDTH, HEIGHT), nodes, {"class": "drawing nights"})


def _scale(most: float, y: Callable[[float], float]) -> list[Node]:
    step = next((s for s in (0.5, 1.0, 2.0, 5.0, 10.0) if most / s <= MOST_TICKS), 20.0)
    results: list[Node] = []
    value = 0.0
    while value <= most:
        at = y(value)
        results.append(Line([(LEFT, at), (WIDTH, at)], "night-rule"))
        results.append(Text((LEFT - 6, at + 4), f"{value:g}", "strip-figure", "end"))
        value += step
    results.append(Text((LEFT - 6, TOP), "l", "strip-unit", "end"))
    return results


def _night(night: NightLine, middle: float, wide: float, y: Callable[[float], float]) -> list[Node]:
    results: list[Node] = []
    if night.low_l is not None and night.high_l is not None:
        top, foot = y(night.high_l), y(night.low_l)
        words = f"{night.entry.on}: {night.low_l:.2f} to {night.high_l:.2f} l expected"
        results.append(
            Rect((middle - wide / 2, top), (wide, max(foot - top, 1.0)), "strip-band", title=words)
        )
    if night.planned_l is not None:
        at = y(night.planned_l)
        results.append(Line([(middle - wide / 2, at), (middle + wide / 2, at)], "night-planned"))
    read = night.used.litres
    if read is None:
        return results
    at, title = y(read), f"{night.entry.on}: {read:.2f} l used"
    if not night.counts:
        return [*results, Circle((middle, at), 3.0, "night-dot doubtful", title=title)]
    if night.reasons:
        half = 4.0
        box = Rect((middle - half, at - half), (2 * half, 2 * half), "strip-dot over", title=title)
        return [*results, box]
    return [*results, Circle((middle, at), 3.0, "strip-dot", title=title)]
