"""What the fuel brings to the work: parts and steps."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.fuel.adapters import adapters
from gale_nook.core.fuel.drop import tank_drop
from gale_nook.core.fuel.line import FuelRun, fuel_run
from gale_nook.core.fuel.priming import Prime, prime
from gale_nook.core.fuel.pump_hole_rules import pump_hole
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.fixing_holes import hole_line
from gale_nook.core.station import HoleLine, Step

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
        + 2 * (len(run.line.of_kind("valve")) + len(run.line.of_kind("check")))
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
    for adapter in adapters(job, run):
        results[adapter.part] = results.get(adapter.part, 0) + 1
    checks = len(run.line.of_kind("check"))
    results |= {"fuel-check": checks} if checks else {}
    results |= {"fuel-tank": 1, "tank-bracket": 1} if run.supply.own and tank is not None else {}
    own = tank if run.supply.own else None
    results |= {"spreader-plate": 4} if own is not None and own.bracket_on == "sheet" else {}
    results |= {"filler-tray": 1} if own is not None and own.lid != "none" else {}
    results |= {"tank-outlet": 1} if own is not None and own.outlet_made == "cut" else {}
    results |= {"stand-pipe": 1} if job.plan.fuel.source == "stand-pipe" else {}
    return results | (
        {"fuel-tee": 1}
        if job.plan.fuel.source in {"tee-feed", "tee-return", "tee-auxiliary"}
        else {}
    )


def fuel_holes(job: Job) -> tuple[HoleLine, ...]:
    """Return the hole that the pump's bracket hangs on."""
    hole = pump_hole(job)
    return (hole_line(hole),) if hole is not None else ()


def fuel_steps(job: Job) -> Iterator[Step]:
    """Getting at the fuel, laying the line, priming it."""
    run = fuel_run(job)
    if run is None or job.plan.fuel.source is None:
        return
    yield _getting_at_the_fuel(job, run)
    yield _laying_the_line(run)
    primed = prime(job, run)
    if primed is not None:
        yield Step("prime", "Prime the line", _priming(primed), ("fuel",))


PRIMED_BY = {
    "pump": "By the controller's pump mode",
    "bulb": "By the hand bulb up to the pump, then by the pump",
    "syringe": "By a syringe at the heater's end",
}


def _priming(primed: Prime) -> str:
    filled = (
        f"Fill the tank to {primed.fill_to_l:.0f} l first, so that the pick-up stands in fuel. "
        if primed.fill_to_l is not None
        else ""
    )
    upright = "Hold the pump upright meanwhile, as its sheet says. " if primed.upright else ""
    return (
        f"{filled}{PRIMED_BY[primed.by]}: {primed.least} to {primed.most} {primed.counted}, "
        f"{primed.least_minutes:.1f} to {primed.most_minutes:.1f} minutes, {primed.volume_ml:.0f} "
        f"ml. {upright}Until fuel without bubbles stands at the heater's port; then wipe every "
        "joint dry, the filter's two too, and look again after ten minutes."
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
        text = _lowering(job)
        text = f"{text} {opening} The line takes off {where}."
        return Step("tank-top", "Get at the tank's top", text, ("fuel", "stands"))
    if run.supply.own:
        taken = f"The line takes off {where}, {q(round(z))} above the load floor."
        text = f"{_standing(job)} Vent led outside. {_filling(job)} {taken}{_outlet(job)}"
        return Step("fit-tank", "Fit the tank", text, ("fuel", "stands"))
    text = f"Into the unpressurised line, {where}; a clamp on each of its three ends."
    return Step("set-tee", "Set the tee", text, ("fuel", "stands"))


def _lowering(job: Job) -> str:
    """How the vehicle's tank comes down, with what holds it."""
    fuel, found = job.plan.fuel, tank_drop(job)
    text = (
        "Drive the tank empty or pump it out. Support it, undo its straps, lower it as far "
        "as its hoses allow."
    )
    if found is None:
        return text
    ties = [h for h in fuel.drop.holds if h.kind in {"strap", "bolt"}]
    held = "; ".join(
        f"{h.name}, {q(round(h.x_mm))} behind the datum, {q(round(abs(h.y_mm)))} "
        f"{'right' if h.y_mm >= 0 else 'left'} of centre"
        for h in ties
    )
    early = [h.name for h in fuel.drop.holds if h.kind not in {"strap", "bolt"}]
    text = (
        f"{text} {found.weight_kg:.0f} kg with {fuel.drop.left_l:g} l in it. It has to come down "
        f"{q(round(found.lower_mm))}."
    )
    text += f" It hangs on: {held}." if held else ""
    return text + (f" Watch {', '.join(early)}." if early else "")


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
    return Step(
        "lay-line",
        "Lay the fuel line",
        f"{lengths} {pump} {cut}{flexes}",
        ("fuel", "edges"),
        points=tuple(run.geometry.points),
    )


def _standing(job: Job) -> str:
    """How the tank stands on its bracket."""
    tank = job.plan.fuel.tank
    if tank is None:
        return ""
    leans = [
        f"turned {q(tank.turn_deg, 'deg')}" if tank.turn_deg else "",
        f"its rear end {q(tank.tilt_along_deg, 'deg')} up" if tank.tilt_along_deg else "",
        f"its right side {q(tank.tilt_across_deg, 'deg')} up" if tank.tilt_across_deg else "",
    ]
    how = "".join(f", {words}" for words in leans if words)
    plates = (
        f" Plates of {q(tank.plate_mm)} lie behind the sheet that it is bolted to, edges rounded."
        if tank.bracket_on == "sheet" and tank.plate_mm
        else ""
    )
    return f"On its bracket, strapped{how}.{plates}"


def _outlet(job: Job) -> str:
    """How an outlet fitting gets into a tank that has no hand hole."""
    tank = job.plan.fuel.tank
    if tank is None or tank.outlet == "top":
        return ""
    return (
        " Its outlet goes in from inside: a cord through the hole and out at the filler, the "
        "fitting threaded on it with its seal, drawn back into the hole, tightened from outside; "
        "then fill it and look for a drop overnight."
    )


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
    under = "" if tank.lid == "none" else ", under its lid, a tray with a drain outside round it"
    return f"Filled {side}{under}, with {fill.label}: try it before the straps are tight."
