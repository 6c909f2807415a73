"""The simulated nights, ready to print."""

from __future__ import annotations

from dataclasses import dataclass

from markupsafe import Markup

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.fitted.installed import installed
from gale_nook.core.fitted.night import fitted_night
from gale_nook.core.heat.night import NightResult
from gale_nook.core.job import Job
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.night import clock, night_chart
from gale_nook.drawing.svg import svg


@dataclass(frozen=True, slots=True)
class NightRow:
    """One heater's night, ready to print."""

    id: str
    label: str
    warm: str
    coldest: str
    fuel: str
    current: str
    starts: str
    idle: str


@dataclass(frozen=True, slots=True)
class NightShown:
    """The chosen heater's night: its chart, and what it comes to in one line."""

    chart: Markup
    row: NightRow
    sentence: str


def night_of(job: Job, sheet: HeaterSheet) -> NightResult:
    """Return the night with a heater, as it would be fitted here."""
    return fitted_night(job, sheet.id)


def night_rows(job: Job, system: UnitSystem) -> list[NightRow]:
    """Return every heater's night."""
    sheets = job.catalogue.heaters.values()
    return [row_of(sheet, night_of(job, sheet), system) for sheet in sheets]


def night_shown(job: Job, system: UnitSystem) -> NightShown | None:
    """Return the chosen heater's night; None without one."""
    plan, heaters = job.plan, job.catalogue.heaters
    sheet = heaters.get(plan.heater.sheet) if plan.heater.sheet is not None else None
    if sheet is None:
        return None
    most = installed(job, sheet).most_w
    result = night_of(job, sheet)
    chart = Markup(svg(night_chart(result, plan.heat.night, plan.heat.outside_c, most, system)))
    row = row_of(sheet, result, system)
    warm = f"warm after {row.warm}" if result.to_target_s is not None else "not warm in that night"
    sentence = (
        f"{sheet.label} from {clock(plan.heat.night.start_h)}: {warm}; coldest {row.coldest} at "
        f"{clock(result.lowest_h)}; "
        f"{row.fuel} of fuel, {row.current}, {row.starts} starts, at least output {row.idle} of "
        "the burning time."
    )
    return NightShown(chart, row, sentence)


def row_of(sheet: HeaterSheet, night: NightResult, system: UnitSystem) -> NightRow:
    """Return a night as a row of the table."""
    return NightRow(
        id=sheet.id,
        label=sheet.label,
        warm="never" if night.to_target_s is None else f"{night.to_target_s / 60:.0f} min",
        coldest=format_quantity(night.lowest_c, "c", system),
        fuel=f"{night.fuel_l:.1f} l",
        current=f"{night.electricity_wh:.0f} Wh",
        starts=str(night.starts),
        idle=f"{100 * night.idle_share:.0f}\u00a0%",
    )
