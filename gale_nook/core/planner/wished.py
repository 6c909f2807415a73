"""Wishes in hand: places they allow on the floor's map, the job in which layouts are looked for,
and what of them a layout breaks.

What nothing may be laid into is a thing in the way while layouts are looked for; what is found is
put before the checks of the vehicle as it is.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.build.lists import holes_to_cut
from gale_nook.core.fuel.tank_rules import own_tank
from gale_nook.core.geometry.frames import turn_xy
from gale_nook.core.geometry.shapes import Shape, box_shape, separation
from gale_nook.core.job import Job
from gale_nook.core.ledger.body import Body
from gale_nook.core.plan.solids import BoxSolid, Solid
from gale_nook.core.plan.wishes import PartWish, WishArea, Wishes
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.field import Grid
from gale_nook.core.spot.placement import body_corners, floor_holes, heater_body
from gale_nook.core.stations import BY_WORD
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.core.vehicle.parts import surveyed_parts

LAID_BY = ("spot", "pipes", "fuel", "air", "coolant", "power")
IN_THE_WAY = "wish-"  # how ids of things begin that are only there while layouts are looked for
INSIDE_KIND, BELOW_KIND = "wheel-arch", "rail"  # metal that nothing is led through
TOUCHES_MM = 1.0


@dataclass(frozen=True, slots=True)
class Wish:
    """One wish, by itself.

    Attributes:
        id: "side", "hole" and the like; of a part or an area, with its own id.
        of_place: it only says where the heater may stand.
    """

    id: str
    words: str
    of_place: bool = False


def every_wish(job: Job) -> tuple[Wish, ...]:
    """Return the wishes of a plan that forbid something."""
    wishes, names = job.plan.wishes, {s.id: s.name for s in job.plan.vehicle.solids}
    results = []
    if wishes.side != "any":
        results.append(Wish("side", f"the heater on the {wishes.side}", of_place=True))
    for each in wishes.parts:
        name = names.get(each.part, each.part)
        words = {
            "near": f"the heater within {q(each.within_mm)} of {name}",
            "not-in": f"the heater not where {name} stands",
            "keep": f"nothing into {name} or through it",
        }[each.wish]
        results.append(Wish(f"part:{each.id}", words, of_place=each.wish != "keep"))
    wanted = [area.name for area in wishes.areas if area.wanted]
    if wanted:
        results.append(Wish("wanted", f"the heater in {' or '.join(wanted)}", of_place=True))
    for area in wishes.areas:
        if not area.wanted:
            what = "the heater" if area.of == "heater" else "everything"
            words = f"{what} out of {area.name}"
            results.append(Wish(f"area:{area.id}", words, of_place=area.of == "heater"))
    if wishes.most_hole_mm is not None:
        results.append(Wish("hole", f"no hole larger than {q(wishes.most_hole_mm)}"))
    if wishes.under_sill == "never":
        results.append(Wish("sill", "nothing lower than the sill"))
    if wishes.fill_from != "any":
        results.append(Wish("fill", f"a tank filled from the {wishes.fill_from}"))
    return tuple(results)


def without(wishes: Wishes, dropped: frozenset[str]) -> Wishes:
    """Return the wishes without some, by their ids."""
    changes: dict[str, Any] = {
        "parts": tuple(p for p in wishes.parts if f"part:{p.id}" not in dropped),
        "areas": tuple(
            a for a in wishes.areas if ("wanted" if a.wanted else f"area:{a.id}") not in dropped
        ),
    }
    unset = {
        "side": ("side", "any"),
        "hole": ("most_hole_mm", None),
        "sill": ("under_sill", "may"),
        "fill": ("fill_from", "any"),
    }
    changes |= {field: value for name, (field, value) in unset.items() if name in dropped}
    return wishes.model_copy(update=changes)


def allowed(job: Job, grid: Grid, yaw_deg: int) -> Any:
    """Return where the heater's middle may be by the wishes, with its spot at each place of a grid;
    (ny, nx). Needs a heater.
    """
    wishes, body = job.plan.wishes, heater_body(job)
    dx, dy = turn_xy(body.x_mm, body.y_mm, yaw_deg)
    length, width = body.length_mm, body.width_mm
    half = (length / 2, width / 2) if yaw_deg % 180 == 0 else (width / 2, length / 2)
    x, y = grid.x_mm[None, :] + dx, grid.y_mm[:, None] + dy
    may = np.ones(grid.shape, dtype=bool)
    if wishes.side == "left":
        may &= y < 0
    elif wishes.side == "right":
        may &= y > 0
    shapes = {solid.id: shape for solid, _, shape in surveyed_parts(job)}
    for part in wishes.parts:
        shape = shapes.get(part.part)
        if shape is not None:
            may &= _by_part(part, shape, (x, y), half)
    wanted = [area for area in wishes.areas if area.wanted]
    if wanted:
        may &= np.logical_or.reduce([_within(area, x, y) for area in wanted])
    for area in wishes.areas:
        if not area.wanted:
            may &= ~_overlaps(_area_bounds(area), (x, y), half)
    return may


def _by_part(part: PartWish, shape: Shape, at: tuple[Any, Any], half: tuple[float, float]) -> Any:
    b = shape.bounds
    if part.wish == "near":
        away = np.hypot(
            np.maximum(np.maximum(b[0] - at[0], at[0] - b[3]), 0.0),
            np.maximum(np.maximum(b[1] - at[1], at[1] - b[4]), 0.0),
        )
        return away <= part.within_mm
    return ~_overlaps((b[0], b[1], b[3], b[4]), at, half)


def _overlaps(
    bounds: tuple[float, float, float, float], at: tuple[Any, Any], half: tuple[float, float]
) -> Any:
    """Whether the heater's box in plan, with its middle at places, shares room with a rectangle."""
    low_x, low_y, high_x, high_y = bounds
    along = (at[0] + half[0] > low_x) & (at[0] - half[0] < high_x)
    return along & (at[1] + half[1] > low_y) & (at[1] - half[1] < high_y)


