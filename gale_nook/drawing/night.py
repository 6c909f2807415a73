"""The night's chart: temperature, set temperature, output and fuel over the hours, with a grip on
the start.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from gale_nook.core.heat.night import NightResult, Sample
from gale_nook.core.plan.heat import Night
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.scene import Group, Line, Node, Point, Rect, Scene, Text

WIDTH, HEIGHT = 812.0, 310.0
LEFT, RIGHT, TOP, BOTTOM = 62.0, 722.0, 30.0, 268.0
LEAST_SPAN_H, AHEAD_H = 18.0, 2.0
Place = Callable[[float], float]


def night_chart(
    result: NightResult,
    night: Night,
    outside_c: float,
    most_w: float,
    system: UnitSystem,
    grip: bool = True,
) -> Scene:
    """Return the chart of a night; output is an area, temperature a line, the set temperature
    dashed, fuel dotted.

    The axis ends with the night and begins well before the start, so that the start can be dragged.
    """
    start, end = night.start_h, night.start_h + night.hours_h
    first = end - max(LEAST_SPAN_H, math.ceil(night.hours_h + AHEAD_H))
    low, high = _span(result.samples, outside_c)
    most = max(most_w, 1.0) * 1.15
    litres = max(result.fuel_l, 0.1) * 1.1

    def u(hour_h: float) -> float:
        return LEFT + (hour_h - first) / (end - first) * (RIGHT - LEFT)

    def v(celsius: float) -> float:
        return BOTTOM - (celsius - low) / (high - low) * (BOTTOM - TOP)

    def w(watts: float) -> float:
        return BOTTOM - watts / most * (BOTTOM - TOP)

    def f(fuel_l: float) -> float:
        return BOTTOM - fuel_l / litres * (BOTTOM - TOP)

    outputs: list[Point] = [(u(s.hour_h), w(s.output_w)) for s in result.samples]
    area: list[Point] = [(u(start), BOTTOM), *outputs, (RIGHT, BOTTOM)]
    fuel: list[Point] = [(u(s.hour_h), f(s.fuel_l)) for s in result.samples]
    air: list[Point] = [(u(s.hour_h), v(s.air_c)) for s in result.samples]
    nodes: list[Node] = [
        Line(area, "night-output", closed=True, title="heat output"),
        *_hours(first, end, u),
        *_scale(low, high, v, system),
        Line([(LEFT, v(outside_c)), (RIGHT, v(outside_c))], "night-outside", title="outside"),
    ]
    for part in _set_parts(result.samples, u, v):
        nodes.append(Line(part, "night-set", title="set temperature"))
    nodes += [
        Line([*fuel, (RIGHT, f(result.fuel_l))], "night-fuel", title="fuel burnt"),
        Line(air, "night-air", title="temperature inside"),
        Text((RIGHT + 6, w(most_w) + 4), format_quantity(most_w, "w", system), "night-watts"),
        Text((RIGHT + 6, f(result.fuel_l) - 6), f"{result.fuel_l:.1f} l", "night-litres"),
        *_key(),
        *_marks(result, start, u, v, system),
        *([_grip(night, u(start))] if grip else []),
    ]
    return _scene(night, nodes, (RIGHT - LEFT) / (end - first), grip)


def _scene(night: Night, nodes: list[Node], px_per_hour: float, grip: bool) -> Scene:
    label = f"The night from {night.start_h:g} h: temperature inside, heat output and fuel"
    attributes = {
        "class": "drawing night",
        "id": "night-drawing",
        "role": "group" if grip else "img",
        "data-px-per-hour": f"{px_per_hour:.6f}",
    }
    return Scene(label, (WIDTH, HEIGHT), nodes, attributes)


def _span(samples: Sequence[Sample], outside_c: float) -> tuple[float, float]:
    result = (
        [s.air_c for s in samples] + [s.set_c for s in samples if s.set_c is not None] + [outside_c]
    )
    return min(result) - 2, max(result) + 3


def _set_parts(samples: Sequence[Sample], u: Place, v: Place) -> list[list[Point]]:
    """Return the set temperature as lines, broken where a timer has the heater off."""
    parts: list[list[Point]] = [[]]
    for sample in samples:
        if sample.set_c is not None:
            parts[-1].append((u(sample.hour_h), v(sample.set_c)))
        elif parts[-1]:
            parts.append([])
    return [part for part in parts if len(part) > 1]


def _key() -> list[Node]:
    words = (
        ("inside", "air", 0),
        ("set, dashed", "", 60),
        ("output, shaded", "output", 150),
        ("fuel, dotted", "fuel", 258),
    )
    return [Text((LEFT + at, 15), text, f"night-key {cls}".strip()) for text, cls, at in words]


def _marks(result: NightResult, start: float, u: Place, v: Place, system: UnitSystem) -> list[Node]:
    """Return when it is warm, and the coldest moment after that."""
    nodes: list[Node] = []
    if result.to_target_s is not None:
        at = u(start + result.to_target_s / 3600)
        words = f"warm after {result.to_target_s / 60:.0f} min"
        nodes += [
            Line([(at, TOP), (at, BOTTOM)], "night-reached"),
            Text((at + 5, BOTTOM - 8), words, "night-words", halo=True),
        ]
    at, height = u(result.lowest_h), v(result.lowest_c)
    words = f"coldest {format_quantity(result.lowest_c, 'c', system)}"
    anchor = "end" if at > (LEFT + RIGHT) / 2 else "start"
    nodes.append(
        Rect(
            (at - 3.5, height - 3.5),
            (7, 7),
            "night-coldest",
            title=f"{words}, {clock(result.lowest_h)}",
        )
    )
    beside = (at + (-6 if anchor == "end" else 6), height + 18)
    nodes.append(Text(beside, words, "night-words", anchor, halo=True))
    return nodes


def clock(hour_h: float) -> str:
    """Return an hour counted on over midnight as a time of day.

    >>> clock(30.25)
    '06:15'
    """
    minutes = round(hour_h * 60) % (24 * 60)
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def _grip(night: Night, at: float) -> Node:
    shape: list[Node] = [
        Line([(at, TOP - 4), (at, BOTTOM)], "night-start"),
        Rect((at - 9, TOP - 8), (18, 16), "night-handle", rounded=4),
        Text((at - 13, TOP + 4), clock(night.start_h), "night-words strong", "end"),
    ]
    attributes = {
        "class": "start-grip",
        "id": "start-grip",
        "tabindex": "0",
        "role": "slider",
        "aria-label": "switched on at",
        "aria-valuemin": "0",
        "aria-valuemax": "24",
        "aria-valuenow": f"{night.start_h:g}",
        "aria-valuetext": clock(night.start_h),
        "data-start": f"{night.start_h:g}",
        "data-hours": f"{night.hours_h:g}",
    }
    return Group(shape, attributes, title="drag, or use the arrow keys: the end of the night stays")


def _hours(first: float, last: float, place: Place) -> list[Node]:
    nodes: list[Node] = []
    step = 1 if last - first <= 18 else 2 if last - first <= 30 else 4
    hour = math.ceil(first)
    while hour <= last:
        nodes.append(Line([(place(hour), TOP), (place(hour), BOTTOM)], "grid"))
        nodes.append(Text((place(hour), BOTTOM + 16), f"{hour % 24}", "night-words", "middle"))
        hour += step
    nodes.append(Text(((LEFT + RIGHT) / 2, HEIGHT - 6), "hour of the day", "night-words", "middle"))
    return nodes


def _scale(low: float, high: float, place: Place, system: UnitSystem) -> list[Node]:
    nodes: list[Node] = []
    step = 5 if high - low <= 45 else 10
    celsius = int(low // step + 1) * step
    while celsius <= high:
        nodes.append(Line([(LEFT - 4, place(celsius)), (RIGHT, place(celsius))], "grid"))
        nodes.append(
            Text(
                (LEFT - 8, place(celsius) + 4),
                format_quantity(celsius, "c", system),
                "night-words",
                "end",
            )
        )
        celsius += step
    return nodes
