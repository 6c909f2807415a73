"""The leads and all that was surveyed or planned before: no two things in one place."""

from __future__ import annotations

from gale_nook.core.air.bodies import air_bodies
from gale_nook.core.coolant.bodies import coolant_bodies
from gale_nook.core.findings.rule import rules_of
from gale_nook.core.fuel.bodies import fuel_bodies
from gale_nook.core.ledger.together import together_rule
from gale_nook.core.pipes.bodies import pipe_bodies
from gale_nook.core.power import lead_rules
from gale_nook.core.power.bodies import power_bodies
from gale_nook.core.spot.bodies import spot_bodies
from gale_nook.core.spot.unit_bodies import unit_bodies
from gale_nook.core.vehicle.bodies import vehicle_bodies
from gale_nook.core.vehicle.kept_free import kept_free

POWER_TOGETHER = together_rule(
    "power",
    power_bodies,
    (
        vehicle_bodies,
        kept_free,
        unit_bodies,
        spot_bodies,
        pipe_bodies,
        fuel_bodies,
        air_bodies,
        coolant_bodies,
    ),
    rules_of(lead_rules),
    as_laid=False,
)
