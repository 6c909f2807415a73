"""Checks of a tank of one's own, and of what is left in the vehicle's."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import ONE_PLACE, Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import worst_and_nearest
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.fuel.line import supply
from gale_nook.core.fuel.tank_pose import tank_shape
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import box_shape, separation
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.covers import cover_segments
from gale_nook.core.plan.fuel import OWN_TANKS, OwnTank
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.parts import surveyed_where


def own_tank(job: Job) -> OwnTank | None:
    fuel = job.plan.fuel
    return fuel.tank if fuel.source in OWN_TANKS else None


def _middle(tank: OwnTank) -> Vec3:
    return tank.middle_mm


def _has(
    job: Job, this: Rule, there: bool, words: tuple[str, str], source: str
) -> Iterator[Finding]:
    tank = own_tank(job)
    if tank is None:
        return
    at = _middle(tank)
    yield this.yes_no(
        job,
        subject="tank",
        subject_name="tank",
        answer=there,
        wanted=True,
        sentence=words[0 if there else 1],
        source=source,
        marks=() if there else (Mark(at, at),),
    )


@rule("fuel.tank_vent", "Tank's vent", YES_NO, hazard="fire")
def vented(job: Job, this: Rule) -> Iterator[Finding]:
    """Without air the tank is sucked flat and the heater starves."""
    tank = own_tank(job)
    words = (
        "The tank has a vent, led outside.",
        "The tank has no vent: it is sucked flat, and the heater starves.",
    )
    yield from _has(
        job,
        this,
        tank is not None and tank.vent,
        words,
        "workshop rule 26: a vent, led outside",
    )


@rule("fuel.tank_bracket", "Tank's bracket", YES_NO)
def bracketed(job: Job, this: Rule) -> Iterator[Finding]:
    """Full it weighs as much as a child, and moves like one."""
    tank = own_tank(job)
    words = ("The tank is strapped to a bracket.", "The tank is not strapped to a bracket.")
    yield from _has(
        job,
        this,
        tank is not None and tank.bracket,
        words,
        "workshop rule 26: strapped to a bracket",
    )


@rule("fuel.tank_guard", "Tank's guard", YES_NO)
def guarded(job: Job, this: Rule) -> Iterator[Finding]:
    """Outside, stones and sun get at it; inside, a tray keeps what is spilt."""
    tank, inside = own_tank(job), job.plan.fuel.source == "tank-inside"
    words = (
        ("A tray lies under the tank.", "No tray lies under the tank.")
        if inside
        else (
            "The tank is guarded against stones and sun.",
            "Nothing guards the tank against stones and sun.",
        )
    )
    yield from _has(
        job,
        this,
        tank is not None and tank.guard,
        words,
        "workshop rule 26: guard outside, tray inside",
    )


@rule("fuel.tank_room", "Room for the tank", "mm")
def tank_clear(job: Job, this: Rule) -> Iterator[Finding]:
    """The tank and what is surveyed cannot be in one place; inside a wall, not through it."""
    tank = own_tank(job)
    if tank is None:
        return
    shape = tank_shape(tank)
    where = "inside" if job.plan.fuel.source == "tank-inside" else "below"
    band, result = Band(0.0, None, Whose.GEOMETRY, source=ONE_PLACE), []
    for solid, _, other in surveyed_where(job, where):
        near = separation(shape, other)
        words = f"{q(near.distance_mm)} between the tank and {solid.name}."
        if near.distance_mm < 0:
            words = f"The tank reaches {q(-near.distance_mm)} into {solid.name}."
        result.append(
            this.finding(
                job,
                subject=solid.id,
                subject_name=solid.name,
                measured=near.distance_mm,
                band=band,
                sentence=words,
                title=f"Tank to {solid.name}",
                marks=(Mark(near.start, near.end),),
            )
        )
    yield from worst_and_nearest(result, 1)


@rule("fuel.tank_exhaust", "Tank to the exhaust", "mm", hazard="fire")
def tank_from_exhaust(job: Job, this: Rule) -> Iterator[Finding]:
    """The tank and a hot pipe are kept apart, more so where it is bare."""
    tank, kind = own_tank(job), job.catalogue.solid_kinds["fuel-tank"]
    if tank is None:
        return
    shape, result = tank_shape(tank), []
    for number, stretch in enumerate(cover_segments(job), 1):
        near = separation(shape, stretch.shape)
        least = (
            kind.covered_mm
            if stretch.is_covered and kind.covered_mm is not None
            else kind.exhaust_mm
        )
        result.append(
            this.finding(
                job,
                subject=f"stretch-{number}",
                subject_name="the exhaust",
                measured=near.distance_mm,
                marks=(Mark(near.start, near.end),),
                band=Band(
                    least, None, Whose.WORKSHOP, "exhaust_mm", f"{kind.label}: {kind.source}"
                ),
                sentence=f"{q(near.distance_mm)} between the tank and the exhaust.",
            )
        )
    yield from worst_and_nearest(result, 1)


@rule("fuel.tank_ground", "Tank above the ground", "mm")
def tank_ground(job: Job, this: Rule) -> Iterator[Finding]:
    """What hangs low is torn off."""
    if job.plan.vehicle.afloat:
        return  # there is no ground
    tank, band = own_tank(job), limit_band(job, "tank_ground_mm")
    if tank is None or band is None or job.plan.fuel.source != "tank-outside":
        return
    ground = job.plan.vehicle.shell.ground_z_mm
    (x, y, _), low = _middle(tank), tank_shape(tank).low_z_mm
    yield this.finding(
        job,
        subject="tank",
        subject_name="the ground",
        measured=low - ground,
        band=band,
        sentence=f"The tank hangs {q(low - ground)} above the ground.",
        marks=(Mark((x, y, low), (x, y, ground)),),
    )


@rule("fuel.reserve", "Reserve to drive on", "mm")
def reserve(job: Job, this: Rule) -> Iterator[Finding]:
    """The heater can never strand the vehicle: the pick-up ends above the reserve."""
    fuel, taken = job.plan.fuel, supply(job)
    if taken is None or taken.own or taken.vessel is None or taken.tip is None:
        return
    needed = taken.vessel.level_mm(fuel.reserve_l) - taken.vessel.bottom_mm
    tip = taken.tip[2] - taken.vessel.bottom_mm
    yield this.finding(
        job,
        subject="tip",
        subject_name="the reserve",
        measured=tip,
        tolerance=0.0,
        marks=(Mark(taken.start, taken.tip),),
        band=Band(
            needed, None, Whose.GEOMETRY, source=f"{fuel.reserve_l:g} l are kept for driving on"
        ),
        sentence=(
            f"The pick-up ends {q(tip)} above the tank's bottom; {fuel.reserve_l:g} l stand "
            f"{q(needed)} high."
        ),
    )


@rule("fuel.drawbar", "Tank clear of what tows it", "mm")
def drawbar_room(job: Job, this: Rule) -> Iterator[Finding]:
    """In a tight turn the corners of what tows it swing round the coupling, at the body's nose on
    its centre line.
    """
    tank, band = own_tank(job), limit_band(job, "drawbar_room_mm")
    vehicle = job.plan.vehicle
    if tank is None or band is None or vehicle.moves != "towed":
        return
    low = tank_shape(tank)
    if low.bounds[0] >= vehicle.shell.bulkhead_x_mm:
        return
    coupling = (vehicle.shell.front_x_mm, 0.0, low.low_z_mm)
    post = box_shape(
        (coupling[0] - 0.5, -0.5, low.low_z_mm), (1.0, 1.0, low.high_z_mm - low.low_z_mm)
    )
    near = separation(low, post)
    yield this.finding(
        job,
        subject="tank",
        subject_name="the coupling",
        measured=near.distance_mm,
        band=band,
        sentence=f"The tank on the drawbar is {q(round(near.distance_mm))} from the coupling.",
        marks=(Mark(near.start, near.end),),
    )
