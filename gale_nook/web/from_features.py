"""Lengths typed from a named feature: "420 behind sliding door, rear edge", "150 left of seat
bolt".
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from gale_nook.core.errors import BadInput
from gale_nook.core.plan.vehicle import Feature, Vehicle
from gale_nook.core.quantities.length import UnitSystem, parse_length_mm

_TYPED = re.compile(
    r"(?P<length>.+?)\s+(?P<way>behind|ahead of|in front of|right of|left of)\s+(?P<name>.+)",
    re.IGNORECASE,
)
WAYS = {
    "behind": (0, 1.0),
    "ahead of": (0, -1.0),
    "in front of": (0, -1.0),
    "right of": (1, 1.0),
    "left of": (1, -1.0),
}
AXES = ("x_mm", "y_mm")
CENTRE = {"centre", "center", "the centre line", "centre line"}
DATUM = {"datum", "the datum"}


def from_feature(
    text: str, address: str, vehicle: Vehicle, system: UnitSystem, name: str
) -> float | None:
    """Return a coordinate typed from a named feature, None where the text is of another kind.

    Raises:
        BadInput: an unknown or ambiguous feature, or a direction that is not this field's.
    """
    result = _TYPED.fullmatch(text.strip())
    leaf = address.rsplit(".", 1)[-1]
    if result is None or leaf not in AXES:
        return None
    axis, sign = WAYS[result["way"].lower()]
    if axis != AXES.index(leaf):
        wanted = "behind or ahead of" if leaf == "x_mm" else "right of or left of"
        raise BadInput(name, text, f"This field counts {wanted} a feature.")
    return _origin(
        result["name"].strip().rstrip("."), axis, vehicle, name
    ) + sign * parse_length_mm(result["length"], system, name)


def _origin(wanted: str, axis: int, vehicle: Vehicle, name: str) -> float:
    if (axis == 0 and wanted.lower() in DATUM) or (axis == 1 and wanted.lower() in CENTRE):
        return 0.0
    meant = _meant(wanted, vehicle.features)
    if len(meant) != 1:
        known = ", ".join(f.name for f in vehicle.features) or "none yet"
        problem = (
            "Several features begin like that" if meant else "There is no feature of that name"
        )
        raise BadInput(name, wanted, f"{problem}; known are: {known}.")
    feature = meant[0]
    if feature.inside is not None:
        return feature.inside[axis]
    if feature.below is None:
        raise BadInput(name, wanted, f"{feature.name} has not been measured yet.")
    return -feature.below[axis] if axis == 1 and vehicle.below_mirrored else feature.below[axis]


def _meant(wanted: str, features: Sequence[Feature]) -> list[Feature]:
    """The feature of exactly that name, else those whose name begins so, else those that contain
    it.
    """
    low = wanted.lower()
    exact = [f for f in features if f.name.lower() == low]
    begins = [f for f in features if f.name.lower().startswith(low)]
    return exact or begins or [f for f in features if low in f.name.lower()]
