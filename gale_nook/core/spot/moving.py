"""The parts of the heater that move with its place, and what lies between them and other things."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np

from gale_nook.core.findings.finding import Band, Finding
from gale_nook.core.geometry.frames import scale
from gale_nook.core.spot.convex_pieces import ConvexPiece, MovingBox, box_to_piece_mm
from gale_nook.core.spot.obstacles import Obstacle
from gale_nook.core.spot.placement import body_corners, heater_port, port_point, stub_direction
from gale_nook.core.spot.places import Measure, Places

PORT_STUB_MM = 40.0  # of exhaust that leaves the port in its direction before it can bend


@dataclass(frozen=True, slots=True)
class MovingPart:
    """An upright box that moves with the heater, swollen by a radius.

    Attributes:
        offset_mm: of its centre from the heater's reference point.
    """

    box: MovingBox
    offset_mm: tuple[float, float]
    radius_mm: float = 0.0


def moving_body(at: Places) -> MovingPart | None:
    """Return the heater's body; None without a heater or mount."""
    body: MovingPart | None = at.once("body", lambda: _moving_body(at))
    return body


def _moving_body(at: Places) -> MovingPart | None:
    corners = body_corners(at.job)
    if corners is None:
        return None
    low, high = corners
    box = MovingBox((high[0] - low[0]) / 2, (high[1] - low[1]) / 2, low[2], high[2])
    return MovingPart(box, at.offset_mm((low[0] + high[0]) / 2, (low[1] + high[1]) / 2))


def moving_stub(at: Places) -> MovingPart:
    """Return the first stretch of exhaust past its port: a line with the port's radius."""
    port = heater_port(at.job, "exhaust")
    x, y, z = port_point(at.job, port)
    dx, dy, dz = scale(stub_direction(at.job), PORT_STUB_MM)
    box = MovingBox(abs(dx) / 2, abs(dy) / 2, min(z, z + dz), max(z, z + dz))
    return MovingPart(box, at.offset_mm(x + dx / 2, y + dy / 2), port.diameter_mm / 2)


def gaps(
    at: Places,
    part: MovingPart,
    others: Sequence[tuple[Obstacle, Band]],
    report: Callable[[Obstacle, Band, float | None], Finding],
) -> Iterator[Measure]:
    """Yield the distance between a moving part and each piece of other things; negative is the
    depth of overlap.
    """
    pieces = [
        (obstacle, band, piece, bounds)
        for obstacle, band in others
        for piece, bounds in zip(obstacle.pieces, obstacle.piece_bounds, strict=True)
    ]
    one = _least_at_one(at, part, [obstacle for obstacle, _ in others])
    for number, (obstacle, band, piece, bounds) in enumerate(pieces):
        window = _window(at, part, bounds, band.minimum or 0.0)
        if window is not None:
            least = one[number] if one else _least(bounds, part, *window.places(at.grid))
            yield Measure(
                obstacle.id,
                band,
                partial(_between, part, piece),
                partial(report, obstacle, band),
                window,
                least,
                group="gaps",
            )


def _between(part: MovingPart, piece: ConvexPiece, x_mm: Any, y_mm: Any) -> Any:
    dx, dy = part.offset_mm
    return box_to_piece_mm(piece, part.box, x_mm + dx, y_mm + dy) - part.radius_mm


def _window(at: Places, part: MovingPart, bounds: Any, wanted_mm: float) -> Any:
    """The places where a piece can matter; None also where it lies too far above or below."""
    box = part.box
    apart_z = max(bounds[2] - box.high_z_mm, box.low_z_mm - bounds[5]) - part.radius_mm
    if apart_z - wanted_mm >= at.cap_mm:
        return None
    reach = part.radius_mm + wanted_mm + max(box.half_x_mm, box.half_y_mm)
    return at.near(bounds, reach, part.offset_mm)


def _least_at_one(at: Places, part: MovingPart, others: Sequence[Obstacle]) -> list[float]:
    """At a single place the lower bounds of all pieces at once; none for a grid of places."""
    if not at.grid.is_one_place or not others:
        return []
    bounds = np.concatenate([obstacle.piece_bounds for obstacle in others]).T
    results: list[float] = _least(bounds, part, at.grid.x_mm[0], at.grid.y_mm[0]).tolist()
    return results


def _least(bounds: Any, part: MovingPart, x_mm: Any, y_mm: Any) -> Any:
    """Return what the distance to a piece is never less than: the distance to its bounds.

    Args:
        bounds: (6,) with arrays of places, or (6, k) with one place.
    """
    box = part.box
    x = x_mm + part.offset_mm[0]
    y = y_mm + part.offset_mm[1]
    apart_x = np.maximum(
        np.maximum(bounds[0] - box.half_x_mm - x, x - box.half_x_mm - bounds[3]), 0.0
    )
    apart_y = np.maximum(
        np.maximum(bounds[1] - box.half_y_mm - y, y - box.half_y_mm - bounds[4]), 0.0
    )
    apart_z = np.maximum(bounds[2] - box.high_z_mm, box.low_z_mm - bounds[5])
    beyond_z = np.maximum(apart_z, 0.0)
    squared = apart_x * apart_x + apart_y * apart_y + beyond_z * beyond_z
    # one over the other: no deeper into one another than their heights are
    least = np.where(squared > 0, np.sqrt(squared), np.minimum(apart_z, 0.0))
    return least - part.radius_mm
