"""The heater in hand: its sheet, and the mount that it is fixed with."""

from __future__ import annotations

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.mount import Mount
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.heat import Learned


@fact
def heater_sheet(job: Job) -> HeaterSheet | None:
    """Return the sheet of the chosen heater, as far as its nights have taught otherwise with that;
    None while none is chosen.
    """
    chosen = job.plan.heater.sheet
    if chosen is None:
        return None
    return as_learned(job.catalogue.heater(chosen), job.plan.heat.learned)


def sheet_of(job: Job, sheet_id: str) -> HeaterSheet:
    """Return the sheet of any heater of the catalogue, of the chosen one as it was learned."""
    chosen = heater_sheet(job) if sheet_id == job.plan.heater.sheet else None
    return chosen if chosen is not None else job.catalogue.heater(sheet_id)


def as_learned(sheet: HeaterSheet, learned: Learned) -> HeaterSheet:
    """Return a sheet with what was learned of its fuel, its least output and what it draws."""
    if (learned.consumption, learned.least, learned.charge) == (1.0, 1.0, 1.0):
        return sheet
    output, electrical = sheet.output, sheet.electrical
    most = output.maximum_w * MOST_LEAST_SHARE
    burns = {
        "minimum_w": min(output.minimum_w * learned.least, most),
        "fuel_l_h_minimum": output.fuel_l_h_minimum * learned.consumption,
        "fuel_l_h_maximum": output.fuel_l_h_maximum * learned.consumption,
    }
    draws = {
        "run_minimum_a": electrical.run_minimum_a * learned.charge,
        "run_maximum_a": electrical.run_maximum_a * learned.charge,
    }
    return sheet.model_copy(
        update={
            "output": output.model_copy(update=burns),
            "electrical": electrical.model_copy(update=draws),
        }
    )


MOST_LEAST_SHARE = 0.9  # of its most, that its least output stays under


@fact
def chosen_mount(job: Job) -> Mount | None:
    """Return the mount at the spot; None without a heater or a spot, or where it has no such."""
    sheet, spot = heater_sheet(job), job.plan.spot
    return sheet.mount(spot.mount) if sheet is not None and spot is not None else None
