"""What each look shows on a heater with a fault: read off its simulated run and its model."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

from gale_nook.core.firing.expected import phase_expected
from gale_nook.core.firing.heater import SimulatedHeater, Told
from gale_nook.core.firing.loads import current_a, glow_load, strokes_hz
from gale_nook.core.firing.model import heater_model
from gale_nook.core.firing.trace import run_of
from gale_nook.core.heater.limits import most_of
from gale_nook.core.job import Job
from gale_nook.core.power.batteries import BLOCK_V
from gale_nook.core.power.circuit import heater_voltage_v
from gale_nook.core.power.supply import battery_now
from gale_nook.core.quantities.sentences import q

SENSOR_NEAR_K = 2.0  # by which a sensor may differ from the room
POST_SAG_V = 0.25  # of a block of 12 V, that a battery may lose at its own posts while it glows
NEVER = "It never got that far."
USUAL_CO_PPM = 9.0
LATE_S = 1500.0


@dataclass(frozen=True, slots=True)
class Shown:
    """What a look shows, and whether that is not as it should be."""

    text: str
    off: bool


class Case:
    """A heater with a fault, run once."""

    def __init__(self, job: Job, fault_id: str) -> None:
        self.job = job
        self.model = heater_model(job, fault_id)
        self.heater = SimulatedHeater(self.model)
        self.told: Sequence[Told] = run_of(self.heater)

    @property
    def code(self) -> str:
        return self.heater.code

    def at(self, phase: str) -> list[Told]:
        """What was told in a phase, once it had settled."""
        found = [told for told in self.told if told.phase == phase]
        return found[len(found) // 3 :]

    @cached_property
    def blocks(self) -> float:
        battery = self.job.plan.power.battery
        return battery.nominal_v / BLOCK_V if battery is not None else 1.0

    def shown(self, look_id: str) -> Shown:
        """Return what a look shows."""
        return _LOOKS[look_id](self)


def _rest_voltage(case: Case) -> Shown:
    battery = battery_now(case.job)
    planned = battery.open_v if battery is not None else case.model.rest_v
    sag = case.job.plan.power.start_load_a * (battery.resistance_ohm if battery else 0.0)
    rest_v = case.model.rest_v + sag
    low = rest_v < planned - case.job.catalogue.firing.rest_v * case.blocks
    return Shown(f"{q(round(rest_v, 2), 'v')}; planned {q(round(planned, 2), 'v')}.", low)


def _post_voltage(case: Case) -> Shown:
    load = glow_load(case.model.sheet.electrical)
    whole = case.model.battery_ohm + case.model.harness_ohm
    plug_v = heater_voltage_v(case.model.rest_v, whole, load) or 0.0
    amperes = current_a(load, plug_v) if plug_v > 0 else 0.0
    posts_v = case.model.rest_v - amperes * case.model.battery_ohm
    sag_v = case.model.rest_v - posts_v
    return Shown(
        f"{q(round(posts_v, 2), 'v')} at {q(round(amperes, 1), 'a')}, "
        f"{q(round(sag_v, 2), 'v')} under its voltage at rest.",
        sag_v > POST_SAG_V * case.blocks,
    )


def _glow_voltage(case: Case) -> Shown:
    expected = phase_expected(case.job, "glow")
    band = expected.values.get("voltage_v") if expected is not None else None
    read = min((told.voltage_v for told in case.at("glow")), default=0.0)
    low = band is not None and read < band.low
    wanted = f"; {q(round(band.low, 2), 'v')} or more expected" if band is not None else ""
    return Shown(f"{q(round(read, 2), 'v')}{wanted}.", low)


def _ticks(case: Case) -> Shown:
    full = case.at("full")
    wanted = strokes_hz(case.model.sheet, case.model.most_w)
    if not full:
        return Shown(NEVER, off=True)
    read = full[len(full) // 2].pump_hz
    spread = case.job.catalogue.firing.pump_spread
    return Shown(
        f"{q(round(read, 1), 'hz')}; {q(round(wanted, 1), 'hz')} by the sheet.",
        abs(read - wanted) > spread * wanted,
    )


def _outlet(case: Case) -> Shown:
    expected, full = phase_expected(case.job, "full"), case.at("full")
    band = expected.values.get("outlet_c") if expected is not None else None
    if not full or band is None:
        return Shown(NEVER, off=True)
    read = full[len(full) // 2].outlet_c
    return Shown(
        f"{q(round(read), 'c')}; {q(round(band.low), 'c')} to {q(round(band.high), 'c')} expected.",
        not band.low <= read <= band.high - 1,
    )


def _smoke(case: Case) -> Shown:
    full = case.at("full") or case.at("regulation")
    if not full:
        return Shown(NEVER, off=True)
    worst = "thick" if any(t.smoke == "thick" for t in full) else full[-1].smoke
    words = {"none": "Nothing to see.", "some": "Some smoke.", "thick": "Thick black smoke."}
    return Shown(words[worst], worst != "none")


def _mouth(case: Case) -> Shown:
    fault = case.model.fault
    off = fault is not None and fault.air_share < 1
    return Shown("A rag sits in it." if off else "It is free and dry.", off)


def _mouth_late(case: Case) -> Shown:
    fault = case.model.fault
    if fault is not None and fault.late_air_share < 1:
        return Shown("Snow has drifted half over it.", off=True)
    return _mouth(case)


def _bubbles(case: Case) -> Shown:
    fault = case.model.fault
    off = fault is not None and fault.line_air_share > 0
    return Shown("Bubbles, one after another." if off else "Clear fuel, no bubble.", off)


def _arrow(case: Case) -> Shown:
    fault = case.model.fault
    off = fault is not None and fault.pump_share == 0
    return Shown("The arrow points to the tank." if off else "It points to the heater.", off)


def _fuel_flow(case: Case) -> Shown:
    most = case.model.sheet.output.fuel_l_h_maximum * 1000 / 60
    fault = case.model.fault
    share = 1.0
    if fault is not None:
        share = min(fault.pump_share, fault.fuel_most_share)
        share = 0.0 if fault.line_air_share > 0 else share
    return Shown(f"{share * most:.1f} ml; {most:.1f} ml by the sheet.", share < 0.9)


def _outlets(case: Case) -> Shown:
    fault = case.model.fault
    off = fault is not None and fault.shut
    return Shown("All that can be closed are closed." if off else "Open and free.", off)


def _sensor(case: Case) -> Shown:
    fault = case.model.fault
    share = fault.sensor_share if fault is not None else 0.0
    burning = case.at("full") or case.at("regulation") or case.at("ramp")
    jet_k = share * max((told.outlet_c - told.room_c for told in burning), default=0.0)
    apart = jet_k + case.model.bias_k
    return Shown(f"{q(round(apart, 1), 'k')} apart.", abs(apart) > SENSOR_NEAR_K)


def _after_run(case: Case) -> Shown:
    off = bool(case.told) and case.told[-1].voltage_v <= 0
    return Shown("Silent at once, and hot." if off else "The fan runs on, then stops.", off)


def _co(case: Case) -> Shown:
    burnt_s = sum(1.0 for told in case.told if told.phase in {"ramp", "full", "regulation"})
    late = [told.co_ppm for told in case.told if told.at_s <= LATE_S]
    ppm = late[-1] if late and burnt_s else 0.0
    return Shown(f"{q(round(ppm), 'ppm')}.", ppm > most_of(case.job, "co_ppm", USUAL_CO_PPM))


_LOOKS: dict[str, Callable[[Case], Shown]] = {
    "rest-voltage": _rest_voltage,
    "post-voltage": _post_voltage,
    "glow-voltage": _glow_voltage,
    "ticks": _ticks,
    "outlet": _outlet,
    "outlets": _outlets,
    "smoke": _smoke,
    "mouth": _mouth,
    "mouth-late": _mouth_late,
    "bubbles": _bubbles,
    "arrow": _arrow,
    "fuel-flow": _fuel_flow,
    "sensor": _sensor,
    "after-run": _after_run,
    "co": _co,
}
LOOK_IDS = tuple(_LOOKS)
