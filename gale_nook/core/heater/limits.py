"""Limits by name: your own over the heater's sheet over the workshop's."""

from __future__ import annotations

from gale_nook.core.base.limit import Limit
from gale_nook.core.findings.finding import Band, Whose
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job, fact


@fact
def limit_band(job: Job, name: str) -> Band | None:
    """Return the band of a named limit: your own over the heater's sheet over the workshop's; None
    if none has it.
    """
    sheet = heater_sheet(job)
    mount = chosen_mount(job)
    own = next((limit for limit in job.plan.heater.own_limits if limit.id == name), None)
    if own is not None:
        return Band(own.minimum, own.maximum, Whose.OWN, name, own.note)
    if mount is not None and name in mount.limits:
        return Band.of(mount.limits[name], Whose.SHEET, name)
    if sheet is not None and name in sheet.limits:
        return Band.of(sheet.limits[name], Whose.SHEET, name)
    workshop: Limit | None = job.catalogue.workshop_limits.get(name)
    return Band.of(workshop, Whose.WORKSHOP, name) if workshop is not None else None


def least_of(job: Job, name: str, otherwise: float) -> float:
    """Return the lower end of a named limit, or another value where nothing gives one."""
    band = limit_band(job, name)
    return band.minimum if band is not None and band.minimum is not None else otherwise


def most_of(job: Job, name: str, otherwise: float) -> float:
    """Return the upper end of a named limit, or another value where nothing gives one."""
    band = limit_band(job, name)
    return band.maximum if band is not None and band.maximum is not None else otherwise
