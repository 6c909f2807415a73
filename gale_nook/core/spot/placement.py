"""The heater in its place: its body, holes and ports in the vehicle's frame."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from gale_nook.core.base.mount import Body, Mount, Port
from gale_nook.core.geometry.frames import Vec3, turn_xy
from gale_nook.core.geometry.shapes import (
    Shape,
    box_shape,
)
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.plan.spot import Adapter, Spot
from gale_nook.core.plan.vehicle import Feature, Floor, Layer
from gale_nook.core.vehicle.floor import FloorHere, every_floor, floor_at

PortName = Literal["exhaust", "intake", "fuel"]
UNDER_SHELF_MM = 100.0  # under a shelf with so much room the pipes leave inside


@dataclass(frozen=True, slots=True)
class PlacedHole:
    """A hole of the mount where it is: round, or a cut with half its sides along and across the
    vehicle.
    """

    name: str
    x_mm: float
    y_mm: float
    diameter_mm: float
    half_x_mm: float = 0.0
    half_y_mm: float = 0.0

    @property
    def is_cut(self) -> bool:
        return self.half_x_mm > 0

    @property
    def reach_mm(self) -> tuple[float, float]:
        """How far it reaches along and across from its middle."""
        radius = self.diameter_mm / 2
        return (self.half_x_mm, self.half_y_mm) if self.is_cut else (radius, radius)

    @property
    def radius_mm(self) -> float:
        """What is taken off a distance to its middle: the radius of a round hole, nothing for a
        cut's rectangle.
        """
        return 0.0 if self.is_cut else self.diameter_mm / 2


@dataclass(frozen=True, slots=True)
class FaceHole:
    """A round hole through a side wall or the engine bay's bulkhead.

    Attributes:
        face: "left", "right" or "bulkhead".
        along_mm: behind the datum; through the bulkhead, right of the centre line.
        z_mm: above the load floor.
    """

    name: str
    face: Literal["left", "right", "bulkhead"]
    along_mm: float
    z_mm: float
    diameter_mm: float


@fact
def heater_floor(job: Job) -> FloorHere:
    """Return the floor that the heater stands on, or hangs from; the load floor while it has no
    place. A shelf with room under it is a floor of its own, of what it is made of.
    """
    spot, shelf = job.plan.spot, free_shelf(job)
    if shelf is not None:
        return _shelf_floor(job, shelf)
    return floor_at(job, spot.x_mm, spot.y_mm) if spot is not None else every_floor(job)[0]


def under_shelf_z_mm(job: Job) -> float:
    """Return the height of the floor's finish where the heater stands, also under a shelf."""
    spot = job.plan.spot
    here = floor_at(job, spot.x_mm, spot.y_mm) if spot is not None else every_floor(job)[0]
    return here.finish_z_mm


def _shelf_floor(job: Job, shelf: BoxSolid) -> FloorHere:
    alike = (m.id for m in job.catalogue.materials.values() if m.like == shelf.material)
    stuff, top = next(alike, None), shelf.z_mm + shelf.height_mm
    layers = (
        (Layer(id="shelf", material=stuff, thickness_mm=shelf.height_mm),)
        if stuff is not None
        else ()
    )
    return FloorHere(Floor(layers=layers), None, top, shelf.height_mm, top, shelf.z_mm)


def heater_finish_z_mm(job: Job) -> float:
    """Return the height of the walked-on surface at the heater."""
    return heater_floor(job).finish_z_mm


def heater_underside_z_mm(job: Job) -> float:
    """Return the height of the floor's lowest face at the heater."""
    return heater_floor(job).underside_z_mm


def suits_floor(job: Job, mount: Mount) -> bool:
    """Return whether the floor is neither too thick nor too thin for a mount; one that spares
    the floor always is.
    """
    return mount.through != "floor" or mount.stack.holds(floor_stack_mm(job))


@fact
def mount_stack_mm(job: Job) -> float | None:
    """What the mount has to pass; None where that was not measured.

    Through the floor its stack and ribs, less what is rebated, with what is packed; through a
    wall the way from the body to the outer skin; through the bulkhead its thickness.
    """
    mount, corners = chosen_mount(job), body_corners(job)
    if mount is None or mount.through == "floor":
        return floor_stack_mm(job)
    if mount.through == "bulkhead":
        return job.plan.vehicle.shell.firewall_mm
    if corners is None or facing_wall(job) is None:
        return None
    half = job.plan.vehicle.shell.outer_width_mm / 2
    return corners[0][1] + half if facing_wall(job) == "left" else half - corners[1][1]


