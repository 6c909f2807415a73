"""How loud the pump's ticking is at a bed: through the air and the floor, and more where it is
fixed hard.
"""

from __future__ import annotations

import math

from gale_nook.core.catalogue.fuel import PumpKind
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.vehicle.floor import floor_underside_z_mm

TICK_HZ = 500.0  # where most of a tick's sound lies
NEAREST_M = 0.1
HALF_SPACE_DB = 8.0
FIELD_DB = 47.0


def at_distance_db(power_db: float, distance_m: float) -> float:
    """Return the sound pressure level at a distance from a small source under a floor, dB.

    Source: ISO 9613-2, equation for spreading, with a plane that throws all back: Lw - 20 lg r - 8.

    >>> round(at_distance_db(50.0, 1.0), 3)
    42.0
    """
    return power_db - 20 * math.log10(max(distance_m, NEAREST_M)) - HALF_SPACE_DB


def floor_loss_db(mass_kg_m2: float) -> float:
    """Return what a floor of some mass keeps back at the tick's frequency, dB; 0 for one that
    weighs nothing.

    Source: I. L. Vér, L. L. Beranek, Noise and Vibration Control Engineering, 2006, field-incidence
    mass law: 20 lg(m f) - 47.
    """
    return max(20 * math.log10(mass_kg_m2 * TICK_HZ) - FIELD_DB, 0.0) if mass_kg_m2 > 0 else 0.0


def floor_mass_kg_m2(job: Job) -> float:
    """Return the mass of a square metre of the floor."""
    materials = job.catalogue.materials
    return sum(
        layer.thickness_mm / 1000 * (materials[layer.material].density_kg_m3 or 0.0)
        for layer in job.plan.vehicle.floor.layers
    )


def at_bed_db(job: Job, pump: PumpKind, pump_at: Vec3, bed: Vec3, on_rubber: bool) -> float:
    """Return the ticking at a bed, dB(A): a pump below the floor is heard through it, one that is
    fixed hard in the body too.
    """
    heard = at_distance_db(pump.tick_db, math.dist(pump_at, bed) / 1000)
    if pump_at[2] < floor_underside_z_mm(job):
        heard -= floor_loss_db(floor_mass_kg_m2(job))
    return heard if on_rubber else heard + pump.hard_db
