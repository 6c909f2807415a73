"""Station *Spot*: where the heater goes, and through which holes."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot import lean_rules, old_opening_rules, remedies
from gale_nook.core.spot.bodies import spot_bodies
from gale_nook.core.spot.checks import CHECKED
from gale_nook.core.spot.commands import COMMANDS
from gale_nook.core.spot.together import SPOT_TOGETHER
from gale_nook.core.spot.work import mount_parts, spot_holes, spot_steps
from gale_nook.core.station import Station


def _number(job: Job) -> str:
    return f"at {q(job.plan.spot.x_mm)}" if job.plan.spot is not None else ""


SPOT = Station(
    "spot",
    "Spot",
    "4",
    rules=(
        *rules_of(*CHECKED, lean_rules, old_opening_rules, remedies),
        SPOT_TOGETHER,
    ),
    commands=COMMANDS,
    number=_number,
    bodies=spot_bodies,
    parts=mount_parts,
    holes=spot_holes,
    steps=spot_steps,
)
