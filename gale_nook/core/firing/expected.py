"""What each phase of the first firing should show, with this heater, this wiring, this fuel line
and these ducts: a band for every reading, and when each phase begins.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.phases import PHASES, PhaseWord
from gale_nook.core.catalogue.firing import FiringBook
from gale_nook.core.ducts.layout import layout
from gale_nook.core.ducts.state import air_state
from gale_nook.core.firing.loads import (
    current_a,
    load_range,
    scaled,
    strokes_hz,
)
from gale_nook.core.fitted.heating import chosen_installed
from gale_nook.core.fitted.usable import usable
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.power.batteries import BLOCK_V
from gale_nook.core.power.circuit import heater_voltage_v
from gale_nook.core.power.supply import battery_now, supply
from gale_nook.core.quantities.sentences import q

Range = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Expected:
    """A band that a reading should lie in, and how it was worked out."""

    low: float
    high: float
    how: str


@dataclass(frozen=True)
class PhaseExpected:
    """One phase.

    Attributes:
        begins_s: from switching on; None where somebody switches it over.
        lasts_s: None where it lasts until somebody or the thermostat ends it.
        values: by the reading's name.
    """

    phase: PhaseWord
    begins_s: Range | None
    lasts_s: Range | None
    values: Mapping[str, Expected] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class DaySupply:
    """The circuit on the day: the battery at rest, and the resistance of everything, each with by
    how much it may be off.
    """

    rest_v: float
    rest_spread_v: float
    resistance_ohm: float
    wiring_spread: float
    measured: bool


@fact
def day_supply(job: Job) -> DaySupply | None:
    """Return the circuit on the day; None while battery or cable are missing.

    Others that draw at the start pull the battery down first.
    """
    circuit, battery, plan = supply(job), battery_now(job), job.plan
    if circuit is None or battery is None or plan.power.battery is None:
        return None
    book, blocks = job.catalogue.firing, plan.power.battery.nominal_v / BLOCK_V
    measured = plan.firing.rest_v
    rest = measured if measured is not None else battery.open_v
    spread = book.measured_v if measured is not None else book.rest_v
    sag_v = battery.resistance_ohm * plan.power.start_load_a
    return DaySupply(
        rest - sag_v,
        spread * blocks,
        battery.resistance_ohm + circuit.wiring_ohm,
        book.wiring_spread,
        measured is not None,
    )


@fact
def expected_phases(job: Job) -> tuple[PhaseExpected, ...]:
    """Return every phase in its order; none without a heater."""
    sheet, heater = heater_sheet(job), chosen_installed(job)
    if sheet is None or heater is None:
        return ()
    most_w = max(heater.most_w, sheet.output.minimum_w)
    times = _times(job.catalogue.firing, sheet)
    return tuple(
        PhaseExpected(phase, *times[phase], _values(job, sheet, phase, most_w)) for phase in PHASES
    )


def phase_expected(job: Job, phase: str) -> PhaseExpected | None:
    """Return one phase; None without a heater."""
    return next((each for each in expected_phases(job) if each.phase == phase), None)


def _times(book: FiringBook, sheet: HeaterSheet) -> dict[str, tuple[Range | None, Range | None]]:
    """When each phase begins, and how long it lasts."""
    glow, flame = book.check_s, book.flame_s
    ramp = _sum(flame, book.flame_lasts_s)
    electrical, off = sheet.electrical, book.after_run_spread
    after = electrical.after_run_s
    second = electrical.second_glow_s
    full_s = (book.full_min[0] * 60, book.full_min[1] * 60)
    return {
        "check": ((0.0, 0.0), glow),
        "glow": (glow, (flame[0] - glow[1], flame[1] - glow[0])),
        "flame": (flame, book.flame_lasts_s),
        "ramp": (ramp, book.ramp_s),
        "full": (_sum(ramp, book.ramp_s), full_s),
        "regulation": (None, None),
        "stop": (None, (second * (1 - off), second * (1 + off))),
        "after-run": (None, (after * (1 - off), after * (1 + off))),
    }


def _sum(one: Range, other: Range) -> Range:
    return (one[0] + other[0], one[1] + other[1])


def _values(job: Job, sheet: HeaterSheet, phase: PhaseWord, most_w: float) -> dict[str, Expected]:
    values = dict(_electrical(job, sheet, phase, most_w))
    for name, found in (
        ("pump_hz", _pump(job, sheet, phase, most_w)),
        ("outlet_c", _outlet(job, sheet, phase)),
    ):
        if found is not None:
            values[name] = found
    return values


def _electrical(
    job: Job, sheet: HeaterSheet, phase: PhaseWord, most_w: float
) -> dict[str, Expected]:
    """Voltage at the plug and current: at the worst of everything, and at the best."""
    spread, drawn = job.catalogue.firing.load_spread, load_range(sheet, phase, most_w)
    least, most = scaled(drawn.least, 1 - spread), scaled(drawn.most, 1 + spread)
    day, nominal = day_supply(job), sheet.electrical.voltage_v
    if day is None:
        amperes = (current_a(least, nominal), current_a(most, nominal))
        how = f"the sheet's current at {q(nominal, 'v')}, within {spread:.0%}"
        return {"current_a": Expected(min(amperes), max(amperes), how)}
    high_v = heater_voltage_v(
        day.rest_v + day.rest_spread_v, day.resistance_ohm * (1 - day.wiring_spread), least
    )
    low_v = heater_voltage_v(
        day.rest_v - day.rest_spread_v, day.resistance_ohm * (1 + day.wiring_spread), most
    )
    high = high_v if high_v is not None else 0.0
    low = low_v if low_v is not None else 0.0
    rest = "measured" if day.measured else "as the plan has it"
    how = (
        f"battery at {q(round(day.rest_v, 2), 'v')} under its other loads, {rest}, "
        f"{q(round(day.resistance_ohm * 1000, 1), 'mohm')} to the heater within "
        f"{day.wiring_spread:.0%}, current within {spread:.0%}"
    )
    ends = [current_a(each, v) for each in (least, most) for v in (low, high) if v > 0]
    results = {"voltage_v": Expected(low, high, how)}
    if ends:
        results["current_a"] = Expected(min(ends), max(ends), how)
    return results


def _pump(job: Job, sheet: HeaterSheet, phase: PhaseWord, most_w: float) -> Expected | None:
    """Strokes a second; none before the flame and after the stop."""
    least, most = strokes_hz(sheet, sheet.output.minimum_w), strokes_hz(sheet, most_w)
    spread = job.catalogue.firing.pump_spread
    ends = {
        "glow": (0.0, least),
        "flame": (least, most),
        "ramp": (least, most),
        "full": (most, most),
        "regulation": (least, most),
    }.get(phase)
    if ends is None:
        return Expected(0.0, 0.0, "the pump stands still in this phase")
    how = (
        f"the sheet's litres an hour at {q(round(most_w), 'w')}, "
        f"{sheet.output.dose_ml:g} ml a stroke, within {spread:.0%}"
    )
    return Expected(ends[0] * (1 - spread), ends[1] * (1 + spread), how)


def _outlet(job: Job, sheet: HeaterSheet, phase: PhaseWord) -> Expected | None:
    """Temperature of the warm end or of the coolant; only where it tells something."""
    if phase not in {"full", "regulation"}:
        return None
    return _coolant(job, sheet, phase) if sheet.medium == "coolant" else _air(job, phase)


def _air(job: Job, phase: PhaseWord) -> Expected | None:
    """Of the air: what the heater adds to the air that it draws in, cold as it is switched on and
    warm in the end.
    """
    found, plan_layout = usable(job), layout(job)
    if found is None or plan_layout is None or found.at is None:
        return None
    full_k = found.at.heater_c - found.at.inlet_c
    least_k, spread = full_k, job.catalogue.firing.rise_spread
    if phase == "regulation":
        idle = air_state(plan_layout, plan_layout.least_w)
        if idle is not None:
            least_k = min(least_k, idle.heater_c - idle.inlet_c)
    cold = min(job.plan.firing.inside_c, job.plan.heat.inside_c)
    warm = max(job.plan.firing.inside_c, job.plan.heat.inside_c)
    if phase == "regulation":
        cold = warm
    how = (
        f"{round(least_k)} K over the air drawn in"
        if least_k == full_k
        else f"{round(least_k)} to {round(full_k)} K over the air drawn in"
    )
    how += f", at {q(round(found.at.output_w), 'w')} through this ducting, within "
    how += f"{spread:.0%}, at the most {q(found.limit_c, 'c')}, where it throttles itself"
    high = min(warm + full_k * (1 + spread), found.limit_c)
    return Expected(min(cold + least_k * (1 - spread), high), high, how)


def _coolant(job: Job, sheet: HeaterSheet, phase: PhaseWord) -> Expected | None:
    """Of the coolant where it leaves: by the heater's switching temperatures."""
    side, spread = sheet.loop, job.catalogue.firing.coolant_k
    if side is None:
        return None
    how = (
        f"it goes to half load at {side.to_half_c:g} °C, pauses at {side.to_pause_c:g} °C "
        f"and starts again at {side.restart_c:g} °C, within {spread:g} K"
    )
    if phase == "full":
        return Expected(job.plan.firing.inside_c - spread, side.to_half_c + spread, how)
    low = min(side.restart_c, side.to_full_c)
    return Expected(low - spread, side.to_pause_c + spread, how)
