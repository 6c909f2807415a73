"""What to look at first when a reading is off: this plan's own figures as evidence, then the usual
causes in their order.
"""

from __future__ import annotations

from collections.abc import Iterator
from statistics import linear_regression

from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.firing.expected import day_supply, phase_expected
from gale_nook.core.firing.loads import current_a, load_range, strokes_hz
from gale_nook.core.fitted.heating import chosen_installed
from gale_nook.core.fitted.usable import usable
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.fuel.priming import prime
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.pressure import pressure_losses
from gale_nook.core.power.circuit import heater_voltage_v
from gale_nook.core.power.supply import ladders, supply
from gale_nook.core.quantities.sentences import q

QUANTITY_OF = {
    "firing.voltage": "voltage_v",
    "firing.current": "current_a",
    "firing.pump": "pump_hz",
    "firing.outlet": "outlet_c",
    "firing.began": "began_s",
    "firing.flame": "began_s",
    "firing.smoke": "smoke",
    "firing.full": "full",
    "firing.code": "code",
}
NOTHING_V = 1.0  # so little is no supply
LEAST_SPREAD_A = 2.0  # of currents that tell a battery from its wiring
UNSTEADY = ("ramp", "regulation")  # phases in which the current changes while it is read


def looks_for(job: Job, finding: Finding) -> tuple[str, ...]:
    """Return where to look, in order; none for a reading that is as it should be.

    Args:
        finding: of the first firing.
    """
    quantity = QUANTITY_OF.get(finding.rule)
    if quantity is None or finding.verdict is not Verdict.OVER:
        return ()
    side, subject = _side(finding), "flame" if finding.rule == "firing.flame" else finding.subject
    usual = next(
        (
            each.looks
            for each in job.catalogue.firing.looks
            if each.quantity == quantity
            and each.side == side
            and (not each.phases or subject in each.phases)
        ),
        (),
    )
    return (*_evidence(job, finding, quantity, side), *usual)


def _side(finding: Finding) -> str:
    """On which side of its band a reading lies; of a question, on which side its answer is told."""
    if finding.measured is None:
        return "high" if finding.rule in {"firing.smoke", "firing.flame"} else "low"
    return "low" if finding.measured < (finding.band.minimum or 0.0) else "high"


def _evidence(job: Job, finding: Finding, quantity: str, side: str) -> Iterator[str]:
    if quantity == "voltage_v" and side == "low":
        yield from _resistance(job, finding)
    if quantity == "began_s" and side == "high":
        yield from _late(job)
    if quantity == "outlet_c":
        yield from _ducting(job)
    if quantity == "pump_hz":
        yield from _dose(job, finding)
    if quantity == "smoke":
        yield from _breathing(job)


def excess_ohm(job: Job, phase: str, volts: float) -> tuple[float, float] | None:
    """Return how many volts a reading lies under what is computed, and the resistance that takes
    them off; None where nothing was computed, or it does not lie under it.

    The current is the one that was read in the same phase, or what the heater draws at that
    voltage.
    """
    day, sheet, heater = day_supply(job), heater_sheet(job), chosen_installed(job)
    if day is None or sheet is None or heater is None:
        return None
    most_w = max(heater.most_w, sheet.output.minimum_w)
    load = load_range(sheet, phase, most_w).least  # type: ignore[arg-type]
    computed = heater_voltage_v(day.rest_v, day.resistance_ohm, load)
    read = job.plan.firing.reading(phase).current_a
    amperes = read if read else current_a(load, max(volts, 1.0))
    if computed is None or computed <= volts or amperes <= 0:
        return None
    # at the current that flows now, what should reach the heater is less than at the computed one
    should_v = day.rest_v - amperes * day.resistance_ohm
    missing = should_v - volts
    return (missing, missing / amperes) if missing > 0 else None


def _resistance(job: Job, finding: Finding) -> Iterator[str]:
    """A sag as ohms too many, beside the largest pieces of the circuit as planned; or as a battery
    that is low with hardly a current too.
    """
    volts, circuit = finding.measured, supply(job)
    if volts is not None and volts < NOTHING_V:
        yield (
            "No voltage arrived: the power was cut in this phase. Let it cool down for an hour, "
            "and find what cut it before it is switched on again."
        )
        return
    fitted = fitted_circuit(job)
    if fitted is not None:
        yield _fitted_words(job, fitted)
        return
    found = excess_ohm(job, finding.subject, volts) if volts is not None else None
    if found is None or circuit is None:
        return
    missing, ohm = found
    largest = sorted(circuit.pieces, key=lambda piece: -piece.resistance_ohm)[:2]
    planned = ", ".join(
        f"{piece.name} {q(round(piece.resistance_ohm * 1000, 1), 'mohm')}" for piece in largest
    )
    yield (
        f"{q(round(missing, 2), 'v')} are lost that should not be: "
        f"{q(round(ohm * 1000), 'mohm')} too much somewhere between battery and plug. "
        f"Planned: {planned}."
    )


