"""A run of readings: how it is thinned for the plan, and what of it counts in each phase."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from gale_nook.core.base.phases import PHASES, PhaseWord
from gale_nook.core.firing.heater import SimulatedHeater, Told
from gale_nook.core.plan.firing import MOST_POINTS, PhaseReading, Smoke, Trace

SETTLES_SHARE = 1 / 3  # of a phase, before its readings count
HELD_S = 600.0  # of regulation, before it is switched off
LONGEST_FULL_S = 2700.0
LONGEST_S = 3 * 3600.0
SMOKES: tuple[Smoke, ...] = ("not-looked", "none", "some", "thick")  # from least to most


def run_of(heater: SimulatedHeater) -> list[Told]:
    """Return a first firing second by second: switched on, run until it has regulated for a while
    or was at full long enough, switched off, and run out.
    """
    results: list[Told] = []
    heater.switch_on()
    held_s, full_s, ran, regulated = 0.0, 0.0, False, False
    every = max(round(1.0 / heater.step_s), 1)
    count = 0
    while heater.at_s < LONGEST_S:
        heater.step()
        count += 1
        if count % every == 0:
            results.append(heater.told())
        ran = ran or heater.phase != "off"
        regulated = regulated or heater.phase == "regulation"
        held_s += heater.step_s if regulated else 0.0
        full_s += heater.step_s if heater.phase == "full" else 0.0
        if heater.is_on and (held_s >= HELD_S or full_s >= LONGEST_FULL_S):
            heater.switch_off()
        if ran and heater.phase == "off" and not heater.is_on:
            break
    return results


@dataclass(frozen=True, slots=True)
class Row:
    """One line of readings; None for what was not read.

    Attributes:
        phase: None where the device does not tell it.
    """

    at_s: float
    phase: PhaseWord | None = None
    voltage_v: float | None = None
    current_a: float | None = None
    pump_hz: float | None = None
    outlet_c: float | None = None
    smoke: Smoke = "not-looked"


def rows_of(told: Sequence[Told]) -> list[Row]:
    """Return what the simulated heater told of its first run, as rows.

    How it ended belongs to the after-run: still under power, or not.
    """
    ran = [each for each in told if each.phase != "off"]
    if ran and ran[-1].phase == "after-run" and told[-1].phase == "off":
        ran.append(told[-1])
    return [
        Row(
            each.at_s,
            each.phase if each.phase != "off" else "after-run",
            each.voltage_v,
            each.current_a,
            each.pump_hz,
            each.outlet_c,
            each.smoke,
        )
        for each in ran
    ]


def trace_of(rows: Sequence[Row], source: str) -> Trace:
    """Return rows as a trace, thinned to what a plan keeps: where a phase begins and ends, and
    evenly between.
    """
    kept = thinned(rows)
    return Trace(
        source=source,
        at_s=tuple(round(each.at_s, 1) for each in kept),
        phase=tuple(each.phase or "check" for each in kept),
        voltage_v=tuple(_kept(each.voltage_v) for each in kept),
        current_a=tuple(_kept(each.current_a) for each in kept),
        pump_hz=tuple(_kept(each.pump_hz) for each in kept),
        outlet_c=tuple(_kept(each.outlet_c) for each in kept),
        smoke=tuple(each.smoke for each in kept),
    )


def _kept(value: float | None) -> float | None:
    """A value as exactly as it is read."""
    return round(value, 3) if value is not None else None


def thinned(rows: Sequence[Row]) -> list[Row]:
    """Return at most as many as a plan keeps, the first and last of each phase among them."""
    edges = {0, len(rows) - 1}
    for number in range(1, len(rows)):
        if rows[number].phase != rows[number - 1].phase:
            edges |= {number - 1, number}
    room = max(MOST_POINTS - len(edges), 1)
    step = max(-(-len(rows) // room), 1)
    numbers = sorted(edges | set(range(0, len(rows), step)))[:MOST_POINTS]
    return [rows[number] for number in numbers] if rows else []


def unread_columns(trace: Trace) -> tuple[str, ...]:
    """Return the names of the readings that a trace has nowhere."""
    empty = [
        name
        for name in ("voltage_v", "current_a", "pump_hz", "outlet_c")
        if all(value is None for value in getattr(trace, name))
    ]
    looked = any(word != "not-looked" for word in trace.smoke)
    return (*empty, *(() if looked else ("smoke",)))


def readings_of(trace: Trace) -> tuple[PhaseReading, ...]:
    """Return what a trace says of each phase: the least voltage, and the middle of what it settled
    to.
    """
    return tuple(_reading(trace, phase) for phase in PHASES)


def _reading(trace: Trace, phase: PhaseWord) -> PhaseReading:
    numbers = [number for number, word in enumerate(trace.phase) if word == phase]
    if not numbers:
        return PhaseReading(id=phase)
    settled = numbers[int(len(numbers) * SETTLES_SHARE) :]

    def read(column: Sequence[float | None], over: Sequence[int]) -> list[float]:
        return [value for number in over if (value := column[number]) is not None]

    volts = read(trace.voltage_v, numbers)
    amperes = read(trace.current_a, settled)
    strokes = read(trace.pump_hz, settled)
    celsius = read(trace.outlet_c, settled)
    return PhaseReading(
        id=phase,
        began_s=trace.at_s[numbers[0]],
        voltage_v=min(volts) if volts else None,
        current_a=median(amperes) if amperes else None,
        pump_hz=median(strokes) if strokes else None,
        outlet_c=median(celsius) if celsius else None,
        smoke=max((trace.smoke[number] for number in settled), key=SMOKES.index),
    )
