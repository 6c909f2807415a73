"""Check of the heat at the edge of the hole through which the hot pipe leads: every layer of what
it goes through, and the packing under the mount, is a neighbour like any other.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import worst_and_nearest
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.heat.film import pressure_pa
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.pipes.edge_heat import EdgeLayer, collar_c, edge_c
from gale_nook.core.pipes.gas import Inside, Pipe, burner_flow, diesel_kg_m3, skin_c
from gale_nook.core.plan.vehicle import Feature, Layer
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.core.spot.placement import (
    face_holes,
    facing_wall,
    floor_holes,
    heater_floor,
    heater_port,
    mount_plane_z_mm,
    opening_used,
    port_point,
)

STILL_AIR_W_MK = 0.026
PACKINGS = ("aluminium", "steel")  # what a ring under the mount is made of, for heat


@dataclass(frozen=True, slots=True)
class HotHole:
    """The hole that the hot pipe leads through.

    Attributes:
        gap_mm: between the pipe and the hole's edge where it is nearest.
        diameter_mm: of the hole; of a cut its narrower side.
    """

    name: str
    gap_mm: float
    diameter_mm: float


@fact
def hot_hole(job: Job) -> HotHole | None:
    """Return the hole that the exhaust leads through; None where it leads through none."""
    mount = chosen_mount(job)
    if job.plan.spot is None or heater_sheet(job) is None or mount is None:
        return None
    port = heater_port(job, "exhaust")
    radius, (x, y, z) = port.diameter_mm / 2, port_point(job, port)
    found = []
    if mount.place == "inside" and mount.through == "floor":
        opening = opening_used(job)
        for hole in floor_holes(job):
            dx, dy = abs(x - hole.x_mm), abs(y - hole.y_mm)
            if opening is not None:
                gap, wide = _in_opening(opening, x, y, radius)
            elif hole.is_cut:
                gap = min(hole.half_x_mm - dx, hole.half_y_mm - dy) - radius
                wide = 2 * min(hole.half_x_mm, hole.half_y_mm)
            else:
                gap, wide = hole.radius_mm - math.hypot(dx, dy) - radius, hole.diameter_mm
            found.append(HotHole(hole.name, gap, wide))
    elif mount.through == "wall":
        for face_hole in face_holes(job):
            away = math.hypot(x - face_hole.along_mm, z - face_hole.z_mm)
            gap = face_hole.diameter_mm / 2 - away - radius
            found.append(HotHole(face_hole.name, gap, face_hole.diameter_mm))
    passed = [hole for hole in found if hole.gap_mm > -radius]
    return max(passed, key=lambda hole: hole.gap_mm, default=None)


def _in_opening(opening: Feature, x: float, y: float, radius_mm: float) -> tuple[float, float]:
    """The gap from a port to the edge of an opening that an adapter plate covers, and how wide the
    opening is: the plate is of metal, the floor begins at the opening's edge.
    """
    if opening.at is None or opening.opening_mm is None:
        raise ValueError("the opening has no place or size")
    (length, width), (dx, dy) = (
        opening.opening_mm,
        (abs(x - opening.at[0]), abs(y - opening.at[1])),
    )
    if opening.is_round:
        return length / 2 - math.hypot(dx, dy) - radius_mm, length
    return min(length / 2 - dx, width / 2 - dy) - radius_mm, min(length, width)


@fact
def port_skin_c(job: Job) -> float | None:
    """Return the temperature of the exhaust's bare skin at its port, at most output on a warm
    day; None without a heater.
    """
    sheet, works = heater_sheet(job), job.catalogue.pipe_physics
    if sheet is None or job.plan.spot is None:
        return None
    flow = burner_flow(sheet, diesel_kg_m3(job), works.warm_day_c)
    outer_m = heater_port(job, "exhaust").diameter_mm / 1000
    air_pa = pressure_pa(job.plan.heat.altitude_m)
    pipe = Pipe(outer_m, job.catalogue.pipes["exhaust"], (), works, air_pa)
    inside = Inside(pipe.inner_m, pipe.inside_gain(0.0))
    return skin_c(flow.port_c, flow, inside, pipe.outer_at(0.0), works.warm_day_c)


@rule("pipes.hole_heat", "Heat of the exhaust at its hole's edge", "C", "fire", run="exhaust")
def heat_at_the_hole(job: Job, this: Rule) -> Iterator[Finding]:
    """Board, foam and packing beside the hot pipe char, whatever the mount's plate covers."""
    hole, skin = hot_hole(job), port_skin_c(job)
    if hole is None or skin is None:
        return
    spot = job.plan.spot
    if spot is not None and spot.packing_mm > 0 and spot.packing is None:
        yield _unknown_packing(job, this)
    found = [
        _edge_finding(job, this, hole, skin, name, layer)
        for name, layer in _layers(job)
        if _can_char(job, layer)
    ]
    yield from worst_and_nearest(found, 1)


