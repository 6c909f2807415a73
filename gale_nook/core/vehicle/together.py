"""No two surveyed things in one place, and none in the floor, a wall or the ground."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.ledger.together import together_rule
from gale_nook.core.vehicle import rules
from gale_nook.core.vehicle.bodies import vehicle_bodies

VEHICLE_TOGETHER = together_rule("vehicle", vehicle_bodies, (), rules_of(rules))
