"""The loop from hot to cold: each part as a step from what comes in to what goes out."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.loop.state import BranchState, LoopState
from gale_nook.drawing.scene import Circle, Line, Node, Scene, Text

WIDTH, TOP, BOTTOM, LEFT, RIGHT = 340.0, 20.0, 190.0, 38.0, 330.0
NAMES_Y, STEP_C, SPARE_C, MOST_PX = 202.0, 10, 2.0, 44.0
NOT_TOLD = {"hose", "bulkhead", "check"}
LETTERS, LEAST_W = 16, 400.0


def loop_ladder(state: LoopState) -> Scene | None:
    """Return the ladder; None where nothing flows."""
    steps = [found for found in state.branches.values() if _is_told(found)]
    if not steps:
        return None
    steps.sort(key=lambda found: (found.branch.kind != "heater", -found.in_c, -found.out_c))
    low = min(min(found.in_c, found.out_c) for found in steps) - SPARE_C
    high = max(max(found.in_c, found.out_c) for found in steps) + SPARE_C
    width = min((RIGHT - LEFT) / len(steps), MOST_PX)

    def y(celsius: float) -> float:
        return BOTTOM - (celsius - low) / (high - low) * (BOTTOM - TOP)

    nodes: list[Node] = []
    first = int(low // STEP_C + 1) * STEP_C
    for celsius in range(first, int(high) + 1, STEP_C):
        nodes.append(Line([(LEFT, y(celsius)), (RIGHT, y(celsius))], "ladder-grid"))
        nodes.append(Text((LEFT - 4, y(celsius) + 4), f"{celsius} °C", "ladder-text", "end"))
    for number, found in enumerate(steps):
        nodes += _step(found, LEFT + number * width, width, (y(found.in_c), y(found.out_c)))
    return Scene(
        "The loop from hot to cold: each part from what comes in to what goes out",
        (WIDTH, NAMES_Y + 76),
        nodes,
        {"class": "drawing ladder", "role": "img"},
    )


def _is_told(found: BranchState) -> bool:
    return found.branch.kind not in NOT_TOLD and abs(found.flow_l_min) > 0.01


def _step(
    found: BranchState, left: float, width: float, ends: tuple[float, float]
) -> Iterator[Node]:
    rises = found.out_c >= found.in_c
    cls = "loop-rise" if rises else "loop-fall"
    mid = left + width / 2
    title = (
        f"{found.branch.name}: {found.flow_l_min:.1f} l/min, {found.in_c:.1f} to "
        f"{found.out_c:.1f} °C"
    )
    wide = 2.0 + min(abs(found.flow_l_min), 20.0) / 2.5
    yield Line([(mid, ends[0]), (mid, ends[1])], f"loop-step {cls}", width=wide, title=title)
    yield Circle((mid, ends[1]), 3.4, f"loop-end {cls}")
    if abs(found.given_w) > LEAST_W:
        yield Text((mid, max(ends) + 14), f"{found.given_w:.0f} W", "ladder-key", "middle")
    name = found.branch.name
    short = name if len(name) <= LETTERS else name[: LETTERS - 1] + "…"
    yield Text((mid + 4, NAMES_Y), short, "ladder-name", "end", turn=-52.0)