@fact
def floor_stack_mm(job: Job) -> float:
    """Floor stack and ribs, less what is rebated, with what is packed, the adapter plate and the
    height of what the heater stands on.
    """
    spot = job.plan.spot
    height = heater_finish_z_mm(job) - heater_underside_z_mm(job)
    return height + (_raised_mm(job, spot) if spot is not None else 0.0)


def _raised_mm(job: Job, spot: Spot) -> float:
    """How much higher than the floor's finish the mount lies."""
    under, adapter = shelf_of(job), adapter_of(job)
    shelf = under.z_mm + under.height_mm - heater_finish_z_mm(job) if under is not None else 0.0
    plate = adapter.thickness_mm if adapter is not None else 0.0
    return spot.packing_mm + plate + shelf - spot.rebate_mm


def clamped_plate_mm(job: Job) -> float:
    """Return what a mount on an adapter plate clamps: the plate with what is packed under it."""
    adapter, spot = adapter_of(job), job.plan.spot
    if adapter is None or spot is None:
        return 0.0
    return adapter.thickness_mm + spot.packing_mm


def _stands_inside(job: Job) -> bool:
    mount = chosen_mount(job)
    return mount is not None and mount.place == "inside"


def adapter_of(job: Job) -> Adapter | None:
    """Return the plate over an existing opening, for a heater inside that goes through the floor;
    None for any other.
    """
    spot, mount = job.plan.spot, chosen_mount(job)
    if spot is None or mount is None or mount.through != "floor":
        return None
    return spot.adapter if mount.place == "inside" else None


def shelf_of(job: Job) -> BoxSolid | None:
    """Return the surveyed box that a heater inside stands on; None for the floor, or where the box
    is not there any more.
    """
    spot = job.plan.spot
    if spot is None or spot.stands_on is None or not _stands_inside(job):
        return None
    found = next((s for s in job.plan.vehicle.solids if s.id == spot.stands_on), None)
    return found if isinstance(found, BoxSolid) else None


def free_shelf(job: Job) -> BoxSolid | None:
    """Return what the heater stands on where there is room under it: its mount passes that alone,
    and its pipes leave under it, inside.
    """
    shelf, spot = shelf_of(job), job.plan.spot
    if shelf is None or spot is None:
        return None
    finish = floor_at(job, spot.x_mm, spot.y_mm).finish_z_mm
    return shelf if shelf.z_mm - finish >= UNDER_SHELF_MM else None


def opening_used(job: Job) -> Feature | None:
    """Return the existing opening that an adapter plate lies over; None without one, or where the
    opening or its size is not known.
    """
    adapter = adapter_of(job)
    if adapter is None:
        return None
    wanted = adapter.opening
    found = next((f for f in job.plan.vehicle.features if f.id == wanted), None)
    known = found is not None and found.at is not None and found.opening_mm is not None
    return found if known else None


@fact
def facing_wall(job: Job) -> Literal["left", "right"] | None:
    """The side wall that the ports of a mount through a wall point at; None where they point
    along the vehicle.
    """
    mount = chosen_mount(job)
    if mount is None or mount.through != "wall":
        return None
    across = port_direction(job, "exhaust")[1]
    return None if abs(across) < 0.5 else "right" if across > 0 else "left"


@fact
def mount_plane_z_mm(job: Job) -> float:
    """Height that the body stands on (inside), or hangs from (below)."""
    mount = chosen_mount(job)
    spot = job.plan.spot
    if mount is None or spot is None or mount.place == "below":
        return heater_underside_z_mm(job)
    if mount.place == "engine-bay":
        return spot.z_mm
    return heater_finish_z_mm(job) + _raised_mm(job, spot)


def mount_plane_top_mm(job: Job) -> float:
    """Height of whichever is higher, the floor's finish or the plane that the
    mount stands on.
    """
    return max(heater_finish_z_mm(job), mount_plane_z_mm(job))


def heater_body(job: Job) -> Body:
    """The heater's body as it stands on its mount. Needs a sheet."""
    mount = chosen_mount(job)
    sheet = heater_sheet(job)
    if sheet is None:
        raise ValueError("there is no heater yet")
    return mount.body if mount is not None and mount.body is not None else sheet.body


