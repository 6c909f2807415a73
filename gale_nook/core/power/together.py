"""The leads and all that was surveyed or planned before: no two things in one place."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.ledger.together import together_rule
from gale_nook.core.power import lead_rules
from gale_nook.core.power.before import BEFORE_POWER
from gale_nook.core.power.bodies import power_bodies

POWER_TOGETHER = together_rule(
    "power",
    power_bodies,
    BEFORE_POWER,
    rules_of(lead_rules),
    as_laid=False,
)
