"""A fuel line led round what stands under the vehicle, where the usual simple ones meet something.

At each of several heights the shortest way through what is free there is found in plan; the line
leaves the tank level, comes down to that height past the tank's edge, and rises to the heater.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np

from gale_nook.core.fuel.before import BEFORE_FUEL
from gale_nook.core.fuel.line import AT_HEATER_MM, supply, vehicle_tank
from gale_nook.core.fuel.start import LineCandidate, drawn_length_mm, fitted_line
from gale_nook.core.geometry.cloud import Grid3, block_body
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape, box_shape
from gale_nook.core.job import Job
from gale_nook.core.ledger.body import Body, body_of
from gale_nook.core.ledger.pairs import least_gap_mm
from gale_nook.core.pipes.covers import cover_segments
from gale_nook.core.pipes.runs import through_body_mm
from gale_nook.core.routing.families import length_mm
from gale_nook.core.routing.free_space import FAR, descended, grid_round, spread_mm
from gale_nook.core.spot.placement import heater_port, port_point
from gale_nook.core.vehicle.floor import every_floor

STEP_MM = 20.0
LINE_MM = 6.0  # outside diameter that room is kept for
SPARE_MM = 6.0
BESIDE_MM = 650.0  # how far aside of its ends a way is looked for
UNDER_MM = (40.0, 75.0, 105.0, 140.0, 180.0, 230.0, 290.0)  # heights under the floor
RISE_MM = 4.0  # of each leg on its way to the heater
LEAVES_MM = 2.0  # over where it takes off
LEAST_LEG_MM, SHORT_MM, LEAST_DROP_MM = 65.0, 40.0, 20.0
AT_TANK_MM = 110.0  # so far the line lies on its tank at most
PAST_TANK_MM = 18.0
PAST_MM = 90.0  # past the tank, pump and filter have room
STUB_MM = 55.0  # so far it goes straight down from the stub, at least
Kept = tuple[tuple[Shape, float], ...]
PUMP_PLACES = (0.35, 0.5, 0.2, 0.65, 0.8, 0.1)  # shares of its length
MOST_PUMP_MM = 1400.0


@dataclass(frozen=True)
class _Room:
    """What is free under the floor.

    Attributes:
        kept: shapes, each with how far the line's middle keeps from it; at_tank, at_heater: the
            same where the line lies on its tank, and where it is among the heater's ports.
        in_box_mm: so far the line goes down until it has left the heater's own box.
    """

    grid: Grid3
    kept: Kept
    at_tank: Kept
    at_heater: Kept
    stub: Vec3
    take_off: Vec3
    in_box_mm: float = 0.0
    known: dict[tuple[float, float, bool], Any] = field(default_factory=dict)

    def free_at(self, low_mm: float, high_mm: float, *, on_tank: bool = False) -> Any:
        """Return which columns are free from one height to another, (ny, nx)."""
        key = (round(low_mm, 3), round(high_mm, 3), on_tank)
        if key not in self.known:
            count = int((high_mm - low_mm) / STEP_MM) + 1
            free = self._free(low_mm, count, on_tank)
            self.known[key] = free & self._free(high_mm, 1, on_tank)
        return self.known[key].copy()

    def _free(self, low_mm: float, count: int, on_tank: bool) -> Any:
        (x, y, _), (nx, ny, _) = self.grid.low, self.grid.count
        layers = Grid3((x, y, low_mm), STEP_MM, (nx, ny, count))
        blocked, near = (np.zeros(layers.shape, dtype=bool) for _ in range(2))
        for shape, reach in self.at_tank if on_tank else self.kept:
            block_body(blocked, layers, shape, reach)
        for shape, reach in self.at_heater:
            block_body(near, layers, shape, reach)
        return ~np.where(_about(layers, self.stub), near, blocked).any(axis=0)

    def cell(self, point: Sequence[float]) -> tuple[int, int]:
        """Return the cell (iy, ix) of a point."""
        low, step, (nx, ny, _) = self.grid.low, self.grid.step_mm, self.grid.count
        ix, iy = (round((point[axis] - low[axis]) / step) for axis in range(2))
        return min(max(iy, 0), ny - 1), min(max(ix, 0), nx - 1)

    def place(self, cell: tuple[int, int], z_mm: float) -> Vec3:
        """Return the point of a cell at a height."""
        low, step = self.grid.low, self.grid.step_mm
        return (low[0] + cell[1] * step, low[1] + cell[0] * step, z_mm)

    def _spread(self, at: Vec3, z_mm: float, most_mm: float, *, on_tank: bool = False) -> Any:
        """How long the way from a point is to each column, level at a height; FAR where there is
        none, or it is longer than it may be.
        """
        free = self.free_at(z_mm, z_mm, on_tank=on_tank)
        start = np.full(free.shape, FAR)
        start[self.cell(at)] = 0.0
        free[self.cell(at)] = True
        lengths = spread_mm(start, free, self.grid.step_mm)
        return np.where(lengths <= most_mm, lengths, FAR)

    @property
    def leaves_mm(self) -> float:
        """The height at which the line leaves the tank."""
        return self.take_off[2] + LEAVES_MM

    @property
    def comes_mm(self) -> float:
        """The height at which it comes to the heater."""
        return self.stub[2] - max(STUB_MM, self.in_box_mm)

    @cached_property
    def way_out(self) -> Any:
        """How long the way from the take-off is to each column, level."""
        return self._spread(self.take_off, self.leaves_mm, AT_TANK_MM, on_tank=True)

    @cached_property
    def way_in(self) -> Any:
        """How long the way from each column is to under the stub, level."""
        return self._spread(self.stub, self.comes_mm, FAR)


def searched_lines(job: Job) -> Iterator[LineCandidate]:
    """Yield lines led round what stands there, the highest first, each with its pump in several
    places. Needs heater and spot.
    """
    room = _room(job)
    if room is None:
        return
    top = max(floor.underside_z_mm for floor in every_floor(job))
    for under in UNDER_MM:
        corners = _corners(room, top - under)
        if not corners:
            continue
        length = length_mm([room.take_off, *corners, room.stub])
        line = fitted_line(job, corners, length, 0.0)
        drawn_mm = drawn_length_mm(job, line)
        first = LineCandidate(corners[0][1], under, line, drawn_mm, led_round=True)
        leaves = _past_tank_mm(room, corners)
        for share in PUMP_PLACES:
            at = min(leaves + share * (length - leaves), leaves + MOST_PUMP_MM)
            filter_mm = (leaves + at) / 2
            yield replace(first, line=fitted_line(job, corners, length, at, filter_mm))


def _past_tank_mm(room: _Room, corners: list[Vec3]) -> float:
    """How far along the line pump and filter have room: past where it comes down from the tank."""
    level = [c for c in corners if abs(c[2] - room.leaves_mm) < 1e-6]
    return length_mm([room.take_off, *level]) + PAST_MM


def _room(job: Job) -> _Room | None:
    """The room under the floor, with what the line keeps from taken out; None without a source."""
    source = supply(job)
    if source is None:
        return None
    stub, shell = port_point(job, heater_port(job, "fuel")), job.plan.vehicle.shell
    half, out = shell.outer_width_mm / 2, source.start
    sides = tuple(
        (
            max(min(stub[axis], out[axis]) - BESIDE_MM, low),
            min(max(stub[axis], out[axis]) + BESIDE_MM, high),
        )
        for axis, (low, high) in enumerate(((shell.front_x_mm, shell.rear_x_mm), (-half, half)))
    )
    reach = math.dist(stub, out) + 2 * BESIDE_MM
    grid, _ = grid_round(stub, reach, STEP_MM, (sides[0], sides[1]), (stub[2], stub[2]))
    vehicles = vehicle_tank(job)
    tank = "fuel.tank" if source.own else vehicles.id if vehicles is not None else ""
    there = [each for bodies in BEFORE_FUEL for each in bodies(job)]
    kept, at_heater = (list(_kept(job, kind, there)) for kind in ("line", "line-at-heater"))
    on_tank = list(_kept(job, "line", [body for body in there if body.id != tank]))
    tanks = [body for body in there if body.id == tank]
    kind = job.catalogue.solid_kinds["fuel-pipe"]
    for stretch in cover_segments(job):
        covered = kind.covered_mm if stretch.is_covered else None
        apart = covered if covered is not None else kind.exhaust_mm or 0.0
        hot = (stretch.shape, LINE_MM / 2 + apart + SPARE_MM)
        kept.append(hot)
        on_tank.append(hot)
    box_mm = through_body_mm(job, "fuel")
    kept += [(body.shape, LINE_MM / 2 + PAST_TANK_MM) for body in tanks]
    on_tank += [(body.shape, 0.0) for body in tanks]
    return _Room(grid, tuple(kept), tuple(on_tank), tuple(at_heater), stub, source.start, box_mm)


def _kept(job: Job, kind: str, bodies: Sequence[Body]) -> Iterator[tuple[Shape, float]]:
    """The bodies that a stretch of line keeps from, with how far its middle does."""
    sample = body_of(job, kind, box_shape((0, 0, 0), (1, 1, 1)), thing_id="fuel.line")
    for body in bodies:
        gap = least_gap_mm(job.catalogue.room, sample, body)
        if gap >= 0:
            yield body.shape, LINE_MM / 2 + gap + SPARE_MM


def _about(grid: Grid3, stub: Vec3) -> Any:
    """What is right under the stub: there the line is among the heater's other ports."""
    x, y, z = grid.axes
    near = np.hypot((x - stub[0])[None, :], (y - stub[1])[:, None]) <= AT_HEATER_MM - STUB_MM
    return near[None] & (z >= stub[2] - STUB_MM - STEP_MM)[:, None, None]


