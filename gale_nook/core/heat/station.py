"""Station *Heat*: what the vehicle loses, and what the heater has to give."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.heat import rules
from gale_nook.core.heat.commands import COMMANDS
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.heat.report import heat_lines, heat_report
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.station import Station


def _number(job: Job) -> str:
    return q(design_loss(job).need_w, "w")


HEAT = Station(
    "heat",
    "Heat",
    "2",
    rules=rules_of(rules),
    commands=COMMANDS,
    number=_number,
    number_first=True,
    report=heat_report,
    report_lines=heat_lines,
)
