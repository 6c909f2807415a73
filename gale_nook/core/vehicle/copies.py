"""Copies of a part: moved, repeated at a pitch, and as it would lie on the vehicle's other side."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from pydantic import ValidationError

from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.plan.document import places_of
from gale_nook.core.plan.solids import (
    BoxSolid,
    CylinderSolid,
    Direction,
    Hollow,
    PanelOpening,
    Solid,
    TubeSolid,
)
from gale_nook.core.plan.words import field_words

OTHER = {"left": "right", "right": "left", "Left": "Right", "Right": "Left"}
_SIDE = re.compile(r"\b(" + "|".join(OTHER) + r")\b")
MOST_NAME = 80
_NUMBER = re.compile(r" \d+$")


def mirrored(solid: Solid, new_id: str) -> Solid:
    """Return a part mirrored at the vehicle's centre line, left and right changed in its name."""
    changes: dict[str, Any] = {"id": new_id, "name": mirrored_name(solid.name)}
    if isinstance(solid, BoxSolid):
        changes |= {"y_mm": -(solid.y_mm + solid.width_mm) + 0.0, "yaw_deg": -solid.yaw_deg + 0.0}
        if solid.hollow is not None:
            changes["hollow"] = _mirrored_hollow(solid.hollow, solid.width_mm)
    elif isinstance(solid, CylinderSolid):
        changes["y_mm"] = -solid.y_mm + 0.0
    elif isinstance(solid, TubeSolid):
        changes["points"] = tuple((x, -y + 0.0, z) for x, y, z in solid.points)
    else:
        changes["outline"] = tuple((x, -y + 0.0) for x, y in reversed(solid.outline))
    return _changed(solid, changes)


def _changed(solid: Solid, changes: dict[str, Any]) -> Solid:
    """The part with other values; raises BadInput where a part cannot have them."""
    try:
        return type(solid).model_validate({**solid.model_dump(), **changes})
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(f"{solid.name}: {field_words(place)}", None, problem) from None


def _mirrored_hollow(hollow: Hollow, width_mm: float) -> Hollow:
    return hollow.model_copy(
        update={
            "panels": tuple(_other(face) for face in hollow.panels),
            "lids": tuple(_other(face) for face in hollow.lids),
            "openings": tuple(_mirrored_opening(o, width_mm) for o in hollow.openings),
        }
    )


def _mirrored_opening(opening: PanelOpening, width_mm: float) -> PanelOpening:
    """What is counted to the right is counted from the other edge."""
    if opening.face in {"front", "rear"}:
        changes: dict[str, Any] = {"along_mm": width_mm - opening.along_mm - opening.width_mm}
    elif opening.face in {"up", "down"}:
        changes = {"up_mm": width_mm - opening.up_mm - opening.height_mm}
    else:
        changes = {"face": _other(opening.face)}
    return opening.model_copy(update=changes)


def _other(face: Direction) -> Direction:
    if face == "left":
        return "right"
    return "left" if face == "right" else face


def moved(solid: Solid, by_mm: Vec3) -> Solid:
    """Return a part moved rearward, to the right and up."""
    dx, dy, dz = by_mm
    if isinstance(solid, TubeSolid):
        points = tuple((x + dx, y + dy, z + dz) for x, y, z in solid.points)
        changes: dict[str, Any] = {"points": points}
    elif isinstance(solid, BoxSolid | CylinderSolid):
        changes = {"x_mm": solid.x_mm + dx, "y_mm": solid.y_mm + dy, "z_mm": solid.z_mm + dz}
    else:
        outline = tuple((x + dx, y + dy) for x, y in solid.outline)
        changes = {"outline": outline, "z_mm": solid.z_mm + dz}
    return _changed(solid, changes)


def repeated(solid: Solid, new_ids: Sequence[str], pitch_mm: Vec3) -> tuple[Solid, ...]:
    """Return one more of a part for each id, each at the pitch from the one before, numbered on
    from the part's own name.
    """
    name = numbered_from(solid.name)
    return tuple(
        moved(solid, (pitch_mm[0] * step, pitch_mm[1] * step, pitch_mm[2] * step)).model_copy(
            update={"id": new_id, "name": f"{name[0]} {name[1] + step}"}
        )
        for step, new_id in enumerate(new_ids, 1)
    )


def numbered_from(name: str) -> tuple[str, int]:
    """Return a name without its number, and the number; 1 where it has none.

    >>> numbered_from("cross-member 3"), numbered_from("cross-member")
    (('cross-member', 3), ('cross-member', 1))
    """
    found = _NUMBER.search(name)
    stem = name[: found.start()] if found else name
    return stem[: MOST_NAME - 5], int(found[0]) if found else 1


def mirrored_name(name: str) -> str:
    """Return a name with left and right changed; marked where it has neither.

    >>> mirrored_name("left chassis rail"), mirrored_name("spare wheel")
    ('right chassis rail', 'spare wheel, other side')
    """
    other = _SIDE.sub(lambda found: OTHER[found[1]], name)
    return other if other != name else f"{name[: MOST_NAME - 12]}, other side"
