"""What was surveyed, as shapes: parts with their kind, and openings."""

from __future__ import annotations

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape, solid_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.solids import Solid
from gale_nook.core.plan.vehicle import Opening
from gale_nook.core.vehicle.materials import made_of

OPENING_DEPTH_MM = 4.0
SurveyedPart = tuple[Solid, SolidKind, Shape]


@fact
def surveyed_parts(job: Job) -> tuple[SurveyedPart, ...]:
    """Return every part that stays, its kind as its material makes it, and its shape through its
    travel.
    """
    kinds, materials = job.catalogue.solid_kinds, job.catalogue.solid_materials
    return tuple(
        (solid, made_of(kinds[solid.kind], materials.get(solid.material)), solid_shape(solid))
        for solid in job.plan.vehicle.solids
        if not solid.goes
    )


@fact
def surveyed_where(job: Job, where: str) -> list[SurveyedPart]:
    """Return the parts that are "inside", "below", "outside" or in the "engine-bay"."""
    return [part for part in surveyed_parts(job) if part[1].where == where]


def opening_box(job: Job, opening: Opening) -> tuple[Vec3, Vec3]:
    """Return low corner and size of an opening as a thin box in its face (outside)."""
    shell = job.plan.vehicle.shell
    thick, half = OPENING_DEPTH_MM, shell.outer_width_mm / 2
    if opening.face == "rear":
        low = (shell.rear_x_mm, opening.start_mm, opening.base_mm)
        return low, (thick, opening.length_mm, opening.height_mm)
    if opening.face == "roof":
        low = (opening.start_mm, opening.base_mm, shell.inside_height_mm)
        return low, (opening.length_mm, opening.height_mm, thick)
    y = half - thick if opening.face == "right" else -half
    return (opening.start_mm, y, opening.base_mm), (opening.length_mm, thick, opening.height_mm)
