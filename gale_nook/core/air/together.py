"""The warm air's ducts and all that was surveyed or planned before: no two things in one place."""

from __future__ import annotations

from gale_nook.core.air import hole_rules
from gale_nook.core.air.bodies import air_bodies
from gale_nook.core.findings.rule import rules_of
from gale_nook.core.fuel.bodies import fuel_bodies
from gale_nook.core.ledger.together import together_rule
from gale_nook.core.pipes.bodies import pipe_bodies
from gale_nook.core.spot.bodies import spot_bodies
from gale_nook.core.spot.unit_bodies import unit_bodies
from gale_nook.core.vehicle.bodies import vehicle_bodies
from gale_nook.core.vehicle.kept_free import kept_free

AIR_TOGETHER = together_rule(
    "air",
    air_bodies,
    (vehicle_bodies, kept_free, unit_bodies, spot_bodies, pipe_bodies, fuel_bodies),
    rules_of(hole_rules),
)
