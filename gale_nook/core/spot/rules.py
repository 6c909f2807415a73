"""Checks of the spot: that there is one, and that the floor suits the mount."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Any

import numpy as np

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.heater.mount_fit import PORT_WORDS, goes_through_floor, ports_blocked
from gale_nook.core.job import Job
from gale_nook.core.plan.vehicle import FloorArea, Vehicle
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.spot.placement import (
    adapter_of,
    body_corners,
    clamped_plate_mm,
    floor_holes,
    floor_stack_mm,
    free_shelf,
    heater_floor,
    heater_underside_z_mm,
    mount_plane_z_mm,
    shelf_of,
)
from gale_nook.core.spot.places import Measure, Places, known, spot_rule
from gale_nook.core.spot.plate import adapter_plate, mount_plate
from gale_nook.core.spot.ribs import has_ribs

ON_FLOOR = Band(0.0, None, Whose.GEOMETRY, source="the floors that were surveyed")
TO_PLACE = Band(None, None, Whose.GEOMETRY, source="the plan")


@rule("spot.place", "A place for the heater", "mm")
def placed(job: Job, this: Rule) -> Iterator[Finding]:
    """Without heater, place and mount there is nothing to check."""
    sheet = heater_sheet(job)
    if sheet is None:
        sentence = "Choose a heater first: its sheet decides the hole and the clearances."
    elif job.plan.spot is None:
        sentence = (
            "The heater has no place yet. Type how far behind the datum and off the centre "
            "line it may go."
        )
    elif chosen_mount(job) is None:
        known = ", ".join(mount.id for mount in sheet.mounts)
        sentence = (
            f"The sheet of {sheet.label} has no mount '{job.plan.spot.mount}'; it has {known}."
        )
    else:
        return
    yield this.finding(job, measured=None, band=TO_PLACE, sentence=sentence)


@rule("spot.ports", "Ports through the mount's holes", "mm", hazard="fire")
def ports_pass(job: Job, this: Rule) -> Iterator[Finding]:
    """A pipe that leaves the heater through the floor has a hole there that it passes."""
    sheet, mount, spot = heater_sheet(job), chosen_mount(job), job.plan.spot
    if sheet is None or mount is None or spot is None or not goes_through_floor(mount):
        return
    band = Band(0.0, None, Whose.GEOMETRY, source="the sheet's ports and the mount's holes")
    at = (spot.x_mm, spot.y_mm, mount_plane_z_mm(job))
    blocked = dict(ports_blocked(sheet, mount))
    for name, missing in blocked.items():
        yield this.finding(
            job,
            subject=name,
            subject_name=PORT_WORDS[name],
            measured=-missing,
            band=band,
            sentence=f"{capital(PORT_WORDS[name])} fits through no hole of the {mount.label}: "
            f"{q(missing)} of it lie outside the nearest.",
            marks=(Mark(at, at),),
        )
    if not blocked:
        yield this.yes_no(
            job,
            answer=True,
            wanted=True,
            whose=Whose.GEOMETRY,
            source=band.source,
            sentence=f"Exhaust, combustion air and fuel pass the holes of the {mount.label}.",
        )


@spot_rule("spot.floor", "On one floor")
def on_one_floor(at: Places, this: Rule) -> Iterator[Measure]:
    """Where floors differ, the heater and its holes lie on one of them, and so does an adapter
    plate: at an edge there is a step, and where none was surveyed there is nothing to stand on.
    """
    extent, mount = _extent_mm(at), chosen_mount(at.job)
    vehicle, area = at.job.plan.vehicle, heater_floor(at.job).area
    if not vehicle.floors or extent is None or mount is None or mount.place == "engine-bay":
        return
    yield Measure(
        "floor",
        ON_FLOOR,
        partial(_on_floor_mm, area, vehicle, extent),
        partial(_floor_finding, at.job, this),
        at.everywhere,
    )
    plate = adapter_plate(at.job)
    if plate is not None:
        lies = (plate.low_x_mm, plate.low_y_mm, plate.high_x_mm, plate.high_y_mm)
        yield Measure(
            "adapter-plate",
            ON_FLOOR,
            known(float(_on_floor_mm(area, vehicle, lies, 0.0, 0.0))),
            partial(_plate_floor_finding, at.job, this),
            at.everywhere,
            same_everywhere=True,
        )


Extent = tuple[float, float, float, float]  # low x and y, high x and y, from the reference point


def _extent_mm(at: Places) -> Extent | None:
    """How far the heater, its plate and its holes reach from the reference point."""
    corners = body_corners(at.job)
    if corners is None:
        return None
    (low_x, low_y), (high_x, high_y) = (at.offset_mm(c[0], c[1]) for c in corners)
    plate = mount_plate(at.job)
    if plate is not None:
        (x, y), (half_x, half_y) = at.offset_mm(*plate.middle_mm), plate.half_mm
        low_x, low_y = min(low_x, x - half_x), min(low_y, y - half_y)
        high_x, high_y = max(high_x, x + half_x), max(high_y, y + half_y)
    for hole in floor_holes(at.job):
        (x, y), (reach_x, reach_y) = at.offset_mm(hole.x_mm, hole.y_mm), hole.reach_mm
        low_x, low_y = min(low_x, x - reach_x), min(low_y, y - reach_y)
        high_x, high_y = max(high_x, x + reach_x), max(high_y, y + reach_y)
    return (low_x, low_y, high_x, high_y)


def _on_floor_mm(
    area: FloorArea | None, vehicle: Vehicle, extent: Extent, x_mm: Any, y_mm: Any
) -> Any:
    """How far from the nearest edge of its floor the heater stays; negative over the edge."""
    low_x, high_x = x_mm + extent[0], x_mm + extent[2]
    low_y, high_y = y_mm + extent[1], y_mm + extent[3]
    if area is not None:
        along = np.minimum(low_x - area.from_x_mm, area.to_x_mm - high_x)
        across = np.minimum(low_y - area.left_y_mm, area.right_y_mm - high_y)
        return np.minimum(along, across)
    result = low_x - vehicle.shell.bulkhead_x_mm + 0.0 * y_mm
    for other in vehicle.floors:
        dx = np.maximum(other.from_x_mm - high_x, low_x - other.to_x_mm)
        dy = np.maximum(other.left_y_mm - high_y, low_y - other.right_y_mm)
        apart = np.hypot(np.maximum(dx, 0.0), np.maximum(dy, 0.0))
        result = np.minimum(result, apart + np.minimum(np.maximum(dx, dy), 0.0))
    return result


def _plate_floor_finding(job: Job, this: Rule, left_mm: float | None) -> Finding:
    """The adapter plate's place is that of its opening: it does not move with the heater."""
    plate, area, left = adapter_plate(job), heater_floor(job).area, left_mm or 0.0
    if plate is None:
        raise ValueError("there is no adapter plate")
    name = area.name if area is not None else "the load floor"
    words = f"The adapter plate lies {q(left)} inside the edge of {name}."
    if left < 0:
        words = f"The adapter plate reaches {q(-left)} over the edge of {name}."
    at = (*plate.middle_mm, plate.high_z_mm)
    return this.finding(
        job,
        subject="adapter-plate",
        subject_name="adapter plate",
        measured=left_mm,
        band=ON_FLOOR,
        tolerance=0.0,
        title="Adapter plate on one floor",
        sentence=words,
        marks=(Mark(at, at),),
    )


