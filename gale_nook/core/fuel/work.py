"""What the fuel brings to the work: parts and steps."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.fuel.hydraulics import bore_change, prime
from gale_nook.core.fuel.line import FuelRun, fuel_run
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.station import Step

FUEL_SPARE = 1.1  # of line, for loops at pump and tank
FILLED_FROM = {"left": "the left", "right": "the right", "front": "ahead", "rear": "behind"}


def fuel_parts(job: Job) -> dict[str, float]:
    """Return what the fuel needs."""
    run, tank = fuel_run(job), job.plan.fuel.tank
    if run is None:
        return {}
    ends = (
        2
        + 2 * (run.pump_mm is not None)
        + 2 * (run.filter_mm is not None)
        + 2 * len(run.line.of_kind("valve"))
        + len(run.line.of_kind("joint"))
    )
    results: dict[str, float] = {
        "fuel-line": math.ceil(run.length_mm * FUEL_SPARE),
        "fuel-clamp": 2 * ends,
        "fuel-joiner": ends,
        "fuel-clip": len(run.line.of_kind("clip")),
        "split-loom": math.ceil(run.length_mm),
    }
    results |= {"fuel-pump": 1, "pump-rubber": 1} if run.pump_mm is not None else {}
    results |= {"fuel-filter": 1} if run.filter_mm is not None else {}
    valves = len(run.line.of_kind("valve"))
    results |= {"fuel-valve": valves} if valves else {}
    flexes = sum(part.hose_mm for part in run.line.of_kind("flex"))
    results |= {"fuel-flex": math.ceil(flexes)} if flexes else {}
    results |= {"fuel-adapter": 1} if bore_change(run) is not None else {}
    results |= {"fuel-tank": 1, "tank-bracket": 1} if run.supply.own and tank is not None else {}
    results |= {"stand-pipe": 1} if job.plan.fuel.source == "stand-pipe" else {}
    return results | ({"fuel-tee": 1} if job.plan.fuel.source in {"tee-feed", "tee-return"} else {})


def fuel_steps(job: Job) -> Iterator[Step]:
    """Getting at the fuel, laying the line, priming it."""
    run = fuel_run(job)
    if run is None or job.plan.fuel.source is None:
        return
    yield _getting_at_the_fuel(job, run)
    yield _laying_the_line(run)
    primed = prime(job, run)
    if primed is not None:
        text = (
            f"{primed.volume_ml:.1f} ml, {primed.strokes} strokes, about {primed.minutes:.1f} "
            "minutes"
        )
        yield Step(
            "Prime the line",
            f"{text}, until fuel without bubbles stands at the heater's port.",
            ("fuel",),
        )


def _getting_at_the_fuel(job: Job, run: FuelRun) -> Step:
    fuel = job.plan.fuel
    x, y, z = run.supply.start
    where = (
        f"{q(round(x))} behind the datum, {q(round(abs(y)))} {'right' if y >= 0 else 'left'} "
        "of the centre line"
    )
    opening = {
        "take-off": "Find the spare pipe on the sender unit and blow through it.",
        "stand-pipe": (
            "Drill its top, seal the stand-pipe in, and cut it to end "
            f"{q(fuel.stand_pipe_mm)} above the bottom."
        ),
    }.get(fuel.source or "")
    if opening is not None:
        text = (
            "Drive the tank empty or pump it out. Support it, undo its straps, lower it as far "
            "as its hoses allow."
        )
        text = f"{text} {opening} The line takes off {where}."
        return Step("Get at the tank's top", text, ("fuel", "stands"))
    if run.supply.own:
        taken = f"The line takes off {where}, {q(round(z))} above the load floor."
        text = f"On its bracket, strapped; vent led outside. {_filling(job)} {taken}"
        return Step("Fit the tank", text, ("fuel", "stands"))
    text = f"Into the unpressurised line, {where}; a clamp on each of its three ends."
    return Step("Set the tee", text, ("fuel", "stands"))


def _laying_the_line(run: FuelRun) -> Step:
    lengths = (
        f"{q(round(run.suction_mm))} of {run.suction.label} to the pump, "
        f"{q(round(run.pressure_mm))} of {run.pressure.label} on to the "
        f"heater, {len(run.line.of_kind('clip'))} clips."
    )
    pump = (
        "Filter before the pump; the pump in rubber, its outlet "
        f"{q(run.line.pump.tilt_deg, 'deg')} up, its arrow to the heater."
    )
    cut = "Cut square with a blade; pipe ends touch inside their joiners."
    flexes = "".join(
        f" A flexible stretch of {q(part.hose_mm)} from {q(part.at_mm)} to "
        f"{q(part.at_mm + part.length_mm)} from the tank,"
        " sleeved: move the slide-out all the way and watch it."
        for part in run.line.of_kind("flex")
    )
    return Step("Lay the fuel line", f"{lengths} {pump} {cut}{flexes}", ("fuel", "edges"))


def _filling(job: Job) -> str:
    """How the tank is filled."""
    tank = job.plan.fuel.tank
    if tank is None:
        return ""
    fill = job.catalogue.fuel_equipment.fill(tank.filled_with)
    side = (
        "from above"
        if tank.filler == "top"
        else f"from {FILLED_FROM[tank.filler]}, {q(tank.filler_deg, 'deg')} above level"
    )
    return f"Filled {side}, with {fill.label}: try it before the straps are tight."
