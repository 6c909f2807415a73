"""Checks of the spot: clear air around the body, the way out, and room for the pipes below."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule
from gale_nook.core.geometry.frames import Vec3, turn_xy
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.convex_pieces import MovingBox
from gale_nook.core.spot.free_reach import FAR_MM, FreeReach, free_above, free_along, free_below
from gale_nook.core.spot.moving import MovingPart, moving_body
from gale_nook.core.spot.obstacles import obstacles, obstacles_at_ports, obstacles_to_lift
from gale_nook.core.spot.placement import (
    PortName,
    body_corners,
    free_shelf,
    heater_port,
    heater_underside_z_mm,
    port_point,
    under_shelf_z_mm,
)
from gale_nook.core.spot.places import Measure, Places, known, spot_rule

PORTS: tuple[tuple[PortName, str], ...] = (
    ("exhaust", "exhaust port"),
    ("intake", "combustion-air port"),
    ("fuel", "fuel port"),
)


@spot_rule("spot.inlet", "Clear air at the inlet end")
def inlet_air(at: Places, this: Rule) -> Iterator[Measure]:
    """A wall close to the inlet end starves the heater."""
    yield from _along(at, this, inlet_band(at.job), (-1, 0), "inlet")


@spot_rule("spot.outlet", "Clear air at the warm end", hazard="fire")
def outlet_air(at: Places, this: Rule) -> Iterator[Measure]:
    """The warm end must not blow at a wall, a bed or a panel; led into a duct or through a panel it
    needs the room of that.
    """
    yield from _along(at, this, outlet_band(at.job), (1, 0), "outlet")


@spot_rule("spot.sides", "Gap beside the body")
def side_gaps(at: Places, this: Rule) -> Iterator[Measure]:
    """Room beside the body to cool it and to reach it."""
    band = limit_band(at.job, "side_gap_mm")
    yield from _along(at, this, band, (0, -1), "left flank")
    yield from _along(at, this, band, (0, 1), "right flank")


@spot_rule("spot.top", "Gap above the body")
def top_gap(at: Places, this: Rule) -> Iterator[Measure]:
    """Room above the body to cool it and to open it."""
    mount, band = chosen_mount(at.job), limit_band(at.job, "top_gap_mm")
    body = moving_body(at)
    if mount is None or mount.place == "below" or band is None or body is None:
        return
    yield _measure(at, this, "top", band, _above(at, body), (0, 0, 1))


def outlet_band(job: Job) -> Band | None:
    """Return the clear air that the warm end needs: the sheet's where it blows free; the room of
    its first duct and of that's tightest bend; the depth of a plenum to a panel. A heater that
    does not stand inside has the sheet's for its mount.
    """
    air, sheet, mount = job.plan.air, heater_sheet(job), chosen_mount(job)
    below = mount is not None and mount.place != "inside"
    if air.warm_end == "free" or below or sheet is None or sheet.fan is None:
        return limit_band(job, "outlet_gap_mm")
    if air.warm_end == "panel":
        source = "depth of a plenum: half the bore"
        return Band(sheet.fan.duct_mm / 2, None, Whose.GEOMETRY, "plenum", source)
    first = next((duct for duct in air.ducts if duct.comes_from is None), None)
    return _duct_room(job, first.kind if first is not None else None, sheet.fan.duct_mm)


def inlet_band(job: Job) -> Band | None:
    """Return the clear air that the cold end needs: the sheet's where it breathes freely; behind an
    opening a quarter of its bore, through which as much air comes from all round as through the
    bore; the room of a return duct.
    """
    air, sheet, mount = job.plan.air, heater_sheet(job), chosen_mount(job)
    below = mount is not None and mount.place != "inside"
    if air.cold_end == "free" or below or sheet is None or sheet.fan is None:
        return limit_band(job, "inlet_gap_mm")
    bore = sheet.fan.inlet_mm if sheet.fan.inlet_mm is not None else sheet.fan.duct_mm
    if air.cold_end == "opening":
        source = "a quarter of the inlet's bore: as wide all round as the bore"
        return Band(bore / 4, None, Whose.GEOMETRY, "inlet", source)
    duct = air.return_duct
    return _duct_room(job, duct.kind if duct is not None else None, bore)


def _duct_room(job: Job, kind_id: str | None, bore_mm: float) -> Band:
    """The room of a duct that bends away as tightly as it may; of one of the end's bore where none
    is laid yet.
    """
    works = job.catalogue.air_equipment
    kinds = [works.duct(kind_id)] if kind_id is not None else list(works.ducts)
    kind = min(kinds, key=lambda each: (abs(each.bore_mm - bore_mm), each.least_radius_mm))
    room = kind.least_radius_mm + kind.outer_mm / 2
    return Band(room, None, Whose.GEOMETRY, "first_duct", f"room of {kind.label} and its bend")


def _along(
    at: Places, this: Rule, band: Band | None, own_direction: tuple[int, int], face: str
) -> Iterator[Measure]:
    """Free distance from a face of the body, in a direction of the heater's own frame."""
    body = moving_body(at)
    spot = at.job.plan.spot
    if band is None or body is None or spot is None:
        return
    dx, dy = turn_xy(own_direction[0], own_direction[1], spot.yaw_deg)
    direction = (round(dx), round(dy))
    reach = free_along(at, body, direction, obstacles(at.job), band.minimum or 0.0)
    yield _measure(at, this, face, band, reach, (*direction, 0))


