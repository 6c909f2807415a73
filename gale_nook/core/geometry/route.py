"""A pipe route as geometry: straights between filleted bends, with lengths, angles and falls."""

from __future__ import annotations

import bisect
import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from gale_nook.core.geometry.frames import Vec3, add, angle_deg, norm, scale, sub, unit

TINY_MM2 = 1e-18
SAME_PLACE_MM = 1e-6
ARC_STEP_DEG = 10.0  # a chord of 10° leaves a 60 mm bend's true line by 0.23 mm


@dataclass(frozen=True, slots=True)
class Bend:
    """A bend at a corner: how far it turns, its radius, and the length it takes from each side
    (mm).
    """

    corner: int
    angle_deg: float
    radius_mm: float
    tangent_mm: float
    arc_mm: float


@dataclass(frozen=True, slots=True)
class Straight:
    """One straight, corner to corner.

    Attributes:
        fall_deg: downward slope along the run; negative rises; 90 drops straight down.
        drop_mm: height lost along it.
        room_mm: length left over once the bends at both ends have taken theirs; negative when they
            do not fit.
    """

    index: int
    start: Vec3
    end: Vec3
    length_mm: float
    fall_deg: float
    drop_mm: float
    room_mm: float


@dataclass(frozen=True)
class RouteGeometry:
    """A polyline of `points` (start first, mouth last) with a bend radius at each inner corner."""

    points: tuple[Vec3, ...]
    radii_mm: tuple[float, ...]
    leaving: Vec3

    @cached_property
    def bends(self) -> tuple[Bend, ...]:
        """The bend at each inner corner; a corner that does not turn has none. Of corners in one
        place the last one has the bend.
        """
        results = []
        before: Vec3 | None = None  # the turn out of the port is `port_angle_deg`
        for corner in range(1, len(self.points) - 1):
            came = sub(self.points[corner], self.points[corner - 1])
            after = sub(self.points[corner + 1], self.points[corner])
            before = came if norm(came) > SAME_PLACE_MM else before
            if before is None or norm(after) <= SAME_PLACE_MM:
                continue
            turn = angle_deg(before, after)
            if turn < 1e-6:
                continue
            radius = self.radii_mm[corner - 1]
            # a full about-turn has no fillet of finite length; its tangent is shown as such
            tangent = radius * math.tan(math.radians(min(turn, 179.9)) / 2)
            results.append(Bend(corner, turn, radius, tangent, radius * math.radians(turn)))
        return tuple(results)

    @cached_property
    def straights(self) -> tuple[Straight, ...]:
        """Every straight between two corners, in order from the port."""
        tangent = {bend.corner: bend.tangent_mm for bend in self.bends}
        results = []
        for index, (start, end) in enumerate(zip(self.points, self.points[1:], strict=False)):
            length = norm(sub(end, start))
            room = length - tangent.get(index, 0.0) - tangent.get(index + 1, 0.0)
            drop = start[2] - end[2]
            level = math.hypot(end[0] - start[0], end[1] - start[1])
            fall = math.degrees(math.atan2(drop, level)) if length > 0 else 0.0
            results.append(Straight(index, start, end, length, fall, drop, room))
        return tuple(results)

    @cached_property
    def length_mm(self) -> float:
        """Length along the centre line, fillets followed where they fit."""
        corners = sum(straight.length_mm for straight in self.straights)
        fitting = (bend for bend in self.bends if self._fits(bend))
        return corners - sum(2 * bend.tangent_mm - bend.arc_mm for bend in fitting)

    @cached_property
    def bend_sum_deg(self) -> float:
        """Sum of all bends, with the turn from the port's direction into the first straight."""
        return sum(bend.angle_deg for bend in self.bends) + self.port_angle_deg

    @cached_property
    def port_angle_deg(self) -> float:
        """Angle between the port's direction and the first straight."""
        ways = (sub(point, self.points[0]) for point in self.points[1:])
        first = next((way for way in ways if norm(way) > SAME_PLACE_MM), self.leaving)
        return angle_deg(self.leaving, first)

    @cached_property
    def stations_mm(self) -> tuple[tuple[str, float], ...]:
        """The port, the middle of each bend and the mouth, with their distances along the centre
        line.
        """
        arcs = {bend.corner: bend.arc_mm for bend in self.bends}
        spans = self.straight_spans_mm
        bends = [(f"bend {corner}", spans[corner - 1][1] + arc / 2) for corner, arc in arcs.items()]
        return (("port", 0.0), *bends, ("mouth", spans[-1][1]))

    @cached_property
    def straight_spans_mm(self) -> tuple[tuple[float, float], ...]:
        """Where each straight begins and ends between its bends, along the centre line."""
        arcs = {bend.corner: bend.arc_mm for bend in self.bends}
        result, passed = [], 0.0
        for straight in self.straights:
            end = passed + max(straight.room_mm, 0.0)
            result.append((passed, end))
            passed = end + arcs.get(straight.index + 1, 0.0)
        return tuple(result)

    @property
    def mouth(self) -> Vec3:
        return self.points[-1]

    @cached_property
    def mouth_direction(self) -> Vec3:
        """Unit vector in which the gas leaves."""
        return unit(sub(self.points[-1], self.points[-2]))

    @cached_property
    def low_corners(self) -> tuple[int, ...]:
        """Corners where water stays: the run has come down (or level) to them and rises after."""
        results = []
        for corner in range(1, len(self.points) - 1):
            if self.points[corner + 1][2] > self.points[corner][2] + 1e-9:
                came_down = self.points[corner - 1][2] >= self.points[corner][2] - 1e-9
                if came_down:
                    results.append(corner)
        return tuple(results)

    @cached_property
    def centre_line(self) -> tuple[Vec3, ...]:
        """The line with its fillets as chords of at most ARC_STEP_DEG; corners whose bend does not
        fit stay sharp.
        """
        by_corner = {bend.corner: bend for bend in self.bends}
        line = [self.points[0]]
        for corner in range(1, len(self.points) - 1):
            bend = by_corner.get(corner)
            if bend is None or not self._fits(bend):
                line.append(self.points[corner])
            else:
                line.extend(self._arc(bend))
        line.append(self.points[-1])
        return tuple(line)

    @cached_property
    def passed_mm(self) -> tuple[float, ...]:
        """Distance from the port of every point of the centre line, along its chords."""
        passed = [0.0]
        for start, end in itertools.pairwise(self.centre_line):
            passed.append(passed[-1] + norm(sub(end, start)))
        return tuple(passed)

    def point_at(self, at_mm: float) -> Vec3:
        """Return the point of the centre line at a distance from the port; its ends beyond them."""
        index, share = self._place(at_mm)
        start, end = self.centre_line[index], self.centre_line[index + 1]
        return add(start, scale(sub(end, start), share))

    def direction_at(self, at_mm: float) -> Vec3:
        """Return the unit vector along the run at a distance from the port."""
        index, _ = self._place(at_mm)
        return unit(sub(self.centre_line[index + 1], self.centre_line[index]))

    def stretch(self, from_mm: float, to_mm: float) -> tuple[Vec3, ...]:
        """Return the centre line between two distances from the port."""
        inner = [
            point
            for point, at in zip(self.centre_line, self.passed_mm, strict=True)
            if from_mm < at < to_mm
        ]
        return (self.point_at(from_mm), *inner, self.point_at(to_mm))

    def distance_of(self, point: Vec3) -> float:
        """Return the distance from the port of the centre line's point nearest to a point."""
        starts, along, length2 = self._segments
        from_start = np.array(point) - starts
        share = np.clip((from_start * along).sum(1) / length2, 0.0, 1.0)
        away = from_start - share[:, None] * along
        best = int((away * away).sum(1).argmin())
        return self.passed_mm[best] + float(share[best] * math.sqrt(length2[best]))

    @cached_property
    def _segments(self) -> tuple[Any, Any, Any]:
        """Starts of the centre line's chords and the way along each, (n, 3), and their squared
        lengths.
        """
        points = np.array(self.centre_line)
        along = points[1:] - points[:-1]
        return points[:-1], along, np.maximum((along * along).sum(1), TINY_MM2)

    def _place(self, at_mm: float) -> tuple[int, float]:
        passed = self.passed_mm
        index = min(max(bisect.bisect_right(passed, at_mm) - 1, 0), len(passed) - 2)
        length = passed[index + 1] - passed[index]
        return index, min(max((at_mm - passed[index]) / length, 0.0), 1.0) if length > 0 else 0.0

    def _fits(self, bend: Bend) -> bool:
        """A bend is rounded where both straights have room for it and it is not a
        full about-turn.
        """
        room = min(self.straights[bend.corner - 1].room_mm, self.straights[bend.corner].room_mm)
        return room >= 0 and bend.angle_deg < 179

    def _arc(self, bend: Bend) -> list[Vec3]:
        corner = self.points[bend.corner]
        back = unit(sub(self.points[bend.corner - 1], corner))
        ahead = unit(sub(self.points[bend.corner + 1], corner))
        inward = unit(add(back, ahead))
        centre = add(corner, scale(inward, math.hypot(bend.radius_mm, bend.tangent_mm)))
        first = sub(add(corner, scale(back, bend.tangent_mm)), centre)
        last = sub(add(corner, scale(ahead, bend.tangent_mm)), centre)
        steps = max(1, math.ceil(bend.angle_deg / ARC_STEP_DEG))
        whole = math.radians(bend.angle_deg)
        arc = []
        for step in range(steps + 1):
            share = step / steps
            # spherical interpolation keeps every point on the arc
            a = math.sin((1 - share) * whole) / math.sin(whole)
            b = math.sin(share * whole) / math.sin(whole)
            arc.append(add(centre, add(scale(first, a), scale(last, b))))
        return arc


def route_geometry(
    start: Vec3, leaving: Vec3, nodes: Sequence[tuple[Vec3, float]]
) -> RouteGeometry:
    """Return the geometry of a run from `start` through nodes of (point, bend radius), mm.

    Args:
        leaving: unit vector in which the port points.
        nodes: at least one; the last is the mouth and its radius is not used.
    """
    points = (start, *(point for point, _ in nodes))
    return RouteGeometry(points, tuple(radius for _, radius in nodes[:-1]), leaving)


def moved_along(
    old: RouteGeometry, new: RouteGeometry | None, at_mm: float, length_mm: float = 0.0
) -> float:
    """Return where something begins on a new line, so that its middle is nearest to where it was on
    the old one; where it was, without a new one.
    """
    if new is None:
        return at_mm
    middle = new.distance_of(old.point_at(at_mm + length_mm / 2))
    return max(float(round(min(middle - length_mm / 2, new.length_mm - length_mm))), 0.0)
