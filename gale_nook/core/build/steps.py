"""The order of work for the stations done so far, each step with its figures."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.build.parts import cuts, holes_to_cut
from gale_nook.core.fuel.hydraulics import prime
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.spot import Pilot
from gale_nook.core.quantities.said import q
from gale_nook.core.spot.placement import (
    PlacedHole,
    facing_wall,
    floor_holes,
    floor_stack_mm,
    heater_body,
)
from gale_nook.core.spot.ribs import rib_packing

BEDDED = "Gasket on, flange bedded in high-temperature sealant."
PILOT_MM = 3.0  # a pilot this near to a hole's rim would be half cut
FILLED_FROM = {"left": "the left", "right": "the right", "front": "ahead", "rear": "behind"}


@dataclass(frozen=True, slots=True)
class Step:
    """One step: what is done, with its dimensions, and the cautions (ids) that belong to it."""

    title: str
    text: str
    cautions: tuple[str, ...]


def steps(job: Job) -> tuple[Step, ...]:
    """Return the steps that the plan can already tell, in order of work."""
    spot, mount, sheet = job.plan.spot, chosen_mount(job), heater_sheet(job)
    if spot is None or mount is None or sheet is None:
        return ()
    datum, side = job.plan.vehicle.datum, "right" if spot.y_mm >= 0 else "left"
    found = [
        Step(
            "Mark the place",
            f"{q(spot.x_mm)} behind the {datum}, {q(abs(spot.y_mm))} {side} of the centre line: "
            "the centre of the "
            f"{mount.label}. Warm end {_towards(spot.yaw_deg)}.",
            ("battery", "survey", "restraint"),
        ),
        Step(
            "Pilot and look",
            (
                "Drill one 3 mm pilot at the centre of each hole, look from below, compare "
                "with the "
                "drawing."
            ),
            ("stands", "pilot", "structure"),
        ),
    ]
    astray = pilots_to_close(job)
    if astray:
        places = "; ".join(
            f"{q(p.x_mm)} behind the datum, {q(p.y_mm)} right of centre" for p in astray
        )
        found.append(
            Step(
                "Close the pilots that went astray",
                f"{places}: rivet or seal each, file and paint the edge.",
                ("edges",),
            )
        )
    found.append(Step("Cut the holes", _cutting(job), ("pilot", "edges")))
    extra = f" Rebate the floor {q(spot.rebate_mm)}." if spot.rebate_mm else ""
    extra += f" Pack the mount {q(spot.packing_mm)}." if spot.packing_mm else ""
    packing = rib_packing(job, spot)
    if packing is not None and packing.ribs:
        extra += (
            f" {packing.ribs} of the floor's ribs run under the flange: fill the valleys of "
            f"{q(packing.depth_mm)} between them."
        )
    found.append(
        Step(
            "Set the mount",
            f"Edges filed and painted. {mount.sealing or BEDDED}{extra}",
            ("edges",),
        )
    )
    on_it = f"{sheet.label}, {heater_body(job).mass_kg:g} kg, on its mount. {mount.service}".strip()
    found.append(Step("Set the heater", on_it, ("manual",)))
    for cut in cuts(job):
        found.append(
            Step(
                "Hang the exhaust",
                (
                    f"Cut {q(cut.length_mm)} of pipe ({cut.remark}). Clip it, clamp every joint, "
                    "silencer's drain down."
                ),
                ("fumes", "hot", "stands"),
            )
        )
    return (*found, *_fuel_steps(job))


def _fuel_steps(job: Job) -> Iterator[Step]:
    """Getting at the fuel, laying the line, priming it."""
    run, fuel = fuel_run(job), job.plan.fuel
    if run is None or fuel.source is None:
        return
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
    }.get(fuel.source)
    if opening is not None:
        text = (
            "Drive the tank empty or pump it out. Support it, undo its straps, lower it as far "
            "as its hoses allow."
        )
        yield Step(
            "Get at the tank's top",
            f"{text} {opening} The line takes off {where}.",
            ("fuel", "stands"),
        )
    elif run.supply.own:
        taken = f"The line takes off {where}, {q(round(z))} above the load floor."
        text = f"On its bracket, strapped; vent led outside. {_filling(job)} {taken}"
        yield Step("Fit the tank", text, ("fuel", "stands"))
    else:
        yield Step(
            "Set the tee",
            f"Into the unpressurised line, {where}; a clamp on each of its three ends.",
            ("fuel", "stands"),
        )
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
    yield Step("Lay the fuel line", f"{lengths} {pump} {cut}{flexes}", ("fuel", "edges"))
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


def _filling(job: Job) -> str:
    """How the tank is filled."""
    tank = job.plan.fuel.tank
    if tank is None:
        return ""
    fill = job.catalogue.fuel_works.fill(tank.filled_with)
    side = (
        "from above"
        if tank.filler == "top"
        else f"from {FILLED_FROM[tank.filler]}, {q(tank.filler_deg, 'deg')} above level"
    )
    return f"Filled {side}, with {fill.label}: try it before the straps are tight."


def _cutting(job: Job) -> str:
    """What is cut with what, where, and through how much."""
    mount = chosen_mount(job)
    saws = "; ".join(
        f"{h.name}: {h.saw}, at {q(h.x_mm)}, {q(h.y_mm)}"
        + (f", {q(h.z_mm)} above the load floor" if h.z_mm is not None else "")
        for h in holes_to_cut(job)
    )
    if mount is None or mount.through == "floor":
        return f"{saws}. The floor is {q(floor_stack_mm(job))} thick there, ribs included."
    if mount.through == "bulkhead":
        return (
            f"{saws}, through the engine bay's bulkhead: pilot from the bay, and look behind "
            "the dashboard first."
        )
    wall = f"the {facing_wall(job)} wall" if facing_wall(job) is not None else "the wall"
    return (
        f"{saws}, through {wall}: pilot from inside, square to it, then saw the outer "
        "skin from "
        "outside."
    )


def pilots_to_close(job: Job) -> list[Pilot]:
    """Return the pilots that no hole of the mount takes away."""
    return [
        pilot
        for pilot in job.plan.pilots
        if not any(_taken_away(pilot, hole) for hole in floor_holes(job))
    ]


def _taken_away(pilot: Pilot, hole: PlacedHole) -> bool:
    dx, dy = abs(pilot.x_mm - hole.x_mm), abs(pilot.y_mm - hole.y_mm)
    if hole.is_cut:
        return dx < hole.half_x_mm - PILOT_MM and dy < hole.half_y_mm - PILOT_MM
    return math.hypot(dx, dy) <= hole.radius_mm - PILOT_MM


def _towards(yaw_deg: int) -> str:
    return {0: "rearward", 90: "to the right", 180: "forward", 270: "to the left"}[yaw_deg]
