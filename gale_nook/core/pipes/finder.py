"""Finding a way for the exhaust: from the port to an edge of the vehicle, in three dimensions,
within every limit.

A best-first search over the corners of a grid: places, eight directions, and how steeply it falls.
What it finds is a proposal; `proposals.py` straightens it and puts it before the checks themselves.
"""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np

from gale_nook.core.geometry.frames import Vec3, angle_deg, norm, sub
from gale_nook.core.heater.limits import least_of, limit_band, most_of
from gale_nook.core.job import Job
from gale_nook.core.pipes.free_space import FAR, PAST_EDGE_MM, Room, room_of
from gale_nook.core.pipes.mouth_rules import FORWARD, nearest_in_box
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import EdgeName
from gale_nook.core.spot.placement import heater_port, port_direction, port_point
from gale_nook.core.vehicle.parts import opening_box, surveyed_parts

STEP_MM = 20.0
BEND_COSTS_MM_PER_DEG = 2.0  # a right angle is worth avoiding for 180 mm of pipe
CORNER_COSTS_MM = 30.0  # and each corner for its own sake
STEEP_DEG = 15.0
SPARE_FALL_DEG = 0.5
MOST_TURN_DEG = 100.0
MOST_LOOKED_AT = 60_000
HEADINGS = tuple((math.cos(math.radians(45 * i)), math.sin(math.radians(45 * i))) for i in range(8))
CELLS = ((1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0), (-1, -1), (0, -1), (1, -1))


@dataclass(frozen=True)
class RouteConstraints:
    """What a way has to keep to.

    Attributes:
        length_mm: at most, joints left out of account.
        bend_sum_deg: at most.
        radius_mm: of every bend.
        falls_deg: that a straight may have, the least first.
        first_mm: straight after the port.
        mouth_opening_mm, mouth_ground_mm, mouth_forward_deg: of the mouth.
        from_mm, to_mm: stretch of the sides in which the mouth may be.
        avoid, avoid_mm: mouths that were found already, and how far to stay from them.
        step_mm: of the grid.
        gap_share: of the gaps that the kinds of parts ask for.
        extra_mm: on top of every gap, for what bends cut off their corners.
        haste: how much what is left counts; at 1 the cheapest way is found, above it one at most so
            much dearer, sooner.
    """

    length_mm: float
    bend_sum_deg: float
    radius_mm: float
    falls_deg: tuple[float, ...]
    first_mm: float
    mouth_opening_mm: float
    mouth_ground_mm: float
    mouth_forward_deg: float
    from_mm: float = -math.inf
    to_mm: float = math.inf
    avoid: tuple[Vec3, ...] = ()
    avoid_mm: float = 500.0
    step_mm: float = STEP_MM
    gap_share: float = 1.0
    extra_mm: float = 0.0
    haste: float = 1.0


def constraints_of(job: Job) -> RouteConstraints:
    """Return what the sheet, the workshop and the job ask for."""

    pipes = job.plan.pipes
    fall = (
        max(least_of(job, "exhaust_fall_deg", 0.0), job.plan.settings.parked_tilt_deg)
        + SPARE_FALL_DEG
    )
    return RouteConstraints(
        length_mm=most_of(job, "exhaust_length_mm", 6000.0),
        bend_sum_deg=most_of(job, "exhaust_bend_sum_deg", 900.0),
        radius_mm=least_of(job, "exhaust_radius_mm", 50.0),
        falls_deg=(fall, max(STEEP_DEG, fall + 5)),
        first_mm=least_of(job, "first_straight_mm", 0.0) + job.plan.settings.tolerance_mm,
        mouth_opening_mm=least_of(job, "mouth_opening_mm", 0.0),
        mouth_ground_mm=least_of(job, "mouth_ground_mm", 0.0),
        mouth_forward_deg=least_of(job, "mouth_forward_deg", 0.0),
        from_mm=pipes.mouth_from_mm if pipes.mouth_from_mm is not None else -math.inf,
        to_mm=pipes.mouth_to_mm if pipes.mouth_to_mm is not None else math.inf,
    )


class Label(NamedTuple):
    """A place that was reached: where, how it goes on, what it has cost, and from where."""

    ix: int
    iy: int
    z_mm: float
    heading: int
    fall: int
    length_mm: float
    bends_deg: float
    corners: int
    since_mm: float
    tangent_mm: float
    before: Label | None
    turned: bool


