"""What moves with a slide-out, and what follows it."""

from __future__ import annotations

import math

from gale_nook.core.geometry.frames import Vec3, add
from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.plan.moves import SlideOut
from gale_nook.core.plan.vehicle import Shell

STEP_MM = 10.0


def moves(slide: SlideOut, shell: Shell, point: Vec3) -> bool:
    """Return whether a place goes along with a slide-out; the survey has it in."""
    x, y, z = point
    half = shell.outer_width_mm / 2
    along, inward = {
        "left": (x, y + half),
        "right": (x, half - y),
        "rear": (y, shell.rear_x_mm - x),
    }[slide.side]
    return slide.from_mm <= along <= slide.to_mm and inward <= slide.inner_mm and z >= slide.base_mm


def way_out(slide: SlideOut) -> Vec3:
    """Return how what moves is displaced when the slide is out."""
    t = slide.travel_mm
    return {"left": (0.0, -t, 0.0), "right": (0.0, t, 0.0), "rear": (t, 0.0, 0.0)}[slide.side]


def edges_mm(slide: SlideOut, shell: Shell, route: RouteGeometry) -> list[float]:
    """Return where along a route it passes the edge of what moves."""
    results, before = [], moves(slide, shell, route.point_at(0.0))
    for step in range(1, math.ceil(route.length_mm / STEP_MM) + 1):
        at = min(step * STEP_MM, route.length_mm)
        here = moves(slide, shell, route.point_at(at))
        if here != before:
            results.append(at - STEP_MM / 2)
            before = here
    return results


def spans_mm(slide: SlideOut, shell: Shell, ends: tuple[Vec3, Vec3]) -> tuple[float, float]:
    """Return how far two places are apart with the slide in, and with it out."""
    out = way_out(slide)
    moved = [add(point, out) if moves(slide, shell, point) else point for point in ends]
    return math.dist(*ends), math.dist(*moved)
