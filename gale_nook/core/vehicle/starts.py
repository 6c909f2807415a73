"""A part to begin with: such as one of its kind usually is, where such a part belongs."""

from __future__ import annotations

from gale_nook.core.catalogue.survey import PartStart, SolidKind
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.job import Job
from gale_nook.core.plan.solids import (
    BoxSolid,
    CylinderSolid,
    Hollow,
    OutlineSolid,
    Solid,
    TubeSolid,
)
from gale_nook.core.vehicle.floor import floor_finish_z_mm, floor_underside_z_mm

TO_REAR_MM = 100.0  # what leads along the vehicle ends so far from its rear


def starting_part(job: Job, kind: SolidKind, shape: str = "") -> Solid:
    """Return a part of a kind, to be corrected by the tape.

    Args:
        shape: "box", "cylinder", "tube" or "outline"; empty for the usual one of its kind.
    """
    start, shell = kind.start, job.plan.vehicle.shell
    common = {
        "id": fresh_id(job.plan.vehicle.solids, kind.id),
        "name": f"new {kind.label}"[:80],
        "kind": kind.id,
        "material": start.material,
    }
    wanted = shape or start.shape
    high = start.diameter_mm if wanted in {"cylinder", "tube"} else start.height_mm
    middle, low = _middle_x_mm(job, kind), _low_z_mm(job, kind, high)
    along = start.length_mm or shell.rear_x_mm - shell.bulkhead_x_mm - 2 * TO_REAR_MM
    across, y = start.width_mm or shell.floor_width_mm - 2.0, -start.aside_mm
    if wanted == "tube":
        z = low + start.diameter_mm / 2
        ends = tuple((middle + along * share, y, z) for share in (-0.5, 0.0, 0.5))
        return TubeSolid(**common, points=ends, diameter_mm=start.diameter_mm)
    if wanted == "cylinder":
        size = {"diameter_mm": start.diameter_mm, "length_mm": min(along, 500.0)}
        z = low + start.diameter_mm / 2
        return CylinderSolid(**common, axis="x", x_mm=middle, y_mm=y, z_mm=z, **size)
    if wanted == "outline":
        x0, x1, y0, y1 = middle - along / 2, middle + along / 2, y - across / 2, y + across / 2
        corners = ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
        return OutlineSolid(**common, outline=corners, z_mm=low, height_mm=high)
    return BoxSolid(
        **common,
        x_mm=middle - along / 2,
        y_mm=y - across / 2,
        z_mm=low,
        length_mm=along,
        width_mm=across,
        height_mm=high,
        hollow=_hollow(start),
    )


def _hollow(start: PartStart) -> Hollow | None:
    """How furniture is hollow to begin with: panels all round and on top, open to the floor."""
    if not start.hollow_mm:
        return None
    return Hollow(panel_mm=start.hollow_mm, lids=start.lids)


def _middle_x_mm(job: Job, kind: SolidKind) -> float:
    """Where along the vehicle its middle is."""
    shell = job.plan.vehicle.shell
    if kind.where == "engine-bay":
        behind = shell.floor_front_x_mm
        return (shell.front_x_mm + behind) / 2
    if kind.id in {"wheel", "suspension"}:
        return shell.rear_axle_x_mm
    if kind.id == "bumper":
        return shell.rear_x_mm + kind.start.length_mm / 2
    return (shell.bulkhead_x_mm + shell.rear_x_mm) / 2


def _low_z_mm(job: Job, kind: SolidKind, height_mm: float) -> float:
    """Height of its lowest face: hung below the floor, standing on it, or on the ground."""
    if kind.id == "wheel":
        return job.plan.vehicle.shell.ground_z_mm
    if kind.where == "below":
        return floor_underside_z_mm(job) - kind.start.off_mm - height_mm
    if kind.id == "bumper":
        return floor_underside_z_mm(job) - height_mm
    return floor_finish_z_mm(job) + kind.start.off_mm
