"""No two things in one place: the fuel, the pipes, the heater and all that was surveyed."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.fuel import filler, rules, tank_rules
from gale_nook.core.fuel.bodies import fuel_bodies
from gale_nook.core.ledger.together import together_rule
from gale_nook.core.pipes.bodies import pipe_bodies
from gale_nook.core.spot.bodies import spot_bodies
from gale_nook.core.spot.unit_bodies import unit_bodies
from gale_nook.core.vehicle.bodies import vehicle_bodies
from gale_nook.core.vehicle.kept_free import kept_free

FUEL_TOGETHER = together_rule(
    "fuel",
    fuel_bodies,
    (vehicle_bodies, kept_free, unit_bodies, spot_bodies, pipe_bodies),
    rules_of(filler, rules, tank_rules),
)
