"""The floor's own ribs under the mount: how many, and what has to be packed between them."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.spot import Spot
from gale_nook.core.spot.placement import floor_holes

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
    floor, sheet = job.plan.vehicle.floor, heater_sheet(job)
    mount = sheet.mount(spot.mount) if sheet is not None else None
    if mount is None or floor.pitch_mm is None or floor.corrugation_mm == 0:
        return None
    at = job.with_plan(job.plan.model_copy(update={"spot": spot}))
    lines: set[int] = set()
    for hole in floor_holes(at):
        y, reach = hole.y_mm, hole.reach_mm[1] + FLANGE_MM
        first = math.ceil((y - reach - floor.phase_mm) / floor.pitch_mm)
        last = math.floor((y + reach - floor.phase_mm) / floor.pitch_mm)
        lines.update(range(first, last + 1))
    return RibPacking(len(lines), floor.corrugation_mm)
