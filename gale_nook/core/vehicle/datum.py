"""Moving all places along the vehicle, when they are measured from another datum."""

from __future__ import annotations

import re

from gale_nook.core.edits import address as addresses
from gale_nook.core.edits.command import Data

# every number of a plan that is a place behind the datum, by its address
ALONG = tuple(
    re.compile(pattern)
    for pattern in (
        r"vehicle\.shell\.\w+_x_mm",
        r"vehicle\.solids\.[^.]+\.(x_mm|(points|outline)\.\d+\.0)",
        r"vehicle\.features\.[^.]+\.(inside|below)\.0",
        r"vehicle\.looked_at\.[^.]+\.(from|to)_x_mm",
        r"vehicle\.floors\.[^.]+\.(from|to)_x_mm",
        r"vehicle\.photos\.[^.]+\.points\.[^.]+\.place_mm\.0",
        r"vehicle\.pop_top\.start_mm",
        r"(spot|candidates\.[^.]+\.spot|pilots\.[^.]+)\.x_mm",
        r"pilots\.[^.]+\.mark_x_mm",
        r"pipes\.(exhaust|intake)\.nodes\.[^.]+\.x_mm",
        r"pipes\.mouth_(from|to)_mm",
        r"fuel\.tap_x_mm",
        r"fuel\.(tank|own_tank)\.x_mm",
        r"fuel\.line\.nodes\.[^.]+\.x_mm",
        r"air\.(ducts\.[^.]+|return_duct)\.nodes\.[^.]+\.x_mm",
        r"air\.(returns|wanted)\.[^.]+\.x_mm",
        r"air\.zones\.[^.]+\.(from|to)_x_mm",
        r"coolant\.parts\.[^.]+\.x_mm|coolant\.hoses\.[^.]+\.nodes\.[^.]+\.x_mm",
        r"power\.(battery|controller|alarms\.[^.]+)\.x_mm",
        r"power\.controller\.sensor_x_mm",
        r"power\.leads\.[^.]+\.(nodes\.[^.]+\.x_mm|laid_(from|to)\.0)",
        r"acceptances\.[^.]+\.at\.0",
    )
)


def move_along(data: Data, by_mm: float) -> None:
    """Add to every place behind the datum of a plan's plain data, in place."""
    for address, value in addresses.leaves(data).items():
        if isinstance(value, int | float) and is_along(data, address):
            addresses.put(data, address, value + by_mm)


def is_along(data: Data, address: str) -> bool:
    """Return whether what stands at an address of a plan's plain data is a place behind the
    datum.
    """
    if any(pattern.fullmatch(address) for pattern in ALONG):
        return True
    # of an opening in a side or the roof, and of a slide-out in a side
    if re.fullmatch(r"vehicle\.openings\.[^.]+\.start_mm", address):
        opening = addresses.find(data, address.rsplit(".", 1)[0])
        return bool(opening["face"] != "rear")
    if address in {"vehicle.slide.from_mm", "vehicle.slide.to_mm"}:
        return bool(data["vehicle"]["slide"]["side"] != "rear")
    return False
