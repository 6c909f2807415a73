"""The heater and all that was surveyed: no two things in one place."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.ledger.together import together_rule
from gale_nook.core.spot import air_rules, body_rules, plate_rules
from gale_nook.core.spot.bodies import spot_bodies
from gale_nook.core.spot.unit_bodies import unit_bodies
from gale_nook.core.vehicle.bodies import vehicle_bodies
from gale_nook.core.vehicle.kept_free import kept_free

SPOT_TOGETHER = together_rule(
    "spot",
    spot_bodies,
    (vehicle_bodies, kept_free, unit_bodies),
    rules_of(air_rules, body_rules, plate_rules),
)
