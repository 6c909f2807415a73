"""Heights of parts below the floor, as somebody lying there measures them: from the steel's
underside down, or from the ground up.
"""

from __future__ import annotations

import re
from typing import Literal

from gale_nook.core.job import Job
from gale_nook.core.vehicle.floor import floor_underside_z_mm

From = Literal["floor", "underside", "ground"]
_HEIGHT = re.compile(r"vehicle\.solids\.([a-z0-9-]+)\.(z_mm|points\.\d+\.2)")
WORDS: dict[From, str] = {
    "floor": "above the load floor",
    "underside": "below the steel's underside",
    "ground": "above the ground",
}


def measured_from(job: Job, address: str) -> From:
    """Return from what a height is typed and shown; the load floor for all that is not below it.

    >>> _HEIGHT.fullmatch("vehicle.solids.tank.z_mm")[1]
    'tank'
    """
    chosen, match = job.plan.settings.heights_below, _HEIGHT.fullmatch(address)
    if chosen == "floor" or match is None:
        return "floor"
    solid = next((s for s in job.plan.vehicle.solids if s.id == match[1]), None)
    if solid is None or job.catalogue.solid_kinds[solid.kind].where != "below":
        return "floor"
    return chosen


def as_measured_mm(job: Job, address: str, z_mm: float) -> float:
    """Return a height over the load floor as it is measured from what the job chose."""
    return height_from_mm(job, measured_from(job, address), z_mm)


def over_floor_mm(job: Job, address: str, measured_mm: float) -> float:
    """Return the height over the load floor of a height that was measured so."""
    return height_over_floor_mm(job, measured_from(job, address), measured_mm)


def height_from_mm(job: Job, origin: From, z_mm: float) -> float:
    """Return a height over the load floor as it is measured from something else."""
    match origin:
        case "underside":
            return floor_underside_z_mm(job) - z_mm
        case "ground":
            return z_mm - job.plan.vehicle.shell.ground_z_mm
        case _:
            return z_mm


def height_over_floor_mm(job: Job, origin: From, measured_mm: float) -> float:
    """Return the height over the load floor of a height that was measured from something else."""
    match origin:
        case "underside":
            return floor_underside_z_mm(job) - measured_mm
        case "ground":
            return measured_mm + job.plan.vehicle.shell.ground_z_mm
        case _:
            return measured_mm
