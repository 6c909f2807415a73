"""What a line is taken hold of by, on either drawing: its straights, its neighbours, the way along
it.
"""

from __future__ import annotations

import json
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.drawing.scene import Circle, Group, Line, Node, Project

HANDLE, BEND = 7.0, 6.0


@dataclass(frozen=True, slots=True)
class LineOnPaper:
    """Which line it is, and how it is drawn.

    Attributes:
        name: in the ids of its grips; collection: address of its corners.
        width: of the line on paper; radius_mm: of a bend where no other tells it.
    """

    name: str
    collection: str
    board: str
    project: Project
    width: float
    radius_mm: float


def straight_grips(
    run: RouteGeometry, nodes: Sequence[RouteNode], line: LineOnPaper
) -> Iterator[Node]:
    """Yield a grip over each straight that is long enough on paper; by keyboard, "insert" in the
    panel does it.
    """
    fresh = fresh_id(tuple(nodes), "n")
    for index, straight in enumerate(run.straights):
        ends = [line.project(straight.start), line.project(straight.end)]
        if math.dist(*ends) < 2 * HANDLE:
            continue
        middle = ((ends[0][0] + ends[1][0]) / 2, (ends[0][1] + ends[1][1]) / 2)
        new = {
            "collection": line.collection,
            "id": fresh,
            "radius_mm": nodes[max(index - 1, 0)].radius_mm if nodes else line.radius_mm,
            "after": nodes[index - 1].id if index else None,
            "start": straight.start,
            "end": straight.end,
        }
        grip = {
            "class": "part grip grip-straight",
            "data-board": line.board,
            "data-insert": json.dumps(new),
            "data-near": near([straight.start, straight.end]),
            "id": f"grip-{line.board}-straight-{line.name}-{index + 1}",
        }
        marks: list[Node] = [
            Line(ends, "straight-grip", width=max(line.width, 2 * HANDLE)),
            Circle(middle, 3.0, "insert-mark"),
        ]
        yield Group(marks, grip, title="pull a new bend out of this straight")


def near(points: Sequence[Vec3]) -> str:
    """Return the places next to a corner along its line, for pulling it square to them."""
    return json.dumps(
        [[round(value, 1) for value in point] for point in points], separators=(",", ":")
    )


def along_line(run: RouteGeometry, project: Project, name: str) -> dict[str, str]:
    """Return attributes that hold a centre line on paper with the distance from its start, for
    dragging along it.
    """
    points = [
        (*project(point), at) for point, at in zip(run.centre_line, run.passed_mm, strict=True)
    ]
    line = json.dumps(
        [[round(u, 1), round(v, 1), round(at, 1)] for u, v, at in points], separators=(",", ":")
    )
    return {"id": name, "data-line": line}


def movable(name: str) -> str:
    """Return what a grip says of itself to who cannot see it."""
    return f"{name}: arrow keys move it"


def bend_grips(
    run: RouteGeometry, nodes: Sequence[RouteNode], on: LineOnPaper, words: str, cls: str
) -> Iterator[Node]:
    """Yield a grip on every bend of a line, that is dragged and nudged.

    Args:
        words: what the line is called; cls: class of the mark.
    """
    for number, node in enumerate(nodes, 1):
        title, short = f"bend {number} of the {words}", f"{on.name}-{node.id}"
        grip = {
            "class": "part grip grip-node",
            "data-drag": short,
            "data-place": f"{on.collection}.{node.id}",
            "data-board": on.board,
            "tabindex": "0",
            "role": "button",
            "aria-label": movable(title),
            "id": f"grip-{on.board}-{short}",
            "data-near": near([run.points[number - 1], run.points[number + 1]]),
        }
        at = on.project((node.x_mm, node.y_mm, node.z_mm))
        yield Group([Circle(at, BEND, f"node {cls}")], grip, title=title)