def _layers(job: Job) -> Iterator[tuple[str, Layer]]:
    """What the hole goes through, with the id of each: floor or wall, and the packing."""
    mount, spot = chosen_mount(job), job.plan.spot
    layers = heater_floor(job).floor.layers
    if mount is not None and mount.through == "wall":
        side = facing_wall(job)
        walls = (s.layers for s in job.plan.heat.surfaces if s.id == side)
        layers = next(walls, ())
    for layer in layers:
        yield layer.id, layer
    if spot is not None and spot.packing_mm > 0 and spot.packing is not None:
        yield (
            "packing",
            Layer(id="packing", material=spot.packing, thickness_mm=spot.packing_mm),
        )


def _can_char(job: Job, layer: Layer) -> bool:
    return job.catalogue.materials[layer.material].like is not None


def _as_edge(job: Job, layer: Layer) -> EdgeLayer:
    conductivity = job.catalogue.materials[layer.material].conductivity_w_mk
    return EdgeLayer(layer.thickness_mm, conductivity or STILL_AIR_W_MK)


def _unknown_packing(job: Job, this: Rule) -> Finding:
    return this.finding(
        job,
        subject="packing",
        subject_name="the packing",
        measured=None,
        band=Band(None, None, Whose.WORKSHOP, source="workshop rule 34"),
        title="What is the packing of?",
        sentence="Say what the ring under the mount is made of: timber beside the hot pipe chars.",
    )


def _edge_finding(
    job: Job, this: Rule, hole: HotHole, skin: float, layer_id: str, layer: Layer
) -> Finding:
    material, mount = job.catalogue.materials[layer.material], chosen_mount(job)
    most = job.catalogue.solid_materials[material.like or ""]
    pipe_mm, works = heater_port(job, "exhaust").diameter_mm, job.catalogue.pipe_physics
    if mount is not None and mount.collar:
        beside = [_as_edge(job, each) for _, each in _layers(job) if _can_char(job, each)]
        warm = collar_c(skin, pipe_mm, hole.diameter_mm, hole.gap_mm, beside, works)
        behind = "behind the collar"
    else:
        warm = edge_c(skin, pipe_mm, hole.gap_mm, _as_edge(job, layer), works.warm_day_c, works)
        behind = f"{q(max(hole.gap_mm, 0.0))} from the bare pipe"
    x, y, _ = port_point(job, heater_port(job, "exhaust"))
    z = mount_plane_z_mm(job)
    name = "the packing" if layer_id == "packing" else f"the {material.label}"
    return this.finding(
        job,
        subject=layer_id,
        subject_name=f"{name} at the {hole.name}"[:80],
        measured=warm,
        band=Band(None, most.heat_c, Whose.WORKSHOP, "heat_c", f"{most.label}: {most.source}"),
        title=f"{capital(name)} at the {hole.name}",
        sentence=f"The edge of {name} gets to {q(warm, 'c')} at most output on a warm day, "
        f"{behind}.",
        marks=(Mark((x, y, z), (x, y, z)),),
    )


@remedy_for("pipes.hole_heat")
def another_mount(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A mount whose hole has a collar; for the packing, a ring of metal."""
    sheet, mount, spot = heater_sheet(job), chosen_mount(job), job.plan.spot
    if sheet is None or mount is None or spot is None:
        return
    if finding.subject == "packing":
        for material in PACKINGS:
            yield Remedy(f"Pack with {material}.", set_value("spot.packing", material))
    for other in sheet.mounts:
        if other.id != mount.id and other.place == mount.place and other.collar:
            yield Remedy(
                f"Take the {other.label}: its collar keeps the heat from the floor.",
                PlaceHeater(x_mm=spot.x_mm, y_mm=spot.y_mm, mount=other.id),
            )
