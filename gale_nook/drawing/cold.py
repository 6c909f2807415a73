"""The coldest place of the shell, marked on both drawings of the heat station."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heat.dew import ColdSpot, cold_spots
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.job import Job
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.core.vehicle.parts import opening_box
from gale_nook.drawing.mapping import Mapping
from gale_nook.drawing.scene import Group, Line, Node, Point, Text


def coldest(job: Job) -> ColdSpot | None:
    """Return the coldest surface or interface, the first that moisture settles on; None without
    any.
    """
    heat = job.plan.heat
    result = cold_spots(design_loss(job), heat.inside_c, heat.humidity_percent)
    return result[0] if result else None


def place_of(job: Job, spot: ColdSpot) -> Vec3:
    """Return a point of the vehicle that stands for a surface: the middle of the opening, or a
    quarter along the face.
    """
    for opening in job.plan.vehicle.openings:
        if spot.element == f"opening-{opening.id}":
            low, size = opening_box(job, opening)
            return (low[0] + size[0] / 2, low[1] + size[1] / 2, low[2] + size[2] / 2)
    shell = job.plan.vehicle.shell
    along = shell.bulkhead_x_mm + (shell.rear_x_mm - shell.bulkhead_x_mm) / 4
    half, middle = shell.floor_width_mm / 2, shell.inside_height_mm / 2
    top = job.plan.vehicle.pop_top
    lid_mm = top.start_mm + top.length_mm / 2 if top is not None else along
    places: dict[str, Vec3] = {
        "roof": (along, 0.0, shell.inside_height_mm),
        "left": (along, -half, middle),
        "right": (along, half, middle),
        "rear": (shell.rear_x_mm, 0.0, middle),
        "bulkhead": (shell.bulkhead_x_mm, half / 2, middle),
        "curtain": (shell.bulkhead_x_mm, half / 2, middle),
        "floor": (along, half / 2, 0.0),
        "arches": (shell.rear_axle_x_mm, -half, shell.wheel_diameter_mm / 4),
        "pop-top": (lid_mm, 0.0, shell.inside_height_mm),
        "canvas": (lid_mm, 0.0, shell.inside_height_mm),
    }
    return places[spot.face]


def cold_marks(job: Job, m: Mapping, system: UnitSystem) -> tuple[Iterator[Node], Iterator[Node]]:
    """Return the mark for the plan and for the elevation."""
    spot = coldest(job)
    if spot is None:
        return iter(()), iter(())
    x, y, z = place_of(job, spot)
    return _mark(m.plan(x, y), spot, system), _mark(m.elevation(x, z), spot, system)


def _mark(at: Point, spot: ColdSpot, system: UnitSystem) -> Iterator[Node]:
    """Yield a drop, filled where it is wet, with the temperature beside it."""
    x, y = at
    drop = [
        (x, y - 11),
        (x + 5, y - 2),
        (x + 6, y + 3),
        (x + 3, y + 7),
        (x - 3, y + 7),
        (x - 6, y + 3),
        (x - 5, y - 2),
    ]
    wet = spot.above_dew_k < 0
    words = f"{'wet' if wet else 'coldest'} {format_quantity(spot.celsius, 'c', system)}"
    title = f"{spot.name}, {spot.where}: {words}"
    figure = Text((x + 10, y + 5), words, "cold-figure", halo=True)
    shape = Line(drop, "cold-drop wet" if wet else "cold-drop", closed=True)
    yield Group([shape, figure], {"class": "part", "data-cold": spot.element}, title=title)
