"""What the spot brings to the work: parts of the mount, holes, and the steps from marking the place
to the heater on its mount.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.base.mount import Mount
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.plan.spot import Pilot, Spot
from gale_nook.core.plan.vehicle import Feature
from gale_nook.core.quantities.sentences import q
from gale_nook.core.saws import saw_for
from gale_nook.core.spot.placement import (
    PlacedHole,
    adapter_of,
    body_corners,
    face_holes,
    facing_wall,
    floor_holes,
    floor_stack_mm,
    heater_body,
    opening_used,
    shelf_of,
)
from gale_nook.core.spot.ribs import rib_packing
from gale_nook.core.station import HoleLine, Step

BEDDED = "Gasket on, flange bedded in high-temperature sealant."
CLOSED_FROM_MM = 20.0  # factory holes that are smaller have their plugs
COVERS_MM = 25.0
ROUNDING_MM = 1.0
PILOT_MM = 3.0  # a pilot this near to a hole's rim would be half cut


def mount_parts(job: Job) -> dict[str, float]:
    """Return what the mount needs."""
    mount, spot = chosen_mount(job), job.plan.spot
    if mount is None:
        return {}
    carrier = {"plate": "mount-plate", "bracket": "bracket"}.get(mount.id, mount.id)
    needed: dict[str, float] = {carrier: 1} if carrier in job.catalogue.parts else {}
    needed["gasket" if job.plan.pipes.seal == "gasket" else "seal-tape"] = 1
    needed |= {"adapter-plate": 1} if adapter_of(job) is not None else {}
    lines = sum(1 for hole in mount.holes if "fuel" in hole.name or "hose" in hole.name)
    needed |= {"heat-sealant": 1, "edge-paint": 1, "grommet-edge": lines or 1}
    return needed | ({"packing-ring": 1} if spot is not None and spot.packing_mm > 0 else {})


def spot_holes(job: Job) -> tuple[HoleLine, ...]:
    """Return every hole with the next whole-millimetre saw that is not smaller."""
    shell = job.plan.vehicle.shell
    results = [HoleLine(h.name, h.x_mm, h.y_mm, h.diameter_mm, saw_of(h)) for h in floor_holes(job)]
    for hole in face_holes(job):
        if hole.face == "bulkhead":
            x = shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.front_x_mm
            y = hole.along_mm
        else:
            x, y = hole.along_mm, (-0.5 if hole.face == "left" else 0.5) * shell.floor_width_mm
        results.append(
            HoleLine(hole.name, x, y, hole.diameter_mm, saw_for(hole.diameter_mm), hole.z_mm)
        )
    return tuple(results)


def saw_of(hole: PlacedHole) -> str:
    """Return how a hole is cut."""
    if hole.is_cut:
        size = f"{q(2 * hole.half_x_mm)} × {q(2 * hole.half_y_mm)}"
        return f"jigsaw {size} between four corner holes of {q(hole.diameter_mm)}"
    return saw_for(hole.diameter_mm)


def spot_steps(job: Job) -> tuple[Step, ...]:
    """Return the steps from marking the place to the heater on its mount."""
    spot = job.plan.spot
    mount = chosen_mount(job)
    sheet = heater_sheet(job)
    if spot is None or mount is None or sheet is None:
        return ()
    on_it = f"{sheet.label}, {heater_body(job).mass_kg:g} kg, on its mount. {mount.service}".strip()
    return (
        *_seat_out(job),
        *_marking(job, spot, mount),
        Step("cut-holes", "Cut the holes", _cutting(job), ("pilot", "edges"), points=_where(job)),
        _setting_the_mount(job, spot, mount),
        Step("set-heater", "Set the heater", on_it, ("manual",), points=_where(job)),
    )


def _seat_out(job: Job) -> Iterator[Step]:
    """Where the heater stands in or under a seat, the seat comes out first."""
    spot = job.plan.spot
    seats = [
        solid.name
        for solid in job.plan.vehicle.solids
        if job.catalogue.solid_kinds[solid.kind].hazard == "restraint"
        and spot is not None
        and isinstance(solid, BoxSolid)
        and abs(solid.x_mm - spot.x_mm) < solid.length_mm / 2
        and abs(solid.y_mm - spot.y_mm) < solid.width_mm / 2
    ]
    if seats:
        yield Step(
            "seat-out",
            "Take the seat out",
            f"{', '.join(seats)}. Battery off, ten minutes of waiting, plugs of belt and airbag "
            "only by those licensed for them; the bolts back into their threads by hand.",
            ("restraint", "battery"),
        )


def _marking(job: Job, spot: Spot, mount: Mount) -> Iterator[Step]:
    datum, side = job.plan.vehicle.datum, "right" if spot.y_mm >= 0 else "left"
    yield Step(
        "mark-place",
        "Mark the place",
        f"{q(spot.x_mm)} behind the {datum}, {q(abs(spot.y_mm))} {side} of the centre line: "
        f"the centre of the {mount.label}. Warm end {_towards(spot.yaw_deg)}.",
        ("battery", "survey", "restraint"),
        points=_where(job),
    )
    adapter, opening = adapter_of(job), opening_used(job)
    spare = holes_to_close(job)
    if spare:
        places = "; ".join(f"{f.name}, {_size_words(f)}" for f in spare)
        yield Step(
            "close-holes",
            "Close the holes that are not used any more",
            f"{places}: a steel plate {q(COVERS_MM)} larger all round, bedded in sealant and "
            "riveted from below, edges painted. A hole in the floor lets fumes in.",
            ("edges",),
        )
    if adapter is not None and opening is not None:
        yield Step(
            "adapter",
            "Make the adapter plate",
            f"Steel, {q(adapter.length_mm)} along by {q(adapter.width_mm)} across by "
            f"{q(adapter.thickness_mm)}: cut the mount's holes in it on the bench. Centre it on "
            f"{opening.name}, bed it in sealant and rivet or bolt it all round.",
            ("edges",),
        )
    yield Step(
        "pilot",
        "Pilot and look",
        "Drill one 3 mm pilot at the centre of each hole, look from below, compare with the "
        "drawing.",
        ("stands", "pilot", "structure"),
        points=_where(job),
    )
    astray = pilots_to_close(job)
    if astray:
        places = "; ".join(
            f"{q(p.x_mm)} behind the datum, {q(p.y_mm)} right of centre" for p in astray
        )
        yield Step(
            "close-pilots",
            "Close the pilots that went astray",
            f"{places}: rivet or seal each, file and paint the edge.",
            ("edges",),
        )


def _size_words(opening: Feature) -> str:
    length, width = opening.opening_mm or (0.0, 0.0)
    return q(length) if opening.is_round else f"{q(length)} × {q(width)}"


def _where(job: Job) -> tuple[Vec3, ...]:
    """What a drawing of the spot shows."""
    return body_corners(job) or ()


def _setting_the_mount(job: Job, spot: Spot, mount: Mount) -> Step:
    extra = f" Rebate the floor {q(spot.rebate_mm)}." if spot.rebate_mm else ""
    shelf = shelf_of(job)
    if shelf is not None:
        extra += f" It stands on {shelf.name}: bolt it through, with spreader plates underneath."
    if spot.packing_mm:
        known = spot.packing is not None
        made = f" with {job.catalogue.materials[spot.packing or ''].label}" if known else ""
        extra += f" Pack the mount {q(spot.packing_mm)}{made}."
    packing = rib_packing(job, spot)
    if packing is not None and packing.ribs:
        extra += (
            f" {packing.ribs} of the floor's ribs run under the flange: fill the valleys of "
            f"{q(packing.depth_mm)} between them."
        )
    text = f"Edges filed and painted. {mount.sealing or BEDDED}{extra}"
    return Step("set-mount", "Set the mount", text, ("edges",), points=_where(job))


def _cutting(job: Job) -> str:
    """What is cut with what, where, and through how much."""
    mount = chosen_mount(job)
    saws = "; ".join(
        f"{h.name}: {h.saw}, at {q(h.x_mm)}, {q(h.y_mm)}"
        + (f", {q(h.z_mm)} above the load floor" if h.z_mm is not None else "")
        for h in spot_holes(job)
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


def holes_to_close(job: Job) -> list[Feature]:
    """Return the surveyed holes through the floor that no hole of the mount and no adapter plate
    takes away: those that are seen from inside, and are no drains with their grommets.
    """
    used = opening_used(job)
    return [
        feature
        for feature in job.plan.vehicle.features
        if feature.opening_mm is not None
        and (used is None or feature.id != used.id)
        and feature.kind in {"hole", "other"}
        and feature.inside is not None
        and max(feature.opening_mm) >= CLOSED_FROM_MM
        and not any(_covers(hole, feature) for hole in floor_holes(job))
    ]


def _covers(hole: PlacedHole, feature: Feature) -> bool:
    """Whether a hole of the mount is cut where an existing one is, and takes it in."""
    at, size = feature.at, feature.opening_mm
    if at is None or size is None:
        return False
    dx, dy = abs(at[0] - hole.x_mm), abs(at[1] - hole.y_mm)
    half_x, half_y = size[0] / 2, size[1] / 2
    if hole.is_cut:
        return dx + half_x <= hole.half_x_mm and dy + half_y <= hole.half_y_mm
    away = math.hypot(dx, dy) + half_x if feature.is_round else math.hypot(dx + half_x, dy + half_y)
    return away <= hole.radius_mm + ROUNDING_MM


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
