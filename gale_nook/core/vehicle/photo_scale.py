"""A photo to scale: the homography from its pixels to the floor's plane, and how far it may be off.

The floor is taken for a plane and the camera for one without distortion (a pinhole): then pixels
and places are tied by a projective map, which four points decide (Hartley and Zisserman, Multiple
View Geometry, 2nd ed., chapters 2 and 4).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from gale_nook.core.errors import BadInput
from gale_nook.core.plan.photo import Photo
from gale_nook.core.plan.vehicle import Vehicle

NEEDED = 4
PICKED_PX = 2.0  # how far off a point is shown in a photo, one standard deviation
TYPED_MM = 1.0  # how far off its place is measured
TRACED_MM = 3.0  # how far off a part is traced over it
UNPROVED_MM = 50.0  # what a photo may be off by where no fifth point was measured
FLATTEST = 0.02  # of its longest side, that a triangle of three points is high at least
FIELD = "points of the photo"
Xy = tuple[float, float]


@dataclass(frozen=True, slots=True)
class PhotoScale:
    """A photo's pixels as places of the floor.

    Attributes:
        pixels, places: of the four points that decide, px and mm.
        residuals_mm: by point beyond these, how far it lies from where it was measured.
        noise: by how much more than taken for granted the points are off.
    """

    pixels: tuple[Xy, ...]
    places: tuple[Xy, ...]
    residuals_mm: tuple[float, ...]
    noise: float

    @property
    def matrix(self) -> Any:
        """From pixels to mm, 3 × 3, of homogeneous coordinates."""
        return _matrix(self.pixels, self.places)

    def place_mm(self, at_px: Xy) -> Xy:
        """Return the place that a pixel shows: behind the datum, right of centre."""
        return _mapped(self.matrix, at_px)

    def pixel(self, place_mm: Xy) -> Xy:
        """Return the pixel that shows a place."""
        return _mapped(np.linalg.inv(self.matrix), place_mm)

    def shows(self, photo: Photo, place_mm: Xy) -> bool:
        """Return whether a place lies in the photo."""
        u, v = self.pixel(place_mm)
        inside = 0 <= u <= photo.width_px and 0 <= v <= photo.height_px
        return inside and self.is_in_front((u, v))

    def is_in_front(self, at_px: Xy) -> bool:
        """Return whether a pixel lies on the same side of the floor's horizon as the points."""
        row = self.matrix[2]
        here, there = (row @ np.array([*px, 1.0]) for px in (at_px, self.pixels[0]))
        return bool(here * there > 0)

    @property
    def is_proved(self) -> bool:
        """Whether a fifth point tells how good it is."""
        return bool(self.residuals_mm)

    def error_mm(self, place_mm: Xy) -> float:
        """Return how far off a part may be that is traced at a place: twice the standard deviation
        that the points' own errors have there, and the tracing's; no less than UNPROVED_MM where
        no fifth point tells how large these are.
        """
        spread = self.noise * _spread_mm(self.pixels, self.places, place_mm)
        error = 2 * math.hypot(spread, TRACED_MM / 2)
        return error if self.is_proved else max(error, UNPROVED_MM)


def photo_scale(photo: Photo) -> PhotoScale | None:
    """Return a photo's scale; None while fewer than four points are shown and measured.

    Raises:
        BadInput: the points decide no scale, and why.
    """
    known = [p for p in photo.points if p.at_px is not None and p.place_mm is not None]
    if len(known) < NEEDED:
        return None
    pairs = [(p.at_px or (0.0, 0.0), p.place_mm or (0.0, 0.0)) for p in known]
    pixels, places = (tuple(pair[i] for pair in pairs[:NEEDED]) for i in (0, 1))
    _check(photo, pixels, places)
    matrix = _matrix(pixels, places)
    residuals, noises = [], [1.0]
    for at_px, place_mm in pairs[NEEDED:]:
        residual = math.dist(_mapped(matrix, at_px), place_mm)
        expected = math.hypot(_spread_mm(pixels, places, place_mm), _own_mm(pixels, places, at_px))
        residuals.append(residual)
        noises.append(residual / expected)
    return PhotoScale(pixels, places, tuple(residuals), max(noises))