def _corners(room: _Room, low_mm: float) -> list[Vec3]:
    """The corners of the shortest line along a height, from the take-off to the stub, both left
    out; none where there is no way.
    """
    low_mm = min(low_mm, room.comes_mm)
    free = room.free_at(low_mm, low_mm + RISE_MM)
    start = _joined(room, room.way_in, free, (low_mm, room.comes_mm))
    lengths = spread_mm(start, free, room.grid.step_mm)
    ends = _joined(room, room.way_out, free, (low_mm, room.leaves_mm))
    total = np.where((lengths < FAR) & (ends < FAR), lengths + ends, FAR)
    iy, ix = np.unravel_index(int(total.argmin()), total.shape)
    down = (int(iy), int(ix))
    if total[down] >= FAR:
        return []
    along = descended(lengths, down)
    out = descended(room.way_out, down)[::-1]
    into = descended(room.way_in, along[-1])
    low = free | (lengths < FAR)
    corners = [room.place(c, room.leaves_mm) for c in _pulled(out, room.way_out < FAR)[1:]]
    corners += [room.place(cell, low_mm) for cell in _pulled(along, low)]
    corners += [room.place(cell, room.comes_mm) for cell in _pulled(into, room.way_in < FAR)[:-1]]
    corners.append((room.stub[0], room.stub[1], room.comes_mm))
    return _rising(_apart(room, corners), low_mm)


