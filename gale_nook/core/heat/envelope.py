"""The shell as the heat sees it: faces, wheel arches, pop-top and ribs, from the vehicle's
dimensions.
"""

from __future__ import annotations

import math

from gale_nook.core.heat.film import Flow
from gale_nook.core.plan.heat import HeatNeed
from gale_nook.core.plan.solids import BoxSolid, OutlineSolid
from gale_nook.core.plan.vehicle import Opening, Shell, Vehicle

FACE_NAMES = {
    "roof": "Roof",
    "left": "Left side",
    "right": "Right side",
    "rear": "Rear doors' face",
    "bulkhead": "Bulkhead to the cab",
    "curtain": "Curtain to the cab",
    "floor": "Floor",
    "arches": "Wheel arches",
    "pop-top": "Pop-top's roof",
    "canvas": "Pop-top's canvas",
}
FLOWS = {"roof": Flow.UP, "pop-top": Flow.UP, "floor": Flow.DOWN}
ARCH = "wheel-arch"  # the kind of solid
RIBBED = ("roof", "left", "right")


def flow_of(face: str) -> Flow:
    """Return which way the heat goes through a face."""
    return FLOWS.get(face, Flow.SIDEWAYS)


def face_area_m2(shell: Shell, face: str) -> float:
    """Return the gross inside area of one of the six faces of the load space."""
    length, width, height = _load_space_mm(shell)
    sides = {
        "roof": (length, width),
        "floor": (length, width),
        "left": (length, height),
        "right": (length, height),
        "rear": (width, height),
        "bulkhead": (width, height),
    }
    return sides[face][0] * sides[face][1] / 1e6


def opening_area_m2(opening: Opening) -> float:
    """Return the area of a window, door or vent."""
    return opening.length_mm * opening.height_mm / 1e6


def partition(heat: HeatNeed) -> str | None:
    """Return the face between load space and cab: bulkhead or curtain; None where the cab is heated
    too.
    """
    return None if heat.cab == "inside" else heat.cab


def surface_areas_m2(vehicle: Vehicle, heat: HeatNeed) -> dict[str, float]:
    """Return the net area of every surface that has a build-up; never below 0.

    Openings, wheel arches and the pop-top's hole are taken out of the face that they lie in. A
    wheel arch counts as top, inner side and two ends of its box; a raised pop-top as its lid and
    four sides of canvas, a closed one as its lid alone.
    """
    shell = vehicle.shell
    areas = {face: face_area_m2(shell, face) for face in ("roof", "left", "right", "rear", "floor")}
    between = partition(heat)
    if between is not None:
        areas[between] = face_area_m2(shell, "bulkhead")
    for opening in vehicle.openings:
        areas[opening.face.value] -= opening_area_m2(opening)
    for length, width, height, side in wheel_arches_m(vehicle):
        areas["floor"] -= length * width
        areas[side] -= length * height
        areas["arches"] = (
            areas.get("arches", 0.0) + length * width + length * height + 2 * width * height
        )
    top = vehicle.pop_top
    if top is not None:
        length = top.length_mm / 1000
        width = top.width_mm / 1000
        rise = top.rise_mm / 1000
        areas["roof"] -= length * width
        areas["pop-top"] = length * width
        if top.raised:
            areas["canvas"] = 2 * (length + width) * rise
    return {face: max(area, 0.0) for face, area in areas.items()}


def volume_m3(vehicle: Vehicle) -> float:
    """Return the air of the load space, a raised pop-top's with it; furniture and arches are not
    taken off.
    """
    length, width, height = _load_space_mm(vehicle.shell)
    top = vehicle.pop_top
    raised = top.length_mm * top.width_mm * top.rise_mm if top is not None and top.raised else 0.0
    return (length * width * height + raised) / 1e9


def wheel_arches_m(vehicle: Vehicle) -> list[tuple[float, float, float, str]]:
    """Return (length, width, height, side) of every surveyed wheel arch, in m; turned ones as if
    they were not.
    """
    results = []
    for solid in vehicle.solids:
        if solid.kind != ARCH:
            continue
        if isinstance(solid, BoxSolid):
            middle_mm = solid.y_mm + solid.width_mm / 2
            results.append(_arch(solid.length_mm, solid.width_mm, solid.height_mm, middle_mm))
        elif isinstance(solid, OutlineSolid):
            xs, ys = [p[0] for p in solid.outline], [p[1] for p in solid.outline]
            results.append(
                _arch(
                    max(xs) - min(xs), max(ys) - min(ys), solid.height_mm, (max(ys) + min(ys)) / 2
                )
            )
    return results


def _arch(
    length_mm: float, width_mm: float, height_mm: float, middle_mm: float
) -> tuple[float, float, float, str]:
    return length_mm / 1000, width_mm / 1000, height_mm / 1000, "left" if middle_mm < 0 else "right"


def hoops(vehicle: Vehicle, heat: HeatNeed) -> int:
    """Return how many hoops of ribs stand between bulkhead and rear, both ends counted; 0 without a
    pitch.
    """
    length, _, _ = _load_space_mm(vehicle.shell)
    return (
        math.floor(length / heat.ribs.pitch_mm + 1e-9) + 1 if heat.ribs.pitch_mm is not None else 0
    )


def rib_length_m(vehicle: Vehicle, heat: HeatNeed) -> float:
    """Return the length of ribs and pillars: as typed, else hoops up both sides and over the roof,
    and stringers.
    """
    if heat.ribs.length_m is not None:
        return heat.ribs.length_m
    length, width, height = _load_space_mm(vehicle.shell)
    return (hoops(vehicle, heat) * (2 * height + width) + heat.ribs.stringers * length) / 1000


def _load_space_mm(shell: Shell) -> tuple[float, float, float]:
    return shell.rear_x_mm - shell.bulkhead_x_mm, shell.floor_width_mm, shell.inside_height_mm
