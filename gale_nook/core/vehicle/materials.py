"""What the material of a surveyed part adds to what its kind asks: a cross-member of wood burns,
one of steel does not.
"""

from __future__ import annotations

from gale_nook.core.catalogue.survey import SolidKind, SolidMaterial


def made_of(kind: SolidKind, material: SolidMaterial | None) -> SolidKind:
    """Return a kind with the stricter of its own demands and its material's; the kind itself where
    that adds nothing.

    Furniture and the like inside are left as they are: pipes do not meet them.
    """
    if material is None or kind.where == "inside":
        return kind
    heat = _least(kind.heat_c, material.heat_c)
    bare = _most(kind.exhaust_mm, material.exhaust_mm)
    own_covered = kind.covered_mm if kind.covered_mm is not None else kind.exhaust_mm
    covered = (
        _most(own_covered, material.covered_mm)
        if material.covered_mm is not None
        else kind.covered_mm
    )
    if (heat, bare, covered) == (kind.heat_c, kind.exhaust_mm, kind.covered_mm):
        return kind
    changes = {
        "heat_c": heat,
        "exhaust_mm": bare,
        "covered_mm": covered,
        "label": f"{kind.label} of {material.label}",
        "source": f"{kind.source}, {material.source}",
    }
    return kind.model_copy(update=changes)


def _least(one: float | None, other: float | None) -> float | None:
    return min((value for value in (one, other) if value is not None), default=None)


def _most(one: float | None, other: float | None) -> float | None:
    return max((value for value in (one, other) if value is not None), default=None)
