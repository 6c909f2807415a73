"""Zones of the inside, as the panels of warm air and coolant show them."""

from __future__ import annotations

from typing import Any

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.job import Job
from gale_nook.core.plan.air import LIVING
from gale_nook.core.plan.solids import BoxSolid

DIVIDERS = (
    ("open", "nothing"),
    ("curtain", "a curtain"),
    ("door", "a door"),
    ("panel", "furniture's panels"),
)
ZONE_KINDS = (
    ("living", "living"),
    ("bed", "bed"),
    ("bath", "bath"),
    ("garage", "garage"),
    ("locker", "locker"),
    ("cab", "cab"),
)


class RoomZones:
    """The zones of a job."""

    dividers, kinds = DIVIDERS, ZONE_KINDS

    def __init__(self, job: Job) -> None:
        self.job, self.air = job, job.plan.air

    @property
    def choices(self) -> list[tuple[str, str]]:
        return [(LIVING, "living space"), *((zone.id, zone.name) for zone in self.air.zones)]

    @property
    def new(self) -> dict[str, Any]:
        """The command that adds a zone: round the bed, else the rear third."""
        shell = self.job.plan.vehicle.shell
        half = shell.floor_width_mm / 2
        bed = next((s for s in self.job.plan.vehicle.solids if s.kind == "bed"), None)
        start = shell.rear_x_mm - (shell.rear_x_mm - shell.bulkhead_x_mm) / 3
        low = None
        if isinstance(bed, BoxSolid):
            start, low = bed.x_mm, bed.z_mm
        item = {
            "id": fresh_id(self.air.zones, "zone"),
            "name": "bed",
            "kind": "bed",
            "from_x_mm": start,
            "to_x_mm": shell.rear_x_mm,
            "left_y_mm": -half,
            "right_y_mm": half,
            "low_z_mm": low,
        }
        return {"op": "add", "collection": "air.zones", "item": item}
