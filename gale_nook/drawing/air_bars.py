"""The warm air's gauge of usable output, and for each zone what it needs and what it gets."""

from __future__ import annotations

from collections.abc import Sequence

from gale_nook.core.fitted.heating import ZoneHeat
from gale_nook.core.fitted.usable import Usable
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.scene import Line, Node, Rect, Scene, Text

WIDTH, LEFT, RIGHT = 300.0, 2.0, 298.0
AXIS, TALL = 30.0, 16.0
ROW, BAR = 46.0, 11.0


def usable_gauge(found: Usable, least_w: float, need_w: float, system: UnitSystem) -> Scene:
    """Return one gauge: from nothing to the most output, filled as far as it can be used, with the
    least output and the need across.
    """
    top = max(found.most_w, need_w) * 1.04

    def u(watts: float) -> float:
        return LEFT + watts / top * (RIGHT - LEFT)

    low = AXIS + TALL + 15
    words = (
        (need_w, AXIS - 11, "needed", _anchor(u(need_w))),
        (least_w, low, "least", _anchor(u(least_w))),
        (found.most_w, low, "most", "end"),
    )
    nodes: list[Node] = [
        Rect((LEFT, AXIS), (u(found.most_w) - LEFT, TALL), "usable-most"),
        Rect((LEFT, AXIS), (max(u(found.usable_w) - LEFT, 0.0), TALL), "usable-now"),
        Line([(u(least_w), AXIS - 3), (u(least_w), AXIS + TALL + 3)], "usable-least"),
        Line([(u(need_w), AXIS - 7), (u(need_w), AXIS + TALL + 7)], "usable-need"),
        *(
            Text((u(watts), v), f"{word} {_w(watts, system)}", "usable-words", anchor)
            for watts, v, word, anchor in words
        ),
    ]
    label = f"{_w(found.usable_w, system)} usable of {_w(found.most_w, system)}"
    size = (WIDTH, AXIS + TALL + 22)
    return Scene(label, size, nodes, {"class": "drawing usable", "role": "img"})


def _w(watts: float, system: UnitSystem) -> str:
    return format_quantity(round(watts), "w", system)


def _anchor(u: float) -> str:
    return "start" if u < 60 else "end" if u > WIDTH - 60 else "middle"


def zone_bars(zones: Sequence[ZoneHeat], system: UnitSystem) -> Scene:
    """Return two bars a zone, one over the other: what it needs, and what it gets."""
    largest = max([1.0, *(z.need_w for z in zones), *(z.gets_w or 0.0 for z in zones)])
    span = WIDTH - 86.0
    nodes: list[Node] = []
    for index, zone in enumerate(zones):
        y = index * ROW
        gets = max(zone.gets_w or 0.0, 0.0)
        enough = "gets" if gets >= zone.need_w else "gets lacking"
        nodes.append(Text((0, y + 12), zone.name, "bar-name"))
        for offset, watts, cls, word in (
            (17.0, zone.need_w, "needs", "needs"),
            (30.0, gets, enough, "gets"),
        ):
            length = max(watts / largest * span, 1.0)
            nodes.append(Rect((0, y + offset), (length, BAR), f"zone-bar {cls}"))
            words = f"{word} {_w(watts, system)}"
            nodes.append(Text((length + 5, y + offset + 9.5), words, "bar-figure"))
    return Scene(
        "What each zone needs and gets",
        (WIDTH, ROW * len(zones)),
        nodes,
        {"class": "drawing bars", "role": "img"},
    )
