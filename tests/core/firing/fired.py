"""First firings that several tests share: run once on the simulated heater."""

from __future__ import annotations

from functools import cache

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.checking import check
from gale_nook.core.findings.finding import Finding
from gale_nook.core.firing.commands import TakeTrace
from gale_nook.core.firing.heater import SimulatedHeater, Told
from gale_nook.core.firing.model import heater_model
from gale_nook.core.firing.trace import rows_of, run_of, trace_of
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.demo.load import demo_plan

FAULTS = tuple(fault.id for fault in load_catalogue().firing.simulation.faults)
WHOLE = ("heron", "quarto", "coot", "plover", "dunlin")  # examples whose heater can run


@cache
def fired(name: str, fault: str = "", step_s: float = 1.0) -> tuple[SimulatedHeater, list[Told]]:
    """Return the heater of an example after a whole first firing, and what it told."""
    heater = SimulatedHeater(heater_model(Job(demo_plan(name), load_catalogue()), fault), 0, step_s)
    return heater, run_of(heater)


def with_readings(name: str, fault: str = "") -> Plan:
    """Return an example with the readings of its first firing."""
    heater, told = fired(name, fault)
    co_ppm = round(heater.co_ppm, 1) if heater.co_ppm > 0 else None
    command = TakeTrace(trace=trace_of(rows_of(told), "test"), code=heater.code, co_ppm=co_ppm)
    return apply(demo_plan(name), command, load_catalogue())


@cache
def findings(name: str, fault: str = "") -> tuple[Finding, ...]:
    """Return what the first fire station finds in them."""
    return check(with_readings(name, fault), load_catalogue(), ("firing",)).findings


def over(name: str, fault: str = "") -> set[tuple[str, str]]:
    """Return rule and subject of everything that is over."""
    return {(f.rule, f.subject) for f in findings(name, fault) if f.verdict == "over"}
