"""The checks of a place for the heater, without their remedies: for whoever tries many places."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.spot import (
    air_rules,
    body_rules,
    face_rules,
    hole_rules,
    looked_rules,
    plate_rules,
    rules,
)

CHECKED = (rules, looked_rules, hole_rules, face_rules, air_rules, body_rules, plate_rules)
SPOT_CHECKS = rules_of(*CHECKED)
