"""The checks of the fuel, without their remedies: for whoever tries many lines."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.fuel import filler, flex, pump_hole_rules, rules, tank_rules

FUEL_CHECKS = rules_of(rules, filler, flex, pump_hole_rules, tank_rules)
LINE_CHECKS = tuple(rule for rule in FUEL_CHECKS if rule.runs == ("fuel",))