def scaled_photos(vehicle: Vehicle) -> list[tuple[Photo, PhotoScale]]:
    """Return the photos whose points decide a scale, with it."""
    results = []
    for photo in vehicle.photos:
        try:
            scale = photo_scale(photo)
        except BadInput:
            continue
        if scale is not None:
            results.append((photo, scale))
    return results


def _own_mm(pixels: tuple[Xy, ...], places: tuple[Xy, ...], at_px: Xy) -> float:
    """Standard deviation of one more point, by its own picking and measuring, mm."""
    matrix = _matrix(pixels, places)
    here = _mapped(matrix, at_px)
    steps = ((at_px[0] + PICKED_PX, at_px[1]), (at_px[0], at_px[1] + PICKED_PX))
    return math.hypot(TYPED_MM, *(math.dist(_mapped(matrix, step), here) for step in steps))


@lru_cache(maxsize=64)
def _matrix(pixels: tuple[Xy, ...], places: tuple[Xy, ...]) -> Any:
    import cv2  # noqa: PLC0415 - only who works with photos waits for it

    one, other = (np.array(each, dtype=np.float32) for each in (pixels, places))
    return cv2.getPerspectiveTransform(one, other)


def _mapped(matrix: Any, point: Xy) -> Xy:
    x, y, w = matrix @ np.array([point[0], point[1], 1.0])
    return (float(x / w), float(y / w))


@lru_cache(maxsize=4096)
def _spread_mm(pixels: tuple[Xy, ...], places: tuple[Xy, ...], place_mm: Xy) -> float:
    """Standard deviation of the place that a pixel shows, as the four points' own errors spread to
    it: each is moved by its own, and the moves are added as squares.
    """
    at_px = _mapped(np.linalg.inv(_matrix(pixels, places)), place_mm)
    total = 0.0
    for points, step, is_pixel in ((pixels, PICKED_PX, True), (places, TYPED_MM, False)):
        for index in range(NEEDED):
            for axis in (0, 1):
                moved = _nudged(points, index, axis, step)
                matrix = _matrix(moved, places) if is_pixel else _matrix(pixels, moved)
                total += math.dist(_mapped(matrix, at_px), place_mm) ** 2
    return math.sqrt(total)


def _nudged(points: tuple[Xy, ...], index: int, axis: int, step: float) -> tuple[Xy, ...]:
    x, y = points[index]
    moved = (x + step, y) if axis == 0 else (x, y + step)
    return (*points[:index], moved, *points[index + 1 :])


def _check(photo: Photo, pixels: tuple[Xy, ...], places: tuple[Xy, ...]) -> None:
    """Refuse points that decide no scale, or one that no such photo can have."""
    for points, where in ((pixels, "in the photo"), (places, "on the vehicle")):
        flat = _flat(points)
        if flat is not None:
            one, other, third = flat
            raise BadInput(
                FIELD,
                None,
                f"Points {one}, {other} and {third} lie on one line {where}, or on one another. "
                "Choose four of which no three lie on one line.",
            )
    signs = [(_turn(pixels, t), _turn(places, t)) for t in _TRIPLES]
    same = [a * b > 0 for a, b in signs]
    if len(set(same)) > 1:
        raise BadInput(
            FIELD,
            None,
            "No flat floor looks like that: the points come round in another order in the photo "
            "than on the vehicle. Look at which is which.",
        )
    # seen from below, the vehicle's right is on the right when its rear is down: as in the plan
    if same[0] != (photo.seen == "below"):
        taken = "from inside" if photo.seen == "below" else "from below"
        raise BadInput(
            FIELD,
            None,
            f"With these points the photo was taken {taken}. Choose that, or look at which side "
            "the points lie on: left and right of centre may be changed over.",
        )


_TRIPLES = ((0, 1, 2), (0, 1, 3), (0, 2, 3), (1, 2, 3))


def _turn(points: tuple[Xy, ...], triple: tuple[int, int, int]) -> float:
    (ax, ay), (bx, by), (cx, cy) = (points[i] for i in triple)
    return (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)


def _flat(points: tuple[Xy, ...]) -> tuple[int, int, int] | None:
    """The numbers of three points that lie about on one line."""
    for triple in _TRIPLES:
        a, b, c = (points[i] for i in triple)
        longest = max(math.dist(a, b), math.dist(b, c), math.dist(a, c))
        if abs(_turn(points, triple)) <= FLATTEST * longest**2:
            one, other, third = triple
            return (one + 1, other + 1, third + 1)
    return None
