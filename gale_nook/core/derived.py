"""What every rule needs from a plan, computed once: the sheet in hand, the floor
stack, the shapes.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Literal

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.mount import Body, Mount, Port
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.geometry.frames import Vec3, turn_xy
from gale_nook.core.geometry.route import RouteGeometry, route_geometry
from gale_nook.core.geometry.shapes import (
    Separation,
    Shape,
    box_shape,
    separation,
    solid_shape,
    tube_shape,
)
from gale_nook.core.heat.loss import HeatLoss, LossModel
from gale_nook.core.heater.sheets import book_of
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.plan.vehicle import Opening, Solid
from gale_nook.core.vehicle.materials import made_of

if TYPE_CHECKING:
    from gale_nook.core.fuel.hydraulics import Heads
    from gale_nook.core.fuel.line import FuelRun
    from gale_nook.core.heater.choice import Judgement
    from gale_nook.core.pipes.covers import Stretch
    from gale_nook.core.pipes.gas import GasRun
    from gale_nook.core.pipes.pressure import PressureLoss

OPENING_DEPTH_MM = 4.0
TOLERANCE_K = 5.0  # of temperatures against what a thing can stand
PortName = Literal["exhaust", "intake", "fuel"]


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


class Derived:
    """A plan with its catalogue, and the geometry and sums that follow from them.

    Everything is computed when first asked for and kept; nothing here changes afterwards.

    Args:
        like: what was derived from another plan; its shapes are taken over where the vehicle is the
            very same.
    """

    def __init__(self, plan: Plan, catalogue: Catalogue, like: Derived | None = None) -> None:
        self.plan = plan
        if like is not None and like.plan.vehicle is plan.vehicle:
            self.solids, self._solids_by_side = like.solids, like._solids_by_side
        self.catalogue = book_of(plan, catalogue)

    def tolerance(self, unit: str) -> float:
        """Return within how much of its limit a value in `unit` is called tight."""
        known = {
            "mm": self.plan.settings.tolerance_mm,
            "deg": self.plan.settings.tolerance_deg,
            "C": TOLERANCE_K,
        }
        return known.get(unit, 0.0)

    @cached_property
    def sheet(self) -> HeaterSheet | None:
        chosen = self.plan.heater.sheet
        return self.catalogue.heater(chosen) if chosen is not None else None

    @cached_property
    def loss_model(self) -> LossModel:
        return LossModel(self.plan, self.catalogue)

    @cached_property
    def loss(self) -> HeatLoss:
        return self.loss_model.at(self.plan.heat.outside_c)

    @cached_property
    def mild_loss(self) -> HeatLoss:
        return self.loss_model.at(self.plan.heat.mild_outside_c)

    # --- the floor ---

    @cached_property
    def steel_mm(self) -> float:
        """Thickness of the lowest layer of the floor stack: the steel."""
        layers = self.plan.vehicle.floor.layers
        return layers[-1].thickness_mm if layers else 0.0

    @cached_property
    def finish_z_mm(self) -> float:
        """Height of the walked-on surface over the steel."""
        return sum(layer.thickness_mm for layer in self.plan.vehicle.floor.layers[:-1])

    @cached_property
    def underside_z_mm(self) -> float:
        """Height of the lowest face of the floor: under the steel and its ribs."""
        return -self.steel_mm - self.plan.vehicle.floor.corrugation_mm

    @cached_property
    def stack_mm(self) -> float | None:
        """What the mount has to pass; None where that was not measured.

        Through the floor its stack and ribs, less what is rebated, with what is packed; through a
        wall the way from the body to the outer skin; through the bulkhead its thickness.
        """
        mount, corners = self.mount, self.body_low_high
        if mount is None or mount.through == "floor":
            return self.floor_stack_mm
        if mount.through == "bulkhead":
            return self.plan.vehicle.shell.firewall_mm
        if corners is None or self.wall is None:
            return None
        half = self.plan.vehicle.shell.outer_width_mm / 2
        return corners[0][1] + half if self.wall == "left" else half - corners[1][1]

    @cached_property
    def floor_stack_mm(self) -> float:
        """Floor stack and ribs, less what is rebated, with what is packed."""
        spot = self.plan.spot
        change = (spot.packing_mm - spot.rebate_mm) if spot is not None else 0.0
        return self.finish_z_mm - self.underside_z_mm + change

    # --- solids ---

    @cached_property
    def solids(self) -> tuple[tuple[Solid, SolidKind, Shape], ...]:
        """Every solid with its kind as its material makes it, and its shape (swept through its
        travel).
        """
        kinds, materials = self.catalogue.solid_kinds, self.catalogue.solid_materials
        return tuple(
            (solid, made_of(kinds[solid.kind], materials.get(solid.material)), solid_shape(solid))
            for solid in self.plan.vehicle.solids
        )

    @cached_property
    def _solids_by_side(self) -> dict[str, list[tuple[Solid, SolidKind, Shape]]]:
        return {
            where: [entry for entry in self.solids if entry[1].where == where]
            for where in ("inside", "below", "outside", "engine-bay")
        }

    def solids_where(self, where: str) -> list[tuple[Solid, SolidKind, Shape]]:
        """Return the solids that are "inside", "below", "outside" or in the "engine-bay"."""
        return self._solids_by_side[where]

    # --- the heater in its place ---

    @cached_property
    def mount(self) -> Mount | None:
        if self.sheet is None or self.plan.spot is None:
            return None
        return self.sheet.mount(self.plan.spot.mount)

    def suits(self, mount: Mount) -> bool:
        """Return whether the floor is neither too thick nor too thin for a mount; one that spares
        the floor always is.
        """
        return mount.through != "floor" or mount.stack.holds(self.floor_stack_mm)

    @cached_property
    def wall(self) -> Literal["left", "right"] | None:
        """The side wall that the ports of a mount through a wall point at; None where they point
        along the vehicle.
        """
        if self.mount is None or self.mount.through != "wall":
            return None
        across = self.leaving("exhaust")[1]
        return None if abs(across) < 0.5 else "right" if across > 0 else "left"

    @cached_property
    def face_holes(self) -> tuple[FaceHole, ...]:
        """Every hole of the mount through the wall that it faces, or through the engine bay's
        bulkhead.
        """
        spot, mount = self.plan.spot, self.mount
        if spot is None or mount is None:
            return ()
        face = "bulkhead" if mount.through == "bulkhead" else self.wall
        if face is None:
            return ()
        plane = self.mount_plane_z_mm
        found = []
        for hole in mount.holes:
            along = (
                spot.y_mm + hole.y_mm
                if face == "bulkhead"
                else self.at_spot(hole.x_mm, hole.y_mm)[0]
            )
            found.append(
                FaceHole(hole.name, face, along, plane + (hole.z_mm or 0.0), hole.diameter_mm)
            )
        return tuple(found)

    @property
    def body(self) -> Body:
        """The heater's body as it stands on its mount. Needs a sheet."""
        if self.sheet is None:
            raise ValueError("there is no heater yet")
        return (
            self.mount.body
            if self.mount is not None and self.mount.body is not None
            else self.sheet.body
        )

    @property
    def mount_plane_top_mm(self) -> float:
        """Height of whichever is higher, the floor's finish or the plane that the
        mount stands on.
        """
        return max(self.finish_z_mm, self.mount_plane_z_mm)

    @cached_property
    def mount_plane_z_mm(self) -> float:
        """Height that the body stands on (inside), or hangs from (below)."""
        spot = self.plan.spot
        if self.mount is None or spot is None or self.mount.place == "below":
            return self.underside_z_mm
        if self.mount.place == "engine-bay":
            return spot.z_mm
        return self.finish_z_mm - spot.rebate_mm + spot.packing_mm

    def at_spot(self, x_mm: float, y_mm: float) -> tuple[float, float]:
        """Return a point of the heater's own frame in the vehicle's, in plan. Needs a spot."""
        spot = self.plan.spot
        if spot is None:
            raise ValueError("the heater has no spot yet")
        dx, dy = turn_xy(x_mm, y_mm, spot.yaw_deg)
        return (spot.x_mm + dx, spot.y_mm + dy)

    @cached_property
    def body_low_high(self) -> tuple[Vec3, Vec3] | None:
        """Low and high corner of the heater's body, or None without a heater, spot or mount."""
        if self.sheet is None or self.plan.spot is None or self.mount is None:
            return None
        body = self.body
        cx, cy = self.at_spot(body.x_mm, body.y_mm)
        turned = self.plan.spot.yaw_deg in {90, 270}
        half_x = (body.width_mm if turned else body.length_mm) / 2
        half_y = (body.length_mm if turned else body.width_mm) / 2
        plane = self.mount_plane_z_mm
        low_z, high_z = (
            (plane - body.height_mm, plane)
            if self.mount.place == "below"
            else (plane, plane + body.height_mm)
        )
        return ((cx - half_x, cy - half_y, low_z), (cx + half_x, cy + half_y, high_z))

    @cached_property
    def body_shape(self) -> Shape | None:
        if self.body_low_high is None:
            return None
        low, high = self.body_low_high
        return box_shape(low, (high[0] - low[0], high[1] - low[1], high[2] - low[2]))

    @cached_property
    def holes(self) -> tuple[PlacedHole, ...]:
        """Every hole of the mount in the floor, in the vehicle's frame."""
        spot = self.plan.spot
        if self.mount is None or spot is None or self.mount.through != "floor":
            return ()
        return tuple(
            PlacedHole(
                hole.name,
                *self.at_spot(hole.x_mm, hole.y_mm),
                hole.diameter_mm,
                *hole.half_mm(spot.yaw_deg),
            )
            for hole in self.mount.holes
        )

    @cached_property
    def at_ports(self) -> list[tuple[Solid, SolidKind, Shape]]:
        """The solids that pipes meet where they leave the heater: below it, or outside the wall."""
        also = {"wall": "outside", "bulkhead": "engine-bay"}.get(
            self.mount.through if self.mount is not None else "floor"
        )
        return [*self.solids_where("below"), *(self.solids_where(also) if also is not None else ())]

    def port(self, name: PortName) -> Port:
        """Return a port of the heater on its mount. Needs a sheet."""
        if self.sheet is None:
            raise ValueError("there is no heater yet")
        own = self.mount.ports.get(name) if self.mount is not None else None
        return (
            own
            if own is not None
            else {
                "exhaust": self.sheet.exhaust,
                "intake": self.sheet.intake,
                "fuel": self.sheet.fuel,
            }[name]
        )

    def port_point(self, port: Port) -> Vec3:
        """Return where a port ends, in the vehicle's frame. Needs a spot."""
        x, y = self.at_spot(port.x_mm, port.y_mm)
        return (x, y, self.mount_plane_z_mm - port.drop_mm)

    # --- the burner's pipes ---

    @cached_property
    def exhaust(self) -> RouteGeometry | None:
        """The exhaust's run from the port to its mouth, or None while it has no
        nodes or no port.
        """
        return self._run("exhaust")

    @cached_property
    def intake(self) -> RouteGeometry | None:
        """The combustion air's run from the port to its mouth, or None as above."""
        return self._run("intake")

    def run(self, tube: Tube) -> RouteGeometry | None:
        return self.exhaust if tube == "exhaust" else self.intake

    def _run(self, tube: Tube) -> RouteGeometry | None:
        route = self.plan.pipes.route(tube)
        if route is None or self.sheet is None or self.mount is None or self.plan.spot is None:
            return None
        nodes = [((n.x_mm, n.y_mm, n.z_mm), n.radius_mm) for n in route.nodes]
        return route_geometry(self.port_point(self.port(tube)), self.leaving(tube), nodes)

    def leaving(self, tube: Tube) -> Vec3:
        """Return the unit vector in which a pipe leaves its port, in the vehicle's frame. Needs a
        spot and a sheet.
        """
        if self.plan.spot is None:
            raise ValueError("the heater has no spot yet")
        direction = self.port(tube).direction
        dx, dy = turn_xy(direction[0], direction[1], self.plan.spot.yaw_deg)
        return (dx, dy, direction[2])

    def run_shape(self, tube: Tube) -> Shape | None:
        run = self.run(tube)
        return tube_shape(run.centre_line, self.port(tube).diameter_mm) if run is not None else None

    @cached_property
    def exhaust_shape(self) -> Shape | None:
        return self.run_shape("exhaust")

    @cached_property
    def stretches(self) -> tuple[Stretch, ...]:
        """The exhaust cut where its cover changes; empty without a run."""
        from gale_nook.core.pipes.covers import stretches

        return stretches(self)

    def separation(self, first: Shape, second: Shape) -> Separation:
        """Return the least distance between two shapes, kept: several rules look at
        the same pair.
        """
        key = (id(first), id(second))
        if key not in self._separations:
            self._separations[key] = (separation(first, second), first, second)
        return self._separations[key][0]

    @cached_property
    def _separations(self) -> dict[tuple[int, int], tuple[Separation, Shape, Shape]]:
        return {}  # with the shapes, so that their ids are not given to others

    def gas(self, ambient_c: float) -> GasRun | None:
        """The burner's gas on its way out in air of some temperature, kept; None without a run."""
        from gale_nook.core.pipes.gas import gas_run

        if ambient_c not in self._gas:
            self._gas[ambient_c] = gas_run(self, ambient_c)
        return self._gas[ambient_c]

    @cached_property
    def _gas(self) -> dict[float, GasRun | None]:
        return {}

    @cached_property
    def pressure(self) -> dict[Tube, PressureLoss]:
        """What each pipe that has a run costs, at most output in the coldest night's air."""
        from gale_nook.core.pipes.pressure import exhaust_loss, intake_loss

        gas = self.gas(self.plan.heat.outside_c)
        found: dict[Tube, PressureLoss | None] = {
            "exhaust": exhaust_loss(self, gas) if gas is not None else None,
            "intake": intake_loss(self),
        }
        return {tube: loss for tube, loss in found.items() if loss is not None}

    @cached_property
    def fuel_run(self) -> FuelRun | None:
        """The fuel line; None while source, heater or line are missing."""
        from gale_nook.core.fuel.line import line_of

        return line_of(self)

    @cached_property
    def fuel_heads(self) -> list[tuple[str, Heads]]:
        """Heads of the fuel, full and nearly empty, level and askew, each with how it stands; empty
        without a line.
        """
        from gale_nook.core.fuel.hydraulics import all_heads

        return all_heads(self, self.fuel_run) if self.fuel_run is not None else []

    @cached_property
    def night_l(self) -> float | None:
        """The fuel of the coldest night, as simulated; None without a heater."""
        from gale_nook.core.fuel.sources import night_l

        return night_l(self)

    @cached_property
    def judged(self) -> tuple[Judgement, ...]:
        """Every heater of the book, judged for this job."""
        from gale_nook.core.heater.choice import judge_heaters

        return judge_heaters(self.plan, self.catalogue)

    def opening_box(self, opening: Opening) -> tuple[Vec3, Vec3]:
        """Return low corner and size of an opening as a thin box in its face (outside)."""
        shell = self.plan.vehicle.shell
        thick, half = OPENING_DEPTH_MM, shell.outer_width_mm / 2
        if opening.face == "rear":
            low = (shell.rear_x_mm, opening.start_mm, opening.base_mm)
            return low, (thick, opening.length_mm, opening.height_mm)
        if opening.face == "roof":
            low = (opening.start_mm, opening.base_mm, shell.inside_height_mm)
            return low, (opening.length_mm, opening.height_mm, thick)
        y = half - thick if opening.face == "right" else -half
        return (opening.start_mm, y, opening.base_mm), (opening.length_mm, thick, opening.height_mm)