def _joined(room: _Room, way: Any, free: Any, heights: tuple[float, float]) -> Any:
    """Where a level way can go on along the low height: the columns that are free between the two,
    with how long the way is to each; of about the same height only where the way ends.
    """
    low, high = min(heights), max(heights)
    if high - low < LEAST_DROP_MM:
        return np.where(way <= 0, 0.0, FAR)
    return np.where(free & room.free_at(low, high), way + high - low, FAR)


def _apart(room: _Room, corners: list[Vec3]) -> list[Vec3]:
    """The corners that leave room for their bends."""
    kept: list[Vec3] = []
    for corner in corners[:-1]:
        before = kept[-1] if kept else room.take_off
        if math.dist(corner, before) > LEAST_LEG_MM and math.dist(corner, corners[-1]) > SHORT_MM:
            kept.append(corner)
    return [*kept, corners[-1]]


def _rising(corners: list[Vec3], low_mm: float) -> list[Vec3]:
    """The same with each low leg a little higher at its end, so that no air stays in it."""
    results, rise = [], 0.0
    for x, y, z in corners:
        if z <= low_mm + LEAST_DROP_MM:
            results.append((x, y, z + rise))
            rise += RISE_MM
        else:
            results.append((x, y, z))
    return results


def _pulled(path: list[tuple[int, int]], free: Any) -> list[tuple[int, int]]:
    """The cells of a path at which it has to turn: from each the farthest that is in sight."""
    kept, at = [path[0]], 0
    while at < len(path) - 1:
        after = len(path) - 1
        while after > at + 1 and not _in_sight(path[at], path[after], free):
            after -= 1
        kept.append(path[after])
        at = after
    return kept


def _in_sight(one: tuple[int, int], other: tuple[int, int], free: Any) -> bool:
    count = 2 * max(abs(one[0] - other[0]), abs(one[1] - other[1]), 1)
    rows = np.rint(np.linspace(one[0], other[0], count + 1)).astype(int)
    columns = np.rint(np.linspace(one[1], other[1], count + 1)).astype(int)
    return bool(free[rows, columns].all())
