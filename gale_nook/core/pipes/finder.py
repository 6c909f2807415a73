"""Finding a route for the exhaust: from the port to an edge of the vehicle, within every limit.

What is found is a candidate; `proposals.py` straightens it and puts it before the checks.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.geometry.frames import Vec3, angle_deg, norm, sub
from gale_nook.core.heater.limits import least_of, limit_band, most_of
from gale_nook.core.job import Job
from gale_nook.core.ledger.body import Body
from gale_nook.core.pipes.exhaust_space import PAST_EDGE_MM, edge_columns, exhaust_space
from gale_nook.core.pipes.mouth_rules import FORWARD, nearest_in_box
from gale_nook.core.pipes.runs import pipe_run, through_body_mm
from gale_nook.core.plan.pipes import EdgeName
from gale_nook.core.routing.free_space import FreeSpace
from gale_nook.core.routing.grid_search import (
    MOST_LOOKED_AT,
    Cost,
    FoundRoute,
    GridSearch,
    Limits,
    Start,
)
from gale_nook.core.spot.placement import heater_port, port_direction, port_point
from gale_nook.core.vehicle.lean import lean_of
from gale_nook.core.vehicle.parts import opening_box, surveyed_parts

STEP_MM = 20.0
BEND_COSTS_MM_PER_DEG = 2.0  # a right angle is worth avoiding for 180 mm of pipe
CORNER_COSTS_MM = 30.0  # and each corner for its own sake
STEEP_DEG = 15.0
SPARE_FALL_DEG = 0.5


@dataclass(frozen=True)
class RouteConstraints:
    """What a route has to keep to.

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
        others: bodies of what was planned besides, that it keeps away from.
        extra_mm: on top of every gap, for what bends cut off their corners.
        haste: how much what is left counts; at 1 the cheapest route is found, above it one at most
            so much dearer, sooner.
        most: places that are looked at before it is given up.
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
    others: tuple[Body, ...] = ()
    avoid_mm: float = 500.0
    step_mm: float = STEP_MM
    gap_share: float = 1.0
    extra_mm: float = 0.0
    haste: float = 1.0
    most: int = MOST_LOOKED_AT


def constraints_of(job: Job) -> RouteConstraints:
    """Return what the sheet, the workshop and the job ask for."""

    pipes = job.plan.pipes
    fall = max(least_of(job, "exhaust_fall_deg", 0.0), lean_of(job).most_deg) + SPARE_FALL_DEG
    return RouteConstraints(
        length_mm=most_of(job, "exhaust_length_mm", 6000.0),
        bend_sum_deg=most_of(job, "exhaust_bend_sum_deg", 900.0),
        radius_mm=least_of(job, "exhaust_radius_mm", 50.0),
        falls_deg=(fall, max(STEEP_DEG, fall + 5)),
        first_mm=max(
            least_of(job, "first_straight_mm", 0.0) + job.plan.settings.tolerance_mm,
            through_body_mm(job, "exhaust"),
        ),
        mouth_opening_mm=least_of(job, "mouth_opening_mm", 0.0),
        mouth_ground_mm=least_of(job, "mouth_ground_mm", 0.0),
        mouth_forward_deg=least_of(job, "mouth_forward_deg", 0.0),
        from_mm=pipes.mouth_from_mm if pipes.mouth_from_mm is not None else -math.inf,
        to_mm=pipes.mouth_to_mm if pipes.mouth_to_mm is not None else math.inf,
    )


@dataclass(frozen=True)
class EdgeMouths:
    """Mouths just past an edge of the vehicle, where a mouth may be."""

    job: Job
    edge: EdgeName
    wanted: RouteConstraints

    def columns(self, space: FreeSpace) -> Any:
        """Return the columns at the edge in which the mouth may be, as far as that can be said
        without its height and direction; (ny, nx).
        """
        x, y, z = space.grid.axes
        x, y, wanted = x[None, :], y[:, None], self.wanted
        slack = 1.5 * space.grid.step_mm  # the mouth lies up to so far past its column
        may = np.ones(space.free_somewhere.shape, dtype=bool)
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
        return may & edge_columns(self.job, space, self.edge)

    def reach_mm(self, point: Vec3, direction: Vec3, step_mm: float) -> float | None:
        """Return how far on a run passes the edge; None where it does not, or not yet."""
        shell = self.job.plan.vehicle.shell
        half = shell.outer_width_mm / 2 + PAST_EDGE_MM
        missing, speed = {
            "left": (point[1] + half, -direction[1]),
            "right": (half - point[1], direction[1]),
            "rear": (shell.rear_x_mm + PAST_EDGE_MM - point[0], direction[0]),
        }[self.edge]
        if speed < 0.5 or not -1e-6 <= missing <= 1.5 * step_mm:
            return None
        return float(missing / speed)

    def may_end(self, point: Vec3, direction: Vec3) -> bool:
        """Return whether a mouth may be at a point, blowing in a direction."""
        job, wanted, mouth = self.job, self.wanted, point
        ground = job.plan.vehicle.shell.ground_z_mm
        if mouth[2] < ground + wanted.mouth_ground_mm:
            return False
        if angle_deg(direction, FORWARD) < wanted.mouth_forward_deg:
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
        return self._apart_from_intake(mouth, direction)

    def _apart_from_intake(self, mouth: Vec3, direction: Vec3) -> bool:
        intake = pipe_run(self.job, "intake")
        apart = limit_band(self.job, "mouths_apart_mm")
        facing = limit_band(self.job, "mouths_facing_deg")
        if intake is None:
            return True
        far = apart is None or apart.margin(norm(sub(mouth, intake.mouth))) >= 0
        turned = (
            facing is None or facing.margin(angle_deg(direction, sub(intake.mouth, mouth))) >= 0
        )
        return far and turned


def find_route(
    job: Job, edge: EdgeName, wanted: RouteConstraints, port: Vec3 | None = None
) -> FoundRoute | None:
    """Return a route from the exhaust's port to an edge, or None.

    Args:
        port: another place for the port, in the vehicle's frame.
    """
    at = port if port is not None else port_point(job, heater_port(job, "exhaust"))
    space = exhaust_space(
        job,
        at,
        wanted.length_mm,
        wanted.step_mm,
        gap_share=wanted.gap_share,
        extra_mm=wanted.extra_mm,
        others=wanted.others,
    )
    start = Start(at, port_direction(job, "exhaust"), wanted.first_mm)
    limits = Limits(wanted.length_mm, wanted.bend_sum_deg, wanted.radius_mm, wanted.falls_deg)
    cost = Cost(BEND_COSTS_MM_PER_DEG, CORNER_COSTS_MM, wanted.haste)
    return GridSearch(space, start, limits, cost, EdgeMouths(job, edge, wanted), wanted.most).run()
