"""Leading a run from a start to wherever it may end, in three dimensions and within its limits.

A best-first search over the corners of a grid: places, eight directions, and how steeply it falls.
What it finds is a candidate; the station straightens it, fits it out and puts it before its checks.
"""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any, NamedTuple, Protocol

from gale_nook.core.geometry.frames import Vec3, add, angle_deg, norm, scale, sub
from gale_nook.core.routing.free_space import FAR, FreeSpace

MOST_TURN_DEG = 100.0
MOST_LOOKED_AT = 60_000
HEADINGS = tuple((math.cos(math.radians(45 * i)), math.sin(math.radians(45 * i))) for i in range(8))
CELLS = ((1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0), (-1, -1), (0, -1), (1, -1))


@dataclass(frozen=True, slots=True)
class Start:
    """Where a run begins.

    Attributes:
        direction: in which it leaves, a unit vector: down, or about level.
        straight_mm: before its first bend, at least.
    """

    point: Vec3
    direction: Vec3
    straight_mm: float = 0.0


@dataclass(frozen=True, slots=True)
class Limits:
    """What a run has to keep to.

    Attributes:
        length_mm: at most, joints left out of account.
        bend_sum_deg: at most.
        radius_mm: of every bend.
        slopes_deg: that a straight may fall by, the preferred first; negative where it rises.
    """

    length_mm: float
    bend_sum_deg: float
    radius_mm: float
    slopes_deg: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Cost:
    """What bends cost beside the length that they have, in mm of run.

    Attributes:
        haste: how much what is left counts; at 1 the cheapest route is found, above it one at most
            so much dearer, sooner.
    """

    bend_mm_per_deg: float = 0.0
    corner_mm: float = 0.0
    haste: float = 1.0


class Ends(Protocol):
    """Where a run may end."""

    def columns(self, space: FreeSpace) -> Any:
        """Return the columns where it may at some height, (ny, nx); none may be left out."""

    def reach_mm(self, point: Vec3, direction: Vec3, step_mm: float) -> float | None:
        """Return how far on the end lies, within about a step; None where it lies elsewhere."""

    def may_end(self, point: Vec3, direction: Vec3) -> bool:
        """Return whether a run may end at a point, arriving in a direction."""


class Label(NamedTuple):
    """A place that was reached: where, how it goes on, what it has cost, and from where."""

    ix: int
    iy: int
    z_mm: float
    heading: int
    slope: int
    length_mm: float
    bends_deg: float
    corners: int
    since_mm: float
    tangent_mm: float
    before: Label | None
    turned: bool


@dataclass(frozen=True, slots=True)
class FoundRoute:
    """A route: corners from the start's own to the end (mm), and what the search took it for."""

    corners: tuple[Vec3, ...]
    length_mm: float
    bends_deg: float
    looked_at: int