def _above(at: Places, body: MovingPart) -> FreeReach:
    result: FreeReach = at.once("above the body", lambda: free_above(at, body, obstacles(at.job)))
    return result


def _measure(
    at: Places, this: Rule, face: str, band: Band, reach: FreeReach, direction: tuple[int, int, int]
) -> Measure:
    return Measure(
        face,
        band,
        known(reach.distance_mm),
        partial(_air_finding, at.job, this, (face, band, reach, direction)),
        at.everywhere,
    )


def _air_finding(
    job: Job,
    this: Rule,
    looked: tuple[str, Band, FreeReach, tuple[int, int, int]],
    free_mm: float | None,
) -> Finding:
    (face, band, reach, direction), free = looked, free_mm or 0.0
    name = reach.met.name if reach.met is not None else f"nothing within {q(FAR_MM)}"
    return this.finding(
        job,
        subject=face,
        subject_name=name,
        measured=free_mm,
        band=band,
        sentence=f"{q(free)} of clear air to {name}.",
        marks=(mark_from_body(job, direction, free),),
    )


def mark_from_body(job: Job, direction: tuple[int, int, int], free_mm: float) -> Mark:
    """Return the dimension line from the middle of a face of the body. Needs a placed heater."""
    corners = body_corners(job)
    if corners is None:
        raise ValueError("the heater has no place yet")
    low, high = (np.array(corner) for corner in corners)
    along = np.array(direction, dtype=float)
    start = (low + high) / 2 + along * (high - low) / 2
    end = start + along * free_mm
    return Mark(_vec(start), _vec(end))


def _vec(point: np.ndarray) -> Vec3:
    return (float(point[0]), float(point[1]), float(point[2]))


@spot_rule("spot.pipe_room", "Room below the ports", hazard="structure")
def pipe_room(at: Places, this: Rule) -> Iterator[Measure]:
    """Pipes leave the ports downwards; what lies close below one stops them."""
    mount, band = chosen_mount(at.job), limit_band(at.job, "pipe_room_mm")
    if heater_sheet(at.job) is None or mount is None or band is None or mount.through == "wall":
        return
    underside, ground = heater_underside_z_mm(at.job), at.job.plan.vehicle.shell.ground_z_mm
    if free_shelf(at.job) is not None:
        ground = under_shelf_z_mm(at.job)
    below = obstacles_at_ports(at.job)
    for port_name, name in PORTS:
        port = heater_port(at.job, port_name)
        x, y, port_z = port_point(at.job, port)
        top = {
            "inside": underside,
            "below": min(underside, port_z),
            "engine-bay": port_z,
        }[mount.place]
        r = port.diameter_mm / 2
        part = MovingPart(MovingBox(r, r, top, top), at.offset_mm(x, y))
        reach = free_below(at, part, below, top - ground)
        yield Measure(
            name.replace(" ", "-"),
            band,
            known(reach.distance_mm),
            partial(_below_finding, at.job, this, (name, band, reach, (x, y, top))),
            at.everywhere,
        )


def _below_finding(
    job: Job, this: Rule, looked: tuple[str, Band, FreeReach, Vec3], free_mm: float | None
) -> Finding:
    (name, band, reach, (x, y, top)), free = looked, free_mm or 0.0
    down_to = "the ground" if free_shelf(job) is None else "the floor"
    met = reach.met.name if reach.met is not None else down_to
    return this.finding(
        job,
        subject=name.replace(" ", "-"),
        subject_name=met,
        measured=free_mm,
        band=band,
        title=f"Room below the {name}",
        sentence=f"{q(free)} free below the {name}, down to {met}.",
        marks=(Mark((x, y, top), (x, y, top - free)),),
    )


@spot_rule("spot.removal", "Room to lift the heater out")
def removal_path(at: Places, this: Rule) -> Iterator[Measure]:
    """To come out of its hole again the heater is lifted by as much as its ports hang below the
    mount.
    """
    mount, body = chosen_mount(at.job), moving_body(at)
    if body is None or mount is None or mount.place != "inside" or mount.through != "floor":
        return
    reach, lift = free_above(at, body, obstacles_to_lift(at.job)), lift_mm(at.job)
    band = Band(lift, None, Whose.GEOMETRY, source="as far as the ports hang below the mount")
    name = reach.met.name if reach.met is not None else "nothing"
    yield Measure(
        "lift",
        band,
        known(reach.distance_mm),
        lambda free: this.finding(
            at.job,
            subject="lift",
            subject_name=name,
            measured=free,
            band=band,
            sentence=(
                f"It can be lifted {q(free or 0.0)} before it meets {name}; its ports need "
                f"{q(lift)}."
            ),
            marks=(mark_from_body(at.job, (0, 0, 1), free or 0.0),),
        ),
        at.everywhere,
    )


def lift_mm(job: Job) -> float:
    """Return how far the heater has to be lifted until its ports are out of the hole. Needs a
    sheet.
    """
    return max(heater_port(job, name).drop_mm for name, _ in PORTS)
