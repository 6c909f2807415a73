"""Leading a run square to the vehicle, straight by straight, between what stands in its way.

The lattice has a line wherever something begins or ends, so that a run passes close by it; steps
between neighbouring points are free, blocked, or lead through a panel in which a hole can be made.
"""

from __future__ import annotations

import heapq
import itertools
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np

from gale_nook.core.geometry.frames import Vec3

FREE, PASSAGE, BLOCKED = 0, 1, 2
ROUNDING_MM = 1e-6
SLACK_MM = 4.0  # between two bends beyond what they take, for rounding to whole millimetres
MOST_LOOKED_AT = 60_000
SHORT_COSTS = 20.0  # a detour of so many mm is made for each mm of a straight that is wanted
DIRECTIONS: tuple[Vec3, ...] = (
    (-1.0, 0.0, 0.0),
    (1.0, 0.0, 0.0),
    (0.0, -1.0, 0.0),
    (0.0, 1.0, 0.0),
    (0.0, 0.0, -1.0),
    (0.0, 0.0, 1.0),
)
Node = tuple[int, int, int]
Box = tuple[Vec3, Vec3]  # low and high corner


@dataclass(frozen=True)
class Lattice:
    """Points where lines along the vehicle's three directions meet.

    Attributes:
        axes: coordinates of the lines along x, y and z, ascending, mm.
        steps: for each direction, the state of every step from a point to the next one along it.
        sheltered: (nx, ny, nz), points beside or inside something, where a run is not in the way.
    """

    axes: tuple[Any, Any, Any]
    steps: tuple[Any, Any, Any]
    sheltered: Any

    def block(self, box: Box) -> None:
        """Block every step that comes into a box."""
        for axis in range(3):
            self.steps[axis][self._steps_in(box, axis)] = BLOCKED

    def let_pass(self, box: Box, axis: int, hole: Box) -> None:
        """Block every step that comes into a panel's box, but for those square through it where a
        hole finds room.

        Args:
            axis: across which the panel lies.
            hole: where the run's middle may be as it passes.
        """
        for other in range(3):
            inside = self._steps_in(box, other)
            if other != axis:
                self.steps[other][inside] = BLOCKED
                continue
            state = np.full_like(self.steps[axis], FREE)
            state[inside] = BLOCKED
            low, high = list(hole[0]), list(hole[1])
            low[axis], high[axis] = box[0][axis], box[1][axis]
            middle: Box = ((low[0], low[1], low[2]), (high[0], high[1], high[2]))
            state[self._steps_in(middle, axis)] = PASSAGE
            np.maximum(self.steps[axis], state, out=self.steps[axis])

    def shelter(self, box: Box) -> None:
        """Mark the points within a box as out of the way."""
        self.sheltered[tuple(self._points(box, axis) for axis in range(3))] = True

    def free(self, points: Sequence[Vec3]) -> None:
        """Free every step along straights between points of the lattice."""
        for start, end in itertools.pairwise(points):
            axis = max(range(3), key=lambda i: abs(end[i] - start[i]))
            box = tuple(zip(*(sorted(pair) for pair in zip(start, end, strict=True)), strict=True))
            index = [slice(n, n + 1) for n in self.nearest(start)]
            low, high = (int(np.argmin(np.abs(self.axes[axis] - corner[axis]))) for corner in box)
            index[axis] = slice(low, high)
            self.steps[axis][tuple(index)] = FREE

    def copy(self) -> Lattice:
        """Return the same lattice, to be blocked further."""
        x, y, z = (step.copy() for step in self.steps)
        return Lattice(self.axes, (x, y, z), self.sheltered)

    def nearest(self, point: Vec3) -> Node:
        """Return the point of the lattice that is nearest."""
        i, j, k = (int(np.argmin(np.abs(self.axes[a] - point[a]))) for a in range(3))
        return (i, j, k)

    def point(self, node: Node) -> Vec3:
        return (
            float(self.axes[0][node[0]]),
            float(self.axes[1][node[1]]),
            float(self.axes[2][node[2]]),
        )

    def _points(self, box: Box, axis: int) -> slice:
        line = self.axes[axis]
        first = int(np.searchsorted(line, box[0][axis] + ROUNDING_MM, "left"))
        return slice(first, int(np.searchsorted(line, box[1][axis] - ROUNDING_MM, "right")))

    def _steps_in(self, box: Box, axis: int) -> tuple[slice, slice, slice]:
        """The steps along an axis that come into a box."""
        line = self.axes[axis]
        first = int(np.searchsorted(line, box[0][axis] + ROUNDING_MM, "left")) - 1
        last = int(np.searchsorted(line, box[1][axis] - ROUNDING_MM, "right"))
        parts = [self._points(box, other) for other in range(3)]
        parts[axis] = slice(max(first, 0), max(last, 0))
        return (parts[0], parts[1], parts[2])

    @cached_property
    def flat(self) -> tuple[bytes, bytes, bytes]:
        """`steps` as bytes, in C order; taken once no more is blocked."""
        x, y, z = (np.ascontiguousarray(step, dtype=np.uint8).tobytes() for step in self.steps)
        return x, y, z


