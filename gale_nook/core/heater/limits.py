"""Limits by name: your own over the heater's sheet over the workshop's; the workshop's own book may
ask for more than a sheet, never for less.
"""

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
    given: Limit | None = None
    if mount is not None and name in mount.limits:
        given = mount.limits[name]
    elif sheet is not None:
        given = sheet.limits.get(name)
    if given is not None:
        return _stricter(Band.of(given, Whose.SHEET, name), job, name)
    workshop: Limit | None = job.catalogue.workshop_limits.get(name)
    return Band.of(workshop, Whose.WORKSHOP, name) if workshop is not None else None


def _stricter(given: Band, job: Job, name: str) -> Band:
    """A sheet's band, with what the workshop's own book asks for beyond it. Nothing in the book
    loosens a sheet.
    """
    own = next((limit for limit in job.plan.book.limits if limit.id == name), None)
    if own is None:
        return given
    least = max((e for e in (given.minimum, own.minimum) if e is not None), default=None)
    most = min((e for e in (given.maximum, own.maximum) if e is not None), default=None)
    if (least, most) == (given.minimum, given.maximum):
        return given
    return Band(least, most, Whose.WORKSHOP, name, own.source)


def least_of(job: Job, name: str, otherwise: float) -> float:
    """Return the lower end of a named limit, or another value where nothing gives one."""
    band = limit_band(job, name)
    return band.minimum if band is not None and band.minimum is not None else otherwise


def most_of(job: Job, name: str, otherwise: float) -> float:
    """Return the upper end of a named limit, or another value where nothing gives one."""
    band = limit_band(job, name)
    return band.maximum if band is not None and band.maximum is not None else otherwise