def at_spot(job: Job, x_mm: float, y_mm: float) -> tuple[float, float]:
    """Return a point of the heater's own frame in the vehicle's, in plan. Needs a spot."""
    spot = job.plan.spot
    if spot is None:
        raise ValueError("the heater has no spot yet")
    dx, dy = turn_xy(x_mm, y_mm, spot.yaw_deg)
    return (spot.x_mm + dx, spot.y_mm + dy)


@fact
def body_corners(job: Job) -> tuple[Vec3, Vec3] | None:
    """Low and high corner of the heater's body, or None without a heater, spot or mount."""
    mount = chosen_mount(job)
    if heater_sheet(job) is None or job.plan.spot is None or mount is None:
        return None
    body = heater_body(job)
    cx, cy = at_spot(job, body.x_mm, body.y_mm)
    turned = job.plan.spot.yaw_deg in {90, 270}
    half_x = (body.width_mm if turned else body.length_mm) / 2
    half_y = (body.length_mm if turned else body.width_mm) / 2
    plane = mount_plane_z_mm(job)
    low_z, high_z = (
        (plane - body.height_mm, plane)
        if mount.place == "below"
        else (plane, plane + body.height_mm)
    )
    return ((cx - half_x, cy - half_y, low_z), (cx + half_x, cy + half_y, high_z))


@fact
def heater_body_shape(job: Job) -> Shape | None:
    corners = body_corners(job)
    if corners is None:
        return None
    low, high = corners
    return box_shape(low, (high[0] - low[0], high[1] - low[1], high[2] - low[2]))


@fact
def floor_holes(job: Job) -> tuple[PlacedHole, ...]:
    """Every hole of the mount in the floor, in the vehicle's frame."""
    mount = chosen_mount(job)
    spot = job.plan.spot
    if mount is None or spot is None or mount.through != "floor":
        return ()
    return tuple(
        PlacedHole(
            hole.name,
            *at_spot(job, hole.x_mm, hole.y_mm),
            hole.diameter_mm,
            *hole.half_mm(spot.yaw_deg),
        )
        for hole in mount.holes
    )


@fact
def face_holes(job: Job) -> tuple[FaceHole, ...]:
    """Every hole of the mount through the wall that it faces, or through the engine bay's
    bulkhead.
    """
    spot, mount = job.plan.spot, chosen_mount(job)
    if spot is None or mount is None:
        return ()
    face = "bulkhead" if mount.through == "bulkhead" else facing_wall(job)
    if face is None:
        return ()
    plane = mount_plane_z_mm(job)
    results = []
    for hole in mount.holes:
        along = (
            spot.y_mm + hole.y_mm if face == "bulkhead" else at_spot(job, hole.x_mm, hole.y_mm)[0]
        )
        results.append(
            FaceHole(hole.name, face, along, plane + (hole.z_mm or 0.0), hole.diameter_mm)
        )
    return tuple(results)


def heater_port(job: Job, name: PortName) -> Port:
    """Return a port of the heater on its mount. Needs a sheet."""
    mount = chosen_mount(job)
    sheet = heater_sheet(job)
    if sheet is None:
        raise ValueError("there is no heater yet")
    own = mount.ports.get(name) if mount is not None else None
    return (
        own
        if own is not None
        else {
            "exhaust": sheet.exhaust,
            "intake": sheet.intake,
            "fuel": sheet.fuel,
        }[name]
    )


def port_point(job: Job, port: Port) -> Vec3:
    """Return where a port ends, in the vehicle's frame. Needs a spot."""
    x, y = at_spot(job, port.x_mm, port.y_mm)
    return (x, y, mount_plane_z_mm(job) - port.drop_mm)


def port_direction(job: Job, tube: PortName) -> Vec3:
    """Return the unit vector in which a pipe leaves its port, in the vehicle's frame. Needs a
    spot and a sheet.
    """
    if job.plan.spot is None:
        raise ValueError("the heater has no spot yet")
    direction = heater_port(job, tube).direction
    dx, dy = turn_xy(direction[0], direction[1], job.plan.spot.yaw_deg)
    return (dx, dy, direction[2])


def stub_direction(job: Job) -> Vec3:
    """Return the way in which the first stretch of exhaust goes: straight down, or
    out of the wall.
    """
    mount = chosen_mount(job)
    through_wall = mount is not None and mount.through == "wall"
    return port_direction(job, "exhaust") if through_wall else (0.0, 0.0, -1.0)
