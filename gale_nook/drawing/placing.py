"""Names and figures of the board, placed so that none lies over another and none is cut off.

Each text has a place that it would like. Those that have to stand where they are come first; every
other one takes the nearest of some candidate places where it overlaps nothing, and has a leader
when that is not close; what finds no place is left out, its title stays. Greedy placement from
candidates: J. Christensen, J. Marks, S. Shieber, ACM Transactions on Graphics 14, 1995, 203.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Any

import numpy as np

from gale_nook.drawing.mapping import PAPER_WIDTH, Mapping
from gale_nook.drawing.scene import Badge, Group, Line, Node, Point, Text
from gale_nook.drawing.style import style_of

Box = tuple[float, float, float, float]  # low u, low v, high u, high v

FIXED = {"view-name", "towards", "tape-figure"}
PINNED = {"node-name"}  # inside a grip: it stands there or not at all
NAMES = {"label"}  # of parts, on them: not far from there
ONE_AT_A_TIME = {"dimension-text"}  # the chosen finding's alone is seen: they may lie over another
USUAL_PX, BOLD = 11.5, 1.06
ASCENT, DESCENT = 0.957, 0.348  # of a font's size, as a browser takes them for a line
NARROW, SLIM, WIDE = set(".,'’:;|!ijlI"), set(' -"°²³frt/()'), set("mwMW%")
NARROW_EM, SLIM_EM, WIDE_EM, DIGIT_EM, SMALL_EM, CAPITAL_EM = 0.3, 0.38, 0.88, 0.63, 0.56, 0.72
EDGE_PX, GAP_PX = 2.0, 1.0
RINGS_PX = (10.0, 16.0, 24.0, 34.0, 46.0, 60.0, 78.0, 100.0)
DIRECTIONS = 12
NAME_RINGS_PX = (10.0, 16.0)
LEADER_PX = 26.0  # a text that stands farther off has one


def width_px(text: str, size_px: float, bold: bool) -> float:
    """Return about how wide a text is, rather too much."""
    total = 0.0
    for letter in text:
        if letter in NARROW:
            total += NARROW_EM
        elif letter in SLIM:
            total += SLIM_EM
        elif letter in WIDE:
            total += WIDE_EM
        elif letter.isdigit():
            total += DIGIT_EM
        else:
            total += SMALL_EM if letter.islower() else CAPITAL_EM
    return total * size_px * (BOLD if bold else 1.0)


Label = Text | Badge


def box_of(text: Label) -> Box:
    """Return the box that a text or a badge takes on paper."""
    if isinstance(text, Badge):
        (u, v), r = text.at, text.radius
        return (u - r, v - r, u + r, v + r)
    width, size = _measured(text.text, text.cls)
    (u, v), shift = text.at, {"start": 0.0, "middle": 0.5, "end": 1.0}[text.anchor]
    low = u - shift * width
    return (low, v - ASCENT * size, low + width, v + DESCENT * size)


@lru_cache(maxsize=4096)
def _measured(text: str, cls: str) -> tuple[float, float]:
    """How wide a text is, and the size of its font."""
    style = style_of((frozenset({"drawing"}), frozenset({*cls.split(), "text"})))
    size = float(style.get("font-size", f"{USUAL_PX}px").removesuffix("px"))
    bold = style.get("font-weight", "400") in {"600", "700", "bold"}
    return width_px(text, size, bold), size


@dataclass
class Paper:
    """What is taken already."""

    boxes: list[Box] = field(default_factory=list)

    def free(self, boxes: Any) -> Any:
        """Return which of some boxes overlap nothing, (n,) of (n, 4)."""
        if not self.boxes:
            return np.ones(len(boxes), dtype=bool)
        taken = np.array(self.boxes)
        apart = (
            (boxes[:, None, 0] >= taken[None, :, 2] + GAP_PX)
            | (boxes[:, None, 2] <= taken[None, :, 0] - GAP_PX)
            | (boxes[:, None, 1] >= taken[None, :, 3])
            | (boxes[:, None, 3] <= taken[None, :, 1])
        )
        return apart.all(axis=1)

    def is_free(self, box: Box) -> bool:
        """Return whether one box overlaps nothing."""
        low_u, low_v, high_u, high_v = box
        return not any(
            low_u < b[2] + GAP_PX and high_u > b[0] - GAP_PX and low_v < b[3] and high_v > b[1]
            for b in self.boxes
        )


def placed(nodes: Sequence[Node], m: Mapping, paper: Paper) -> list[Node]:
    """Return nodes with their texts placed; what these take is added to the paper."""
    texts = sorted(_texts(nodes), key=_rank)  # stable: of one rank the first one counts most
    where = {id(text): _place(text, m, paper) for text in texts}
    return [each for node in nodes for each in _rebuilt(node, where)]


def _rank(text: Label) -> int:
    if isinstance(text, Badge):
        return 2
    names = set(text.cls.split())
    return 0 if names & FIXED else 1 if names & PINNED else 4 if names & ONE_AT_A_TIME else 3


def _texts(nodes: Iterable[Node]) -> Iterator[Label]:
    for node in nodes:
        if isinstance(node, Text | Badge):
            yield node
        elif isinstance(node, Group):
            yield from _texts(node.children)


def _rebuilt(node: Node, where: dict[int, list[Node]]) -> Iterator[Node]:
    if isinstance(node, Text | Badge):
        yield from where[id(node)]
    elif isinstance(node, Group):
        children = [each for child in node.children for each in _rebuilt(child, where)]
        yield replace(node, children=children)
    else:
        yield node


def _area(v: float, m: Mapping) -> Box | None:
    """The drawing in which something stands; None on the tape."""
    if v < m.tape_top:
        return (0.0, m.plan_top, PAPER_WIDTH, m.plan_top + m.plan_height)
    if v >= m.side_top:
        return (0.0, m.side_top, PAPER_WIDTH, m.side_top + m.side_height)
    return None


def _place(text: Label, m: Mapping, paper: Paper) -> list[Node]:
    """The text where it stands, with a leader where it needs one; nothing where it finds no place.

    What it belongs to has to be in sight.
    """
    names, box = set(text.cls.split()), box_of(text)
    if names & FIXED:
        paper.boxes.append(box)
        return [text]
    area = _area(text.at[1], m)
    if area is None or not _holds(area, (text.at[0], text.at[1])):
        return []
    rings = () if names & PINNED else NAME_RINGS_PX if names & NAMES else RINGS_PX
    shift = _shift(box, area, paper, rings)
    if shift is None:
        return []
    there = _moved(box, shift)
    if not names & ONE_AT_A_TIME:
        paper.boxes.append(there)
    moved = replace(text, at=(text.at[0] + shift[0], text.at[1] + shift[1]))
    if math.hypot(*shift) <= (text.radius if isinstance(text, Badge) else LEADER_PX):
        return [moved]
    return [Line([text.at, _edge(there, text.at)], "leader"), moved]


def _shift(box: Box, area: Box, paper: Paper, rings_px: tuple[float, ...]) -> Point | None:
    """The shortest shift by which a box lies in an area and over nothing; None for none."""
    first = _into(box, area) if rings_px else (0.0, 0.0)
    there = _moved(box, first)
    if _is_in(area, there) and paper.is_free(there):
        return first
    if not rings_px:
        return None
    shifts = _shifts(box, area, rings_px)
    boxes = np.array(box) + np.concatenate([shifts, shifts], axis=1)
    good = np.flatnonzero(paper.free(boxes))
    if not len(good):
        return None
    best = good[np.argmin(np.hypot(*shifts[good].T))]
    return (float(shifts[best, 0]), float(shifts[best, 1]))


def _is_in(area: Box, box: Box) -> bool:
    return (
        box[0] >= area[0] + EDGE_PX
        and box[1] >= area[1] + EDGE_PX
        and box[2] <= area[2] - EDGE_PX
        and box[3] <= area[3] - EDGE_PX
    )


def _holds(area: Box, point: Point) -> bool:
    return area[0] <= point[0] <= area[2] and area[1] <= point[1] <= area[3]


def _into(box: Box, area: Box) -> Point:
    """The shortest shift that brings a box into an area."""
    du = max(area[0] + EDGE_PX - box[0], 0.0) or min(area[2] - EDGE_PX - box[2], 0.0)
    dv = max(area[1] + EDGE_PX - box[1], 0.0) or min(area[3] - EDGE_PX - box[3], 0.0)
    return (du, dv)


def _shifts(box: Box, area: Box, rings_px: tuple[float, ...]) -> Any:
    """Candidate places round the one that is wanted, as shifts, (n, 2); those that lie in the
    area once they are brought into it.
    """
    across, down, rings = _round(rings_px)
    half = (box[2] - box[0]) / 2
    du, dv = across * (rings + half * np.abs(across)), down * rings
    du = _brought(du, box[0], box[2], area[0], area[2])
    dv = _brought(dv, box[1], box[3], area[1], area[3])
    inside = (box[0] + du >= area[0] + EDGE_PX) & (box[1] + dv >= area[1] + EDGE_PX)
    return np.stack([du, dv], axis=1)[inside]


def _brought(shifts: Any, low: float, high: float, first: float, last: float) -> Any:
    """Shifts along one axis, changed so that a stretch ends before the last of an area and begins
    after its first.
    """
    shifts = np.minimum(shifts, last - EDGE_PX - high)
    return np.where(
        high - low <= last - first - 2 * EDGE_PX, np.maximum(shifts, first + EDGE_PX - low), shifts
    )


@lru_cache(maxsize=8)
def _round(rings_px: tuple[float, ...]) -> tuple[Any, Any, Any]:
    """Cosine and sine of every direction, ring by ring, and the ring's radius, (n,) each."""
    turns = 2 * np.pi * np.arange(DIRECTIONS) / DIRECTIONS
    rings = np.repeat(np.array(rings_px), DIRECTIONS)
    return np.tile(np.cos(turns), len(rings_px)), np.tile(np.sin(turns), len(rings_px)), rings


def _moved(box: Box, shift: Point) -> Box:
    return (box[0] + shift[0], box[1] + shift[1], box[2] + shift[0], box[3] + shift[1])


def _edge(box: Box, point: Point) -> Point:
    """The point of a box that is nearest to another."""
    return (
        min(max(point[0], box[0]), box[2]),
        min(max(point[1], box[1]), box[3]),
    )
