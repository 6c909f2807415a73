"""The floor's own ribs under the mount: how many, and what has to be packed between them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.spot import Spot
from gale_nook.core.plan.vehicle import Floor
from gale_nook.core.spot.placement import PlacedHole, floor_holes, heater_floor

FLANGE_MM = 22.0  # of flange round a hole that has to bear on something flat; workshop assumption


@dataclass(frozen=True, slots=True)
class RibPacking:
    """Ribs under the flanges of a mount.

    Attributes:
        ribs: that run under them.
        depth_mm: of the valleys between, to be filled.
    """

    ribs: int
    depth_mm: float


def rib_packing(job: Job, spot: Spot) -> RibPacking | None:
    """Return what lies under the mount at a place; None where the floor is flat or its pitch was
    not measured.

    The ribs run lengthwise at the phase and whole pitches from it.
    """
    at = job.with_parts(spot=spot)
    floor, sheet = heater_floor(at).floor, heater_sheet(job)
    mount = sheet.mount(spot.mount) if sheet is not None else None
    if mount is None or floor.pitch_mm is None or floor.corrugation_mm == 0:
        return None
    lines: set[int] = set()
    for hole in floor_holes(at):
        first, last = _lines(floor, floor.pitch_mm, hole, hole.y_mm)
        lines.update(range(int(first), int(last) + 1))
    return RibPacking(len(lines), floor.corrugation_mm)


def has_ribs(job: Job, y_mm: Any) -> Any:
    """Return whether a rib of the floor runs under the mount's flange, with the heater's reference
    point at places across the floor; False where the ribs' pitch was not measured.

    Args:
        y_mm: array of any shape.
    """
    floor, spot = heater_floor(job).floor, job.plan.spot
    result = np.zeros(np.shape(y_mm), dtype=bool)
    if spot is None or floor.pitch_mm is None or floor.corrugation_mm == 0:
        return result
    for hole in floor_holes(job):
        first, last = _lines(floor, floor.pitch_mm, hole, y_mm + hole.y_mm - spot.y_mm)
        result |= last >= first
    return result


def _lines(floor: Floor, pitch_mm: float, hole: PlacedHole, y_mm: Any) -> tuple[Any, Any]:
    """The first and last rib under the flange of a hole whose middle is at a place across."""
    reach = hole.reach_mm[1] + FLANGE_MM
    first = np.ceil((y_mm - reach - floor.phase_mm) / pitch_mm)
    return first, np.floor((y_mm + reach - floor.phase_mm) / pitch_mm)
