"""Heater station: its page, and the night with each heater, worked out after the page is shown."""

from __future__ import annotations

from dataclasses import dataclass

from fastapi.responses import Response
from markupsafe import Markup

from gale_nook.core.catalogue import HeaterSheet
from gale_nook.core.heat.night import NightResult, simulate_night
from gale_nook.core.heat.season import heater_seasons, season
from gale_nook.core.heater.choice import derated_w
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.night import night_chart
from gale_nook.drawing.season import season_chart
from gale_nook.drawing.svg import svg
from gale_nook.store import jobs as store
from gale_nook.web.context import Book, Db, JobId, Units, render
from gale_nook.web.stations.page import by_word, station_router

router = station_router(by_word("heater"))


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


@router.get("/jobs/{job_id}/heater/night")
def night(db: Db, book: Book, system: Units, job_id: JobId) -> Response:
    """The night of the chosen heater as a chart, and of every heater in a table."""
    plan = store.head_of(db, job_id).plan
    most = {sheet.id: derated_w(sheet.output, plan.heat.altitude_m) for sheet in book.heaters.values()}
    nights = {sheet.id: simulate_night(plan, book, sheet, most[sheet.id]) for sheet in book.heaters.values()}
    rows = [_row(sheet, nights[sheet.id], system) for sheet in book.heaters.values()]
    chosen = plan.heater.sheet
    chart = Markup("")
    if chosen is not None:
        chart = Markup(svg(night_chart(nights[chosen], plan.heat.outside_c, most[chosen], system)))
    return render("heater/night.html", rows=rows, chosen=chosen, chart=chart)


@router.get("/jobs/{job_id}/heater/season")
def season_of(db: Db, book: Book, system: Units, job_id: JobId) -> Response:
    """The hours of the season in which each heater cycles, serves or falls short."""
    plan = store.head_of(db, job_id).plan
    bins = season(plan, book)
    chosen = plan.heater.sheet
    sheet = book.heaters.get(chosen) if chosen is not None else None
    outputs = (sheet.output.minimum_w, derated_w(sheet.output, plan.heat.altitude_m)) if sheet is not None else None
    chart = Markup(svg(season_chart(bins, outputs, system))) if bins else Markup("")
    rows = [(row, book.heaters[row.sheet_id].label) for row in heater_seasons(plan, book, bins)] if bins else []
    total = sum(b.hours for b in bins)
    return render(
        "heater/season.html",
        climate=plan.heat.climate,
        rows=rows,
        total=total,
        chosen=chosen,
        chart=chart,
        job_id=job_id,
    )


def _row(sheet: HeaterSheet, night: NightResult, system: UnitSystem) -> NightRow:
    return NightRow(
        id=sheet.id,
        label=sheet.label,
        warm="never" if night.to_target_s is None else f"{night.to_target_s / 60:.0f} min",
        coldest=format_quantity(night.lowest_c, "c", system),
        fuel=f"{night.fuel_l:.1f} l",
        current=f"{night.electricity_wh:.0f} Wh",
        starts=str(night.starts),
        idle=f"{night.idle_share:.0%}",
    )
