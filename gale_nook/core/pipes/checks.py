"""The checks of the burner's pipes, without their remedies: for whoever tries many runs."""

from __future__ import annotations

from gale_nook.core.findings.rule import Rule, rules_of
from gale_nook.core.pipes import (
    clearance_rules,
    fall_rules,
    fitting_rules,
    mouth_rules,
    panel_rules,
    rules,
    run_rules,
    spray_rules,
    support_hole_rules,
)
from gale_nook.core.plan.pipes import Tube

PIPE_CHECKS = rules_of(
    fall_rules,
    fitting_rules,
    mouth_rules,
    clearance_rules,
    panel_rules,
    run_rules,
    rules,
    spray_rules,
    support_hole_rules,
)


def checks_of(tube: Tube) -> tuple[Rule, ...]:
    """Return the checks that look at one of the burner's pipes."""
    return tuple(each for each in PIPE_CHECKS if tube in each.runs)
