"""The drill sheet of holes through a side wall or the engine bay's bulkhead: measured from the
floor and from edges beside them.
"""

from __future__ import annotations

from gale_nook.core.build.drill_sheet import DrillFace, DrillHole, DrillSheet, Offset, Views
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.saws import saw_for
from gale_nook.core.spot.placement import face_holes, mount_stack_mm
from gale_nook.core.vehicle.floor import floor_finish_z_mm

FLOOR_WORDS = {"inside": "the finished floor", "outside": "the sill's lower edge"}
ALONG_WALL = ("behind it", "ahead of it", "above it", "below it")
ALONG_BULKHEAD = (
    "to the vehicle's right of it",
    "to the vehicle's left of it",
    "above it",
    "below it",
)


def face_drill_sheet(job: Job) -> DrillSheet | None:
    """Return the sheet; None without heater, mount and holes through a wall that is faced."""
    mount = chosen_mount(job)
    sheet = heater_sheet(job)
    holes = face_holes(job)
    if mount is None or sheet is None or not holes:
        return None
    middle = (
        sum(hole.along_mm for hole in holes) / len(holes),
        sum(hole.z_mm for hole in holes) / len(holes),
    )
    ordered = sorted(holes, key=lambda hole: (-hole.diameter_mm, hole.name))
    return DrillSheet(
        job=job.plan.name,
        heater=sheet.label,
        mount=mount.label,
        middle_mm=middle,
        holes=tuple(
            DrillHole(
                h.name,
                h.along_mm - middle[0],
                h.z_mm - middle[1],
                h.diameter_mm,
                saw_for(h.diameter_mm),
                order,
            )
            for order, h in enumerate(ordered, 1)
        ),
        faces=(_face(job, "inside", middle), _face(job, "outside", middle)),
        depth_mm=mount_stack_mm(job),
        transfer_mm=None,
        passes="From the body to the outer skin"
        if holes[0].face != "bulkhead"
        else "Thickness of the bulkhead",
        look="from the far side",
    )


def _face(job: Job, side: Views, middle: tuple[float, float]) -> DrillFace:
    shell, face = job.plan.vehicle.shell, face_holes(job)[0].face
    inside = side == "inside"
    floor = floor_finish_z_mm(job) if inside else shell.sill_z_mm
    up = Offset(FLOOR_WORDS[side], 0.0, middle[1] - floor, abs(middle[1] - floor))
    name, edge = _nearest_edge(job, middle[0], inside)
    beside = Offset(name, middle[0] - edge, 0.0, abs(middle[0] - edge))
    if face == "bulkhead":
        title = (
            "Bulkhead, seen from the cab"
            if inside
            else "Bulkhead, seen from the engine bay: mirrored"
        )
        return DrillFace(
            side,
            title,
            (up, beside),
            1 if inside else -1,
            1,
            ("UP", "DOWN", "LEFT SIDE", "RIGHT SIDE"),
            ALONG_BULKHEAD,
        )
    # looking out at the left wall the nose is to the right; from outside it is the other way about
    rearward = 1 if (face == "right") == inside else -1
    title = f"{face.capitalize()} wall, seen from {side}"
    return DrillFace(
        side, title, (up, beside), rearward, 1, ("UP", "DOWN", "FRONT", "REAR"), ALONG_WALL
    )


def _nearest_edge(job: Job, along: float, inside: bool) -> tuple[str, float]:
    """The edge beside the holes that is nearest: of an opening, of the wall, or the centre line of
    a bulkhead.
    """
    vehicle, face = job.plan.vehicle, face_holes(job)[0].face
    if face == "bulkhead":
        return "the centre line", 0.0
    edges = [("the rear doors", vehicle.shell.rear_x_mm)]
    edges += [("the bulkhead", vehicle.shell.bulkhead_x_mm)] if inside else []
    for opening in vehicle.openings:
        if opening.face == face:
            edges += [
                (f"{opening.name}'s front edge", opening.start_mm),
                (f"{opening.name}'s rear edge", opening.start_mm + opening.length_mm),
            ]
    return min(edges, key=lambda edge: abs(edge[1] - along))