@dataclass(frozen=True)
class FoundRoute:
    """A way: corners from the port's own to the mouth (mm), and what the search took it for."""

    corners: tuple[Vec3, ...]
    edge: EdgeName
    length_mm: float
    bends_deg: float
    looked_at: int


@dataclass(frozen=True)
class Search:
    """One search: a room, a port, an edge, and what is wanted."""

    job: Job
    room: Room
    port: Vec3
    edge: EdgeName
    wanted: RouteConstraints

    @cached_property
    def _turns(self) -> dict[tuple[int, int], list[tuple[int, int, float, float, float]]]:
        """(heading, fall) -> (new heading, new fall, degrees, tangent, what it shortens) of each
        bend that may follow.
        """
        ways = [(h, f) for h in range(8) for f in range(len(self.wanted.falls_deg))]
        vectors = {way: self._vector(*way) for way in ways}
        found: dict[tuple[int, int], list[tuple[int, int, float, float, float]]] = {}
        for old in ways:
            found[old] = []
            for new in ways:
                angle = angle_deg(vectors[old], vectors[new])
                if new != old and angle <= MOST_TURN_DEG:
                    tangent = self.wanted.radius_mm * math.tan(math.radians(angle / 2))
                    shorter = 2 * tangent - self.wanted.radius_mm * math.radians(
                        angle
                    )  # a fillet than its corner
                    found[old].append((*new, angle, tangent, shorter))
        return found

    def _vector(self, heading: int, fall: int) -> Vec3:
        slope = math.radians(self.wanted.falls_deg[fall])
        dx, dy = HEADINGS[heading]
        return (dx * math.cos(slope), dy * math.cos(slope), -math.sin(slope))

    def run(self) -> FoundRoute | None:
        """Return the cheapest way that the search comes upon; None where there is none within what
        is wanted.
        """
        heap: list[tuple[float, int, Label]] = []
        counter = itertools.count()
        for label in self._starts():
            self._put(heap, next(counter), label)
        closed: set[tuple[int, int, int, int, int, bool]] = set()
        while heap and len(closed) < MOST_LOOKED_AT:
            _, _, label = heapq.heappop(heap)
            key = self._key(label)
            if key in closed:
                continue
            closed.add(key)
            mouth = self._mouth(label)
            if mouth is not None:
                return self._found(label, mouth, len(closed))
            for after in self._after(label):
                if self._key(after) not in closed:
                    self._put(heap, next(counter), after)
        return None

    def _put(self, heap: list[tuple[float, int, Label]], number: int, label: Label) -> None:
        """Put a label on the heap by its cost so far and what is left at least; not where a limit
        is passed for sure.
        """
        left, wanted = self._ahead[label.iy][label.ix], self.wanted
        if (
            left < FAR
            and label.length_mm + left <= wanted.length_mm
            and label.bends_deg <= wanted.bend_sum_deg
        ):
            cost = (
                label.length_mm
                + BEND_COSTS_MM_PER_DEG * label.bends_deg
                + CORNER_COSTS_MM * label.corners
            )
            heapq.heappush(heap, (cost + wanted.haste * left, number, label))

    @cached_property
    def _ahead(self) -> list[list[float]]:
        """The least length left from each column to one at the edge in which the mouth may be at
        some height.
        """
        ends = self.room.beyond(self.job, self.edge) & self._mouth_columns()
        return self.room.ahead_mm(ends).tolist()  # type: ignore[no-any-return]

    def _mouth_columns(self) -> Any:
        """Which columns the mouth may be in, as far as that can be said without its height and
        direction; (ny, nx).
        """
        x, y, z = self.room.grid.axes
        x, y, wanted = x[None, :], y[:, None], self.wanted
        slack = 1.5 * self._step  # the mouth lies up to so far past its column
        may = np.ones(self.room.free_somewhere.shape, dtype=bool)
        if self.edge != "rear":
            may &= (x >= wanted.from_mm - slack) & (x <= wanted.to_mm + slack)
        for other in wanted.avoid:
            may &= np.hypot(x - other[0], y - other[1]) >= wanted.avoid_mm - slack
        for opening in self.job.plan.vehicle.openings:
            if opening.opens:
                low, size = opening_box(self.job, opening)
                dx = np.maximum(np.maximum(low[0] - x, x - low[0] - size[0]), 0.0)
                dy = np.maximum(np.maximum(low[1] - y, y - low[1] - size[1]), 0.0)
                dz = max(low[2] - z[0], z[-1] - low[2] - size[2], 0.0)
                may &= np.sqrt(dx**2 + dy**2 + dz**2) >= wanted.mouth_opening_mm - slack
        return may

    def _key(self, label: Label) -> tuple[int, int, int, int, int, bool]:
        settled = label.since_mm >= label.tangent_mm + self.wanted.radius_mm
        layer = int((label.z_mm - self._low_z) / self._step + 0.5)
        return (label.ix, label.iy, layer, label.heading, label.fall, settled)

    @cached_property
    def _low_z(self) -> float:
        return self.room.grid.low[2]

    @cached_property
    def _step(self) -> float:
        return self.room.grid.step_mm

    @cached_property
    def _is_free(self) -> Callable[[int, int, float], bool]:
        """Look up whether the pipe's middle may be in a column at a height; the search's innermost
        step.
        """
        flat, (nx, ny, _), low, step = self.room.flat, self.room.grid.count, self._low_z, self._step
        lowest, highest = self.room.low_mm, self.room.high_mm

        def is_free(ix: int, iy: int, z_mm: float) -> bool:
            if not (lowest <= z_mm <= highest and 0 <= ix < nx and 0 <= iy < ny):
                return False
            layer = int((z_mm - low) / step + 0.5)
            return not flat[(layer * ny + iy) * nx + ix]

        return is_free

    @cached_property
    def _cells(self) -> dict[tuple[int, int], tuple[int, int, float, float]]:
        """(heading, fall) -> cells along x and y, height lost, and length of one cell on."""
        found = {}
        for heading, (dx, dy) in enumerate(CELLS):
            level = self._step * math.hypot(dx, dy)
            for fall, degrees in enumerate(self.wanted.falls_deg):
                slope = math.radians(degrees)
                found[heading, fall] = (dx, dy, level * math.tan(slope), level / math.cos(slope))
        return found

    def _starts(self) -> list[Label]:
        """Straight down from the port to each height, then off in each direction; a level port goes
        straight on.
        """
        direction = port_direction(self.job, "exhaust")
        found: list[Label] = []
        ix, iy = self.room.at
        if direction[2] > -0.7:
            heading = max(
                range(8),
                key=lambda i: HEADINGS[i][0] * direction[0] + HEADINGS[i][1] * direction[1],
            )
            angle = angle_deg(direction, self._vector(heading, 0))
            return [
                Label(
                    ix,
                    iy,
                    self.port[2],
                    heading,
                    0,
                    0.0,
                    angle,
                    0,
                    -self.wanted.first_mm,
                    0.0,
                    None,
                    False,
                )
            ]
        for fall in range(len(self.wanted.falls_deg)):
            angle = 90.0 - self.wanted.falls_deg[fall]
            tangent = self.wanted.radius_mm * math.tan(math.radians(angle / 2))
            shorter = 2 * tangent - self.wanted.radius_mm * math.radians(angle)
            drop = self.wanted.first_mm + tangent
            z = self.port[2] - drop
            while z >= self.room.low_mm and (z > self.room.high_mm or self._is_free(ix, iy, z)):
                start = Label(
                    ix,
                    iy,
                    z,
                    0,
                    fall,
                    self.port[2] - z - shorter,
                    angle,
                    1,
                    0.0,
                    tangent,
                    None,
                    True,
                )
                if z <= self.room.high_mm:
                    found += [start._replace(heading=heading) for heading in range(8)]
                z -= self.room.grid.step_mm
        return found

    def _after(self, label: Label) -> list[Label]:
        """What can follow: straight on, or a bend where the straight before is long
        enough for it.
        """
        found = []
        dx, dy, drop, on_mm = self._cells[label.heading, label.fall]
        ix, iy, z = label.ix + dx, label.iy + dy, label.z_mm - drop
        if self._is_free(ix, iy, z):
            found.append(
                Label(
                    ix,
                    iy,
                    z,
                    label.heading,
                    label.fall,
                    label.length_mm + on_mm,
                    label.bends_deg,
                    label.corners,
                    label.since_mm + on_mm,
                    label.tangent_mm,
                    label,
                    False,
                )
            )
        spare, most_deg = (
            label.since_mm - label.tangent_mm,
            self.wanted.bend_sum_deg - label.bends_deg,
        )
        for heading, fall, angle, tangent, shorter in self._turns[label.heading, label.fall]:
            if spare < tangent or angle > most_deg:
                continue
            dx, dy, drop, on_mm = self._cells[heading, fall]
            ix, iy, z = label.ix + dx, label.iy + dy, label.z_mm - drop
            if self._is_free(ix, iy, z):
                length = label.length_mm + on_mm - shorter
                found.append(
                    Label(
                        ix,
                        iy,
                        z,
                        heading,
                        fall,
                        length,
                        label.bends_deg + angle,
                        label.corners + 1,
                        on_mm,
                        tangent,
                        label,
                        True,
                    )
                )
        return found

    def _point(self, label: Label) -> Vec3:
        grid = self.room.grid
        return (
            grid.low[0] + label.ix * grid.step_mm,
            grid.low[1] + label.iy * grid.step_mm,
            label.z_mm,
        )

    def _mouth(self, label: Label) -> Vec3 | None:
        """The mouth just past the edge, where the way as it goes on reaches it and the mouth may be
        there.
        """
        if self._ahead[label.iy][label.ix] > self._step:
            return None
        shell = self.job.plan.vehicle.shell
        half = shell.outer_width_mm / 2 + PAST_EDGE_MM
        point, way = self._point(label), self._vector(label.heading, label.fall)
        missing, speed = {
            "left": (point[1] + half, -way[1]),
            "right": (half - point[1], way[1]),
            "rear": (shell.rear_x_mm + PAST_EDGE_MM - point[0], way[0]),
        }[self.edge]
        if speed < 0.5 or not -1e-6 <= missing <= 1.5 * self.room.grid.step_mm:
            return None
        on = missing / speed
        if label.since_mm + on < label.tangent_mm or label.length_mm + on > self.wanted.length_mm:
            return None
        mouth = (point[0] + way[0] * on, point[1] + way[1] * on, point[2] + way[2] * on)
        return mouth if self._may_end(mouth, way) else None

    def _may_end(self, mouth: Vec3, way: Vec3) -> bool:
        job, wanted = self.job, self.wanted
        ground = job.plan.vehicle.shell.ground_z_mm
        if mouth[2] < max(self.room.low_mm, ground + wanted.mouth_ground_mm):
            return False
        if angle_deg(way, FORWARD) < wanted.mouth_forward_deg:
            return False
        if self.edge != "rear" and not wanted.from_mm <= mouth[0] <= wanted.to_mm:
            return False
        if any(norm(sub(mouth, other)) < wanted.avoid_mm for other in wanted.avoid):
            return False
        for opening in job.plan.vehicle.openings:
            if (
                opening.opens
                and norm(sub(mouth, nearest_in_box(mouth, *opening_box(job, opening))))
                < wanted.mouth_opening_mm
            ):
                return False
        for _, kind, shape in surveyed_parts(job):
            if (
                kind.mouth_mm is not None
                and min(norm(sub(mouth, p.nearest(mouth))) for p in shape.pieces) < kind.mouth_mm
            ):
                return False
        return self._apart_from_intake(mouth, way)

    def _apart_from_intake(self, mouth: Vec3, way: Vec3) -> bool:
        intake = pipe_run(self.job, "intake")
        apart, facing = (
            limit_band(self.job, "mouths_apart_mm"),
            limit_band(self.job, "mouths_facing_deg"),
        )
        if intake is None:
            return True
        far = apart is None or apart.margin(norm(sub(mouth, intake.mouth))) >= 0
        turned = facing is None or facing.margin(angle_deg(way, sub(intake.mouth, mouth))) >= 0
        return far and turned

    def _found(self, label: Label, mouth: Vec3, looked_at: int) -> FoundRoute:
        corners = [mouth]
        at: Label | None = label
        first = label
        while at is not None:
            if at.turned and at.before is not None:
                corners.append(self._point(at.before))
            first, at = at, at.before
        start = self._point(first)
        if norm(sub(start, corners[-1])) > 1.0 and first.turned:
            corners.append(start)
        on = norm(sub(mouth, self._point(label)))
        return FoundRoute(
            tuple(reversed(corners)), self.edge, label.length_mm + on, label.bends_deg, looked_at
        )


def find_route(
    job: Job, edge: EdgeName, wanted: RouteConstraints, port: Vec3 | None = None
) -> FoundRoute | None:
    """Return a way from the exhaust's port to an edge, or None.

    Args:
        port: another place for the port, in the vehicle's frame.
    """
    at = port if port is not None else port_point(job, heater_port(job, "exhaust"))
    room = room_of(job, at, wanted.length_mm, wanted.step_mm, wanted.gap_share, wanted.extra_mm)
    return Search(job, room, at, edge, wanted).run()
