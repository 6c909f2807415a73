"""The night's chart: temperature, set temperature, output and fuel over the hours."""

from __future__ import annotations

from collections.abc import Callable

from gale_nook.core.heat.night import NightResult
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.scene import Line, Node, Point, Scene, Text

WIDTH, HEIGHT = 812.0, 300.0
LEFT, RIGHT, TOP, BOTTOM = 62.0, 742.0, 26.0, 262.0


def night_chart(night: NightResult, outside_c: float, most_w: float, system: UnitSystem) -> Scene:
    """Return the chart of a night; output is an area, temperature a line, the set temperature dashed."""
    first, last = night.samples[0].hour_h, night.samples[-1].hour_h
    temperatures = [s.air_c for s in night.samples] + [s.set_c for s in night.samples] + [outside_c]
    low, high = min(temperatures) - 2, max(temperatures) + 3
    most = max(most_w, 1.0) * 1.15

    def u(hour_h: float) -> float:
        return LEFT + (hour_h - first) / max(last - first, 1e-6) * (RIGHT - LEFT)

    def v(celsius: float) -> float:
        return BOTTOM - (celsius - low) / (high - low) * (BOTTOM - TOP)

    def w(watts: float) -> float:
        return BOTTOM - watts / most * (BOTTOM - TOP)

    outputs: list[Point] = [(u(s.hour_h), w(s.output_w)) for s in night.samples]
    nodes: list[Node] = [
        Line([(LEFT, BOTTOM), *outputs, (RIGHT, BOTTOM)], "night-output", closed=True, title="heat output"),
        *_hours(first, last, u),
        *_scale(low, high, v, system),
        Line([(LEFT, v(outside_c)), (RIGHT, v(outside_c))], "night-outside", title="outside"),
        Line([(u(s.hour_h), v(s.set_c)) for s in night.samples], "night-set", title="set temperature"),
        Line([(u(s.hour_h), v(s.air_c)) for s in night.samples], "night-air", title="temperature inside"),
        Text((RIGHT + 6, w(most_w) + 4), format_quantity(most_w, "w", system), "night-watts"),
        Text((RIGHT + 6, BOTTOM + 4), format_quantity(0.0, "w", system), "night-watts"),
        Text((LEFT, 15), "inside", "night-key air"),
        Text((LEFT + 60, 15), "set, dashed", "night-key"),
        Text((LEFT + 150, 15), "output, shaded", "night-key output"),
    ]
    if night.to_target_s is not None:
        at = u(first + night.to_target_s / 3600)
        words = f"warm after {night.to_target_s / 60:.0f} min"
        nodes += [Line([(at, TOP), (at, BOTTOM)], "night-reached"), Text((at + 5, TOP + 12), words, "night-words")]
    label = f"The night from {first:g} h: temperature inside and heat output"
    return Scene(label, (WIDTH, HEIGHT), nodes, {"class": "drawing night"})


def _hours(first: float, last: float, place: Callable[[float], float]) -> list[Node]:
    nodes: list[Node] = []
    step = 1 if last - first <= 16 else 2 if last - first <= 30 else 4
    hour = int(first) if first == int(first) else int(first) + 1
    while hour <= last:
        nodes.append(Line([(place(hour), TOP), (place(hour), BOTTOM)], "grid"))
        nodes.append(Text((place(hour), BOTTOM + 16), f"{hour % 24}", "night-words", "middle"))
        hour += step
    nodes.append(Text(((LEFT + RIGHT) / 2, HEIGHT - 6), "hour of the day", "night-words", "middle"))
    return nodes


def _scale(low: float, high: float, place: Callable[[float], float], system: UnitSystem) -> list[Node]:
    nodes: list[Node] = []
    step = 5 if high - low <= 45 else 10
    celsius = int(low // step + 1) * step
    while celsius <= high:
        nodes.append(Line([(LEFT - 4, place(celsius)), (RIGHT, place(celsius))], "grid"))
        nodes.append(Text((LEFT - 8, place(celsius) + 4), format_quantity(celsius, "c", system), "night-words", "end"))
        celsius += step
    return nodes
