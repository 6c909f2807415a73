"""Checks of the nights: what the battery holds, the device that protects it, standby."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.power.batteries import BLOCK_V
from gale_nook.core.power.nights import nights
from gale_nook.core.power.supply import battery_now

MANY = 99.0


@rule("power.nights", "Nights from the battery", "nights")
def lasts(job: Job, this: Rule) -> Iterator[Finding]:
    """A night has to end before the battery does."""
    found, band = nights(job), limit_band(job, "nights_in_a_row")
    if found is None or band is None:
        return
    last = "for good" if math.isinf(found.nights) else f"for {found.nights:.1f} nights"
    comes_in = f", {found.comes_in_ah:.0f} Ah come in by day" if found.comes_in_ah else ""
    yield this.finding(
        job,
        measured=round(min(found.nights, MANY), 3),
        band=band,
        tolerance=0.5,
        sentence=f"The coldest night takes {found.heater_ah:.1f} Ah for the heater and "
        f"{found.others_ah:.1f} Ah for the rest{comes_in}; {found.usable_ah:.0f} Ah may be drawn: "
        f"it lasts {last}.",
    )


@rule("power.disconnect", "Voltage of the disconnect", "V")
def disconnect_sensible(job: Job, this: Rule) -> Iterator[Finding]:
    """Too low it protects nothing; too high it stops a battery that is fine."""
    power = job.plan.power
    if power.battery is None or power.disconnect is None:
        return
    chemistry = job.catalogue.power_equipment.chemistry(power.battery.chemistry)
    blocks = power.battery.nominal_v / BLOCK_V
    low, high = (volts * blocks for volts in chemistry.disconnect_v)
    yield this.finding(
        job,
        measured=power.disconnect.acts_v,
        band=Band(low, high, Whose.WORKSHOP, source=f"{chemistry.label}: {chemistry.source}"),
        tolerance=0.0,
        sentence=f"The disconnect acts at {power.disconnect.acts_v:g} V; for {chemistry.label} "
        f"{low:g} to {high:g} V make sense.",
    )


@rule("power.disconnect_stops", "What the disconnect stops", "yes-no", hazard="fire")
def lets_it_run_out(job: Job, this: Rule) -> Iterator[Finding]:
    """It has to stop the start, and never cut the after-run."""
    device = job.plan.power.disconnect
    if device is None:
        return
    yield this.yes_no(
        job,
        answer=device.stops == "start",
        wanted=True,
        source="workshop rule 51: the fan cools the chamber to the end",
        sentence="The disconnect stops the start of the heater and lets it run out."
        if device.stops == "start"
        else "The disconnect cuts everything, the after-run too: heat stays in the chamber.",
    )


@rule("power.protected", "Battery protected", "yes-no")
def has_a_disconnect(job: Job, this: Rule) -> Iterator[Finding]:
    """The heater's own cut-out lies too low to protect a battery."""
    power = job.plan.power
    if power.battery is None:
        return
    there = power.disconnect is not None
    yield this.yes_no(
        job,
        answer=there,
        wanted=True,
        left_to_taste=True,
        source="workshop rule 55: the heater's cut-out protects itself, not the battery",
        sentence="A device stops the heater before the battery is too low."
        if there
        else "Nothing stops the heater before the battery is too low but its own cut-out.",
    )


@rule("power.standby", "Standby over idle days", "%")
def standby_small(job: Job, this: Rule) -> Iterator[Finding]:
    """A heater that stands switched on empties a battery slowly."""
    found, battery, band = nights(job), battery_now(job), limit_band(job, "standby_percent")
    if found is None or battery is None or band is None:
        return
    percent = 100 * found.standby_ah / battery.capacity_ah
    yield this.finding(
        job,
        measured=round(percent, 3),
        band=band,
        tolerance=5.0,
        sentence=f"Standing switched on for {job.plan.power.idle_days:g} days it takes "
        f"{found.standby_ah:.0f} Ah, {percent:.0f} % of the battery.",
    )
