"""What is heard where one sleeps, as the panels of warm air and coolant show it."""

from __future__ import annotations

from functools import cached_property

from gale_nook.core.job import Job
from gale_nook.core.noise.at_bed import AtBed, Change, at_beds, changes


class NoiseView:
    """The night's sound of a job."""

    def __init__(self, job: Job) -> None:
        self._job = job

    @cached_property
    def beds(self) -> tuple[AtBed, ...]:
        """By night, at the heater's least output."""
        return at_beds(self._job, True)

    def changes(self, bed: AtBed) -> tuple[Change, ...]:
        return changes(self._job, bed)
