"""Filling a tank of one's own: the corridor that a nozzle or a can needs, how far in one has to
reach, and from which flank.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.catalogue.fuel import FillingDevice
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.fuel.tank_pose import as_it_stands, tank_rotation
from gale_nook.core.fuel.tank_rules import own_tank
from gale_nook.core.geometry.frames import Vec3, add, scale
from gale_nook.core.geometry.shapes import Shape, box_shape, separation, tube_shape
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.fuel import OwnTank
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.core.vehicle.parts import surveyed_parts, surveyed_where

SIDEWAYS = 0.5  # a filler that points so far to a side is filled from there
NECK_SHARE = 0.75  # of the tank's height, at which a filler in its side sits
BODY_MM, WALL_MM = 2500.0, 50.0
LEVEL: dict[str, tuple[float, float]] = {
    "left": (0.0, -1.0),
    "right": (0.0, 1.0),
    "front": (-1.0, 0.0),
    "rear": (1.0, 0.0),
}
NOT_IN_THE_WAY = {"fuel-filler", "awning"}


def neck_of(tank: OwnTank) -> tuple[Vec3, Vec3]:
    """Return where a tank is filled, and the unit vector from there to who fills it."""
    at, direction = _straight_neck(tank)
    rotation = tank_rotation(tank)
    x, y, z = (float(rotation[n] @ direction) for n in range(3))
    return as_it_stands(tank, at), (x, y, z)


def _straight_neck(tank: OwnTank) -> tuple[Vec3, Vec3]:
    """The same of the tank as if it stood straight."""
    length, width, height = tank.size_mm
    x, y = tank.x_mm + length / 2, tank.y_mm + width / 2
    if tank.filler == "top":
        return (x, y, tank.z_mm + height), (0.0, 0.0, 1.0)
    along, across = LEVEL[tank.filler]
    steep = math.radians(tank.filler_deg)
    at = (x + along * length / 2, y + across * width / 2, tank.z_mm + NECK_SHARE * height)
    return at, (along * math.cos(steep), across * math.cos(steep), math.sin(steep))


def corridor(tank: OwnTank, fill: FillingDevice) -> Shape:
    """Return what a nozzle or can takes up when it is at the filler."""
    at, direction = neck_of(tank)
    half = fill.diameter_mm / 2
    return tube_shape(
        [add(at, scale(direction, half)), add(at, scale(direction, fill.length_mm - half))],
        fill.diameter_mm,
    )


def in_the_way(job: Job) -> Iterator[tuple[str, Shape]]:
    """Yield what a nozzle or can could meet: surveyed parts, and the body from outside or the
    room's walls from inside.
    """
    shell, inside = job.plan.vehicle.shell, job.plan.fuel.source == "tank-inside"
    front = job.plan.vehicle.body_front_x_mm
    length = shell.rear_x_mm - front
    if not inside:
        for where in ("below", "outside"):
            yield from (
                (s.name, shape)
                for s, kind, shape in surveyed_where(job, where)
                if kind.id not in NOT_IN_THE_WAY
            )
        low = (front, -shell.outer_width_mm / 2, floor_underside_z_mm(job))
        yield "the body", box_shape(low, (length, shell.outer_width_mm, BODY_MM))
        return
    yield from ((s.name, shape) for s, _, shape in surveyed_where(job, "inside"))
    half, room = shell.floor_width_mm / 2, shell.rear_x_mm - shell.bulkhead_x_mm
    for name, y in (("the left wall", -half - WALL_MM), ("the right wall", half)):
        yield name, box_shape((shell.bulkhead_x_mm, y, 0.0), (room, WALL_MM, BODY_MM))
    for name, x in (
        ("the cab", shell.bulkhead_x_mm - WALL_MM),
        ("the rear doors", shell.rear_x_mm),
    ):
        yield name, box_shape((x, -half, 0.0), (WALL_MM, 2 * half, BODY_MM))
    yield (
        "the roof",
        box_shape((shell.bulkhead_x_mm, -half, shell.inside_height_mm), (room, 2 * half, WALL_MM)),
    )


def flank(y_mm: float) -> str:
    """Return which side of the vehicle a place is on."""
    return "right" if y_mm >= 0 else "left"


def fills_from(tank: OwnTank) -> str:
    """Return the flank that a tank is filled from."""
    direction = neck_of(tank)[1]
    if abs(direction[1]) > SIDEWAYS:
        return flank(direction[1])
    return flank(tank.middle_mm[1])


@rule("fuel.filler", "Room to fill the tank", "mm")
def filler_room(job: Job, this: Rule) -> Iterator[Finding]:
    """The nozzle or the can comes to it at its angle, with a hand round it."""
    tank, band = own_tank(job), limit_band(job, "filler_room_mm")
    if tank is None or band is None:
        return
    fill = job.catalogue.fuel_equipment.fill(tank.filled_with)
    shape = corridor(tank, fill)
    near = [(separation(shape, other), name) for name, other in in_the_way(job)]
    gap, met = min(near, key=lambda pair: pair[0].distance_mm)
    words = f"{q(gap.distance_mm)} free round {fill.label} at the filler, to {met}."
    if gap.distance_mm < 0:
        words = f"At the filler {fill.label} runs {q(-gap.distance_mm)} into {met}."
    at, _ = neck_of(tank)
    marks = (Mark(gap.start, gap.end),) if gap.distance_mm >= 0 else (Mark(at, gap.start),)
    yield this.finding(
        job,
        subject="filler",
        subject_name=met,
        measured=gap.distance_mm,
        band=band,
        sentence=words,
        marks=marks,
    )


@rule("fuel.filler_fall", "Filler's angle", "deg")
def filler_falls(job: Job, this: Rule) -> Iterator[Finding]:
    """What is poured runs in and not back over the hand; a can has to be tipped."""
    tank = own_tank(job)
    if tank is None:
        return
    fill = job.catalogue.fuel_equipment.fill(tank.filled_with)
    at, direction = neck_of(tank)
    angle = math.degrees(math.asin(max(-1.0, min(1.0, direction[2]))))
    yield this.finding(
        job,
        subject="filler",
        subject_name=fill.label,
        measured=angle,
        marks=(Mark(at, add(at, scale(direction, 150.0))),),
        band=Band(
            fill.least_deg, None, Whose.WORKSHOP, "least_deg", f"{fill.label}: {fill.source}"
        ),
        tolerance=0.0,
        sentence=f"The filler points {q(angle, 'deg')} above level, for {fill.label}.",
    )


@rule("fuel.filler_reach", "Filler within reach", "mm")
def filler_reached(job: Job, this: Rule) -> Iterator[Finding]:
    """One fills it standing beside the vehicle, not lying under it."""
    tank, band = own_tank(job), limit_band(job, "filler_reach_mm")
    if tank is None or band is None or job.plan.fuel.source != "tank-outside":
        return
    (x, y, z), _ = neck_of(tank)
    shell = job.plan.vehicle.shell
    half = shell.outer_width_mm / 2
    sides: dict[str, tuple[float, Vec3]] = {
        "left": (half + y, (x, -half, z)),
        "right": (half - y, (x, half, z)),
        "rear": (shell.rear_x_mm - x, (shell.rear_x_mm, y, z)),
        "front": (x - shell.front_x_mm, (shell.front_x_mm, y, z)),
    }
    inside, edge = min(sides.values()) if tank.filler == "top" else sides[tank.filler]
    # beside a drawbar one stands right at it
    inside = 0.0 if x < job.plan.vehicle.body_front_x_mm else max(inside, 0.0)
    yield this.finding(
        job,
        subject="filler",
        subject_name="the vehicle's edge",
        measured=inside,
        band=band,
        marks=(Mark((x, y, z), edge),),
        sentence=f"The filler lies {q(inside)} in from the vehicle's edge.",
    )


@rule("fuel.filler_flank", "Filler on the vehicle's own flank", YES_NO)
def same_flank(job: Job, this: Rule) -> Iterator[Finding]:
    """At the pump the vehicle stands once; a filler on the other flank is a nuisance, no more."""
    tank, found = own_tank(job), _their_flank(job)
    if tank is None or found is None:
        return
    (name, what, theirs), ours = found, fills_from(tank)
    same = ours == theirs
    at, _ = neck_of(tank)
    yield this.yes_no(
        job,
        subject="filler",
        subject_name=name,
        answer=same,
        wanted=True,
        left_to_taste=True,
        source="workshop rule 26: on the vehicle's own flank where that helps",
        sentence=f"It is filled from the {ours}, as {what} is."
        if same
        else (f"It is filled from the {ours}, {what} from the {theirs}: turn round at the pump."),
        marks=() if same else (Mark(at, at),),
    )


def _their_flank(job: Job) -> tuple[str, str, str] | None:
    """What else is filled at the pump: the name of its filler, what it is, and its flank."""
    vehicle = job.plan.vehicle
    if vehicle.moves == "towed":
        if vehicle.tow_filler is None:
            return None
        return "the filler of what tows it", "what tows it", vehicle.tow_filler
    for solid, kind, shape in surveyed_parts(job):
        if kind.id == "fuel-filler":
            return solid.name, "the vehicle", flank((shape.bounds[1] + shape.bounds[4]) / 2)
    return None
