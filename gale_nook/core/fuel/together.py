"""No two things in one place: the fuel, the pipes, the heater and all that was surveyed."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.fuel import filler, rules, tank_rules
from gale_nook.core.fuel.before import BEFORE_FUEL
from gale_nook.core.fuel.bodies import fuel_bodies
from gale_nook.core.ledger.together import together_rule

FUEL_TOGETHER = together_rule(
    "fuel",
    fuel_bodies,
    BEFORE_FUEL,
    rules_of(filler, rules, tank_rules),
)
