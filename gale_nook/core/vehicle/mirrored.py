"""A part as it would lie on the vehicle's other side."""

from __future__ import annotations

import re
from typing import Any

from gale_nook.core.plan.vehicle import BoxSolid, CylinderSolid, Solid, TubeSolid

OTHER = {"left": "right", "right": "left", "Left": "Right", "Right": "Left"}
_SIDE = re.compile(r"\b(" + "|".join(OTHER) + r")\b")
MOST_NAME = 80


def mirrored(solid: Solid, new_id: str) -> Solid:
    """Return a part mirrored at the vehicle's centre line, left and right changed in its name."""
    changes: dict[str, Any] = {"id": new_id, "name": mirrored_name(solid.name)}
    if isinstance(solid, BoxSolid):
        changes |= {"y_mm": -(solid.y_mm + solid.width_mm) + 0.0, "yaw_deg": -solid.yaw_deg + 0.0}
    elif isinstance(solid, CylinderSolid):
        changes["y_mm"] = -solid.y_mm + 0.0
    elif isinstance(solid, TubeSolid):
        changes["points"] = tuple((x, -y + 0.0, z) for x, y, z in solid.points)
    else:
        changes["outline"] = tuple((x, -y + 0.0) for x, y in reversed(solid.outline))
    return type(solid).model_validate({**solid.model_dump(), **changes})


def mirrored_name(name: str) -> str:
    """Return a name with left and right changed; marked where it has neither.

    >>> mirrored_name("left chassis rail"), mirrored_name("spare wheel")
    ('right chassis rail', 'spare wheel, other side')
    """
    other = _SIDE.sub(lambda found: OTHER[found[1]], name)
    return other if other != name else f"{name[: MOST_NAME - 12]}, other side"
