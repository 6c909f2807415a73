"""Whether a heater's ports pass the holes of its mount."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.mount import Mount, MountHole, Port, PortName

THROUGH_THE_FLOOR: tuple[PortName, ...] = ("exhaust", "intake", "fuel")
STRAIGHT_DOWN = -0.99  # of a direction's last part


PORT_WORDS: dict[PortName, str] = {
    "exhaust": "the exhaust's port",
    "intake": "the combustion air's port",
    "fuel": "the fuel's port",
}


def goes_through_floor(mount: Mount) -> bool:
    """Return whether the heater stands inside and its pipes leave through holes in the floor."""
    return mount.place == "inside" and mount.through == "floor" and len(mount.holes) > 0


def ports_blocked(sheet: HeaterSheet, mount: Mount) -> Iterator[tuple[PortName, float]]:
    """Yield each port that points down through the floor and passes no hole of the mount, with the
    length by which it misses the nearest.
    """
    if not goes_through_floor(mount):
        return
    for name in THROUGH_THE_FLOOR:
        port: Port = mount.ports.get(name) or getattr(sheet, name)
        if port.direction[2] > STRAIGHT_DOWN:
            continue
        missing = min(_missing_mm(port, hole) for hole in mount.holes)
        if missing > 0:
            yield name, missing


def _missing_mm(port: Port, hole: MountHole) -> float:
    """By how much a port's pipe reaches out of a hole; 0 or less where it passes."""
    dx, dy = abs(port.x_mm - hole.x_mm), abs(port.y_mm - hole.y_mm)
    radius = port.diameter_mm / 2
    half_x, half_y = hole.half_mm(0)
    if half_x:
        return max(dx + radius - half_x, dy + radius - half_y)
    return math.hypot(dx, dy) + radius - hole.diameter_mm / 2
