"""Places to try for the heater, with bounds on what a layout from there measures: from the
clear-spot map of every mount, as far as the wishes allow.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.base.mount import MountHole
from gale_nook.core.ducts.ends import warm_end
from gale_nook.core.ducts.layout import fan_of
from gale_nook.core.errors import BadInput
from gale_nook.core.fuel.line import supply
from gale_nook.core.fuel.sources import against
from gale_nook.core.fuel.start import tanks_with_room
from gale_nook.core.fuel.tank_pose import tank_shape
from gale_nook.core.fuel.tank_rules import own_tank
from gale_nook.core.geometry.frames import add, scale, turn_xy
from gale_nook.core.geometry.shapes import box_shape, separation, tube_shape
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.pipes.short_routes import is_short
from gale_nook.core.plan.fuel import OWN_TANKS, Fuel, FuelSource
from gale_nook.core.plan.pipes import EdgeName
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.plan.spot import Spot
from gale_nook.core.planner.measures import heard_db, measures_of, score
from gale_nook.core.planner.wished import allowed, fills_from
from gale_nook.core.spot.floor_map import YAWS, FloorMap, Progress
from gale_nook.core.spot.looked_rules import TO_MEASURE
from gale_nook.core.spot.placement import body_corners, heater_port, port_point, suits_floor
from gale_nook.core.spot.search import at_place, is_clear_at
from gale_nook.core.stations import RULES
from gale_nook.core.vehicle.parts import opening_box, surveyed_where

MAP_STEP_MM = 20.0
MOST_TANKS = 2  # places of one kind of tank that are tried
WALL = "wall"
USUAL_SOURCES: tuple[FuelSource, ...] = ("stand-pipe", "tank-outside", "tank-inside")
DOOR_MM = 40.0  # a duct keeps so far from a door that opens
LAID_AFTER = ("coolant", "power")  # what is over of these now is laid anew
BESIDE = tuple(rule for rule in RULES if rule.station not in LAID_AFTER)
SAME_EVERYWHERE = ("storage", "holes", "cost", "hours")
LEAVES_MM = 90.0  # so far a duct goes on from the warm end at least
SAMPLED = 3  # places of each turn by which a mount is tried
SPARE_MM = 10.0  # a place with so much to spare is taken before one without


@dataclass(frozen=True, slots=True)
class Node:
    """One choice to try: a place, where the exhaust goes, where the fuel comes from.

    Attributes:
        edge: of the vehicle that the exhaust leads to; "wall" where it leaves through one.
        bound: that the weighted measure of no layout from here falls below.
        margin_mm: of the spot's checks, on the map.
        to_measure: nobody has looked there yet.
    """

    spot: Spot
    edge: EdgeName | str
    fuel: Fuel
    bound: float
    margin_mm: float
    to_measure: bool


def fuel_options(job: Job) -> tuple[Fuel, ...]:
    """Return the fuel's part of the plan with each source that may be used: the chosen one, or what
    the wishes name, or what can be. Its line is left out.
    """
    fuel, wishes = job.plan.fuel, job.plan.wishes
    bare = fuel.model_copy(update={"line": None})
    if "fuel" in wishes.pinned:
        return (fuel,)
    named = wishes.sources or ((fuel.source,) if fuel.source is not None else USUAL_SOURCES)
    results: list[Fuel] = []
    for source in named:
        if against(job, source):
            continue
        results += _with_source(job, bare, source)
    return tuple(results)


def _with_source(job: Job, bare: Fuel, source: FuelSource) -> Iterator[Fuel]:
    chosen = bare.model_copy(update={"source": source})
    if source not in OWN_TANKS:
        if supply(_with_fuel(job, chosen)) is not None:
            yield chosen
        return
    if bare.source == source and bare.tank is not None:
        if fills_from(_with_fuel(job, chosen), job.plan.wishes.fill_from):
            yield chosen
        return
    number = 0
    for tank in tanks_with_room(job, source):
        there = chosen.model_copy(update={"tank": tank})
        if fills_from(_with_fuel(job, there), job.plan.wishes.fill_from):
            yield there
            number += 1
        if number == MOST_TANKS:
            return


def _with_fuel(job: Job, fuel: Fuel) -> Job:
    return job.with_parts(fuel=fuel)


@dataclass(frozen=True)
class MappedMount:
    """The floor's map of one mount, with where the wishes allow the heater.

    Attributes:
        clear, wished: by turn, (ny, nx).
    """

    floor: FloorMap
    clear: dict[int, Any]
    wished: dict[int, Any]


def mounts_to_try(job: Job) -> tuple[str, ...]:
    """Return the mounts of the heater that the floor suits, and whose holes the wishes allow; the
    one in hand first, and of those that differ in the stack they pass only, one.
    """
    sheet, spot, most = heater_sheet(job), job.plan.spot, job.plan.wishes.most_hole_mm
    if sheet is None:
        return ()
    fitting = [mount for mount in sheet.mounts if suits_floor(job, mount)]
    if most is not None:
        fitting = [m for m in fitting if all(_size_mm(hole) <= most for hole in m.holes)]
    known = spot.mount if spot is not None else ""
    fitting.sort(key=lambda mount: mount.id != known)
    one_of_each = {(m.place, m.through, m.holes, m.body): m.id for m in reversed(fitting)}
    return tuple(mount.id for mount in fitting if mount.id in one_of_each.values())


def _size_mm(hole: MountHole) -> float:
    return max(hole.diameter_mm, hole.length_mm or 0.0, hole.width_mm or 0.0)


def shelves(job: Job) -> tuple[str, ...]:
    """Return the boxes inside that a heater may stand on, the largest tops first."""
    limits = job.catalogue.planner.search
    boxes = [
        solid
        for solid, kind, _ in surveyed_where(job, "inside")
        if isinstance(solid, BoxSolid) and kind.id in limits.stands_on
    ]
    boxes.sort(key=lambda box: (-box.length_mm * box.width_mm, box.id))
    return tuple(box.id for box in boxes[: limits.most_stands])


def mapped(
    job: Job, mount: str, told: Progress | None = None, stands_on: str | None = None
) -> MappedMount:
    """Return the map of one mount over the whole floor, or over what it stands on. Needs a
    heater.
    """
    base = job.plan.spot or Spot(x_mm=0, y_mm=0, mount=mount)
    there = at_place(job, _plain(base, mount).model_copy(update={"stands_on": stands_on}))
    floor = FloorMap(there, MAP_STEP_MM, told)
    clear = {yaw: floor.fields[yaw].margin_mm >= 0 for yaw in YAWS}
    wished = {yaw: allowed(floor.job, floor.grid, yaw) for yaw in YAWS}
    return MappedMount(floor, clear, wished)


def _plain(spot: Spot, mount: str) -> Spot:
    """A place on a mount; packing, rebate and plate of another are left out."""
    if spot.mount == mount:
        return spot.model_copy(update={"adapter": None, "stands_on": None})
    return Spot(x_mm=spot.x_mm, y_mm=spot.y_mm, yaw_deg=spot.yaw_deg, mount=mount)


def nodes_of(job: Job, maps: tuple[MappedMount, ...], fuels: tuple[Fuel, ...]) -> list[Node]:
    """Return every choice to try, the lowest bound first: of each square of the floor and turn the
    place with the lowest bound.
    """
    results: list[Node] = []
    for each in maps:
        for spot, margin, unseen in _cells(job, each, fuels):
            results += _nodes_at(job, spot, fuels, margin, unseen)
    return sorted(results, key=order)


def pinned_nodes(job: Job, fuels: tuple[Fuel, ...]) -> list[Node]:
    """Return the choices at the place where the heater stands."""
    spot = job.plan.spot
    if spot is None:
        raise BadInput(
            "spot", None, "Put the heater in its place first, or let the place be found."
        )
    return sorted(_nodes_at(job, spot, fuels, 0.0, False), key=order)


def order(node: Node) -> tuple[Any, ...]:
    """Return what choices are sorted by: what somebody has looked at, then the lowest bound."""
    spot = node.spot
    at = (spot.x_mm, spot.y_mm, spot.yaw_deg, spot.mount, node.edge, str(node.fuel.source))
    return (node.to_measure, round(node.bound, 9), *at)


def _cells(
    job: Job, each: MappedMount, fuels: tuple[Fuel, ...]
) -> Iterator[tuple[Spot, float, bool]]:
    """Yield the best place of each square of the floor and turn."""
    grid, base = each.floor.grid, each.floor.job.plan.spot
    if base is None:
        return
    side = job.catalogue.planner.search.cell_mm
    column = np.floor_divide(grid.x_mm, side).astype(int)
    row = np.floor_divide(grid.y_mm, side).astype(int)
    for yaw in YAWS:
        field = each.floor.fields[yaw]
        may = each.clear[yaw] & each.wished[yaw]
        costs = _place_cost(each.floor.job, grid, yaw, fuels)
        costs = costs + 0.1 * (field.margin_mm < SPARE_MM)
        costs = costs + 10.0 * (field.looked == TO_MEASURE)
        rows, columns = np.nonzero(may)
        best: dict[tuple[int, int], tuple[float, int, int]] = {}
        for iy, ix in zip(rows.tolist(), columns.tolist(), strict=True):
            key, cost = (int(column[ix]), int(row[iy])), float(costs[iy, ix])
            if key not in best or cost < best[key][0]:
                best[key] = (cost, iy, ix)
        for _, iy, ix in best.values():
            at = {"x_mm": float(grid.x_mm[ix]), "y_mm": float(grid.y_mm[iy]), "yaw_deg": yaw}
            unseen = bool(field.looked[iy, ix] == TO_MEASURE)
            yield base.model_copy(update=at), float(field.margin_mm[iy, ix]), unseen


def spread_out(nodes: list[Node], apart_mm: float) -> list[Node]:
    """Return the choices with those first that lie apart from all before them, each edge by itself;
    the others follow.
    """
    first: list[Node] = []
    rest: list[Node] = []
    for node in nodes:
        alike = any(
            other.edge == node.edge
            and other.spot.mount == node.spot.mount
            and math.dist((other.spot.x_mm, other.spot.y_mm), (node.spot.x_mm, node.spot.y_mm))
            < apart_mm
            for other in first
        )
        (rest if alike else first).append(node)
    return [*first, *rest]


def _place_cost(job: Job, grid: Any, yaw: int, fuels: tuple[Fuel, ...]) -> Any:
    """What of the weighted measure depends on the place and is said of all at once; (ny, nx)."""
    weights, kinds = job.plan.wishes.weights, {k.id: k for k in job.catalogue.planner.measures}
    x, y = grid.x_mm[None, :], grid.y_mm[:, None]
    port, stub = heater_port(job, "exhaust"), heater_port(job, "fuel")
    dx, dy = turn_xy(port.x_mm, port.y_mm, yaw)
    least = np.full(grid.shape, np.inf)
    for edge in job.plan.pipes.edges:
        least = np.minimum(least, np.maximum(_edge_mm(job, edge, x + dx, y + dy), 0.0))
    total = weights.exhaust * least / 1000 / kinds["exhaust"].scale
    starts = [found.start for fuel in fuels if (found := supply(_with_fuel(job, fuel))) is not None]
    if starts:
        dx, dy = turn_xy(stub.x_mm, stub.y_mm, yaw)
        near = np.min([np.hypot(x + dx - s[0], y + dy - s[1]) for s in starts], axis=0)
        total = total + weights.fuel * near / 1000 / kinds["fuel"].scale
    return total


def _edge_mm(job: Job, edge: EdgeName | str, x: Any, y: Any) -> Any:
    """How far an edge of the vehicle lies from a point, in plan."""
    shell = job.plan.vehicle.shell
    half = shell.outer_width_mm / 2
    along = np.zeros(np.broadcast(x, y).shape)
    if edge == "rear":
        return shell.rear_x_mm - x + along
    return (half - y if edge == "right" else y + half) + along


def _nodes_at(
    job: Job, spot: Spot, fuels: tuple[Fuel, ...], margin: float, unseen: bool
) -> Iterator[Node]:
    there = at_place(job, spot)
    values = dict(_of_mount(job, spot.mount))
    heard = heard_db(there)
    if heard is not None:
        values["quiet"] = heard
    mount = chosen_mount(there)
    if mount is None:
        return
    x, y, _ = port_point(there, heater_port(there, "exhaust"))
    if is_short(there, "exhaust") or mount.place == "engine-bay":
        ways: list[tuple[EdgeName | str, float]] = [(WALL, 0.0)]
    else:
        edges = job.plan.pipes.edges
        ways = [(edge, max(float(_edge_mm(job, edge, x, y)), 0.0)) for edge in edges]
    stub = port_point(there, heater_port(there, "fuel"))
    book, weights = job.catalogue.planner, job.plan.wishes.weights
    if job.plan.air.wanted and _shut_in(there):
        return
    fuels = tuple(fuel for fuel in fuels if not _on_tank(there, fuel))
    for edge, pipe_mm in ways:
        for fuel in fuels:
            source = supply(_with_fuel(there, fuel))
            line_mm = float(np.hypot(*np.subtract(source.start[:2], stub[:2]))) if source else 0.0
            known = {**values, "exhaust": pipe_mm / 1000, "fuel": line_mm / 1000}
            yield Node(spot, edge, fuel, score(book, weights, known), margin, unseen)


@fact
def _of_mount(job: Job, mount: str) -> dict[str, float]:
    """What of the measures is the same wherever the heater stands on a mount."""
    spot = job.plan.spot or Spot(x_mm=0, y_mm=0, mount=mount)
    values = measures_of(at_place(job, spot.model_copy(update={"mount": mount})))
    return {name: values[name] for name in SAME_EVERYWHERE if name in values}


def _shut_in(job: Job) -> bool:
    """Whether something solid stands right at the warm end, so that no duct can leave it."""
    end, fan = warm_end(job), fan_of(job)
    if end is None or fan is None:
        return False
    start, stop = (add(end[0], scale(end[1], mm)) for mm in (fan.bore_mm / 2, LEAVES_MM))
    duct = tube_shape((start, stop), fan.bore_mm)
    doors = (
        box_shape(*opening_box(job, opening))
        for opening in job.plan.vehicle.openings
        if opening.opens
    )
    if any(separation(duct, door).distance_mm < DOOR_MM for door in doors):
        return True
    return any(
        separation(duct, shape).distance_mm < 0
        for solid, _, shape in surveyed_where(job, "inside")
        if not isinstance(solid, BoxSolid) or solid.hollow is None
    )


def _on_tank(job: Job, fuel: Fuel) -> bool:
    """Whether the heater's box and that round a tank of one's own share room."""
    tank, corners = own_tank(_with_fuel(job, fuel)), body_corners(job)
    if tank is None or corners is None:
        return False
    low, high = corners
    b = tank_shape(tank).bounds
    return all(low[axis] < b[axis + 3] and b[axis] < high[axis] for axis in range(3))


def usable_mounts(job: Job, maps: tuple[MappedMount, ...]) -> tuple[MappedMount, ...]:
    """Return the mounts of which the exact checks let some place pass, of a few spread over the
    floor: a mount whose hole is too hot for this floor is too hot everywhere.
    """
    return tuple(each for each in maps if _passes_somewhere(job, each))


def _passes_somewhere(job: Job, each: MappedMount) -> bool:
    base, grid = each.floor.job.plan.spot, each.floor.grid
    if base is None:
        return False
    for yaw in YAWS:
        rows, columns = np.nonzero(each.clear[yaw] & each.wished[yaw])
        for at in range(0, len(rows), max(len(rows) // SAMPLED, 1)):
            place = {
                "x_mm": float(grid.x_mm[columns[at]]),
                "y_mm": float(grid.y_mm[rows[at]]),
                "yaw_deg": yaw,
            }
            if is_clear_at(job, base.model_copy(update=place), BESIDE):
                return True
    return False
