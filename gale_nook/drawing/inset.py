"""The whole vehicle, small, and which part of it the board shows."""

from __future__ import annotations

from gale_nook.core.plan.vehicle import Shell
from gale_nook.drawing.mapping import BoardView, board_mapping
from gale_nook.drawing.scene import Line, Node, Point, Rect, Scene

WIDTH, HEIGHT = 118.0, 28.0
GAP = 6.0


def inset(shell: Shell, view: BoardView) -> Scene:
    """Return outlines of plan and elevation side by side, with what is shown of each."""
    length = shell.rear_x_mm - shell.front_x_mm
    low, high = shell.ground_z_mm, shell.inside_height_mm
    scale = min(
        (WIDTH - GAP - 2) / (2 * length), (HEIGHT - 2) / max(shell.outer_width_mm, high - low)
    )
    middle, bottom = HEIGHT / 2, HEIGHT / 2 + (high - low) * scale / 2
    first = WIDTH / 2 - GAP / 2 - length * scale
    second = WIDTH / 2 + GAP / 2
    sign = 1 if view.below else -1

    def plan(x: float, y: float) -> Point:
        return (first + (x - shell.front_x_mm) * scale, middle + sign * y * scale)

    def side(x: float, z: float) -> Point:
        return (second + (x - shell.front_x_mm) * scale, bottom - (z - low) * scale)

    half = shell.outer_width_mm / 2
    halves = ((0.0, WIDTH / 2 - GAP / 2), (WIDTH / 2 + GAP / 2, WIDTH))
    nodes: list[Node] = [
        _box(plan(shell.front_x_mm, -half), plan(shell.rear_x_mm, half), "inset-vehicle"),
        _box(side(shell.front_x_mm, 0.0), side(shell.rear_x_mm, high), "inset-vehicle"),
        Line([side(shell.front_x_mm, low), side(shell.rear_x_mm, low)], "inset-ground"),
    ]
    frame = view.frame
    if frame is not None:
        m = board_mapping(shell, view)
        across, down = frame.width_mm / 2, m.plan_height / m.scale / 2
        up = m.side_height / m.scale / 2
        x0, x1 = frame.x_mm - across, frame.x_mm + across
        shown = (
            (plan(x0, frame.y_mm - down), plan(x1, frame.y_mm + down)),
            (side(x0, frame.z_mm - up), side(x1, frame.z_mm + up)),
        )
        nodes += [
            _box(one, other, "inset-shown", reach)
            for (one, other), reach in zip(shown, halves, strict=True)
        ]
    return Scene("the whole vehicle", (WIDTH, HEIGHT), nodes, {"aria-hidden": "true"})


def _box(one: Point, other: Point, cls: str, across: tuple[float, float] = (0.0, WIDTH)) -> Rect:
    (u0, v0), (u1, v1) = one, other
    u0, u1 = (min(max(u, across[0]), across[1]) for u in sorted((u0, u1)))
    v0, v1 = (min(max(v, 0.0), HEIGHT) for v in sorted((v0, v1)))
    return Rect((u0, v0), (u1 - u0, v1 - v0), cls)
