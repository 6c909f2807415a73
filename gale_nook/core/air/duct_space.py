"""The space inside that ducts can be led through: what is in the way, and the panels in which a
hole can be made.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from gale_nook.core.air.bodies import air_bodies
from gale_nook.core.air.heat_rules import INSIDE, bearing_parts
from gale_nook.core.catalogue.air import DuctKind
from gale_nook.core.ducts.layout import fan_of
from gale_nook.core.fuel.bodies import fuel_bodies
from gale_nook.core.geometry.frames import Vec3, add
from gale_nook.core.geometry.hollow import FACES, panel_boxes
from gale_nook.core.geometry.uncertain import widened
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body
from gale_nook.core.pipes.bodies import pipe_bodies
from gale_nook.core.plan.solids import BoxSolid, Hollow, Solid
from gale_nook.core.routing.square_search import Box, Lattice, lattice_of
from gale_nook.core.spot.bodies import spot_bodies
from gale_nook.core.vehicle.bodies import vehicle_bodies
from gale_nook.core.vehicle.floor import floor_finish_z_mm
from gale_nook.core.vehicle.parts import opening_box

NOT_IN_THE_WAY = {"lift-out", "ground"}
MARGIN_MM = 2.0  # on top of every gap, for rounding
EDGE_MM = 15.0  # of a panel that is left round a hole
BESIDE_MM = 90.0  # so near to something a duct is out of the way
AT_OPENING_MM = 120.0  # kept free inside doors and windows
LINES_APART_MM, REGULAR_MM = 15.0, 150.0
BOARD_MM = 40.0  # no thicker, a part is a single board
HOLLOW_FROM_MM = 200.0  # no smaller, furniture may have room inside
USUAL_RADIUS_MM = 50.0
SKIN_SHARE = 0.5  # of the air's warmth over the room that is felt outside one layer of lagging


@dataclass(frozen=True, slots=True)
class InTheWay:
    """A box that a duct keeps out of.

    Attributes:
        body: id of the part; name: what it is called.
        gap_mm: that it keeps besides.
        across: axis across which it lies as a panel that a hole may be made in; None for what no
            hole is made in.
        closed: it is furniture of which nobody has said that it is hollow.
    """

    body: str
    name: str
    box: Box
    gap_mm: float = 0.0
    across: int | None = None
    closed: bool = False


def duct_radius_mm(job: Job, kind: DuctKind, layers: int) -> float:
    """Return half of what a duct takes across, with its lagging."""
    return kind.outer_mm / 2 + layers * job.catalogue.air_equipment.physics.lagging_mm


@fact
def in_the_way(job: Job) -> tuple[InTheWay, ...]:
    """Return everything inside that is in the way of a new tree of ducts: the return duct too, the
    ducts that it takes the place of not.
    """
    hollow = {
        solid.id: solid
        for solid in map(widened, job.plan.vehicle.solids)
        if isinstance(solid, BoxSolid) and solid.hollow is not None and solid.yaw_deg == 0
    }
    bodies = (
        *vehicle_bodies(job),
        *spot_bodies(job),
        *pipe_bodies(job),
        *fuel_bodies(job),
        *_return_bodies(job),
    )
    floor = floor_finish_z_mm(job)
    closed = {
        solid.id
        for solid in job.plan.vehicle.solids
        if isinstance(solid, BoxSolid)
        and solid.hollow is None
        and job.catalogue.solid_kinds[solid.kind].may_be_hollow
        and min(solid.length_mm, solid.width_mm, solid.height_mm) >= HOLLOW_FROM_MM
    }
    boards = {s.id: s for s in job.plan.vehicle.solids if _is_board(job, s)}
    results = []
    for body in bodies:
        hollow_id = body.id.removeprefix("lid.")
        if body.kind in NOT_IN_THE_WAY or body.shape.bounds[5] < floor or hollow_id in hollow:
            continue
        for piece in body.shape.pieces:
            b = piece.bounds
            box: Box = ((b[0], b[1], b[2]), (b[3], b[4], b[5]))
            across = _thin_axis(box) if body.id in boards else None
            results.append(
                InTheWay(body.id, body.name, box, across=across, closed=body.id in closed)
            )
    for solid in hollow.values():
        results.extend(_panels(solid))
    return (*_with_heat(job, results), *_openings(job))


def _return_bodies(job: Job) -> Iterator[Body]:
    back = job.plan.air.return_duct
    owner = f"air.{back.id}" if back is not None else None
    yield from (body for body in air_bodies(job) if body.owner == owner)


def _is_board(job: Job, solid: Solid) -> bool:
    """Whether a part is a single board, in which a hole can be made as in a panel."""
    if not isinstance(solid, BoxSolid) or solid.hollow is not None or solid.yaw_deg != 0:
        return False
    size = (solid.length_mm, solid.width_mm, solid.height_mm)
    return job.catalogue.solid_kinds[solid.kind].board and min(size) <= BOARD_MM


def _thin_axis(box: Box) -> int:
    return min(range(3), key=lambda axis: box[1][axis] - box[0][axis])


def _panels(solid: BoxSolid) -> Iterator[InTheWay]:
    """The panels of hollow furniture; a lid is opened, so that no hole is made in it."""
    hollow = solid.hollow or Hollow()
    for face in hollow.panels:
        part = solid.model_copy(update={"hollow": hollow.model_copy(update={"panels": (face,)})})
        across = None if face in hollow.lids else FACES[face][0]
        for low, size in panel_boxes(part):
            yield InTheWay(solid.id, solid.name, (low, add(low, size)), across=across)


def _openings(job: Job) -> Iterator[InTheWay]:
    """Doors and windows, with room inside of them."""
    out = _wall_mm(job) + AT_OPENING_MM
    for opening in job.plan.vehicle.openings:
        low, size = opening_box(job, opening)
        grown = (
            add(low, (-AT_OPENING_MM, -out, -AT_OPENING_MM)),
            add(add(low, size), (AT_OPENING_MM, out, AT_OPENING_MM)),
        )
        yield InTheWay(f"opening.{opening.id}", opening.name, grown)


def _wall_mm(job: Job) -> float:
    shell = job.plan.vehicle.shell
    return (shell.outer_width_mm - shell.floor_width_mm) / 2


def _with_heat(job: Job, these: Iterable[InTheWay]) -> Iterator[InTheWay]:
    """The same, with the gap by which what heat harms stays cool beside a lagged duct."""
    bears = {solid.id: bearing.rating_c for solid, _, bearing in bearing_parts(job, INSIDE)}
    fan = fan_of(job)
    limit = fan.outlet_limit_c if fan is not None else 0.0
    room = job.plan.heat.inside_c
    skin = room + SKIN_SHARE * max(limit - room, 0.0)
    for each in these:
        rating = bears.get(each.body)
        if rating is None or rating >= skin or each.across is not None or rating <= room:
            yield each
        else:  # by `beside_c`, of a duct of usual size
            share = (rating - room) / (skin - room)
            yield replace(each, gap_mm=max(USUAL_RADIUS_MM * (1 / share - 1), 10.0))


@dataclass(frozen=True)
class DuctSpace:
    """How a duct is led.

    Attributes:
        radius_mm: of what it takes across, with its lagging.
        bend_mm: radius of its bends.
        gap_share: of the gaps that heat asks for.
        hollow: ids of furniture that is taken for hollow though nobody has said so.
    """

    radius_mm: float
    bend_mm: float
    gap_share: float = 1.0
    hollow: frozenset[str] = frozenset()

    def box(self, each: InTheWay) -> Box:
        """Where a duct's middle may not be for one thing."""
        out = self.radius_mm + each.gap_mm * self.gap_share + MARGIN_MM
        low, high = each.box
        return (
            (
                math.floor(low[0] - out),
                math.floor(low[1] - out),
                math.floor(low[2] - out),
            ),
            (math.ceil(high[0] + out), math.ceil(high[1] + out), math.ceil(high[2] + out)),
        )

    def hole(self, each: InTheWay) -> Box:
        """Where a duct's middle may pass a panel."""
        inside = self.radius_mm + EDGE_MM
        low = tuple(math.ceil(value + inside) for value in each.box[0])
        high = tuple(math.floor(value - inside) for value in each.box[1])
        return (low[0], low[1], low[2]), (high[0], high[1], high[2])


