"""Heights of the floor stack: steel, finish and underside, from the top of the steel (mm)."""

from __future__ import annotations

from gale_nook.core.job import Job, vehicle_fact


@vehicle_fact
def steel_thickness_mm(job: Job) -> float:
    """Return the thickness of the lowest layer of the floor stack: the steel."""
    layers = job.plan.vehicle.floor.layers
    return layers[-1].thickness_mm if layers else 0.0


@vehicle_fact
def floor_finish_z_mm(job: Job) -> float:
    """Return the height of the walked-on surface over the steel."""
    return sum(layer.thickness_mm for layer in job.plan.vehicle.floor.layers[:-1])


@vehicle_fact
def floor_underside_z_mm(job: Job) -> float:
    """Return the height of the lowest face of the floor: under the steel and its ribs."""
    return -steel_thickness_mm(job) - job.plan.vehicle.floor.corrugation_mm
