"""The loop and all that was surveyed or planned before: no two things in one place."""

from __future__ import annotations

from gale_nook.core.coolant import hose_rules
from gale_nook.core.coolant.before import BEFORE_COOLANT
from gale_nook.core.coolant.bodies import coolant_bodies
from gale_nook.core.findings.rule import rules_of
from gale_nook.core.ledger.together import together_rule

COOLANT_TOGETHER = together_rule(
    "coolant",
    coolant_bodies,
    BEFORE_COOLANT,
    rules_of(hose_rules),
)
