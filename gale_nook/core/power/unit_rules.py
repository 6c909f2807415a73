"""Check of a battery that starts two heaters."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Band, Finding, Whose
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import least_of
from gale_nook.core.job import Job
from gale_nook.core.power.choice import MARGIN_V
from gale_nook.core.power.circuit import Piece, ladder
from gale_nook.core.power.supply import BATTERY, battery_now, load_of, supply


@rule("power.units", "Starting beside the other heater", "V")
def both_start(job: Job, this: Rule) -> Iterator[Finding]:
    """Two plugs that glow at once pull one battery down; one after the other they do not."""
    sheet, circuit, battery = heater_sheet(job), supply(job), battery_now(job)
    units = [unit for unit in job.plan.heater.others if unit.shares_battery]
    if sheet is None or circuit is None or battery is None or not units:
        return
    margin = least_of(job, "cut_out_margin_v", MARGIN_V)
    other_a = sum(unit.run_a if unit.starts_apart else unit.glow_a for unit in units)
    drawn_a = other_a + job.plan.power.start_load_a
    inner = Piece(BATTERY, battery.resistance_ohm)
    found = ladder(
        battery.open_v - battery.resistance_ohm * drawn_a,
        (inner, *circuit.pieces),
        load_of(sheet.electrical, "glow"),
    )
    names = " and ".join(unit.name for unit in units)
    how = "running" if all(unit.starts_apart for unit in units) else "starting too"
    yield this.finding(
        job,
        subject=units[0].id,
        subject_name=names,
        measured=round(found.heater_v, 4),
        band=Band(
            sheet.electrical.cut_out_v + margin, None, Whose.SHEET, "cut_out_margin_v", sheet.source
        ),
        tolerance=0.1,
        sentence=f"With {names} {how} ({other_a:.1f} A) the heater gets {found.heater_v:.2f} V at "
        "glow."
        if not found.collapses
        else f"With {names} {how} the voltage collapses.",
    )


@remedy_for("power.units")
def one_after_the_other(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Never both at once."""
    for unit in job.plan.heater.others:
        if unit.shares_battery and not unit.starts_apart:
            yield Remedy(
                f"Start {unit.name} only when this one burns, or by a timer of its own.",
                set_value(f"heater.others.{unit.id}.starts_apart", True),
            )
