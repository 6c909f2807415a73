"""The fuel line as it lies: where it takes off, its lengths before and after the pump, and where
air would sit in it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

from gale_nook.core.catalogue.fuel import FuelLineKind
from gale_nook.core.fuel.tank import Vessel, vessel_of, vessel_of_solid
from gale_nook.core.fuel.tank_pose import as_it_stands
from gale_nook.core.geometry.frames import Vec3, sub, unit
from gale_nook.core.geometry.route import RouteGeometry, route_geometry
from gale_nook.core.geometry.shapes import Shape, tube_shape
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.fuel import OWN_TANKS, FuelLine, OwnTank
from gale_nook.core.plan.solids import Solid
from gale_nook.core.spot.placement import heater_port, port_point
from gale_nook.core.vehicle.parts import surveyed_parts

EMPTY = -1.0
AT_HEATER_MM = 160.0
HUMP_MM = 3.0  # a rise and fall by less holds no bubble that matters


@dataclass(frozen=True)
class Supply:
    """Where the fuel comes from.

    Attributes:
        vessel: what it is in; None for a tee where no tank was surveyed.
        start: where the line takes off.
        tip: to which the fuel can be drawn: of the pick-up, or the outlet's lower edge; None for a
            tee.
        own: the tank is one of the job's own.
    """

    vessel: Vessel | None
    start: Vec3
    tip: Vec3 | None
    own: bool

    def surface_mm(
        self, percent: float, slope_x: float = 0.0, slope_y: float = 0.0
    ) -> float | None:
        """Return the height of the fuel's surface where the line takes off.

        Args:
            percent: of a full tank; 100 is full to the brim, EMPTY down to the pick-up's tip.
        """
        if percent == EMPTY:
            tip = self.tip
            return (
                tip[2] + slope_x * (self.start[0] - tip[0]) + slope_y * (self.start[1] - tip[1])
                if tip is not None
                else None
            )
        if self.vessel is None:
            return None
        x, y = self.vessel.middle
        full = percent >= 100.0
        level = (
            self.vessel.full_mm(slope_x, slope_y)
            if full
            else self.vessel.level_mm(self.vessel.full_l * percent / 100, slope_x, slope_y)
        )
        return level + slope_x * (self.start[0] - x) + slope_y * (self.start[1] - y)

    @property
    def unusable_l(self) -> float:
        return (
            self.vessel.unusable_l(self.tip)
            if self.vessel is not None and self.tip is not None
            else 0.0
        )


def vehicle_tank(job: Job) -> Solid | None:
    """Return the surveyed tank of the vehicle's own fuel: the one named, else the only one there
    is.
    """
    tanks = [solid for solid, kind, _ in surveyed_parts(job) if kind.id == "fuel-tank"]
    wanted = job.plan.fuel.tank_id
    if wanted is not None:
        return next((solid for solid in tanks if solid.id == wanted), None)
    return tanks[0] if len(tanks) == 1 else None


def supply(job: Job) -> Supply | None:
    """Return where the fuel comes from; None while that is not settled."""
    fuel = job.plan.fuel
    if fuel.source is None:
        return None
    if fuel.source in OWN_TANKS:
        if fuel.tank is None:
            return None
        start, tip = _own_outlet(job, fuel.tank)
        return Supply(vessel_of(fuel.tank), start, tip, own=True)
    solid = vehicle_tank(job)
    vessel = vessel_of_solid(solid, fuel.tank_wall_mm) if solid is not None else None
    if fuel.source in {"take-off", "stand-pipe"}:
        if vessel is None:
            return None
        x = fuel.tap_x_mm if fuel.tap_x_mm is not None else vessel.middle[0]
        y = fuel.tap_y_mm if fuel.tap_y_mm is not None else vessel.middle[1]
        return Supply(
            vessel,
            (x, y, vessel.top_mm + fuel.tank_wall_mm),
            (x, y, vessel.bottom_mm + fuel.stand_pipe_mm),
            own=False,
        )
    return _tapped(job, vessel)


def _tapped(job: Job, vessel: Vessel | None) -> Supply | None:
    """A tee in a line; fuel is drawn down to the pick-up of an auxiliary heater's own line."""
    fuel = job.plan.fuel
    if fuel.tap_x_mm is None or fuel.tap_y_mm is None or fuel.tap_z_mm is None:
        return None
    tip = None
    if fuel.source == "tee-auxiliary" and vessel is not None:
        tip = (*vessel.middle, vessel.bottom_mm + fuel.stand_pipe_mm)
    return Supply(vessel, (fuel.tap_x_mm, fuel.tap_y_mm, fuel.tap_z_mm), tip, own=False)


def _own_outlet(job: Job, tank: OwnTank) -> tuple[Vec3, Vec3]:
    """Where the line leaves a tank of one's own, and the tip to which the fuel can be drawn."""
    straight = _straight_outlet(job, tank)
    start, tip = (as_it_stands(tank, point) for point in straight)
    return start, tip