def duct_lattice(job: Job, space: DuctSpace, points: Sequence[Vec3], without: str = "") -> Lattice:
    """Return the lattice that ducts are led through, with all that is in the way.

    Args:
        points: through which it has lines: the heater's warm end, outlets, corners of ducts.
        without: id of a body that is not in the way.
    """
    things = [each for each in in_the_way(job) if not (each.closed and each.body in space.hollow)]
    lattice = lattice_of(_lines(job, space, things, points))
    for each in things:
        if each.across is None and each.body != without:
            lattice.block(space.box(each))
    for each in things:
        if each.across is not None:
            lattice.let_pass(space.box(each), each.across, space.hole(each))
    for box in _out_of_the_way(job, space):
        lattice.shelter(box)
    return lattice


def _out_of_the_way(job: Job, space: DuctSpace) -> Iterator[Box]:
    """Where a duct is not in anybody's way: along the walls, in hollow furniture, under a bed."""
    out, floor = space.radius_mm + BESIDE_MM, floor_finish_z_mm(job)
    for body in vehicle_bodies(job):
        if body.kind == "wall":
            b = body.shape.bounds
            yield (b[0], b[1] - out, b[2]), (b[3], b[4] + out, b[5])
    for solid in job.plan.vehicle.solids:
        if not isinstance(solid, BoxSolid):
            continue
        low, high = box_of(solid)
        if solid.hollow is not None or solid.id in space.hollow:
            yield low, high
        elif solid.kind == "bed":
            yield (low[0], low[1], floor), (high[0], high[1], low[2])