def lattice_of(lines: tuple[Sequence[float], Sequence[float], Sequence[float]]) -> Lattice:
    """Return a lattice with lines at some coordinates, all of it free."""
    x, y, z = (np.array(sorted(set(line)), dtype=float) for line in lines)
    counts = (len(x), len(y), len(z))
    steps = []
    for axis in range(3):
        shape = list(counts)
        shape[axis] -= 1
        steps.append(np.zeros(shape, dtype=np.uint8))
    return Lattice((x, y, z), (steps[0], steps[1], steps[2]), np.zeros(counts, dtype=bool))


@dataclass(frozen=True, slots=True)
class SquareStart:
    """Where a run may begin.

    Attributes:
        node: of the lattice.
        ways: directions in which it may leave, as places in DIRECTIONS.
        straight_mm: before its first bend, at least.
        cost_mm: of beginning here.
        own_mm: so far what it begins at is not in its way.
        wanted_mm: straight that it should have before its first bend; what is short of it costs.
    """

    node: Node
    ways: tuple[int, ...]
    straight_mm: float
    cost_mm: float = 0.0
    own_mm: float = 0.0
    wanted_mm: float = 0.0

    def short_costs_mm(self, straight_mm: float) -> float:
        """Return what a straight before the first bend costs for what it is short of."""
        return SHORT_COSTS * max(self.wanted_mm - straight_mm, 0.0)


@dataclass(frozen=True, slots=True)
class SquareCosts:
    """What a run costs beside its length, mm of run each.

    Attributes:
        bend_mm: a square bend.
        panel_mm: a panel that is passed.
        open_share: of the length that lies in the open, on top.
        haste: how much what is left counts; at 1 the cheapest run is found, above it one at most so
            much dearer, sooner.
    """

    bend_mm: float
    panel_mm: float
    open_share: float
    haste: float = 1.0


class Label(NamedTuple):
    """A corner that was reached: where, along which way, at what cost, and from where."""

    node: Node
    way: int
    cost_mm: float
    before: Label | None


class Landing(NamedTuple):
    """A point on a straight: how far on, at what cost; whether a bend finds room there."""

    node: Node
    length_mm: float
    cost_mm: float
    bends: bool


