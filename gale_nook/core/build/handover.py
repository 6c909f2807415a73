"""The handover: how the heater of a job is used, and what is never done."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.firing.pre_checks import what_it_has
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job


@dataclass(frozen=True, slots=True)
class HandoverSection:
    """Some points under one title."""

    id: str
    title: str
    points: tuple[str, ...]


def handover(job: Job) -> tuple[HandoverSection, ...]:
    """Return what counts in this job, in the order of use."""
    holds = what_it_has(job)
    return tuple(
        HandoverSection(
            section.id,
            section.title,
            tuple(point.text for point in section.points if holds[point.when]),
        )
        for section in job.catalogue.handover.sections
    )


def heater_words(job: Job) -> str:
    """Return what the heater is called; empty where none was chosen."""
    sheet = heater_sheet(job)
    return sheet.label if sheet is not None else ""