def _floor_finding(job: Job, this: Rule, left_mm: float | None) -> Finding:
    spot, area, left = job.plan.spot, heater_floor(job).area, left_mm or 0.0
    if spot is None:
        raise ValueError("the heater has no place yet")
    name = area.name if area is not None else "the load floor"
    words = f"The heater stands {q(left)} inside the edge of {name}."
    if left < 0:
        words = f"The heater or a hole of it reaches {q(-left)} over the edge of {name}."
        if area is None and spot.x_mm < job.plan.vehicle.shell.bulkhead_x_mm:
            words = "No floor was surveyed there: say at Vehicle where one lies, and how high."
    at = (spot.x_mm, spot.y_mm, mount_plane_z_mm(job))
    return this.finding(
        job,
        subject="floor",
        subject_name=name,
        measured=left_mm,
        band=ON_FLOOR,
        tolerance=0.0,
        sentence=words,
        marks=(Mark(at, at),),
    )


@spot_rule("spot.stack", "Floor stack against the mount", hazard="fire")
def stack_fits(at: Places, this: Rule) -> Iterator[Measure]:
    """The mount has to pass board, insulation, steel and ribs: neither too thick nor too thin. A
    rib that does not lie under its flange is nothing that it could clamp.
    """
    mount, stack = chosen_mount(at.job), floor_stack_mm(at.job)
    if mount is None or mount.through != "floor":
        return
    flat = stack - heater_floor(at.job).floor.corrugation_mm
    if adapter_of(at.job) is not None:  # the mount clamps the plate, over the open floor
        flat = clamped_plate_mm(at.job)
    too_thin = mount.stack.minimum is not None and flat < mount.stack.minimum
    yield Measure(
        mount.id,
        Band.of(mount.stack, Whose.SHEET, "stack"),
        partial(_clamped_mm, at.job, flat, stack) if too_thin else known(stack),
        partial(_stack_finding, at.job, this),
        at.everywhere,
        same_everywhere=not too_thin,
    )


