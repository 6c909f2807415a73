"""What to do next in a job: what is not there yet, in the order of the work; then what is over."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.checking import Check
from gale_nook.core.ducts.convector import ducts_wanted
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.stations import STATIONS


@dataclass(frozen=True, slots=True)
class NextStep:
    """A step, and the station where it is done."""

    station: str
    words: str


def next_step(check: Check) -> NextStep:
    """Return the next step of a job."""
    missing = _missing(check.job)
    if missing is not None:
        return missing
    for verdict, words in (
        (Verdict.OVER, "Clear what is over"),
        (Verdict.UNKNOWN, "Measure what nobody has looked at"),
    ):
        for station in STATIONS:
            count = check.tally(station.word).get(verdict.value, 0)
            if count:
                return NextStep(station.word, f"{words}: {count} at {station.label}")
    return NextStep("build", "Print the build sheet")


def _missing(job: Job) -> NextStep | None:
    """What the plan has not got yet."""
    plan, sheet = job.plan, heater_sheet(job)
    blows = sheet is not None and ducts_wanted(job)
    steps = (
        (bool(plan.vehicle.solids), "vehicle", "Measure the vehicle"),
        (sheet is not None, "heater", "Choose a heater"),
        (plan.spot is not None, "spot", "Find a place for the heater"),
        (plan.pipes.exhaust is not None, "pipes", "Lay the exhaust"),
        (plan.pipes.intake is not None, "pipes", "Lay the combustion air pipe"),
        (plan.fuel.line is not None, "fuel", "Lay the fuel line"),
        (not blows or bool(plan.air.ducts), "air", "Lay the warm-air ducts"),
    )
    return next((NextStep(word, words) for there, word, words in steps if not there), None)
