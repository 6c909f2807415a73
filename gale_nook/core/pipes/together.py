"""The burner's pipes, the heater and all that was surveyed: no two things in one place."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.ledger.together import together_rule
from gale_nook.core.pipes import clearance_rules, mouth_rules
from gale_nook.core.pipes.before import BEFORE_PIPES
from gale_nook.core.pipes.bodies import pipe_bodies

PIPES_TOGETHER = together_rule(
    "pipes",
    pipe_bodies,
    BEFORE_PIPES,
    rules_of(clearance_rules, mouth_rules),
)
