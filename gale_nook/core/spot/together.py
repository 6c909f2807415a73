"""The heater and all that was surveyed: no two things in one place."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.ledger.together import together_rule
from gale_nook.core.spot import air_rules, body_rules, plate_rules
from gale_nook.core.spot.before import BEFORE_SPOT
from gale_nook.core.spot.bodies import spot_bodies

SPOT_TOGETHER = together_rule(
    "spot",
    spot_bodies,
    BEFORE_SPOT,
    rules_of(air_rules, body_rules, plate_rules),
)