def _clamped_mm(job: Job, flat_mm: float, with_ribs_mm: float, x_mm: Any, y_mm: Any) -> Any:
    """What the flange clamps at places: with the ribs, where one lies under it."""
    clamped = np.where(has_ribs(job, y_mm), with_ribs_mm, flat_mm)
    return np.broadcast_to(clamped, np.broadcast_shapes(np.shape(x_mm), np.shape(y_mm)))


def _stack_words(job: Job, ribs: bool) -> str:
    """What the mount has to pass, in words."""
    shelf = shelf_of(job)
    if shelf is not None and free_shelf(job) is not None:
        return shelf.name
    parts = ["floor stack", *(["ribs"] if ribs else [])]
    parts += ["adapter plate"] if adapter_of(job) is not None else []
    parts += [f"the height of {shelf.name}"] if shelf is not None else []
    return parts[0] if len(parts) == 1 else f"{', '.join(parts[:-1])} and {parts[-1]}"


def _stack_finding(job: Job, this: Rule, stack_mm: float | None) -> Finding:
    mount = chosen_mount(job)
    spot = job.plan.spot
    stack = stack_mm or 0.0
    if mount is None or spot is None:
        raise ValueError("the heater has no place yet")
    limit = mount.stack
    ribs = stack >= floor_stack_mm(job) - 1e-9 and heater_floor(job).floor.corrugation_mm > 0
    parts = f"{q(stack)} of {_stack_words(job, ribs)}"
    sentence = f"{parts} for a {mount.label}."
    if limit.maximum is not None and stack > limit.maximum:
        sentence = (
            f"{parts}: the collar of the {mount.label} ends inside the floor, where heat "
            "and spray get at it."
        )
    elif limit.minimum is not None and stack < limit.minimum:
        sentence = f"{parts}: too thin for the {mount.label} to clamp."
    return this.finding(
        job,
        subject=mount.id,
        subject_name=mount.label,
        measured=stack,
        band=Band.of(limit, Whose.SHEET, "stack"),
        sentence=sentence,
        marks=(
            Mark(
                (spot.x_mm, spot.y_mm, mount_plane_z_mm(job)),
                (spot.x_mm, spot.y_mm, heater_underside_z_mm(job)),
            ),
        ),
    )
