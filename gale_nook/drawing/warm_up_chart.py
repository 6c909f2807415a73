"""From cold: coolant, engine, water, floor and room against the minutes."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.loop.night import LoopRun
from gale_nook.drawing.scene import Line, Node, Scene, Text

WIDTH, TOP, BOTTOM, LEFT, RIGHT = 340.0, 14.0, 168.0, 36.0, 262.0
STEP_C, STEP_MIN, WORD_PX = 20, 60, 12.0
LINES = (
    ("hot", "coolant"),
    ("block", "engine"),
    ("tank", "water"),
    ("floor", "floor"),
    ("air", "room"),
)


def warm_up_chart(found: LoopRun) -> Scene:
    """Return the chart of some hours from cold."""
    last_s = found.samples[-1].at_s
    curves = {word: _curve(found, word) for word, _ in LINES}
    values = [celsius for curve in curves.values() for celsius in curve]
    low, high = min(*values, 0.0) - 3, max(values) + 3

    def u(at_s: float) -> float:
        return LEFT + at_s / last_s * (RIGHT - LEFT)

    def v(celsius: float) -> float:
        return BOTTOM - (celsius - low) / (high - low) * (BOTTOM - TOP)

    nodes: list[Node] = []
    first = int(low // STEP_C + 1) * STEP_C
    for celsius in range(first, int(high) + 1, STEP_C):
        nodes.append(Line([(LEFT, v(celsius)), (RIGHT, v(celsius))], "ladder-grid"))
        nodes.append(Text((LEFT - 4, v(celsius) + 4), f"{celsius} °C", "ladder-text", "end"))
    for minutes in range(0, int(last_s / 60) + 1, STEP_MIN):
        at = u(minutes * 60)
        nodes.append(Line([(at, TOP), (at, BOTTOM)], "ladder-grid"))
        nodes.append(Text((at, BOTTOM + 14), f"{minutes} min", "ladder-text", "middle"))
    ends: list[tuple[float, str]] = []
    for word, name in LINES:
        curve = curves[word]
        if not curve:
            continue
        line = [(u(s.at_s), v(c)) for s, c in zip(found.samples, curve, strict=True)]
        nodes.append(Line(line, f"from-cold from-cold-{word}", title=name))
        ends.append((line[-1][1], f"{name} {curve[-1]:.0f} °C"))
    nodes += _ends(ends)
    return Scene(
        "From cold: coolant, engine, water, floor and room against the minutes",
        (WIDTH, BOTTOM + 22),
        nodes,
        {"class": "drawing ladder", "role": "img"},
    )


def _curve(found: LoopRun, word: str) -> list[float]:
    """The temperature of each sample; of several tanks, blocks or floors the coldest."""
    if word == "hot":
        return [sample.hot_c for sample in found.samples]
    if word == "air":
        return [sample.air_c for sample in found.samples]
    names = [name for name in found.samples[0].stores_c if name.startswith(f"{word}:")]
    if not names:
        return []
    return [min(sample.stores_c[name] for name in names) for sample in found.samples]


def _ends(ends: list[tuple[float, str]]) -> Iterator[Node]:
    """Names at the right, one under the other where they come close."""
    last = TOP - WORD_PX
    for at, words in sorted(ends):
        last = max(at + 4, last + WORD_PX)
        yield Text((RIGHT + 5, last), words, "ladder-text")
