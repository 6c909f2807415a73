"""A photo of the vehicle's floor, with points of it whose place in the vehicle is known."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import Frozen, ItemId, Name, Point2, unique_ids

MOST_PHOTO_PX = 4000
Pixels = Annotated[int, Field(ge=16, le=MOST_PHOTO_PX)]


class PhotoPoint(Frozen):
    """A point of a photo.

    Attributes:
        at_px: across and down the photo from its upper left corner; None until it was shown.
        place_mm: behind the datum and right of centre; None until it was typed.
    """

    id: ItemId
    at_px: Point2 | None = None
    place_mm: Point2 | None = None


class Photo(Frozen):
    """A photo of the floor, seen from below or from inside. The picture itself is kept beside the
    plan.

    Attributes:
        file: SHA-256 of the picture as it is kept, in hexadecimal digits.
        width_px, height_px: of the picture as it is kept.
        points: the first four set the scale, the others tell how good it is.
        shown: it lies under the plan.
    """

    id: ItemId
    name: Name
    seen: Literal["below", "inside"] = "below"
    file: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    width_px: Pixels
    height_px: Pixels
    points: Annotated[tuple[PhotoPoint, ...], Field(max_length=8), AfterValidator(unique_ids)] = ()
    shown: bool = True
