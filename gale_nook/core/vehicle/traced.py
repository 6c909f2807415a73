"""Parts traced over a photo: their place is as good as the photo's scale is there."""

from __future__ import annotations

import math

from gale_nook.core.geometry.shapes import solid_shape
from gale_nook.core.plan.solids import Solid
from gale_nook.core.plan.vehicle import Vehicle
from gale_nook.core.vehicle.photo_scale import scaled_photos

MOST_UNCERTAIN_MM = 300.0


def over_photo(vehicle: Vehicle, part: Solid) -> Solid:
    """Return a part with the uncertainty of the photo to scale that lies under it, of several the
    largest; as it is where none is shown there.
    """
    low_x, low_y, _, high_x, high_y, _ = solid_shape(part).bounds
    corners = [(x, y) for x in (low_x, high_x) for y in (low_y, high_y)]
    errors = [
        max(map(scale.error_mm, corners))
        for photo, scale in scaled_photos(vehicle)
        if photo.shown and any(scale.shows(photo, corner) for corner in corners)
    ]
    if not errors:
        return part
    most = float(math.ceil(max(errors)))
    return part.model_copy(update={"uncertainty_mm": min(most, MOST_UNCERTAIN_MM)})
