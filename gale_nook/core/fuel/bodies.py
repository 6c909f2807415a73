"""What the fuel takes room for: line, pump and filter, a tank of one's own and what fills it."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.fuel.filler import corridor
from gale_nook.core.fuel.line import AT_HEATER_MM, FuelRun, fuel_run
from gale_nook.core.fuel.tank_pose import tank_shape
from gale_nook.core.fuel.tank_rules import own_tank
from gale_nook.core.geometry.frames import Vec3, add, scale
from gale_nook.core.geometry.shapes import Shape, tube_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, body_of

AT_TANK_MM = 120.0  # so far the line is at its own tank


@fact
def fuel_bodies(job: Job) -> tuple[Body, ...]:
    """Return the bodies of the fuel's things."""
    return (*_tank(job), *_line(job))


def _tank(job: Job) -> Iterator[Body]:
    tank = own_tank(job)
    if tank is None:
        return
    where = "inside" if job.plan.fuel.source == "tank-inside" else "below"
    fill = job.catalogue.fuel_equipment.fill(tank.filled_with)
    yield body_of(job, "own-tank", tank_shape(tank), thing_id="fuel.tank", where=where)
    yield body_of(
        job,
        "filling",
        corridor(tank, fill),
        thing_id="fuel.filling",
        name=f"{fill.label} at the filler",
    )


def _line(job: Job) -> Iterator[Body]:
    run = fuel_run(job)
    if run is None:
        return
    for kind, from_mm, to_mm, outer_mm in _stretches(run):
        if to_mm > from_mm:
            shape = tube_shape(run.geometry.stretch(from_mm, to_mm), outer_mm)
            yield body_of(job, kind, shape, thing_id="fuel.line", owner="line")
    pump = job.catalogue.fuel_equipment.pump
    for part in run.line.parts:
        if part.kind == "pump":
            yield body_of(
                job,
                "pump",
                pump_shape(job, run, part.at_mm),
                thing_id=f"line.{part.id}",
                owner="line",
            )
        elif part.kind in {"filter", "valve", "check"}:
            at, along = run.geometry.point_at(part.at_mm), run.geometry.direction_at(part.at_mm)
            size = (
                (pump.filter_length_mm, pump.filter_diameter_mm)
                if part.kind == "filter"
                else (pump.valve_length_mm, pump.valve_diameter_mm)
            )
            shape, thing_id = _round_ended(at, along, *size), f"line.{part.id}"
            kind = "line-filter" if part.kind == "filter" else "line-valve"
            yield body_of(job, kind, shape, thing_id=thing_id, owner="line")


def _stretches(run: FuelRun) -> Iterator[tuple[str, float, float, float]]:
    """The line as it leaves the tank, on its way, and at the heater."""
    end = run.length_mm
    leaves, comes = min(AT_TANK_MM, end), max(end - AT_HEATER_MM, min(AT_TANK_MM, end))
    yield "line-at-tank", 0.0, leaves, run.suction.outer_mm
    cut = min(max(run.suction_mm, leaves), comes)
    yield "line", leaves, cut, run.suction.outer_mm
    yield "line", cut, comes, run.pressure.outer_mm
    yield "line-at-heater", comes, end, max(run.suction.outer_mm, run.pressure.outer_mm)


def pump_shape(job: Job, run: FuelRun, at_mm: float) -> Shape:
    """Return the pump as it hangs: from its inlet, along the line in plan, at its tilt."""
    works = job.catalogue.fuel_equipment.pump
    inlet, along = run.geometry.point_at(at_mm), run.geometry.direction_at(at_mm)
    level = math.hypot(along[0], along[1])
    flat = (along[0] / level, along[1] / level) if level > 1e-9 else (1.0, 0.0)
    tilt = math.radians(run.line.pump.tilt_deg)
    axis = (flat[0] * math.cos(tilt), flat[1] * math.cos(tilt), math.sin(tilt))
    middle = add(inlet, scale(axis, works.length_mm / 2))
    return _round_ended(middle, axis, works.length_mm, works.diameter_mm)


def _round_ended(middle: Vec3, axis: Vec3, length_mm: float, diameter_mm: float) -> Shape:
    half = scale(axis, max(length_mm - diameter_mm, 0.0) / 2)
    return tube_shape((add(middle, scale(half, -1.0)), add(middle, half)), diameter_mm)
