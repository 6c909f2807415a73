"""What the vehicle itself takes room for: its body, what was surveyed, and its wheels."""

from __future__ import annotations

import itertools

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape, box_shape, joined, solid_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, body_of
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.plan.vehicle import FloorArea
from gale_nook.core.vehicle.floor import every_floor, floor_underside_z_mm
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.core.vehicle.wheels import assumed_wheel_shape, assumed_wheels, steered_shape

Rect = tuple[float, float, float, float]  # low x, low y, high x, high y
ROOF_MM, DEEP_MM, WIDE_MM = 60.0, 1000.0, 1000.0


@fact
def vehicle_bodies(job: Job) -> tuple[Body, ...]:
    """Return every surveyed part through its travel, the wheels, the floor, walls, roof and
    ground, and what a slide-out sweeps.
    """
    return (*_surveyed(job), *_wheels(job), *floor_bodies(job), *_shell(job), *_slide(job))


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


@fact
def floor_bodies(job: Job) -> tuple[Body, ...]:
    """Return the load floor and those that differ from it, each with its ribs: the load floor
    reaches wherever no other lies.
    """
    shell = job.plan.vehicle.shell
    half = shell.floor_width_mm / 2
    whole = (shell.floor_front_x_mm, -half, shell.rear_x_mm, half)
    results = []
    for here in every_floor(job):
        area = here.area
        rects = (
            _left_over(whole, job.plan.vehicle.floors)
            if area is None
            else [(area.from_x_mm, area.left_y_mm, area.to_x_mm, area.right_y_mm)]
        )
        name = "" if area is None else area.name
        suffix = "" if area is None else f".{area.id}"
        slabs = (
            ("floor", here.steel_z_mm, here.finish_z_mm),
            ("floor-ribs", here.underside_z_mm, here.steel_z_mm),
        )
        for kind, low, high in slabs:
            boxes = [_slab(rect, low, high) for rect in rects]
            if high > low and boxes:
                told = name if kind == "floor" or not name else f"the ribs of {name}"
                results.append(
                    body_of(
                        job,
                        kind,
                        joined(boxes),
                        thing_id=f"shell.{kind}{suffix}",
                        name=told,
                        owner="shell",
                    )
                )
    return tuple(results)


def _slab(rect: Rect, low_z_mm: float, high_z_mm: float) -> Shape:
    x0, y0, x1, y1 = rect
    return box_shape((x0, y0, low_z_mm), (x1 - x0, y1 - y0, high_z_mm - low_z_mm))


def _left_over(whole: Rect, areas: tuple[FloorArea, ...]) -> list[Rect]:
    """What of a rectangle no area covers, as rectangles between the areas' edges."""
    x0, y0, x1, y1 = whole
    xs = sorted({x0, x1, *(v for a in areas for v in (a.from_x_mm, a.to_x_mm) if x0 < v < x1)})
    ys = sorted({y0, y1, *(v for a in areas for v in (a.left_y_mm, a.right_y_mm) if y0 < v < y1)})
    return [
        (low_x, low_y, high_x, high_y)
        for low_x, high_x in itertools.pairwise(xs)
        for low_y, high_y in itertools.pairwise(ys)
        if not any(a.holds((low_x + high_x) / 2, (low_y + high_y) / 2) for a in areas)
    ]


def _shell(job: Job) -> list[Body]:
    """Walls, roof, and the ground under them."""
    shell = job.plan.vehicle.shell
    front = shell.floor_front_x_mm
    length, half = shell.rear_x_mm - front, shell.floor_width_mm / 2
    wall, top = shell.outer_width_mm / 2 - half, shell.inside_height_mm
    low, high = shell.front_x_mm - WIDE_MM, shell.rear_x_mm + WIDE_MM
    outside = shell.outer_width_mm / 2 + WIDE_MM
    boxes: list[tuple[str, str, Vec3, Vec3]] = [
        (
            "ground",
            "",
            (low, -outside, shell.ground_z_mm - DEEP_MM),
            (high - low, 2 * outside, DEEP_MM),
        ),
        ("roof", "", (front, -half, top), (length, 2 * half, ROOF_MM)),
    ]
    if wall > 0:
        room = shell.rear_x_mm - shell.bulkhead_x_mm
        for side, y in (("left", -half - wall), ("right", half)):
            start = (shell.bulkhead_x_mm, y, 0.0)
            boxes.append(("wall", f"the {side} wall", start, (room, wall, top)))
    afloat = job.plan.vehicle.afloat
    return [
        body_of(
            job,
            kind,
            box_shape(start, size),
            thing_id=f"shell.{name.replace(' ', '-') or kind}",
            name="the hull's bottom" if afloat and kind == "ground" else name,
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
