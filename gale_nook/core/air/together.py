"""The warm air's ducts and all that was surveyed or planned before: no two things in one place."""

from __future__ import annotations

from gale_nook.core.air import hole_rules
from gale_nook.core.air.before import BEFORE_AIR
from gale_nook.core.air.bodies import air_bodies
from gale_nook.core.findings.rule import rules_of
from gale_nook.core.ledger.together import together_rule

AIR_TOGETHER = together_rule(
    "air",
    air_bodies,
    BEFORE_AIR,
    rules_of(hole_rules),
)
