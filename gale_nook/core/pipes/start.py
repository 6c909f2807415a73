"""The first proposal of an exhaust run, to be dragged from there."""

from __future__ import annotations

import math
from typing import Any

from gale_nook.core.derived import Derived
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.registry import sheet_band

DROP_MM = 70.0
PAST_EDGE_MM = 15.0
EXTRA_FALL_DEG = 1.5


def starting_nodes(derived: Derived) -> list[dict[str, Any]]:
    """Return nodes for a run straight down from the port, then falling to the nearer side's edge.

    Raises:
        BadInput: there is no heater, spot or mount yet.
    """
    spot, sheet = derived.plan.spot, derived.sheet
    if spot is None or sheet is None or derived.mount is None:
        raise BadInput(
            "pipes.exhaust",
            None,
            "The exhaust starts at the heater's port: choose a heater and a spot first.",
        )
    x, y, z = derived.port_point(sheet.exhaust)
    side = 1.0 if y >= 0 else -1.0
    mouth_y = side * (derived.plan.vehicle.shell.outer_width_mm / 2 + PAST_EDGE_MM)
    fall = sheet_band(derived, "exhaust_fall_deg")
    radius = sheet_band(derived, "exhaust_radius_mm")
    fall_deg = (fall.minimum or 0.0 if fall is not None else 0.0) + EXTRA_FALL_DEG
    radius_mm = (radius.minimum or 50.0 if radius is not None else 50.0) + 5.0
    low_z = z - max(DROP_MM, radius_mm + 10)
    mouth_z = low_z - abs(mouth_y - y) * math.tan(math.radians(fall_deg))
    return [
        {"id": "n-1", "x_mm": round(x), "y_mm": round(y), "z_mm": round(low_z), "radius_mm": radius_mm},
        {
            "id": "n-2",
            "x_mm": round(x),
            "y_mm": round(mouth_y),
            "z_mm": math.floor(mouth_z),
            "radius_mm": radius_mm,
        },
    ]
