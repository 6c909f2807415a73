"""Reading a conductor's area: in mm², or as an American wire gauge."""

from __future__ import annotations

import math
import re
from collections.abc import Collection

from gale_nook.core.errors import BadInput
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import parse_quantity

_GAUGE = re.compile(r"\s*awg\s*(?:(\d{1,2})|([1-4])\s*/\s*0)\s*", re.IGNORECASE | re.ASCII)
GAUGES = range(2, 25)


def parse_area_mm2(text: str, name: str, standard: Collection[float]) -> float:
    """Return the area that is meant.

    Args:
        standard: the areas in mm² that cables are made in.

    Raises:
        BadInput: not an area; or a bare number that is a gauge and no standard area.
    """
    gauge = _GAUGE.fullmatch(text)
    if gauge is not None:
        number = int(gauge[1]) if gauge[1] is not None else 1 - int(gauge[2])
        return round(gauge_area_mm2(number), 4)
    area = parse_quantity(text, "mm2", UnitSystem.METRIC, name)
    is_bare = text.strip().isdigit()
    if is_bare and int(area) in GAUGES and not any(math.isclose(area, s) for s in standard):
        meant = gauge_area_mm2(int(area))
        sizes = ", ".join(f"{size:g}" for size in sorted(standard))
        raise BadInput(
            name,
            text,
            f"{area:g} mm² is no standard cable. AWG {area:g} is {meant:.2f} mm²: type AWG "
            f"{area:g} if that is meant, {area:g} mm² with its unit, or one of {sizes}.",
        )
    return area


def gauge_area_mm2(gauge: float) -> float:
    """Return the area of an American wire gauge; 0 for 1/0, -1 for 2/0 and so on.

    Source: ASTM B258: d = 0.127 mm × 92^((36 - n)/39).
    """
    diameter = 0.127 * float(92.0 ** ((36 - gauge) / 39))
    return math.pi / 4 * diameter**2
