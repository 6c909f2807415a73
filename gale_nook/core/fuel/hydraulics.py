"""Heads and losses of the fuel line, and what the cold does.

Laminar loss by Hagen–Poiseuille; at a heater's flow the Reynolds number stays far below 2,000.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.catalogue.fuel import FuelGrade
from gale_nook.core.fuel.diesel import density_kg_m3, viscosity_mm2_s
from gale_nook.core.fuel.line import EMPTY, FuelRun, fuel_run
from gale_nook.core.geometry.parked import LEVEL, Parked, parked_attitudes
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.physics.constants import GRAVITY_M_S2
from gale_nook.core.vehicle.lean import lean_of

L_H_TO_M3_S = 1e-3 / 3600


def line_loss_pa(
    length_mm: float, bore_mm: float, flow_l_h: float, grade: FuelGrade, celsius: float
) -> float:
    """Return the laminar loss of a stretch, Pa."""
    mu = viscosity_mm2_s(grade, celsius) * 1e-6 * density_kg_m3(grade, celsius)
    d = bore_mm / 1000
    return 128 * mu * (length_mm / 1000) * flow_l_h * L_H_TO_M3_S / (math.pi * d**4)


def has_second(job: Job) -> bool:
    """Return whether another user draws through the same take-off."""
    fuel = job.plan.fuel
    return fuel.second.use_l_h > 0 and fuel.source in {"take-off", "tee-auxiliary"}


def shared_loss_pa(job: Job, own_l_h: float) -> float:
    """Return the loss of the line before the tee, which both flows pass: both pumps strike at once.

    Args:
        own_l_h: of our own pump, while it moves fuel.
    """
    second = job.plan.fuel.second
    if not has_second(job) or second.shared_mm <= 0:
        return 0.0
    works = job.catalogue.fuel_equipment
    grade = works.grade(job.plan.fuel.grade)
    both = own_l_h + second.use_l_h / works.pump.stroke_share
    return line_loss_pa(
        second.shared_mm, second.shared_bore_mm, both, grade, job.plan.heat.outside_c
    )


@dataclass(frozen=True, slots=True)
class FuelHeads:
    """Heights and pressures at one level of the fuel.

    Attributes:
        surface_mm: height of the surface where the fuel is drawn.
        over_pump_mm: of the surface over the pump; negative below it.
        heater_over_pump_mm: of the heater's port over the pump.
        suction_pa: by how much the pressure at the pump's inlet is under the air's, during a
            stroke.
        delivery_pa: what the pump lifts and pushes against.
        over_heater_mm: of the surface over the heater's port: above 0 fuel can siphon into it.
    """

    surface_mm: float
    over_pump_mm: float
    heater_over_pump_mm: float
    suction_pa: float
    delivery_pa: float
    over_heater_mm: float


def heads(job: Job, run: FuelRun, percent: float, parked: Parked = LEVEL) -> FuelHeads | None:
    """Return heads and losses on the coldest night, at most output.

    Args:
        percent: of a full tank.
        parked: how the vehicle stands; heights are over the plane that is level then.
    """
    pump, sheet = run.pump_at, heater_sheet(job)
    slope_x, slope_y = parked.slopes
    surface = run.supply.surface_mm(percent, slope_x, slope_y)
    if pump is None or sheet is None or surface is None:
        return None

    def height(at: tuple[float, float, float]) -> float:
        """Over the plane that is level as the vehicle stands."""
        return at[2] - slope_x * at[0] - slope_y * at[1]

    x, y, _ = run.supply.start
    top = surface - slope_x * x - slope_y * y
    pump_z = height(pump)
    heater_z = height(run.heater_at)
    grade = job.catalogue.fuel_equipment.grade(job.plan.fuel.grade)
    celsius = job.plan.heat.outside_c
    works = job.catalogue.fuel_equipment.pump
    weight = density_kg_m3(grade, celsius) * GRAVITY_M_S2 / 1000
    flow = sheet.output.fuel_l_h_maximum / works.stroke_share
    lost = shared_loss_pa(job, flow) + line_loss_pa(
        run.suction_mm, run.suction.bore_mm, flow, grade, celsius
    )
    lost += works.filter_pa / works.stroke_share if run.filter_mm is not None else 0.0
    lost += works.valve_pa / works.stroke_share if run.valve_mm is not None else 0.0
    pushed = line_loss_pa(run.pressure_mm, run.pressure.bore_mm, flow, grade, celsius)
    return FuelHeads(
        surface,
        top - pump_z,
        heater_z - pump_z,
        lost - weight * (top - pump_z),
        pushed + weight * (heater_z - pump_z),
        top - heater_z,
    )


@fact
def fuel_heads(job: Job) -> list[tuple[str, FuelHeads]]:
    """Return heads full to the brim and down to the tip, level and askew, each with how it stands
    in words; empty without a line.
    """
    run, result = fuel_run(job), list[tuple[str, FuelHeads]]()
    if run is None:
        return result
    for parked in (LEVEL, *parked_attitudes(lean_of(job))):
        for percent, filled in ((100.0, "full"), (EMPTY, "nearly empty")):
            there = heads(job, run, percent, parked)
            if there is not None:
                result.append((f"{filled}, {parked.name}", there))
    return result
