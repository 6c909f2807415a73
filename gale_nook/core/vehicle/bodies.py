"""What the vehicle itself takes room for: its body, what was surveyed, and its wheels."""

from __future__ import annotations

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import box_shape, solid_shape
from gale_nook.core.job import Job, vehicle_fact
from gale_nook.core.ledger.body import Body, body_of
from gale_nook.core.plan.vehicle import BoxSolid
from gale_nook.core.vehicle.floor import (
    floor_finish_z_mm,
    floor_underside_z_mm,
    steel_thickness_mm,
)
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.core.vehicle.wheels import assumed_wheel_shape, assumed_wheels, steered_shape

ROOF_MM, DEEP_MM, WIDE_MM = 60.0, 1000.0, 1000.0


@vehicle_fact
def vehicle_bodies(job: Job) -> tuple[Body, ...]:
    """Return every surveyed part through its travel, the wheels, the floor, walls, roof and
    ground, and what a slide-out sweeps.
    """
    return (*_surveyed(job), *_wheels(job), *_shell(job), *_slide(job))


def _surveyed(job: Job) -> list[Body]:
    results = []
    for solid, kind, shape in surveyed_parts(job):
        hollow = solid.hollow if isinstance(solid, BoxSolid) else None
        if hollow is None or not hollow.lids:
            own = steered_shape(job, solid, shape)
            results.append(
                Body(
                    solid.id,
                    solid.name,
                    kind.id,
                    own,
                    gaps=kind,
                    where=kind.where,
                    uncertainty_mm=solid.uncertainty_mm,
                )
            )
            continue
        owner = f"hollow.{solid.id}"
        for lids in (False, True):
            panels = tuple(face for face in hollow.panels if (face in hollow.lids) is lids)
            if not panels:
                continue
            part = solid.model_copy(update={"hollow": hollow.model_copy(update={"panels": panels})})
            name, thing = (f"lid of {solid.name}", "lid") if lids else (solid.name, kind.id)
            results.append(
                Body(
                    f"lid.{solid.id}" if lids else solid.id,
                    name,
                    thing,
                    solid_shape(part),
                    gaps=kind,
                    where=kind.where,
                    owner=owner,
                    uncertainty_mm=solid.uncertainty_mm,
                )
            )
    return results


def _wheels(job: Job) -> list[Body]:
    kind = job.catalogue.solid_kinds["wheel"]
    return [
        Body(
            f"axle.{wheel.id}",
            wheel.name,
            kind.id,
            assumed_wheel_shape(job, wheel),
            gaps=kind,
            where=kind.where,
        )
        for wheel in assumed_wheels(job)
    ]


def _shell(job: Job) -> list[Body]:
    """Floor, walls, roof, and the ground under them."""
    shell = job.plan.vehicle.shell
    # without an engine bay's bulkhead the cab's floor begins about where the front axle is
    front = shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.front_axle_x_mm
    length, half = shell.rear_x_mm - front, shell.floor_width_mm / 2
    steel, finish = -steel_thickness_mm(job), floor_finish_z_mm(job)
    ribs = floor_underside_z_mm(job)
    wall, top = shell.outer_width_mm / 2 - half, shell.inside_height_mm
    low, high = shell.front_x_mm - WIDE_MM, shell.rear_x_mm + WIDE_MM
    outside = shell.outer_width_mm / 2 + WIDE_MM
    boxes: list[tuple[str, str, Vec3, Vec3]] = [
        ("floor", "", (front, -half, steel), (length, 2 * half, finish - steel)),
        (
            "ground",
            "",
            (low, -outside, shell.ground_z_mm - DEEP_MM),
            (high - low, 2 * outside, DEEP_MM),
        ),
        ("roof", "", (front, -half, top), (length, 2 * half, ROOF_MM)),
    ]
    if ribs < steel:
        boxes.append(("floor-ribs", "", (front, -half, ribs), (length, 2 * half, steel - ribs)))
    if wall > 0:
        room = shell.rear_x_mm - shell.bulkhead_x_mm
        for side, y in (("left", -half - wall), ("right", half)):
            start = (shell.bulkhead_x_mm, y, 0.0)
            boxes.append(("wall", f"the {side} wall", start, (room, wall, top)))
    return [
        body_of(
            job,
            kind,
            box_shape(start, size),
            thing_id=f"shell.{name.replace(' ', '-') or kind}",
            name=name,
            owner="shell",
        )
        for kind, name, start, size in boxes
        if min(size) > 0
    ]


def _slide(job: Job) -> list[Body]:
    """What a slide-out takes on its way: beside the vehicle as far as it comes out, and what moves
    under the floor from its inner edge on.
    """
    slide, shell = job.plan.vehicle.slide, job.plan.vehicle.shell
    if slide is None:
        return []
    low_z, under, top = slide.base_mm, floor_underside_z_mm(job), shell.inside_height_mm
    half, wide = shell.outer_width_mm / 2, slide.to_mm - slide.from_mm
    out_mm, in_mm = slide.travel_mm, slide.inner_mm
    if slide.side == "rear":
        outside: Vec3 = (shell.rear_x_mm, slide.from_mm, low_z)
        inside: Vec3 = (shell.rear_x_mm - in_mm, slide.from_mm, low_z)
        sizes = ((out_mm, wide, top - low_z), (in_mm, wide, under - low_z))
    else:
        left = slide.side == "left"
        outside = (slide.from_mm, -half - out_mm if left else half, low_z)
        inside = (slide.from_mm, -half if left else half - in_mm, low_z)
        sizes = ((wide, out_mm, top - low_z), (wide, in_mm, under - low_z))
    return [
        body_of(
            job, "slide-out", box_shape(start, size), thing_id="shell.slide-out", owner="slide-out"
        )
        for start, size in zip((outside, inside), sizes, strict=True)
        if min(size) > 0
    ]
