"""The clear-spot map: the smallest margin over all spot rules at every place of the floor, and
which rule sets it.

The same limits as the exact checks of `rules`, on closed-form distances over the whole grid at
once.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import shapely

from gale_nook.core.base.mount import MountHole
from gale_nook.core.geometry.frames import turn_xy
from gale_nook.core.geometry.shapes import outline_crosses
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.spot import Spot
from gale_nook.core.plan.vehicle import OutlineSolid, Shell
from gale_nook.core.spot.convex_pieces import (
    ConvexPiece,
    MovingBox,
    box_to_piece_mm,
    footprint,
    is_upright,
    piece_bounds,
    piece_heights,
    pieces_of_solid,
    plan_distance_mm,
    ring_distance_mm,
    spans_in_strips,
)
from gale_nook.core.spot.face_map import face_hole_margins, wall_margins
from gale_nook.core.spot.face_rules import ASKEW_DEG, pull_mm
from gale_nook.core.spot.field import CAP_MM, Field, Grid, Window, grid_over, merged
from gale_nook.core.spot.footprints import Footprints, paint
from gale_nook.core.spot.freeway import FAR_MM, Obstacle
from gale_nook.core.spot.obstacles import obstacles
from gale_nook.core.spot.placement import (
    facing_wall,
    heater_body,
    heater_port,
    mount_plane_z_mm,
    mount_stack_mm,
    parts_at_ports,
)
from gale_nook.core.spot.rules import (
    DRILL_REACH_MM,
    PORT_STUB_MM,
    body_band,
    harmed_by_heat,
    lift_mm,
)
from gale_nook.core.spot.walls import wall_prism
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.core.vehicle.parts import surveyed_parts, surveyed_where

STEPS_MM = (10.0, 20.0, 50.0, 100.0, 200.0, 500.0)
MOST_CELLS = 200_000  # of one turn: a bus of 8 m by 2.4 m still has the finest step
YAWS = (0, 90, 180, 270)
Progress = Callable[[int, int], None]  # how much is done, and of how much


@dataclass(frozen=True, slots=True)
class _Solid:
    """A solid with its closed-form parts and the bounds of its shape."""

    id: str
    parts: tuple[ConvexPiece, ...]
    bounds: tuple[float, float, float, float, float, float]


@dataclass(frozen=True, slots=True)
class _Sweep:
    """A face of the body moved along the floor, at every place of a row.

    Attributes:
        axis, forward: along which it looks, and whether towards higher coordinates.
        reach_mm: up to which a free distance matters.
        face_mm: where the face stands, rising (n,).
        low_mm, high_mm: the strips that it sweeps (m,).
    """

    axis: int
    forward: bool
    reach_mm: float
    face_mm: Any
    low_mm: Any
    high_mm: Any

    def shorten(self, free: Any, part: ConvexPiece) -> None:
        """Lower free distances (m, n) to those up to one part, where they come within reach."""
        b, axis = piece_bounds(part), self.axis
        start = b[axis] - (self.reach_mm if self.forward else 0.0)
        stop = b[axis + 2] + (0.0 if self.forward else self.reach_mm)
        columns = slice(
            int(np.searchsorted(self.face_mm, start)),
            int(np.searchsorted(self.face_mm, stop, side="right")),
        )
        met = np.nonzero((b[1 - axis] < self.high_mm) & (b[3 - axis] > self.low_mm))[0]
        if len(met) == 0 or columns.start >= columns.stop:
            return
        rows, face = slice(int(met[0]), int(met[-1]) + 1), self.face_mm[columns]
        if is_upright(part):
            ahead = _ahead(b[axis], b[axis + 2], face, self.forward)
        else:
            low, high = spans_in_strips(part, axis, self.low_mm[rows], self.high_mm[rows])
            ahead = _ahead(low[:, None], high[:, None], face[None, :], self.forward)
        np.minimum(free[rows, columns], ahead, out=free[rows, columns])


def map_key(job: Job) -> str:
    """Return a name for all that the map depends on; where the heater stands is not part of it."""
    plan, spot = job.plan, job.plan.spot
    told = (
        plan.vehicle.shell,
        plan.vehicle.floor,
        plan.vehicle.solids,
        plan.vehicle.openings,
        heater_sheet(job),
        plan.heater.own_limits,
        [a.rule + a.subject for a in plan.acceptances],
        (spot.mount, spot.rebate_mm, spot.packing_mm, spot.z_mm) if spot is not None else None,
    )
    return hashlib.sha256(repr(told).encode()).hexdigest()[:16]


def floor_grid(shell: Shell, step_mm: float | None = None, place: str = "inside") -> Grid:
    """Return the places of the map: multiples of the step over the load floor, or over the engine
    bay.

    Args:
        step_mm: the finest that keeps the map to MOST_CELLS when left out.
    """
    low, high = _floor_bounds(shell, place)
    return grid_over(low, high, step_mm or map_step_mm(shell, place))


def map_step_mm(shell: Shell, place: str = "inside") -> float:
    """Return the step of the map of a floor: 10 mm, and coarser on a very large one."""
    low, high = _floor_bounds(shell, place)
    size = (high[0] - low[0], high[1] - low[1])
    fitting = (
        step for step in STEPS_MM if (size[0] / step + 1) * (size[1] / step + 1) <= MOST_CELLS
    )
    return next(fitting, STEPS_MM[-1])


def _floor_bounds(shell: Shell, place: str) -> tuple[tuple[float, float], tuple[float, float]]:
    half = shell.floor_width_mm / 2
    if place == "engine-bay":
        end = shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.bulkhead_x_mm
        return (shell.front_x_mm, -half), (end, half)
    return (shell.bulkhead_x_mm, -half), (shell.rear_x_mm, half)


class FloorMap:
    """The map of one plan: its heater with its mount, at each turn, over the load floor.

    Args:
        derived: of a plan with a heater; its spot gives mount, rebate and packing, else the first
            mount is taken.
        step_mm: of the grid; as `map_step_mm` has it when left out.
        told: called with how many of the turns are done, and of how many.
    """

    def __init__(
        self, job: Job, step_mm: float | None = None, told: Progress | None = None
    ) -> None:
        self._told = told or (lambda _done, _of: None)
        sheet, shell = heater_sheet(job), job.plan.vehicle.shell
        if sheet is None:
            raise ValueError("the map needs a heater")
        self.sheet = sheet
        spot = job.plan.spot or Spot(x_mm=shell.rear_x_mm, y_mm=0.0, mount=sheet.mounts[0].id)
        # any place of the load space will do: what depends on the place is what the map is about
        spot = spot.model_copy(
            update={"x_mm": (shell.bulkhead_x_mm + shell.rear_x_mm) / 2, "y_mm": 0.0, "yaw_deg": 0}
        )
        if sheet.mount(spot.mount) is None:
            spot = spot.model_copy(update={"mount": sheet.mounts[0].id})
        self.job = job.with_plan(job.plan.model_copy(update={"spot": spot}))
        plan = job.plan
        self._accepted = {(a.rule, a.subject) for a in plan.acceptances}
        mount = chosen_mount(self.job)
        self.grid = floor_grid(shell, step_mm, mount.place if mount is not None else "inside")
        self._kept: dict[tuple[Any, ...], list[tuple[str, Window, Any]]] = {}
        self._prints: dict[tuple[Any, ...], Footprints] = {}
        self.mount_id = spot.mount
        self._place = mount.place if mount is not None else "inside"
        self._through = mount.through if mount is not None else "floor"

    @cached_property
    def fields(self) -> dict[int, Field]:
        """The field of each quarter turn."""
        found = {}
        for number, yaw in enumerate(YAWS):
            self._told(number, len(YAWS))
            found[yaw] = self.field(yaw)
        return found

    def field(self, yaw_deg: int) -> Field:
        """Return the margins with the heater turned one way."""
        field = Field(self.grid)
        self._holes(field, yaw_deg)
        self._faces(field, yaw_deg)
        self._body(field, yaw_deg)
        self._air(field, yaw_deg)
        self._pipe_room(field, yaw_deg)
        self._port_heat(field, yaw_deg)
        field.apart_mm = field.margin_mm.copy()
        self._stack(field)
        return field

    def shown(self, yaw_deg: int | None) -> tuple[Any, Any, list[Field]]:
        """Return what a picture needs: margins to shade by, reasons, and the fields that these
        number through.

        Args:
            yaw_deg: one turn; None takes the best of the four at each place.
        """
        if yaw_deg is not None:
            field = self.field(yaw_deg)
            return (
                np.where(field.margin_mm < 0, field.margin_mm, field.apart_mm),
                field.reason,
                [field],
            )
        fields = [self.fields[yaw] for yaw in YAWS]
        margin, best = merged(fields)
        apart = np.take_along_axis(np.stack([f.apart_mm for f in fields]), best[None], axis=0)[0]
        starts = np.cumsum([0, *(len(f.reasons) for f in fields[:-1])])
        numbered = np.stack(
            [
                np.where(f.reason >= 0, f.reason + start, -1)
                for f, start in zip(fields, starts, strict=True)
            ]
        )
        reason = np.take_along_axis(numbered, best[None], axis=0)[0]
        return np.where(margin < 0, margin, apart), reason, fields

    def _lower(self, field: Field, rule: str, subject: str, window: Window, margin_mm: Any) -> None:
        key = (rule, subject)
        field.lower(key, window, margin_mm, accepted=key in self._accepted)

    def _limit(self, name: str) -> float | None:
        band = limit_band(self.job, name)
        return band.minimum if band is not None else None

    # --- what does not depend on the place ---

    def _stack(self, field: Field) -> None:
        mount = chosen_mount(self.job)
        stack = mount_stack_mm(self.job)
        if mount is None or mount.through == "wall" or stack is None:
            return
        limit, rule = mount.stack, "spot.stack" if mount.through == "floor" else "spot.face_stack"
        ends = [stack - limit.minimum] if limit.minimum is not None else []
        ends += [limit.maximum - stack] if limit.maximum is not None else []
        self._lower(field, rule, mount.id, field.everywhere, min(ends))

    # --- holes ---

    def _holes(self, field: Field, yaw_deg: int) -> None:
        mount = chosen_mount(self.job)
        for hole in mount.holes if mount is not None and mount.through == "floor" else ():
            for subject, window, margin in self._hole(field, hole, yaw_deg):
                self._lower(field, "spot.hole", subject, window, margin)

    def _hole(self, field: Field, hole: MountHole, yaw_deg: int) -> list[tuple[str, Window, Any]]:
        """Return the margins of one hole against all that a drill can reach; kept, as a hole in the
        middle does not turn.
        """
        offset = turn_xy(hole.x_mm, hole.y_mm, yaw_deg)
        half = hole.half_mm(yaw_deg)
        key = (*offset, *half, hole.name, hole.diameter_mm)
        if key in self._kept:
            return self._kept[key]
        shell, (dx, dy) = self.job.plan.vehicle.shell, offset
        radius = 0.0 if half[0] else hole.diameter_mm / 2
        reach = half if half[0] else (radius, radius)
        stem, across = hole.name.replace(" ", "-"), shell.floor_width_mm / 2
        x, y = field.everywhere.places(self.grid)
        edge = np.minimum(
            np.minimum(x + dx - shell.front_x_mm, shell.rear_x_mm - x - dx) - reach[0],
            np.minimum(y + dy + across, across - y - dy) - reach[1],
        )
        least = self._limit("hole_edge_mm") or 0.0
        found = [(f"{stem}:floor-edge"[:80], field.everywhere, edge - least)]
        for solid, gap in self._drilled:
            window = self._near(field, solid.bounds, max(reach) + gap, offset)
            if window is not None:
                x, y = window.places(self.grid)
                away = (
                    self._cut_mm(solid, half, x + dx, y + dy)
                    if half[0]
                    else self._footprint_mm(solid, x + dx, y + dy)
                )
                found.append((f"{stem}:{solid.id}"[:80], window, away - radius - gap))
        self._kept[key] = found
        return found

    @staticmethod
    def _cut_mm(solid: _Solid, half: tuple[float, float], x: Any, y: Any) -> Any:
        aways = [_plan_to_part(part, half[0], half[1], x, y) for part in solid.parts]
        return aways[0] if len(aways) == 1 else np.minimum.reduce(aways)

    def _footprint_mm(self, solid: _Solid, x: Any, y: Any) -> Any:
        """Signed distance in plan to a solid's footprint; an outline by its own edges, not by its
        triangles.
        """
        outline = self._rings.get(solid.id)
        if outline is not None:
            return ring_distance_mm(outline, x, y)
        aways = [_plan_to_part(part, 0.0, 0.0, x, y) for part in solid.parts]
        return aways[0] if len(aways) == 1 else np.minimum.reduce(aways)

    @cached_property
    def _rings(self) -> dict[str, list[tuple[float, float]]]:
        rings = {}
        for solid in self.job.plan.vehicle.solids:
            if isinstance(solid, OutlineSolid):
                polygon: Any = shapely.Polygon(solid.outline)
                polygon = polygon.convex_hull if outline_crosses(solid) else polygon
                if (
                    polygon.geom_type == "Polygon"
                ):  # corners on one line enclose nothing: its parts tell the distance
                    rings[solid.id] = list(polygon.exterior.coords)
        return rings

    # --- a mount through a wall or bulkhead ---

    def _faces(self, field: Field, yaw_deg: int) -> None:
        mount, spot = chosen_mount(self.job), self.job.plan.spot
        if mount is None or spot is None or mount.through == "floor":
            return
        turned = self.job.plan.model_copy(
            update={"spot": spot.model_copy(update={"yaw_deg": yaw_deg})}
        )
        at = self.job.with_plan(turned)
        if mount.through == "wall" and facing_wall(at) is None:
            self._lower(field, "spot.faces_wall", "-", field.everywhere, -ASKEW_DEG)
            return
        for subject, margin in face_hole_margins(at, self.grid):
            self._lower(field, "spot.face_hole", subject, field.everywhere, margin)
        if facing_wall(at) is not None:
            self._lower(
                field, "spot.face_stack", mount.id, field.everywhere, wall_margins(at, self.grid)
            )
            free = self._free_way(field, yaw_deg, 1, facing_wall(at) == "left", pull_mm(at))
            self._lower(field, "spot.face_removal", "pull", field.everywhere, free - pull_mm(at))

    # --- body ---

    def _body(self, field: Field, yaw_deg: int) -> None:
        box, (dx, dy) = self._moving_body(yaw_deg)
        for obstacle, solid in self._around:
            gap, _ = body_band(obstacle)
            for part in solid.parts:
                self._lower_near(field, ("spot.body", obstacle.id), part, box, (dx, dy), gap)

    def _moving_body(self, yaw_deg: int) -> tuple[MovingBox, tuple[float, float]]:
        """Return the body as a box, and where its centre lies from the mount's reference point."""
        body, plane = heater_body(self.job), mount_plane_z_mm(self.job)
        turned = yaw_deg in {90, 270}
        half_x, half_y = (
            (body.width_mm if turned else body.length_mm) / 2,
            (body.length_mm if turned else body.width_mm) / 2,
        )
        low, high = (
            (plane - body.height_mm, plane)
            if self._place == "below"
            else (plane, plane + body.height_mm)
        )
        return MovingBox(half_x, half_y, low, high), turn_xy(body.x_mm, body.y_mm, yaw_deg)

    # --- clear air ---

    def _air(self, field: Field, yaw_deg: int) -> None:
        flat = (
            ("inlet_gap_mm", (-1, 0), "spot.inlet", "inlet"),
            ("outlet_gap_mm", (1, 0), "spot.outlet", "outlet"),
            ("side_gap_mm", (0, -1), "spot.sides", "left flank"),
            ("side_gap_mm", (0, 1), "spot.sides", "right flank"),
        )
        for name, way, rule, subject in flat:
            limit = self._limit(name)
            if limit is not None:
                dx, dy = turn_xy(way[0], way[1], yaw_deg)
                free = self._free_way(field, yaw_deg, 0 if round(dx) else 1, dx + dy > 0, limit)
                self._lower(field, rule, subject, field.everywhere, free - limit)
        if self._place == "below":
            return
        limit, lift = self._limit("top_gap_mm"), lift_mm(self.job)
        free = self._free_above(field, yaw_deg)
        if limit is not None:
            self._lower(field, "spot.top", "top", field.everywhere, free - limit)
        if self._place == "inside" and self._through == "floor":
            self._lower(field, "spot.removal", "lift", field.everywhere, free - lift)

    def _free_way(self, field: Field, yaw_deg: int, axis: int, forward: bool, limit: float) -> Any:
        """Free distance from a face of the body along the floor at every place (ny, nx); exact up
        to limit + CAP_MM.
        """
        box, offset = self._moving_body(yaw_deg)
        halves = (box.half_x_mm, box.half_y_mm)
        places = (self.grid.x_mm + offset[0], self.grid.y_mm + offset[1])
        face = places[axis] + (halves[axis] if forward else -halves[axis])
        low, high = places[1 - axis] - halves[1 - axis], places[1 - axis] + halves[1 - axis]
        sweep = _Sweep(axis, forward, limit + CAP_MM, face, low, high)
        free = np.full((len(low), len(face)), FAR_MM)
        for _, solid in self._around:
            if solid.bounds[2] >= box.high_z_mm or solid.bounds[5] <= box.low_z_mm:
                continue
            for part in solid.parts:
                sweep.shorten(free, part)
        return free if axis == 0 else free.T

    def _free_above(self, field: Field, yaw_deg: int) -> Any:
        box, offset = self._moving_body(yaw_deg)
        above = [
            (part, max(solid.bounds[2] - box.high_z_mm, 0.0))
            for _, solid in self._around
            if solid.bounds[2] >= box.high_z_mm or solid.bounds[5] > box.high_z_mm
            for part in solid.parts
        ]
        return self._where_over("above", above, (box.half_x_mm, box.half_y_mm), offset, FAR_MM)

    def _where_over(
        self,
        name: str,
        met: Sequence[tuple[ConvexPiece, float]],
        halves: tuple[float, float],
        offset: tuple[float, float],
        far: float,
    ) -> Any:
        """Return over the grid the least distance of those parts whose footprint a moved rectangle
        lies over or under.

        Args:
            name: of these parts, under which their widened footprints are kept: the turns share
                them.
            met: parts with the distance to each.
            far: where there is none.
        """
        free = np.full(self.grid.shape, far)
        if not met:
            return free
        key = (name, *halves)
        if key not in self._prints:
            self._prints[key] = Footprints([part for part, _ in met], *halves)
        paint(
            free,
            self._prints[key].stretches(self.grid, offset),
            np.minimum([gap for _, gap in met], far),
        )
        return free

    # --- below the ports ---

    def _pipe_room(self, field: Field, yaw_deg: int) -> None:
        limit = self._limit("pipe_room_mm")
        mount, ground = chosen_mount(self.job), self.job.plan.vehicle.shell.ground_z_mm
        if limit is None or mount is None or mount.through == "wall":
            return
        z = floor_underside_z_mm(self.job)
        for name, port in (
            ("exhaust-port", heater_port(self.job, "exhaust")),
            ("combustion-air-port", heater_port(self.job, "intake")),
            ("fuel-port", heater_port(self.job, "fuel")),
        ):
            offset, r = turn_xy(port.x_mm, port.y_mm, yaw_deg), port.diameter_mm / 2
            port_z = mount_plane_z_mm(self.job) - port.drop_mm
            top = {"inside": z, "below": min(z, port_z), "engine-bay": port_z}[mount.place]
            under = [
                (part, max(top - solid.bounds[5], 0.0))
                for solid in self._below
                if solid.bounds[2] < top  # not wholly above the port
                for part in solid.parts
            ]
            free = self._where_over(name, under, (r, r), offset, top - ground)
            self._lower(field, "spot.pipe_room", name, field.everywhere, free - limit)

    def _port_heat(self, field: Field, yaw_deg: int) -> None:
        port = heater_port(self.job, "exhaust")
        dx, dy = turn_xy(port.x_mm, port.y_mm, yaw_deg)
        top, radius = mount_plane_z_mm(self.job) - port.drop_mm, port.diameter_mm / 2
        stub = MovingBox(0.0, 0.0, top - PORT_STUB_MM, top)
        if self._through == "wall":
            way = turn_xy(port.direction[0], port.direction[1], yaw_deg)
            half_x, half_y = abs(way[0]) * PORT_STUB_MM / 2, abs(way[1]) * PORT_STUB_MM / 2
            stub, dx, dy = (
                MovingBox(half_x, half_y, top, top),
                dx + way[0] * PORT_STUB_MM / 2,
                dy + way[1] * PORT_STUB_MM / 2,
            )
        for solid, gap in self._harmed:
            for part in solid.parts:
                self._lower_near(
                    field, ("spot.port_heat", solid.id), part, stub, (dx, dy), radius + gap
                )

    def _lower_near(
        self,
        field: Field,
        key: tuple[str, str],
        part: ConvexPiece,
        box: MovingBox,
        offset: tuple[float, float],
        gap: float,
    ) -> None:
        """Lower margins to the distance between a part and a moved box, less a gap.

        The distance between the bounds of the two, which is never more, tells where the exact one
        cannot matter.
        """
        bounds, (low_z, high_z) = piece_bounds(part), piece_heights(part)
        apart_z = max(low_z - box.high_z_mm, box.low_z_mm - high_z)
        window = self._near(
            field, (*bounds[:2], 0, *bounds[2:], 0), gap + max(box.half_x_mm, box.half_y_mm), offset
        )
        if window is None or apart_z - gap >= CAP_MM:
            return
        x, y = window.places(self.grid)
        x, y = x + offset[0], y + offset[1]
        least_x = np.maximum(
            np.maximum(bounds[0] - box.half_x_mm - x, x - box.half_x_mm - bounds[2]), 0.0
        )
        least_y = np.maximum(
            np.maximum(bounds[1] - box.half_y_mm - y, y - box.half_y_mm - bounds[3]), 0.0
        )
        squared = least_x * least_x + least_y * least_y + max(apart_z, 0.0) ** 2
        # one over the other: no deeper into one another than their heights are
        least = np.where(squared > 0, np.sqrt(squared), min(apart_z, 0.0))
        rows, columns = np.nonzero(least - gap < field.margin_mm[window.rows, window.columns])
        if len(rows) == 0:
            return
        margin = box_to_piece_mm(part, box, x[0, columns], y[rows, 0]) - gap
        rows, columns = rows + window.rows.start, columns + window.columns.start
        field.lower_at(key, rows, columns, margin, accepted=key in self._accepted)

    # --- what stands around and below ---

    def _near(
        self, field: Field, bounds: Sequence[float], reach: float, offset: tuple[float, float]
    ) -> Window | None:
        """Return the places from which a point at an offset lies within reach of bounds, and CAP_MM
        more.
        """
        out = reach + CAP_MM
        return field.window(
            bounds[0] - out - offset[0],
            bounds[1] - out - offset[1],
            bounds[3] + out - offset[0],
            bounds[4] + out - offset[1],
        )

    @cached_property
    def _by_id(self) -> dict[str, _Solid]:
        return {
            solid.id: _Solid(solid.id, pieces_of_solid(solid), shape.bounds)
            for solid, _, shape in surveyed_parts(self.job)
        }

    @cached_property
    def _around(self) -> list[tuple[Obstacle, _Solid]]:
        found = []
        for obstacle in obstacles(self.job):
            known = self._by_id.get(obstacle.id) if obstacle.kind is not None else None
            shape = obstacle.shape
            found.append(
                (obstacle, known or _Solid(obstacle.id, (wall_prism(shape),), shape.bounds))
            )
        return found

    @cached_property
    def _below(self) -> list[_Solid]:
        return [self._by_id[solid.id] for solid, _, _ in parts_at_ports(self.job)]

    @cached_property
    def _drilled(self) -> list[tuple[_Solid, float]]:
        """What a drill can reach, with the floor to be left beside it."""
        reach = floor_underside_z_mm(self.job) - DRILL_REACH_MM
        return [
            (self._by_id[solid.id], kind.hole_mm)
            for solid, kind, shape in surveyed_where(self.job, "below")
            if kind.hole_mm is not None and shape.high_z_mm >= reach
        ]

    @cached_property
    def _harmed(self) -> list[tuple[_Solid, float]]:
        return [
            (self._by_id[solid.id], kind.exhaust_mm or 0.0)
            for solid, kind, _ in parts_at_ports(self.job)
            if harmed_by_heat(kind)
        ]


def _plan_to_part(part: ConvexPiece, half_x: float, half_y: float, x: Any, y: Any) -> Any:
    """Signed distance in plan from a moved rectangle to a part's footprint."""
    corners, swell = footprint(part)
    return plan_distance_mm(corners, half_x, half_y, x, y) - swell


def _ahead(low: float, high: float, face: Any, forward: bool) -> Any:
    """Free distance from faces to a stretch from low to high along the axis; FAR_MM where it lies
    wholly behind.
    """
    gap = low - face if forward else face - high
    behind = high <= face if forward else low >= face
    return np.where(behind | (gap >= FAR_MM), FAR_MM, np.maximum(gap, 0.0))
