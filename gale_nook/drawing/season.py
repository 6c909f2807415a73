"""The season: hours by outside temperature under the loss line, with the heater in
hand laid over.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from gale_nook.core.heat.season import SeasonBin
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.scene import Line, Node, Point, Rect, Scene, Strokes, Text

WIDTH, HEIGHT = 812.0, 320.0
LEFT, RIGHT, TOP, BOTTOM = 70.0, 748.0, 30.0, 276.0
HOURS_SHARE = 0.42  # of the height, for the tallest bar of hours


def season_chart(
    bins: Sequence[SeasonBin], outputs_w: tuple[float, float] | None, system: UnitSystem
) -> Scene:
    """Return the chart: hours as bars, the loss as a line, the heater's range as a band.

    Args:
        outputs_w: least and most output of the heater in hand; where the loss is under it it
            cycles, over it it falls short.
    """
    low, high = bins[0].celsius - 0.5, bins[-1].celsius + 0.5
    most_w = max([b.loss_w for b in bins] + [outputs_w[1] if outputs_w is not None else 0.0]) * 1.1
    most_h = max(b.hours for b in bins)

    def at(celsius: float, watts: float) -> Point:
        return (
            LEFT + (celsius - low) / (high - low) * (RIGHT - LEFT),
            BOTTOM - watts / most_w * (BOTTOM - TOP),
        )

    nodes: list[Node] = []
    if outputs_w is not None:
        (x0, y0), (x1, y1) = at(low, outputs_w[1]), at(high, outputs_w[0])
        nodes.append(Rect((x0, y0), (x1 - x0, y1 - y0), "season-range", title="the heater's range"))
    for b in bins:
        x0, x1 = at(b.celsius - 0.45, 0)[0], at(b.celsius + 0.45, 0)[0]
        tall = b.hours / most_h * HOURS_SHARE * (BOTTOM - TOP)
        cls = "season-hours" + _state(b.loss_w, outputs_w)
        title = f"{b.hours} h at {b.celsius:g} °C"
        nodes.append(Rect((x0, BOTTOM - tall), (x1 - x0, tall), cls, title=title))
    nodes.append(Line([at(b.celsius, b.loss_w) for b in bins], "season-loss", title="loss"))
    nodes += _axes(at, (low, high), most_w, system)
    keys = (
        "loss: line · hours: bars, the most "
        + f"{most_h} h"
        + (" · heater's range: band" if outputs_w is not None else "")
    )
    nodes.append(Text((LEFT, 16), keys, "season-words"))
    nodes.append(Text(((LEFT + RIGHT) / 2, HEIGHT - 8), "outside", "season-words", "middle"))
    return Scene(
        "Hours by outside temperature, the loss, and the heater's range",
        (WIDTH, HEIGHT),
        nodes,
        {"class": "drawing season"},
    )


def _axes(
    at: Callable[[float, float], Point],
    span_c: tuple[float, float],
    most_w: float,
    system: UnitSystem,
) -> Iterator[Node]:
    low, high = span_c
    ticks: list[tuple[Point, Point]] = []
    for celsius in range(int(low // 5 + 1) * 5, int(high) + 1, 5):
        x = at(celsius, 0)[0]
        ticks.append(((x, BOTTOM), (x, BOTTOM + 5)))
        figure = format_quantity(celsius, "c", system)
        yield Text((x, BOTTOM + 18), figure, "season-words", "middle")
    yield Strokes(ticks, "tape-tick")
    for watts in _levels(most_w):
        figure = format_quantity(watts, "w", system)
        yield Line([at(low, watts), at(high, watts)], "grid")
        yield Text((LEFT - 6, at(low, watts)[1] + 4), figure, "season-words", "end")


def _state(loss_w: float, outputs_w: tuple[float, float] | None) -> str:
    if outputs_w is None or outputs_w[0] <= loss_w <= outputs_w[1]:
        return ""
    return " cycling" if loss_w < outputs_w[0] else " short"


def _levels(most_w: float) -> list[float]:
    step = 500.0 if most_w < 3500 else 1000.0 if most_w < 8000 else 2000.0
    return [step * n for n in range(1, int(most_w / step) + 1)]
