"""Station *Heater*: which heater, and by whose limits."""

from __future__ import annotations

from gale_nook.core.findings.rule import rules_of
from gale_nook.core.heater import rules
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.commands import COMMANDS
from gale_nook.core.job import Job
from gale_nook.core.station import Station


def _number(job: Job) -> str:
    sheet = heater_sheet(job)
    return sheet.label if sheet is not None else ""


def _parts(job: Job) -> dict[str, float]:
    return {"co-alarm": 1, "thermometer": 1} if heater_sheet(job) is not None else {}


HEATER = Station(
    "heater",
    "Heater",
    "3",
    rules=rules_of(rules),
    commands=COMMANDS,
    number=_number,
    parts=_parts,
)
