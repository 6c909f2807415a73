"""Candidate cures for the findings of the fuel; they are tried before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.command import Command, fresh_id
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.bend_room import room_for_bends_of
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.fuel.commands import PutLine
from gale_nook.core.fuel.items import AddLinePart
from gale_nook.core.fuel.line import FuelRun, fuel_run
from gale_nook.core.fuel.start import starting_line
from gale_nook.core.job import Job
from gale_nook.core.plan.fuel import LinePart
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.quantities.sentences import q

SPARE_MM = 20.0
LEAST_BEND_MM = 30.0  # as the usual lines are bent
VALVE_PLACES_MM = (80.0, 140.0, 220.0)


@remedy_for("fuel.pump")
def turn_pump(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Turn it round."""
    run = fuel_run(job)
    if run is not None and run.pump_mm is not None:
        yield Remedy(
            "Turn the pump round, its arrow to the heater.",
            set_value("fuel.line.pump.forwards", True),
        )


@remedy_for("fuel.noise")
@remedy_for("fuel.rubber")
def hang_in_rubber(_job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Rubber between pump and body."""
    yield Remedy("Hang the pump in a rubber mount.", set_value("fuel.line.pump.rubber", True))


@remedy_for("fuel.pump_tilt")
def tilt_pump(_job: Job, finding: Finding) -> Iterator[Remedy]:
    """To the nearer end of what is allowed, and a little into it."""
    low, high = finding.band.minimum, finding.band.maximum
    if low is not None and high is not None:
        for tilt in (min(low + 10, high), (low + high) / 2):
            yield Remedy(
                f"Hang it with its outlet {q(tilt, 'deg')} up.",
                set_value("fuel.line.pump.tilt_deg", tilt),
            )


@remedy_for("fuel.siphon")
def hold_back(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A shut-off valve first after the tank."""
    run = fuel_run(job)
    if run is None:
        return
    for at in VALVE_PLACES_MM:
        part = LinePart(id=fresh_id(run.line.parts, "valve"), kind="valve", at_mm=at)
        yield Remedy(
            f"Put a shut-off valve in, {q(at)} from the tank, wired to be open only while the "
            "heater runs.",
            AddLinePart(item=part),
        )


@remedy_for("fuel.siphon")
def lower_tank(job: Job, finding: Finding) -> Iterator[Remedy]:
    """The tank of its own lower by what is missing."""
    tank, by = job.plan.fuel.tank, math.ceil(-(finding.margin or 0.0) - 1e-9)
    if tank is not None and by > 0:
        yield Remedy(
            f"Set the tank {q(float(by))} lower.", set_value("fuel.tank.z_mm", tank.z_mm - by)
        )


@remedy_for("fuel.order")
def filter_first(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Move the filter halfway between tank and pump."""
    run = fuel_run(job)
    if run is None or run.pump_mm is None:
        return
    filters = run.line.of_kind("filter")
    at = round(run.pump_mm / 2)
    if filters:
        yield Remedy(
            f"Move the filter to {q(at)} from the tank, before the pump.",
            set_value(f"fuel.line.parts.{filters[0].id}.at_mm", at),
        )
        return
    part = LinePart(id="filter", kind="filter", at_mm=at)
    yield Remedy(
        f"Put a filter in, {q(at)} from the tank.",
        AddLinePart(item=part),
    )


def _steps(by: float) -> tuple[tuple[str, float, str], ...]:
    return (
        ("y", by, "to the right"),
        ("y", -by, "to the left"),
        ("x", by, "rearward"),
        ("x", -by, "forward"),
        ("z", by, "up"),
        ("z", -by, "down"),
    )


def _shifted(node: RouteNode, axis: str, by: float) -> Change:
    return Change(
        address=f"fuel.line.nodes.{node.id}.{axis}_mm",
        value=float(getattr(node, f"{axis}_mm")) + by,
    )


def _move_pump(run: FuelRun, to_mm: float) -> Command | None:
    pumps = run.line.of_kind("pump")
    if not pumps:
        return None
    changes = [Change(address=f"fuel.line.parts.{pumps[0].id}.at_mm", value=round(max(to_mm, 0.0)))]
    changes += [
        Change(address=f"fuel.line.parts.{part.id}.at_mm", value=round(max(to_mm, 0.0) / 2))
        for part in run.line.of_kind("filter")
        if part.at_mm >= to_mm
    ]
    return SetValues(changes=tuple(changes))


@remedy_for("fuel.suction")
@remedy_for("fuel.pressure")
@remedy_for("fuel.level_pump")
@remedy_for("fuel.heater_pump")
@remedy_for("fuel.suction_pressure")
@remedy_for("fuel.noise")
@remedy_for("fuel.pump_bed")
@remedy_for("fuel.delivery_pressure")
def move_pump(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Move the pump along the line; the filter stays before it."""
    run = fuel_run(job)
    if run is None or run.pump_mm is None:
        return
    places = [100.0 * step for step in range(1, int(run.length_mm // 100))]
    if finding.rule in {"fuel.suction", "fuel.pressure"} and finding.margin is not None:
        by = math.ceil(-finding.margin) + SPARE_MM
        places.insert(0, run.pump_mm - by if finding.rule == "fuel.suction" else run.pump_mm + by)
    for at in sorted(places, key=lambda place: abs(place - (run.pump_mm or 0.0))):
        command = _move_pump(run, at)
        if command is not None and 0 < at < run.length_mm:
            yield Remedy(f"Move the pump to {q(round(at))} from the tank.", command)


@remedy_for("fuel.suction_pressure")
def wider_suction(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A wider hard line on the suction side."""
    run = fuel_run(job)
    for kind in job.catalogue.fuel_equipment.lines:
        if run is not None and not kind.soft and kind.bore_mm > run.suction.bore_mm:
            yield Remedy(
                f"Take {kind.label} from the tank to the pump.",
                set_value("fuel.line.suction", kind.id),
            )


@remedy_for("fuel.wax")
def colder_grade(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A diesel for the season."""
    for grade in job.catalogue.fuel_equipment.grades:
        if grade.id != job.plan.fuel.grade:
            yield Remedy(f"Fill {grade.label} for the cold.", set_value("fuel.grade", grade.id))


@remedy_for("fuel.soft")
def hard_line(job: Job, finding: Finding) -> Iterator[Remedy]:
    """The narrowest hard line."""
    kinds = sorted(
        (k for k in job.catalogue.fuel_equipment.lines if not k.soft),
        key=lambda kind: abs(kind.bore_mm - 2.0),
    )
    for kind in kinds:
        yield Remedy(
            f"Take {kind.label} instead.", set_value(f"fuel.line.{finding.subject}", kind.id)
        )


@remedy_for("fuel.hump")
def take_down(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lower the high bend to a steady rise between what is before and after it;
    else leave it out.
    """
    run = fuel_run(job)
    if run is None:
        return
    index = (
        int(finding.subject.rsplit("-", 1)[-1])
        if finding.subject.rsplit("-", 1)[-1].isdigit()
        else 0
    )
    nodes = run.line.nodes
    if not 0 < index <= len(nodes):
        return
    node = nodes[index - 1]
    before = run.geometry.points[index - 1]
    after = run.geometry.points[index + 1]
    for share in (0.5, 0.0, 1.0):
        z = math.floor(before[2] + share * (after[2] - before[2]))
        yield Remedy(
            f"Lower bend {index} {q(node.z_mm - z)}.",
            set_value(f"fuel.line.nodes.{node.id}.z_mm", float(z)),
        )
    yield Remedy(
        f"Leave bend {index} out.", RemoveItem(collection="fuel.line.nodes", item_id=node.id)
    )


@remedy_for("fuel.exhaust")
@remedy_for("fuel.near")
def away(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Move the nearest bends away from it."""
    run = fuel_run(job)
    if run is None or not finding.marks or finding.margin is None or not run.line.nodes:
        return
    at, by = finding.marks[0].start, math.ceil(-finding.margin) + 2.0
    nodes = sorted(
        run.line.nodes, key=lambda node: math.dist(at, (node.x_mm, node.y_mm, node.z_mm))
    )
    steps = _steps(by)
    for count in (1, 2, len(nodes)):
        for axis, step, towards in steps:
            changes = tuple(
                Change(
                    address=f"fuel.line.nodes.{node.id}.{axis}_mm",
                    value=float(getattr(node, f"{axis}_mm")) + step,
                )
                for node in nodes[:count]
            )
            which = "the nearest bend" if count == 1 else f"the {count} nearest bends"
            yield Remedy(f"Move {which} {q(abs(step))} {towards}.", SetValues(changes=changes))


@remedy_for("fuel.hump")
@remedy_for("fuel.exhaust")
@remedy_for("fuel.near")
def lay_anew(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """The whole line anew."""
    yield Remedy("Lay the whole line anew, clear of everything.", PutLine(line=starting_line(job)))


@remedy_for("fuel.bend_room")
def room_for_bends(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Bends as tight as a line may be bent; one bend less; the line anew."""
    run = fuel_run(job)
    if run is None:
        return
    yield from room_for_bends_of(run.geometry, run.line.nodes, "fuel.line.nodes", LEAST_BEND_MM)
    yield Remedy("Lay the whole line anew.", PutLine(line=starting_line(job)))


@remedy_for("fuel.clips")
def more_clips(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Clips as far apart as they may be."""
    run = fuel_run(job)
    if run is None or finding.band.maximum is None:
        return
    count = math.ceil(run.length_mm / finding.band.maximum) - 1
    others = tuple(part for part in run.line.parts if part.kind != "clip")
    step = run.length_mm / (count + 1)
    clips = tuple(
        LinePart(id=f"clip-{number}", kind="clip", at_mm=round(step * number, 1))
        for number in range(1, count + 1)
    )
    line = run.line.model_copy(update={"parts": (*others, *clips)})
    yield Remedy(f"Put {count} clips, one every {q(round(step))}.", PutLine(line=line))


TANK_HAS = {
    "fuel.tank_vent": ("vent", "Give the tank a vent, led outside."),
    "fuel.tank_bracket": ("bracket", "Strap the tank to a bracket."),
    "fuel.tank_guard": ("guard", "Guard the tank: stones and sun outside, a tray inside."),
}


@remedy_for("fuel.tank_vent")
@remedy_for("fuel.tank_bracket")
@remedy_for("fuel.tank_guard")
def give_it_one(_job: Job, finding: Finding) -> Iterator[Remedy]:
    """What the tank lacks."""
    leaf, words = TANK_HAS[finding.rule]
    yield Remedy(words, set_value(f"fuel.tank.{leaf}", True))


@remedy_for("fuel.tank_room")
@remedy_for("fuel.tank_ground")
@remedy_for("fuel.tank_exhaust")
@remedy_for("fuel.filler")
def move_tank(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Move the tank by what is missing."""
    tank = job.plan.fuel.tank
    if tank is None or finding.margin is None:
        return
    by = float(math.ceil(-finding.margin) + 1)
    steps = (
        ("x", by, "rearward"),
        ("x", -by, "forward"),
        ("y", by, "to the right"),
        ("y", -by, "to the left"),
        ("z", by, "up"),
        ("z", -by, "down"),
    )
    for axis, step, towards in steps:
        value = float(getattr(tank, f"{axis}_mm")) + step
        yield Remedy(
            f"Move the tank {q(abs(step))} {towards}.", set_value(f"fuel.tank.{axis}_mm", value)
        )


@remedy_for("fuel.reserve")
def longer_reserve(job: Job, finding: Finding) -> Iterator[Remedy]:
    """End the pick-up higher."""
    if finding.band.minimum is not None and job.plan.fuel.source == "stand-pipe":
        tip = math.ceil(finding.band.minimum)
        yield Remedy(
            f"Cut the stand-pipe to end {q(tip)} above the bottom.",
            set_value("fuel.stand_pipe_mm", tip),
        )
