"""The heater in hand: its sheet, and the mount that it is fixed with."""

from __future__ import annotations

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.mount import Mount
from gale_nook.core.job import Job, fact


@fact
def heater_sheet(job: Job) -> HeaterSheet | None:
    """Return the sheet of the chosen heater; None while none is chosen."""
    chosen = job.plan.heater.sheet
    return job.catalogue.heater(chosen) if chosen is not None else None


@fact
def chosen_mount(job: Job) -> Mount | None:
    """Return the mount at the spot; None without a heater or a spot, or where it has no such."""
    sheet, spot = heater_sheet(job), job.plan.spot
    return sheet.mount(spot.mount) if sheet is not None and spot is not None else None
