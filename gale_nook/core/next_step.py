"""What to do next in a job: what is not there yet, in the order of the work; then what is over;
then the next card of the work in hand.
"""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.build.cards import cards
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
    return _in_hand(check.job)


def _in_hand(job: Job) -> NextStep:
    """The next card of a job that is being built; its sheet before the first, its first fire after
    the last.
    """
    listed = cards(job)
    card = next((card for card in listed if card.done is None), None)
    if not any(card.done for card in listed):
        return NextStep("build", "Print the build sheet")
    return NextStep("build", card.step.title) if card else NextStep("firing", "Keep its record")


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
