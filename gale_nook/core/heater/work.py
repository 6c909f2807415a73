"""What several heaters bring to the work: how they are set up beside each other."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.heater.units import which_when
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.station import Step


def unit_steps(job: Job) -> Iterator[Step]:
    """Yield how the heaters of one vehicle are set up: which runs when, and what starts apart."""
    others = job.plan.heater.others
    if not others:
        return
    told, before = [], None
    for row in which_when(job):
        runs = " and ".join((*row.room, *row.cab)) or "none"
        if runs != before:
            told.append(f"from {q(row.outside_c, 'c')} up {runs}")
            before = runs
    apart = [unit.name for unit in others if unit.starts_apart]
    words = f"By the outside temperature: {'; '.join(told)}. " if told else ""
    if apart:
        words += f"Set the timers so that {', '.join(apart)} never starts while this one does. "
    words += "Try each alone, then both: no gas of one at the other's air, no smell inside."
    yield Step("units", "Set the heaters up beside each other", words, ("fumes", "electricity"))
