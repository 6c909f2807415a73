"""The checks of a place for the heater, without their remedies: for whoever tries many places."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.spot import face_rules, rules

SPOT_CHECKS = rules_of(rules, face_rules)
