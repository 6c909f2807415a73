"""Photos as they come in, are kept, and are shown to scale.

A photo that comes in is decoded once and written anew: what the camera wrote of place, time and
device is gone, and what is kept is bounded.
"""

from __future__ import annotations

import hashlib
import io
import math
import warnings
from dataclasses import dataclass
from typing import Any

import numpy as np
from PIL import Image, ImageOps

from gale_nook.core.errors import BadInput
from gale_nook.core.plan.photo import Photo
from gale_nook.core.vehicle.photo_scale import PhotoScale

FORMATS = ("JPEG", "PNG", "WEBP")
MOST_BYTES = 16_000_000
MOST_DECODED_PX = 80_000_000
LEAST_SIDE_PX = 64
KEPT_SIDE_PX = 2400
LEVEL_PX = 2_400_000  # of a photo to scale
AROUND = 0.75  # so much of the points' extent is shown round them
FIELD = "photo"


@dataclass(frozen=True, slots=True)
class KeptPicture:
    """A picture as it is kept: a JPEG without anything but the picture.

    Attributes:
        file: SHA-256 of the data.
    """

    data: bytes
    file: str
    width_px: int
    height_px: int


@dataclass(frozen=True, slots=True)
class LevelArea:
    """The rectangle of the floor that a photo to scale shows, mm."""

    low_x_mm: float
    low_y_mm: float
    high_x_mm: float
    high_y_mm: float

    @property
    def corners(self) -> tuple[float, float, float, float]:
        """Low x, low y, high x, high y."""
        return (self.low_x_mm, self.low_y_mm, self.high_x_mm, self.high_y_mm)

    def holds(self, x_mm: float, y_mm: float) -> bool:
        """Return whether a place is within."""
        return self.low_x_mm <= x_mm <= self.high_x_mm and self.low_y_mm <= y_mm <= self.high_y_mm


def kept_picture(raw: bytes) -> KeptPicture:
    """Return a photo as it is kept, the right way up.

    Raises:
        BadInput: it is none, or too large or too small.
    """
    if len(raw) > MOST_BYTES:
        raise BadInput(FIELD, None, f"A photo of up to {MOST_BYTES // 1_000_000} MB is taken.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            picture = _decoded(raw)
    except BadInput:
        raise
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        problem = "This is no picture that can be read. Choose a JPEG, PNG or WebP file."
        raise BadInput(FIELD, None, problem) from None
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=86, optimize=True)
    data = out.getvalue()
    return KeptPicture(data, hashlib.sha256(data).hexdigest(), picture.width, picture.height)


def _decoded(raw: bytes) -> Image.Image:
    with Image.open(io.BytesIO(raw), formats=FORMATS) as opened:
        width, height = opened.size
        if width * height > MOST_DECODED_PX:
            problem = (
                f"The picture has {width * height / 1e6:.0f} megapixels; up to "
                f"{MOST_DECODED_PX // 1_000_000} are taken."
            )
            raise BadInput(FIELD, None, problem)
        if min(width, height) < LEAST_SIDE_PX:
            problem = f"The picture is {width} × {height} pixels: too small to measure in."
            raise BadInput(FIELD, None, problem)
        opened.draft("RGB", (KEPT_SIDE_PX, KEPT_SIDE_PX))  # decode no more than is kept
        upright = ImageOps.exif_transpose(opened)
        upright.thumbnail((KEPT_SIDE_PX, KEPT_SIDE_PX))
        if upright.mode in {"RGBA", "LA", "P"}:
            upright = upright.convert("RGBA")
            paper = Image.new("RGBA", upright.size, "white")
            upright = Image.alpha_composite(paper, upright)
        plain = upright.convert("RGB")
        plain.info.clear()
        return plain


def level_area(scale: PhotoScale, photo: Photo) -> LevelArea:
    """Return the rectangle that a photo to scale shows: what its points enclose, with some of that
    round it, as far as the photo reaches.
    """
    xs, ys = zip(*scale.places, strict=True)
    width, height = max(xs) - min(xs), max(ys) - min(ys)
    low_x, high_x = min(xs) - AROUND * width, max(xs) + AROUND * width
    low_y, high_y = min(ys) - AROUND * height, max(ys) + AROUND * height
    corners = [(0.0, 0.0), (photo.width_px, 0.0), (photo.width_px, photo.height_px)]
    corners.append((0.0, photo.height_px))
    reach = [scale.place_mm(corner) for corner in corners]
    if all(map(scale.is_in_front, corners)):
        rx, ry = zip(*reach, strict=True)
        low_x, high_x = max(low_x, min(rx)), min(high_x, max(rx))
        low_y, high_y = max(low_y, min(ry)), min(high_y, max(ry))
    return LevelArea(low_x, low_y, high_x, high_y)


def level_picture(data: bytes, scale: PhotoScale, area: LevelArea, *, below: bool) -> bytes:
    """Return a photo to scale as WebP, x to the right; what the photo does not show is see-through.

    Args:
        data: the photo as it is kept.
        below: seen from below, mirrored: y runs down the page; else up.
    """
    import cv2  # noqa: PLC0415 - only who works with photos waits for it

    source: Any = np.asarray(Image.open(io.BytesIO(data)).convert("RGBA"))
    width, height = area.high_x_mm - area.low_x_mm, area.high_y_mm - area.low_y_mm
    px = math.sqrt(LEVEL_PX / (width * height))  # to the mm
    size = (max(round(width * px), 1), max(round(height * px), 1))
    sx, sy = size[0] / width, size[1] / height
    rows = (
        [[sx, 0, -sx * area.low_x_mm], [0, sy, -sy * area.low_y_mm], [0, 0, 1]]
        if below
        else [[sx, 0, -sx * area.low_x_mm], [0, -sy, sy * area.high_y_mm], [0, 0, 1]]
    )
    onto = np.array(rows) @ scale.matrix
    warped = cv2.warpPerspective(source, onto, size, flags=cv2.INTER_LINEAR)
    warped[_behind(scale, onto, size)] = 0
    out = io.BytesIO()
    Image.fromarray(warped).save(out, "WEBP", quality=80, method=2)
    return out.getvalue()


def _behind(scale: PhotoScale, onto: Any, size: tuple[int, int]) -> Any:
    """Which pixels of the picture to scale no pixel in front of the camera shows."""
    back = np.linalg.inv(onto)
    columns, rows = np.arange(size[0]), np.arange(size[1])
    depth = back[2, 0] * columns[None, :] + back[2, 1] * rows[:, None] + back[2, 2]
    u, v, w = onto @ np.array([*scale.pixels[0], 1.0])
    sign = np.sign(back[2] @ np.array([u / w, v / w, 1.0]))
    return depth * sign <= 0