def _within(area: WishArea, x: Any, y: Any) -> Any:
    low_x, low_y, high_x, high_y = _area_bounds(area)
    return (x >= low_x) & (x <= high_x) & (y >= low_y) & (y <= high_y)


def _area_bounds(area: WishArea) -> tuple[float, float, float, float]:
    return (area.from_x_mm, area.left_y_mm, area.to_x_mm, area.right_y_mm)


def job_to_search(job: Job) -> Job:
    """Return the job in which layouts are looked for: what nothing may be laid into stands in the
    way there.
    """
    wishes, vehicle = job.plan.wishes, job.plan.vehicle
    kept = {part.part for part in wishes.parts if part.wish == "keep"}
    solids = [_closed(solid) if solid.id in kept else solid for solid in vehicle.solids]
    blocks = list(_blocks(job))
    if not blocks and not kept:
        return job
    changed = vehicle.model_copy(update={"solids": (*solids, *blocks)})
    return job.with_parts(vehicle=changed)


def as_it_is(job: Job, found: Job) -> Job:
    """Return what was found in a job to search, in the vehicle as it is."""
    old = found.plan.vehicle.old_openings  # their use may follow from what is led through them
    vehicle = job.plan.vehicle
    if old != vehicle.old_openings:
        vehicle = vehicle.model_copy(update={"old_openings": old})
    return found.with_parts(vehicle=vehicle)


def _closed(solid: Solid) -> Solid:
    """The same part as one that nothing is led through."""
    if isinstance(solid, BoxSolid):
        return solid.model_copy(update={"hollow": None, "kind": INSIDE_KIND})
    return solid


def _blocks(job: Job) -> Iterator[BoxSolid]:
    shell, wishes = job.plan.vehicle.shell, job.plan.wishes
    under = floor_underside_z_mm(job)
    for area in wishes.areas:
        if area.wanted or area.of != "everything":
            continue
        plan = {
            "x_mm": area.from_x_mm,
            "y_mm": area.left_y_mm,
            "length_mm": area.to_x_mm - area.from_x_mm,
            "width_mm": area.right_y_mm - area.left_y_mm,
        }
        spans = (
            (INSIDE_KIND, 0.0, shell.inside_height_mm),
            (BELOW_KIND, shell.ground_z_mm, under - shell.ground_z_mm),
        )
        for kind, z, height in spans:
            yield BoxSolid(
                id=f"{IN_THE_WAY}{area.id[:24]}-{kind}",
                name=area.name,
                kind=kind,
                z_mm=z,
                height_mm=height,
                **plan,
            )
    if wishes.under_sill == "never":
        yield BoxSolid(
            id=f"{IN_THE_WAY}sill",
            name="room under the sill",
            kind=BELOW_KIND,
            x_mm=shell.front_x_mm,
            y_mm=-shell.outer_width_mm / 2,
            z_mm=shell.ground_z_mm,
            length_mm=shell.rear_x_mm - shell.front_x_mm,
            width_mm=shell.outer_width_mm,
            height_mm=shell.sill_z_mm - shell.ground_z_mm,
        )


@dataclass(frozen=True, slots=True)
class Broken:
    """A wish that a plan breaks, in a sentence with figures."""

    wish: str
    sentence: str


