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
import scipy  # its parts are read when they are first used

from gale_nook.core.geometry.frames import Vec3

FREE, PASSAGE, BLOCKED = 0, 1, 2
ROUNDING_MM = 1e-6
SLACK_MM = 4.0  # between two bends beyond what they take, for rounding to whole millimetres
MOST_LOOKED_AT = 12_000
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
        if not self.ends or not self._can_arrive:
            return None
        for start in self.starts:
            label = Label(start.node, -1, start.cost_mm, None)
            for way in start.ways:
                self._begin(label, way, start)
        closed: set[tuple[Node, int]] = set()
        while self._heap and len(closed) < MOST_LOOKED_AT:
            _, _, ended, label = heapq.heappop(self._heap)
            if ended:
                return self._corners(label)
            if (label.node, label.way) in closed:
                continue
            closed.add((label.node, label.way))
            for way in range(6):
                if way // 2 != label.way // 2:
                    self._go_on(label, way)
        return None

    def _begin(self, label: Label, way: int, start: SquareStart) -> None:
        """Put every place on the heap where the first straight can bend or end."""
        least = start.straight_mm + self.radius_mm + SLACK_MM
        for landing in self._straight(label.node, way, 0.0, start.own_mm):
            cost = label.cost_mm + landing.cost_mm
            if landing.length_mm >= self.last_mm:
                self._end(label, landing.node, way, cost + start.short_costs_mm(landing.length_mm))
            if landing.bends and landing.length_mm >= least:
                straight_mm = landing.length_mm - self.radius_mm
                self._put(label, landing.node, way, cost + start.short_costs_mm(straight_mm))

    def _go_on(self, label: Label, way: int) -> None:
        """Put every place on the heap where a straight from a corner can bend or end."""
        steps = self._far[way][label.node]
        if steps == 0:
            return
        cost = label.cost_mm + self.costs.bend_mm
        if self._panel[way][label.node] < steps:
            self._past_panels(label, way, cost)
            return
        axis, at = way // 2, label.node[way // 2]
        span = slice(at + 1, at + 1 + steps) if way % 2 else slice(at - steps, at)
        line = self.lattice.axes[axis]
        lengths = np.abs(line[span] - line[at])
        places = (*label.node[:axis], span, *label.node[axis + 1 :])
        passed = self._passed[axis]
        costs = cost + np.abs(passed[places] - passed[label.node])
        best = self._best[way][places]
        better = (lengths >= 2 * self.radius_mm + SLACK_MM) & (costs < best)
        for index in np.flatnonzero(better).tolist():
            place = list(label.node)
            place[axis] = span.start + index
            self._put(label, (place[0], place[1], place[2]), way, float(costs[index]))
        if way in self.arrives and self._end_lines[axis][places[:axis] + places[axis + 1 :]]:
            self._ends_on(label, way, cost, span, lengths)

    def _ends_on(self, label: Label, way: int, cost: float, span: slice, lengths: Any) -> None:
        """Put the ends on the heap that lie on a straight."""
        axis, passed = way // 2, self._passed[way // 2]
        for index, length in enumerate(lengths.tolist()):
            place = list(label.node)
            place[axis] = span.start + index
            node = (place[0], place[1], place[2])
            if node in self.ends and length >= self.radius_mm + self.last_mm:
                self._end(label, node, way, cost + abs(float(passed[node] - passed[label.node])))

    def _past_panels(self, label: Label, way: int, cost: float) -> None:
        """The same for a straight that passes panels."""
        keep_mm = self.radius_mm
        for landing in self._straight(label.node, way, keep_mm, 0.0):
            if way in self.arrives and landing.length_mm >= keep_mm + self.last_mm:
                self._end(label, landing.node, way, cost + landing.cost_mm)
            if landing.bends and landing.length_mm >= 2 * keep_mm + SLACK_MM:
                self._put(label, landing.node, way, cost + landing.cost_mm)

    def _put(self, before: Label, node: Node, way: int, cost: float) -> None:
        """Put a corner on the heap, where none was reached more cheaply."""
        if cost < self._best[way][node]:
            self._best[way][node] = cost
            left = self._ahead(node, way)
            if left < np.inf:
                label = Label(node, way, cost, before)
                rank = cost + self.costs.haste * left
                heapq.heappush(self._heap, (rank, next(self._counter), False, label))

    def _end(self, before: Label, node: Node, way: int, cost: float) -> None:
        """Put an end on the heap, where the run may end there."""
        end_cost = self.ends.get(node)
        if end_cost is not None and way in self.arrives:
            label = Label(node, way, cost + end_cost, before)
            heapq.heappush(self._heap, (label.cost_mm, next(self._counter), True, label))

    def _straight(self, node: Node, way: int, keep_mm: float, own_mm: float) -> Iterator[Landing]:
        """Yield the points along a straight, as far as it is free.

        Args:
            keep_mm: so far from the corner no panel may be passed: its bend is there.
            own_mm: so far what the run begins at is not in the way.
        """
        axis, sign = way // 2, 1 if way % 2 else -1
        line, passed = self.lattice.axes[axis], self._passed[axis]
        at, start = list(node), float(passed[node])
        length = panels = 0.0
        passed_mm = -np.inf
        in_panel = False
        while 0 <= at[axis] + sign < len(line):
            step = at.copy()
            step[axis] += min(sign, 0)
            on = abs(float(line[at[axis] + sign] - line[at[axis]]))
            lattice = self.own if length + on <= own_mm else self.lattice
            state = lattice.steps[axis][step[0], step[1], step[2]]
            in_bend = length + self.beside_mm < keep_mm - ROUNDING_MM
            if state == BLOCKED or (state == PASSAGE and in_bend and not in_panel):
                return
            at[axis] += sign
            length += on
            if state == PASSAGE:
                panels += 0.0 if in_panel else self.costs.panel_mm
                passed_mm = length
            in_panel = state == PASSAGE
            here = (at[0], at[1], at[2])
            bends = length - passed_mm + self.beside_mm >= self.radius_mm - ROUNDING_MM
            cost = abs(float(passed[here]) - start) + panels
            yield Landing(here, length, cost, bends and not in_panel)

    @cached_property
    def _can_arrive(self) -> bool:
        """Whether a straight as long as the last one is free before some end."""
        for way in self.arrives:
            axis, back = way // 2, way - 1 if way % 2 else way + 1
            for node in self.ends:
                steps = int(self._far[back][node])
                there = node[axis] + (steps if back % 2 else -steps)
                line = self.lattice.axes[axis]
                if abs(line[there] - line[node[axis]]) >= self.last_mm:
                    return True
        return False

    @cached_property
    def _heap(self) -> list[tuple[float, int, bool, Label]]:
        return []

    @cached_property
    def _best(self) -> list[Any]:
        """The least cost at which each corner was reached, for each way along which it was."""
        return [np.full(self.lattice.sheltered.shape, np.inf) for _ in range(6)]

    @cached_property
    def _passed(self) -> list[Any]:
        """What a straight costs from the lattice's first plane to each point, for each axis."""
        share = 1.0 + self.costs.open_share * ~self.lattice.sheltered
        results = []
        for axis in range(3):
            along = np.moveaxis(share, axis, 0)
            lengths = np.diff(self.lattice.axes[axis])[:, None, None]
            costs = np.zeros_like(along)
            costs[1:] = np.cumsum(lengths * (along[1:] + along[:-1]) / 2, axis=0)
            results.append(np.moveaxis(costs, 0, axis))
        return results

    @cached_property
    def _far(self) -> list[Any]:
        """Steps from each point until the first that is blocked, for each way."""
        return [self._steps_until(way, BLOCKED) for way in range(6)]

    @cached_property
    def _panel(self) -> list[Any]:
        """Steps from each point until the first that passes a panel or is blocked."""
        return [self._steps_until(way, PASSAGE) for way in range(6)]

    def _steps_until(self, way: int, state: int) -> Any:
        axis = way // 2
        stops = np.moveaxis(self.lattice.steps[axis], axis, 0) >= state
        count = np.zeros((stops.shape[0] + 1, *stops.shape[1:]), dtype=int)
        if way % 2:
            for index in range(stops.shape[0] - 1, -1, -1):
                count[index] = np.where(stops[index], 0, count[index + 1] + 1)
        else:
            for index in range(stops.shape[0]):
                count[index + 1] = np.where(stops[index], 0, count[index] + 1)
        return np.moveaxis(count, 0, axis)

    @cached_property
    def _end_lines(self) -> list[Any]:
        """For each axis, the lines along it on which an end lies."""
        marks = np.zeros(self.lattice.sheltered.shape, dtype=bool)
        for node in self.ends:
            marks[node] = True
        return [marks.any(axis=axis) for axis in range(3)]

    @cached_property
    def _lines(self) -> list[list[float]]:
        return [axis.tolist() for axis in self.lattice.axes]

    @cached_property
    def _end_bounds(self) -> tuple[list[float], list[float]]:
        points = np.array([self.lattice.point(node) for node in self.ends])
        return points.min(axis=0).tolist(), points.max(axis=0).tolist()

    @cached_property
    def _left(self) -> Any:
        """What is left at least from each point to an end, bends and panels left out; infinite
        where none can be reached.
        """
        numbers = np.arange(self.lattice.sheltered.size).reshape(self.lattice.sheltered.shape)
        ones, others, costs = [], [], []
        for axis in range(3):
            free = np.moveaxis(self.lattice.steps[axis], axis, 0) < BLOCKED
            along = np.moveaxis(numbers, axis, 0)
            ones.append(along[:-1][free])
            others.append(along[1:][free])
            costs.append(np.diff(np.moveaxis(self._passed[axis], axis, 0), axis=0)[free])
        size = numbers.size
        pairs = (np.concatenate(ones), np.concatenate(others))
        graph = scipy.sparse.csr_array((np.concatenate(costs), pairs), shape=(size, size))
        ends = [int(numbers[node]) for node in self.ends]
        found = scipy.sparse.csgraph.dijkstra(graph, directed=False, indices=ends, min_only=True)
        return found.reshape(numbers.shape)

    def _ahead(self, node: Node, way: int) -> float:
        """What is left at least from a corner, with the bends that the ends' bounds need, the one
        at the corner among them.
        """
        low, high = self._end_bounds
        bends, back = 0, False
        for axis in range(3):
            at = self._lines[axis][node[axis]]
            if not low[axis] <= at <= high[axis]:
                back = back or axis == way // 2
                bends += axis != way // 2
        return float(self._left[node]) + self.costs.bend_mm * (max(bends, 1) + back)

    def _corners(self, label: Label) -> tuple[Vec3, ...]:
        corners: list[Vec3] = []
        at: Label | None = label
        while at is not None:
            corners.append(self.lattice.point(at.node))
            at = at.before
        return tuple(reversed(corners))