@dataclass(frozen=True)
class SquareSearch:
    """One search.

    Attributes:
        lattice: with all that is in the way.
        own: the same without what the run begins at, for its first stretch.
        radius_mm: of every bend.
        ends: points where it may end, with what that costs, mm.
        arrives: ways along which it may come to its end.
        last_mm: straight before the end, at least.
        beside_mm: of a passage that lies before and behind its panel.
    """

    lattice: Lattice
    own: Lattice
    starts: tuple[SquareStart, ...]
    radius_mm: float
    ends: Mapping[Node, float]
    arrives: frozenset[int]
    costs: SquareCosts
    last_mm: float = 0.0
    beside_mm: float = 0.0
    _counter: Iterator[int] = field(default_factory=itertools.count)

    def run(self) -> tuple[Vec3, ...] | None:
        """Return the corners of the cheapest run, start and end included; None where there is
        none.
        """
        if not self.ends:
            return None
        heap: list[tuple[float, int, bool, Label]] = []
        best: dict[tuple[Node, int], float] = {}
        for start in self.starts:
            label = Label(start.node, -1, start.cost_mm, None)
            for way in start.ways:
                self._go(heap, best, label, way, start)
        closed: set[tuple[Node, int]] = set()
        while heap and len(closed) < MOST_LOOKED_AT:
            _, _, ended, label = heapq.heappop(heap)
            if ended:
                return self._corners(label)
            if (label.node, label.way) in closed:
                continue
            closed.add((label.node, label.way))
            for way in range(6):
                if way // 2 != label.way // 2:
                    self._go(heap, best, label, way, None)
        return None

    def _go(
        self,
        heap: list[tuple[float, int, bool, Label]],
        best: dict[tuple[Node, int], float],
        label: Label,
        way: int,
        start: SquareStart | None,
    ) -> None:
        """Put every place on the heap where a straight from a corner can bend or end."""
        bend = self.costs.bend_mm if start is None else 0.0
        radius = self.radius_mm
        least = 2 * radius + SLACK_MM if start is None else start.straight_mm + radius + SLACK_MM
        own_mm = start.own_mm if start is not None else 0.0
        keep_mm = radius if start is None else 0.0  # a bend takes so much
        for landing in self._straight(label.node, way, keep_mm, own_mm):
            cost = label.cost_mm + bend + landing.cost_mm
            end_cost = self.ends.get(landing.node)
            if (
                end_cost is not None
                and way in self.arrives
                and landing.length_mm >= keep_mm + self.last_mm
            ):
                short = start.short_costs_mm(landing.length_mm) if start is not None else 0.0
                ended = Label(landing.node, way, cost + end_cost + short, label)
                heapq.heappush(heap, (ended.cost_mm, next(self._counter), True, ended))
            if not landing.bends or landing.length_mm < least:
                continue
            if start is not None:
                cost += start.short_costs_mm(landing.length_mm - radius)
            key = (landing.node, way)
            if cost < best.get(key, np.inf):
                best[key] = cost
                ahead = cost + self.costs.haste * self._ahead(landing.node, way)
                reached = Label(landing.node, way, cost, label)
                heapq.heappush(heap, (ahead, next(self._counter), False, reached))

    def _straight(self, node: Node, way: int, keep_mm: float, own_mm: float) -> Iterator[Landing]:
        """Yield the points along a straight, as far as it is free.

        Args:
            keep_mm: so far from the corner no panel may be passed: its bend is there.
        """
        axis, sign = way // 2, 1 if way % 2 else -1
        line, count = self._lines[axis], self._counts[axis]
        strides = self._strides[axis]
        shelter, shelter_strides = self._shelter, self._shelter_strides
        at = list(node)
        length = cost = 0.0
        passed_mm = -np.inf
        in_panel = False
        while True:
            step = at[axis] if sign > 0 else at[axis] - 1
            if not 0 <= step < count - 1:
                return
            on = line[step + 1] - line[step]
            place = at.copy()
            place[axis] = step
            index = place[0] * strides[0] + place[1] * strides[1] + place[2]
            state = self._states(length + on <= own_mm)[axis][index]
            in_bend = length + self.beside_mm < keep_mm - ROUNDING_MM
            if state == BLOCKED or (state == PASSAGE and in_bend and not in_panel):
                return
            at[axis] += sign
            length += on
            open_there = not shelter[
                at[0] * shelter_strides[0] + at[1] * shelter_strides[1] + at[2]
            ]
            cost += on * (1.0 + self.costs.open_share * open_there)
            if state == PASSAGE:
                cost += 0.0 if in_panel else self.costs.panel_mm
                passed_mm = length
            in_panel = state == PASSAGE
            bends = length - passed_mm + self.beside_mm >= self.radius_mm - ROUNDING_MM
            bends = bends and not in_panel
            yield Landing((at[0], at[1], at[2]), length, cost, bends)

    def _states(self, own: bool) -> tuple[bytes, bytes, bytes]:
        return self.own.flat if own else self.lattice.flat

    @cached_property
    def _lines(self) -> tuple[list[float], list[float], list[float]]:
        x, y, z = (axis.tolist() for axis in self.lattice.axes)
        return x, y, z

    @cached_property
    def _counts(self) -> tuple[int, int, int]:
        x, y, z = (len(line) for line in self._lines)
        return x, y, z

    @cached_property
    def _strides(self) -> list[tuple[int, int]]:
        return [(s.shape[1] * s.shape[2], s.shape[2]) for s in self.lattice.steps]

    @cached_property
    def _shelter(self) -> bytes:
        return np.ascontiguousarray(self.lattice.sheltered, dtype=np.uint8).tobytes()

    @cached_property
    def _shelter_strides(self) -> tuple[int, int]:
        return (self._counts[1] * self._counts[2], self._counts[2])

    @cached_property
    def _end_bounds(self) -> tuple[list[float], list[float]]:
        points = np.array([self.lattice.point(node) for node in self.ends])
        return points.min(axis=0).tolist(), points.max(axis=0).tolist()

    def _ahead(self, node: Node, way: int) -> float:
        """What is left at least from a corner: square to the vehicle to the ends' bounds, with the
        bends that this needs, the one at the corner among them.
        """
        low, high = self._end_bounds
        total, bends, back = 0.0, 0, False
        for axis in range(3):
            at = self._lines[axis][node[axis]]
            left = max(low[axis] - at, at - high[axis], 0.0)
            total += left
            if left > 0 and axis == way // 2:
                back = True
            elif left > 0:
                bends += 1
        bends = max(bends, 1) + back
        return total + self.costs.bend_mm * bends

    def _corners(self, label: Label) -> tuple[Vec3, ...]:
        corners: list[Vec3] = []
        at: Label | None = label
        while at is not None:
            corners.append(self.lattice.point(at.node))
            at = at.before
        return tuple(reversed(corners))