def broken_wishes(job: Job) -> tuple[Broken, ...]:
    """Return the wishes that a plan breaks, as the vehicle is."""
    return (*_place_broken(job), *_room_broken(job), *_hole_broken(job), *_fill_broken(job))


def laid_bodies(job: Job) -> tuple[Body, ...]:
    """Return all that is laid or stands there by the plan."""
    found = (body for word in LAID_BY for body in BY_WORD[word].bodies(job))
    return tuple(body for body in found if body.id != "fuel.filling")


def _place_broken(job: Job) -> Iterator[Broken]:
    spot = job.plan.spot
    if spot is None or body_corners(job) is None:
        return
    grid = Grid(np.array([spot.x_mm]), np.array([spot.y_mm]))
    for wish in every_wish(job):
        if not wish.of_place:
            continue
        others = frozenset(w.id for w in every_wish(job) if w.id != wish.id)
        only = without(job.plan.wishes, others)
        there = job.with_parts(wishes=only)
        if not bool(allowed(there, grid, spot.yaw_deg)[0, 0]):
            yield Broken(wish.id, f"Wanted is {wish.words}: it stands elsewhere.")


def _room_broken(job: Job) -> Iterator[Broken]:
    """What is laid into what is kept, or lower than the sill."""
    wishes, shell = job.plan.wishes, job.plan.vehicle.shell
    bodies = laid_bodies(job)
    shapes = {solid.id: (solid.name, shape) for solid, _, shape in surveyed_parts(job)}
    rooms = [
        (f"part:{part.id}", shapes[part.part][0], _box_of(shapes[part.part][1]))
        for part in wishes.parts
        if part.wish == "keep" and part.part in shapes
    ]
    rooms += [
        (f"area:{area.id}", area.name, _column(area, shell.ground_z_mm, shell.inside_height_mm))
        for area in wishes.areas
        if not area.wanted and area.of == "everything"
    ]
    for wish, name, room in rooms:
        for body in bodies:
            into = -separation(body.shape, room).distance_mm
            if into > TOUCHES_MM:
                yield Broken(wish, f"The {body.name} reaches {q(round(into))} into {name}.")
                break
    if wishes.under_sill == "never":
        lowest = min(bodies, key=lambda body: body.shape.bounds[2], default=None)
        if lowest is not None and lowest.shape.bounds[2] < shell.sill_z_mm - TOUCHES_MM:
            by = shell.sill_z_mm - lowest.shape.bounds[2]
            yield Broken("sill", f"The {lowest.name} hangs {q(round(by))} lower than the sill.")


def _box_of(shape: Shape) -> Shape:
    b = shape.bounds
    return box_shape((b[0], b[1], b[2]), (b[3] - b[0], b[4] - b[1], b[5] - b[2]))


def _column(area: WishArea, low_z: float, high_z: float) -> Shape:
    size = (area.to_x_mm - area.from_x_mm, area.right_y_mm - area.left_y_mm, high_z - low_z)
    return box_shape((area.from_x_mm, area.left_y_mm, low_z), size)


def _hole_broken(job: Job) -> Iterator[Broken]:
    most = job.plan.wishes.most_hole_mm
    if most is None:
        return
    sizes = [(hole.diameter_mm, hole.name) for hole in holes_to_cut(job)]
    sizes += [(2 * max(h.half_x_mm, h.half_y_mm), h.name) for h in floor_holes(job)]
    size_mm, name = max(sizes, default=(0.0, ""))
    if size_mm > most + 1e-6:
        size = f"{q(size_mm)}, {q(most)} is wished for at most"
        yield Broken("hole", f"{name}: {size}.")


def _fill_broken(job: Job) -> Iterator[Broken]:
    wanted, tank = job.plan.wishes.fill_from, own_tank(job)
    if wanted == "any" or tank is None:
        return
    if not fills_from(job, wanted):
        yield Broken("fill", f"Its filler is at the {tank.filler}, not at the {wanted}.")


def fills_from(job: Job, side: str) -> bool:
    """Return whether a tank of one's own is filled from a side: by a filler in that side, or by one
    on top in that half of the vehicle.
    """
    tank = own_tank(job)
    if tank is None or side == "any":
        return True
    if tank.filler != "top":
        return tank.filler == side
    x, y, _ = tank.middle_mm
    shell = job.plan.vehicle.shell
    middle = (shell.front_x_mm + shell.rear_x_mm) / 2
    return {"left": y < 0, "right": y > 0, "front": x < middle, "rear": x > middle}[side]


def with_wishes(job: Job, wishes: Wishes) -> Job:
    """Return the job with other wishes."""
    return job.with_parts(wishes=wishes)