def _straight_outlet(job: Job, tank: OwnTank) -> tuple[Vec3, Vec3]:
    """The same of the tank as if it stood straight."""
    x = tank.x_mm + tank.outlet_x_mm
    y = tank.y_mm + tank.outlet_y_mm
    low = tank.z_mm + tank.wall_mm
    if tank.outlet == "bottom":
        return (x, y, tank.z_mm), (x, y, low)
    if tank.outlet == "top":
        return (x, y, tank.z_mm + tank.size_mm[2]), (x, y, low + tank.pick_up_mm)
    heater = port_point(job, heater_port(job, "fuel"))[1] if chosen_mount(job) is not None else 0.0
    middle = tank.y_mm + tank.size_mm[1] / 2
    side = tank.y_mm + tank.size_mm[1] if heater >= middle else tank.y_mm
    return (x, side, low + tank.pick_up_mm), (x, side, low + tank.pick_up_mm)


@dataclass(frozen=True)
class FuelRun:
    """The line with its filter and pump.

    Attributes:
        suction, pressure: lines before and after the pump.
        filter_mm, pump_mm: from the take-off; None where there is none. The pump is where its inlet
            is.
    """

    supply: Supply
    line: FuelLine
    geometry: RouteGeometry
    suction: FuelLineKind
    pressure: FuelLineKind
    filter_mm: float | None
    pump_mm: float | None

    @property
    def length_mm(self) -> float:
        return self.geometry.length_mm

    @property
    def suction_mm(self) -> float:
        """Of the line before the pump; all of it where there is no pump."""
        return min(self.pump_mm, self.length_mm) if self.pump_mm is not None else self.length_mm

    @property
    def pressure_mm(self) -> float:
        return self.length_mm - self.suction_mm

    @property
    def pump_at(self) -> Vec3 | None:
        return self.geometry.point_at(self.suction_mm) if self.pump_mm is not None else None

    @cached_property
    def shape(self) -> Shape:
        """The line as a body, as thick as its thicker half."""
        return tube_shape(
            self.geometry.centre_line, max(self.suction.outer_mm, self.pressure.outer_mm)
        )

    @property
    def valve_mm(self) -> float | None:
        """Where a shut-off valve sits before the pump, from the take-off; None where none does."""
        before = self.pump_mm if self.pump_mm is not None else self.length_mm
        return next((v.at_mm for v in self.line.of_kind("valve") if v.at_mm < before), None)

    @cached_property
    def shape_before_heater(self) -> Shape:
        """The line without its last stretch: exhaust and fuel leave the heater side by side."""
        end = max(self.length_mm - AT_HEATER_MM, 1.0)
        return tube_shape(
            self.geometry.stretch(0.0, end), max(self.suction.outer_mm, self.pressure.outer_mm)
        )

    @property
    def heater_at(self) -> Vec3:
        return self.geometry.points[-1]

    @cached_property
    def air_traps(self) -> tuple[AirTrap, ...]:
        """Every local high of the line, wherever it lies, but the pick-up's own: the line rises to
        it and falls again before it gets higher.
        """
        points = self.geometry.points
        heights = [point[2] for point in points]
        results = []
        for index in range(1, len(points) - 1):
            if heights[index + 1] >= heights[index]:
                continue
            rises = heights[index] - _lowest_until_higher(heights[index::-1])
            falls = heights[index] - _lowest_until_higher(heights[index:])
            if rises > HUMP_MM and falls > HUMP_MM:
                results.append(AirTrap(index, points[index], falls))
        return tuple(results)


def _lowest_until_higher(heights: list[float]) -> float:
    """Return the least of some heights, up to the first that is above the first one."""
    lowest = heights[0]
    for height in heights[1:]:
        if height > heights[0]:
            break
        lowest = min(lowest, height)
    return lowest


@dataclass(frozen=True, slots=True)
class AirTrap:
    """A high point of the line.

    Attributes:
        corner: its number from the take-off.
        falls_mm: how far the line comes down after it, until it is higher again.
    """

    corner: int
    at: Vec3
    falls_mm: float


@fact
def fuel_run(job: Job) -> FuelRun | None:
    """Return the line; None while source, heater or line are missing."""
    line, source = job.plan.fuel.line, supply(job)
    if line is None or source is None or job.plan.spot is None or chosen_mount(job) is None:
        return None
    end = port_point(job, heater_port(job, "fuel"))
    nodes = [((n.x_mm, n.y_mm, n.z_mm), n.radius_mm) for n in line.nodes]
    first = nodes[0][0] if nodes else end
    away = sub(first, source.start)
    leaving = unit(away) if math.hypot(*away) > 1e-6 else (0.0, 0.0, -1.0)
    works = job.catalogue.fuel_equipment
    filters, pumps = line.of_kind("filter"), line.of_kind("pump")
    return FuelRun(
        source,
        line,
        route_geometry(source.start, leaving, [*nodes, (end, 0.0)]),
        works.line(line.suction),
        works.line(line.pressure),
        filters[0].at_mm if filters else None,
        pumps[0].at_mm if pumps else None,
    )