def box_of(solid: BoxSolid) -> Box:
    """Return the box of a part; turned furniture counts as if it were not."""
    low = (solid.x_mm, solid.y_mm, solid.z_mm)
    return low, add(low, (solid.length_mm, solid.width_mm, solid.height_mm))


def _lines(
    job: Job, space: DuctSpace, things: Sequence[InTheWay], points: Sequence[Vec3]
) -> tuple[list[float], list[float], list[float]]:
    """Coordinates of the lines: through the points, beside what is in the way, and every so far."""
    shell = job.plan.vehicle.shell
    half = shell.floor_width_mm / 2
    front = shell.bulkhead_x_mm
    if any(point[0] < front for point in points):
        front = shell.front_x_mm
    low = (front, -half, floor_finish_z_mm(job))
    high = (shell.rear_x_mm, half, shell.inside_height_mm)
    results: list[list[float]] = []
    for axis in range(3):
        kept = sorted({point[axis] for point in points})
        beside = sorted({side[axis] for each in things for side in space.box(each)})
        count = int((high[axis] - low[axis]) // REGULAR_MM)
        regular = [low[axis] + number * REGULAR_MM for number in range(1, count + 1)]
        inside = low[axis] + space.radius_mm, high[axis] - space.radius_mm
        for values, apart in ((beside, LINES_APART_MM), (regular, REGULAR_MM / 2)):
            for value in values:
                near = any(abs(value - other) < apart for other in kept)
                if inside[0] <= value <= inside[1] and not near:
                    kept.append(value)
        results.append(kept)
    return results[0], results[1], results[2]


def stretch_boxes(points: Sequence[Vec3], radius_mm: float) -> Iterator[Box]:
    """Yield the boxes round the straights of a duct that is laid already."""
    for start, end in itertools.pairwise(points):
        low = tuple(min(a, b) - radius_mm for a, b in zip(start, end, strict=True))
        high = tuple(max(a, b) + radius_mm for a, b in zip(start, end, strict=True))
        yield (low[0], low[1], low[2]), (high[0], high[1], high[2])
