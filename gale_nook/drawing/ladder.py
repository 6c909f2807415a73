"""The voltage ladder: battery to heater in each state, with the heater's cut-out across it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from gale_nook.core.power.circuit import Ladder
from gale_nook.core.power.supply import State
from gale_nook.drawing.scene import Circle, Line, Node, Rect, Scene, Text

WIDTH, TOP, BOTTOM, LEFT, RIGHT = 320.0, 18.0, 176.0, 34.0, 262.0
NAMES_Y, ROOM_V = 188.0, 0.4
KEYS: dict[State, str] = {"glow": "glow", "run": "running", "stop": "morning"}
SHORT = {
    "battery": "battery",
    "battery post and feed": "post",
    "fuse": "fuse",
    "fuse holder": "holder",
    "cable out": "cable out",
    "plug": "plug",
    "heater's own lead": "own lead",
    "cable back": "back",
}
WORD_PX = 13.0


def ladder_drawing(found: Mapping[State, Ladder], cut_out_v: float, least_v: float) -> Scene | None:
    """Return the ladder of every state that there is; None where there is none.

    Args:
        least_v: the cut-out with the margin that is kept over it.
    """
    ladders = {state: each for state, each in found.items() if each.rungs}
    if not ladders:
        return None
    high = max(each.rungs[0].left_v + each.rungs[0].drop_v for each in ladders.values())
    low = min(cut_out_v, *(each.heater_v for each in ladders.values())) - ROOM_V
    names = [rung.name for rung in next(iter(ladders.values())).rungs]
    step = (RIGHT - LEFT) / len(names)

    def y(volts: float) -> float:
        return BOTTOM - (volts - low) / (high + 0.1 - low) * (BOTTOM - TOP)

    nodes: list[Node] = [
        Rect(
            (LEFT, y(least_v)),
            (RIGHT - LEFT, y(cut_out_v) - y(least_v)),
            "ladder-margin",
            title="the margin that is kept over the cut-out",
        ),
        Line([(LEFT, y(cut_out_v)), (RIGHT, y(cut_out_v))], "ladder-cut-out"),
        Text((LEFT + 3, y(cut_out_v) + 12), f"cut-out {cut_out_v:g} V", "ladder-text over"),
    ]
    nodes += list(_scale(low, high, y))
    for number, name in enumerate(names):
        at = (LEFT + (number + 1) * step, NAMES_Y)
        nodes.append(Line([(at[0], TOP), (at[0], BOTTOM)], "ladder-grid"))
        nodes.append(Text(at, SHORT.get(name, name), "ladder-name", "end", turn=-40.0))
    ends: list[tuple[float, str, str]] = []
    for state, each in ladders.items():
        start = each.rungs[0].left_v + each.rungs[0].drop_v
        line = [(LEFT, y(start))]
        for number, rung in enumerate(each.rungs, 1):
            line += [(LEFT + number * step, y(rung.left_v))]
        nodes.append(Line(line, f"ladder-line ladder-{state}", title=KEYS[state]))
        nodes.append(Circle(line[-1], 3.0, f"ladder-end ladder-{state}"))
        ends.append((y(each.heater_v), f"{each.heater_v:.2f}", KEYS[state]))
    nodes += list(_ends(ends))
    return Scene(
        "Voltage from the battery to the heater, at glow, running, and at the second glow",
        (WIDTH, NAMES_Y + 34),
        nodes,
        {"class": "drawing ladder", "role": "img"},
    )


def _scale(low: float, high: float, y: object) -> Iterator[Node]:
    volts = int(low) + 1
    while volts <= high + 0.1:
        at = y(float(volts))  # type: ignore[operator]
        yield Text((LEFT - 4, at + 4), f"{volts} V", "ladder-text", "end")
        yield Line([(LEFT - 3, at), (LEFT, at)], "ladder-grid")
        volts += 1


def _ends(ends: list[tuple[float, str, str]]) -> Iterator[Node]:
    """What the heater gets, at the right, one under the other where they come close."""
    last = TOP - WORD_PX * 2
    for at, volts, key in sorted(ends):
        last = max(at + 4, last + 2 * WORD_PX)
        yield Text((RIGHT + 6, last - 2), f"{volts} V", "ladder-text strong")
        yield Text((RIGHT + 6, last + WORD_PX - 4), key, "ladder-key")