def _fitted_words(job: Job, fitted: tuple[float, float]) -> str:
    """What the readings at several currents say of battery and wiring, beside what was planned."""
    rest_v, ohm = fitted
    day = day_supply(job)
    if day is None:
        return ""
    text = (
        f"By the readings at several currents the battery stands at {q(round(rest_v, 2), 'v')} "
        f"({q(round(day.rest_v, 2), 'v')} planned) behind {q(round(ohm * 1000), 'mohm')} "
        f"({q(round(day.resistance_ohm * 1000), 'mohm')} planned): "
    )
    low = rest_v < day.rest_v - day.rest_spread_v
    resists = ohm > day.resistance_ohm * (1 + day.wiring_spread)
    if low and resists:
        return text + "the battery is low, and its inside or something up to the plug resists."
    if low:
        return text + "the battery is lower than planned, the wiring is not to blame."
    return text + "the battery is as planned, something between it and the plug resists."


def fitted_circuit(job: Job) -> tuple[float, float] | None:
    """Return voltage at rest and resistance, V and ohm, by least squares over the phases of which
    both voltage and current were read; None where the currents lie too close together.
    """
    points = [
        (reading.current_a, reading.voltage_v)
        for reading in job.plan.firing.readings
        if reading.current_a is not None
        and reading.voltage_v is not None
        and reading.voltage_v > NOTHING_V
        and reading.id not in UNSTEADY
    ]
    amperes = [current for current, _ in points]
    if len(points) < 2 or max(amperes) - min(amperes) < LEAST_SPREAD_A:
        return None
    slope, rest_v = linear_regression(amperes, [volts for _, volts in points])
    return (rest_v, -slope) if slope < 0 else None


def _late(job: Job) -> Iterator[str]:
    """How much air the line may still hold, and the voltage that the element has."""
    glow_read, glow_band = job.plan.firing.reading("glow").voltage_v, phase_expected(job, "glow")
    band = glow_band.values.get("voltage_v") if glow_band is not None else None
    if glow_read is not None and band is not None and glow_read < band.low:
        yield (
            f"At glow {q(glow_read, 'v')} were read, less than the {q(round(band.low, 2), 'v')} "
            "expected: the element does not get hot enough. That comes first."
        )
        return
    run = fuel_run(job)
    filled = prime(job, run) if run is not None else None
    if filled is not None:
        yield (
            f"The line holds {filled.volume_ml:.0f} ml: empty it takes {filled.least} to "
            f"{filled.most} {filled.counted} before fuel is at the heater."
        )
    glow, sheet = ladders(job).get("glow"), heater_sheet(job)
    if glow is not None and sheet is not None and not glow.collapses:
        over_v = glow.heater_v - sheet.electrical.cut_out_v
        yield (
            f"At glow {q(round(glow.heater_v, 2), 'v')} are computed at the plug, "
            f"{q(round(over_v, 2), 'v')} over the cut-out."
        )


def _ducting(job: Job) -> Iterator[str]:
    found = usable(job)
    if found is None or found.at is None:
        return
    yield (
        f"With the outlets as drawn {round(found.at.heater_c)} °C are computed at "
        f"{q(round(found.usable_w), 'w')}, {round(found.at.total_m3_h)} m³/h; the heater throttles "
        f"itself at {round(found.limit_c)} °C."
    )


def _dose(job: Job, finding: Finding) -> Iterator[str]:
    sheet, phase = heater_sheet(job), phase_expected(job, finding.subject)
    if sheet is None or phase is None or finding.measured is None or finding.measured <= 0:
        return
    litres = finding.measured * sheet.output.dose_ml * 3.6
    yield (
        f"{q(round(finding.measured, 2), 'hz')} of {sheet.output.dose_ml:g} ml are "
        f"{litres:.2f} l/h; at most output the sheet asks for "
        f"{sheet.output.fuel_l_h_maximum:.2f} l/h, "
        f"{q(round(strokes_hz(sheet, sheet.output.maximum_w), 2), 'hz')}."
    )


def _breathing(job: Job) -> Iterator[str]:
    """What the exhaust costs against its limit, and the height against what the burner corrects."""
    loss, band = pressure_losses(job).get("exhaust"), limit_band(job, "exhaust_back_pressure_pa")
    if loss is not None and band is not None and band.maximum is not None:
        yield (
            f"The exhaust costs {loss.total_pa:.0f} Pa of the {band.maximum:.0f} Pa allowed; its "
            f"largest piece is the {loss.worst.name}."
        )
    sheet = heater_sheet(job)
    height = job.plan.heat.altitude_m
    if sheet is not None and height > sheet.output.compensated_to_m:
        yield (
            f"It burns {q(height, 'm')} above the sea and corrects itself up to "
            f"{q(sheet.output.compensated_to_m, 'm')}: the mixture is rich."
        )