@dataclass(frozen=True)
class GridSearch:
    """One search.

    Attributes:
        most: places that are looked at before it is given up.
    """

    space: FreeSpace
    start: Start
    limits: Limits
    cost: Cost
    ends: Ends
    most: int = MOST_LOOKED_AT

    @cached_property
    def _turns(self) -> dict[tuple[int, int], list[tuple[int, int, float, float, float]]]:
        """(heading, slope) -> (new heading, new slope, degrees, tangent, what it shortens) of each
        bend that may follow.
        """
        directions = [(h, s) for h in range(8) for s in range(len(self.limits.slopes_deg))]
        vectors = {direction: self._vector(*direction) for direction in directions}
        results: dict[tuple[int, int], list[tuple[int, int, float, float, float]]] = {}
        for old in directions:
            results[old] = []
            for new in directions:
                angle = angle_deg(vectors[old], vectors[new])
                if new != old and angle <= MOST_TURN_DEG:
                    results[old].append((*new, angle, *self._bend(angle)))
        return results

    def _vector(self, heading: int, slope: int) -> Vec3:
        falls = math.radians(self.limits.slopes_deg[slope])
        dx, dy = HEADINGS[heading]
        return (dx * math.cos(falls), dy * math.cos(falls), -math.sin(falls))

    def run(self) -> FoundRoute | None:
        """Return the cheapest route that the search comes upon; None where there is none within
        the limits.
        """
        heap: list[tuple[float, int, Label]] = []
        counter = itertools.count()
        for label in self._starts():
            self._put(heap, next(counter), label)
        closed: set[tuple[int, int, int, int, int, bool]] = set()
        while heap and len(closed) < self.most:
            _, _, label = heapq.heappop(heap)
            key = self._key(label)
            if key in closed:
                continue
            closed.add(key)
            end = self._end(label)
            if end is not None:
                return self._found(label, end, len(closed))
            for after in self._after(label):
                if self._key(after) not in closed:
                    self._put(heap, next(counter), after)
        return None

    def _put(self, heap: list[tuple[float, int, Label]], number: int, label: Label) -> None:
        """Put a label on the heap by its cost so far and what is left at least; not where a limit
        is passed for sure.
        """
        left = self._ahead[label.iy][label.ix]
        limits = self.limits
        cost = self.cost
        if (
            left < FAR
            and label.length_mm + left <= limits.length_mm
            and label.bends_deg <= limits.bend_sum_deg
        ):
            so_far = (
                label.length_mm
                + cost.bend_mm_per_deg * label.bends_deg
                + cost.corner_mm * label.corners
            )
            heapq.heappush(heap, (so_far + cost.haste * left, number, label))

    @cached_property
    def _ahead(self) -> list[list[float]]:
        """The least length left from each column to one in which the run may end at some height."""
        return self.space.ahead_mm(self.ends.columns(self.space)).tolist()  # type: ignore[no-any-return]

    def _key(self, label: Label) -> tuple[int, int, int, int, int, bool]:
        settled = label.since_mm >= label.tangent_mm + self.limits.radius_mm
        layer = int((label.z_mm - self._low_z) / self._step + 0.5)
        return (label.ix, label.iy, layer, label.heading, label.slope, settled)

    @cached_property
    def _low_z(self) -> float:
        return self.space.grid.low[2]

    @cached_property
    def _step(self) -> float:
        return self.space.grid.step_mm

    @cached_property
    def _is_free(self) -> Callable[[int, int, float], bool]:
        """Look up whether the pipe's middle may be in a column at a height; the search's innermost
        step.
        """
        flat, (nx, ny, _), low, step = (
            self.space.flat,
            self.space.grid.count,
            self._low_z,
            self._step,
        )
        lowest, highest = self.space.low_mm, self.space.high_mm

        def is_free(ix: int, iy: int, z_mm: float) -> bool:
            if not (lowest <= z_mm <= highest and 0 <= ix < nx and 0 <= iy < ny):
                return False
            layer = int((z_mm - low) / step + 0.5)
            return not flat[(layer * ny + iy) * nx + ix]

        return is_free

    @cached_property
    def _cells(self) -> dict[tuple[int, int], tuple[int, int, float, float]]:
        """(heading, slope) -> cells along x and y, height lost, and length of one cell on."""
        results = {}
        for heading, (dx, dy) in enumerate(CELLS):
            level = self._step * math.hypot(dx, dy)
            for slope, degrees in enumerate(self.limits.slopes_deg):
                falls = math.radians(degrees)
                results[heading, slope] = (dx, dy, level * math.tan(falls), level / math.cos(falls))
        return results

    def _starts(self) -> list[Label]:
        """Straight down from the start to each height, then off in each direction; a level start
        goes straight on.
        """
        if self.start.direction[2] > -0.7:
            return [self._level_start()]
        results: list[Label] = []
        ix, iy = self.space.at
        top = self.start.point[2]
        low = self.space.low_mm
        high = self.space.high_mm
        for slope, degrees in enumerate(self.limits.slopes_deg):
            angle = 90.0 - degrees
            tangent, shorter = self._bend(angle)
            z = top - self.start.straight_mm - tangent
            while z >= low and (z > high or self._is_free(ix, iy, z)):
                length = top - z - shorter
                first = Label(ix, iy, z, 0, slope, length, angle, 1, 0.0, tangent, None, True)
                if z <= high:
                    results += [first._replace(heading=heading) for heading in range(8)]
                z -= self._step
        return results

    def _level_start(self) -> Label:
        (ix, iy), direction = self.space.at, self.start.direction
        heading = max(
            range(8), key=lambda i: HEADINGS[i][0] * direction[0] + HEADINGS[i][1] * direction[1]
        )
        angle, before = angle_deg(direction, self._vector(heading, 0)), -self.start.straight_mm
        z = self.start.point[2]
        return Label(ix, iy, z, heading, 0, 0.0, angle, 0, before, 0.0, None, False)

    def _bend(self, angle_deg: float) -> tuple[float, float]:
        """The tangent length of a bend, and by how much its arc is shorter than its corner."""
        radius, angle = self.limits.radius_mm, math.radians(angle_deg)
        tangent = radius * math.tan(angle / 2)
        return tangent, 2 * tangent - radius * angle

    def _after(self, label: Label) -> list[Label]:
        """What can follow: straight on, or a bend where the straight before is long
        enough for it.
        """
        results = []
        dx, dy, drop, on_mm = self._cells[label.heading, label.slope]
        ix, iy, z = label.ix + dx, label.iy + dy, label.z_mm - drop
        length = label.length_mm
        bends = label.bends_deg
        corners = label.corners
        if self._is_free(ix, iy, z):
            results.append(
                label._replace(
                    ix=ix,
                    iy=iy,
                    z_mm=z,
                    length_mm=length + on_mm,
                    since_mm=label.since_mm + on_mm,
                    before=label,
                    turned=False,
                )
            )
        spare, most_deg = label.since_mm - label.tangent_mm, self.limits.bend_sum_deg - bends
        for heading, slope, angle, tangent, shorter in self._turns[label.heading, label.slope]:
            if spare < tangent or angle > most_deg:
                continue
            dx, dy, drop, on_mm = self._cells[heading, slope]
            ix, iy, z = label.ix + dx, label.iy + dy, label.z_mm - drop
            if self._is_free(ix, iy, z):
                more = (length + on_mm - shorter, bends + angle, corners + 1, on_mm, tangent)
                results.append(Label(ix, iy, z, heading, slope, *more, label, True))
        return results

    def _point(self, label: Label) -> Vec3:
        grid = self.space.grid
        return (
            grid.low[0] + label.ix * grid.step_mm,
            grid.low[1] + label.iy * grid.step_mm,
            label.z_mm,
        )

    def _end(self, label: Label) -> Vec3 | None:
        """Where the run ends as it goes on from here; None where it does not."""
        if self._ahead[label.iy][label.ix] > self._step:
            return None
        point, direction = self._point(label), self._vector(label.heading, label.slope)
        on = self.ends.reach_mm(point, direction, self._step)
        if on is None or label.since_mm + on < label.tangent_mm:
            return None
        if label.length_mm + on > self.limits.length_mm:
            return None
        end = add(point, scale(direction, on))
        if not self.space.low_mm <= end[2] <= self.space.high_mm:
            return None
        return end if self.ends.may_end(end, direction) else None

    def _found(self, label: Label, end: Vec3, looked_at: int) -> FoundRoute:
        corners = [end]
        at: Label | None = label
        first = label
        while at is not None:
            if at.turned and at.before is not None:
                corners.append(self._point(at.before))
            first, at = at, at.before
        start = self._point(first)
        if norm(sub(start, corners[-1])) > 1.0 and first.turned:
            corners.append(start)
        on = norm(sub(end, self._point(label)))
        return FoundRoute(
            tuple(reversed(corners)), label.length_mm + on, label.bends_deg, looked_at
        )
