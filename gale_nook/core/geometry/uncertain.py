"""The room that a part may take whose place is not known exactly."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import shapely

from gale_nook.core.plan.solids import (
    BoxSolid,
    CylinderSolid,
    Direction,
    Hollow,
    PanelOpening,
    Solid,
    TubeSolid,
)

SIDES: frozenset[Direction] = frozenset({"front", "rear", "left", "right"})


@lru_cache(maxsize=4096)
def widened(solid: Solid) -> Solid:
    """Return a part made larger by its uncertainty, along and across: wherever it really is, it
    lies within. A tube and a cylinder grow in height too.
    """
    by = solid.uncertainty_mm
    if by <= 0:
        return solid
    if isinstance(solid, BoxSolid):
        changes: dict[str, Any] = {
            "x_mm": solid.x_mm - by,
            "y_mm": solid.y_mm - by,
            "length_mm": solid.length_mm + 2 * by,
            "width_mm": solid.width_mm + 2 * by,
            "hollow": _hollow(solid.hollow, by) if solid.hollow is not None else None,
        }
    elif isinstance(solid, TubeSolid):
        changes = {"diameter_mm": solid.diameter_mm + 2 * by}
    elif isinstance(solid, CylinderSolid):
        changes = {
            "diameter_mm": solid.diameter_mm + 2 * by,
            "length_mm": solid.length_mm + 2 * by,
        }
    else:
        polygon: Any = shapely.Polygon(solid.outline)
        polygon = polygon if polygon.is_valid else polygon.convex_hull
        grown = polygon.buffer(by, join_style="mitre")
        changes = {"outline": tuple(grown.exterior.coords)[:-1]}
    return solid.model_copy(update={**changes, "uncertainty_mm": 0.0})


def _hollow(hollow: Hollow, by_mm: float) -> Hollow:
    """Panels that may stand farther in or out; their openings are where they are on the panel."""
    return hollow.model_copy(
        update={
            "panel_mm": hollow.panel_mm + 2 * by_mm,
            "openings": tuple(_opening(opening, by_mm) for opening in hollow.openings),
        }
    )


def _opening(opening: PanelOpening, by_mm: float) -> PanelOpening:
    moved = {"along_mm": opening.along_mm + by_mm}
    if opening.face not in SIDES:
        moved["up_mm"] = opening.up_mm + by_mm
    return opening.model_copy(update=moved)
