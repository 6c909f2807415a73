"""What the heater draws in each phase: the least and the most of it, as loads of the circuit."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.base.heater_sheet import Electrical, HeaterSheet
from gale_nook.core.base.phases import PhaseWord
from gale_nook.core.power.circuit import Load
from gale_nook.core.power.supply import as_load

NO_LOAD = Load()


@dataclass(frozen=True, slots=True)
class LoadRange:
    """The least and the most that is drawn in a phase."""

    least: Load
    most: Load


def running_a(sheet: HeaterSheet, output_w: float) -> float:
    """Return the running current at an output: in a straight line from least to most."""
    output, electrical = sheet.output, sheet.electrical
    span = output.maximum_w - output.minimum_w
    share = min(max((output_w - output.minimum_w) / span, 0.0), 1.0)
    return electrical.run_minimum_a + share * (electrical.run_maximum_a - electrical.run_minimum_a)


def fuel_l_h(sheet: HeaterSheet, output_w: float) -> float:
    """Return what is burnt at an output: in a straight line from least to most."""
    output = sheet.output
    span = output.maximum_w - output.minimum_w
    share = min(max((output_w - output.minimum_w) / span, 0.0), 1.0)
    return output.fuel_l_h_minimum + share * (output.fuel_l_h_maximum - output.fuel_l_h_minimum)


def strokes_hz(sheet: HeaterSheet, output_w: float) -> float:
    """Return the pump's strokes a second at an output.

    >>> from gale_nook.catalogue.load import load_catalogue
    >>> round(strokes_hz(load_catalogue().heater("bothy-40"), 4000.0), 2)
    4.04
    """
    return fuel_l_h(sheet, output_w) * 1000 / 3600 / sheet.output.dose_ml


def glow_load(electrical: Electrical) -> Load:
    """Return what the element draws."""
    return as_load(electrical.glow_load, electrical.glow_current_a, electrical.voltage_v)


def run_load(sheet: HeaterSheet, output_w: float) -> Load:
    """Return what fan, pump and electronics draw at an output."""
    electrical = sheet.electrical
    return as_load(electrical.run_load, running_a(sheet, output_w), electrical.voltage_v)


def both(one: Load, other: Load) -> Load:
    """Return two loads side by side."""
    return Load(
        one.conductance_s + other.conductance_s,
        one.current_a + other.current_a,
        one.power_w + other.power_w,
    )


def scaled(load: Load, by: float) -> Load:
    """Return a load that draws so many times as much."""
    return Load(load.conductance_s * by, load.current_a * by, load.power_w * by)


def current_a(load: Load, volts: float) -> float:
    """Return what a load draws at a voltage."""
    held = load.power_w / volts if load.power_w else 0.0
    return load.conductance_s * volts + load.current_a + held


def load_range(sheet: HeaterSheet, phase: PhaseWord, most_w: float) -> LoadRange:
    """Return what is drawn in a phase.

    The element glows alone, or with the fan already; it goes off some time in the ramp.

    Args:
        most_w: the most output that the heater can give as it is fitted.
    """
    electrical, least_w = sheet.electrical, sheet.output.minimum_w
    glow, idle, full = (
        glow_load(electrical),
        run_load(sheet, least_w),
        run_load(sheet, most_w),
    )
    if phase in {"glow", "flame"}:
        return LoadRange(glow, both(glow, idle))
    if phase == "ramp":
        return LoadRange(idle, both(glow, full))
    if phase == "full":
        return LoadRange(full, full)
    if phase == "regulation":
        return LoadRange(idle, full)
    if phase == "stop" and electrical.second_glow_s > 0:
        return LoadRange(glow, both(glow, idle))
    return LoadRange(idle, idle)
