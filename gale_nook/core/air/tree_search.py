"""Trees of ducts to wanted outlets: one duct from the heater, and a splitter for each outlet more,
where its own duct is the shortest.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace

from gale_nook.core.air.duct_space import (
    MARGIN_MM,
    DuctSpace,
    duct_lattice,
    duct_radius_mm,
    stretch_boxes,
)
from gale_nook.core.air.outlet_places import ends_of, ways_it_may_blow
from gale_nook.core.air.run_rules import bend_counts_mm
from gale_nook.core.catalogue.air import DuctKind
from gale_nook.core.ducts.ends import End, warm_end
from gale_nook.core.geometry.frames import Vec3, add, dot, norm, scale, sub, unit
from gale_nook.core.job import Job
from gale_nook.core.plan.air import WantedOutlet
from gale_nook.core.routing.families import length_mm
from gale_nook.core.routing.square_search import (
    DIRECTIONS,
    PASSAGE,
    Lattice,
    Node,
    SquareCosts,
    SquareSearch,
    SquareStart,
)

PANEL_COSTS_MM, OPEN_SHARE = 120.0, 2.0
SPLITTER_COSTS_MM, FAR_SHARE = 200.0, 0.4
SPLITTER_MM, SPLITTER_STEP_MM = 75.0, 80.0  # half of a splitter; places that are tried for it
OUTLET_STRAIGHT_MM = 20.0
HASTE = 1.5
STRAY_MM = 1.0  # so far a bend may have left its straight in a panel's hole
ALONG = 0.999  # of a unit vector: it goes along one of the vehicle's directions
SHORT_FIRST_MM = 30.0


@dataclass(frozen=True, slots=True)
class TreeOptions:
    """How a tree is led.

    Attributes:
        order: of the outlets, by their ids: the first is led to, the others branch off.
        main, branch: kinds of duct before the first splitter, and to single outlets.
        layers: of lagging.
        first_mm: straight after the heater, if it can be had.
        gap_share: of the gaps that heat asks for.
        hollow: ids of furniture that is taken for hollow though nobody has said so.
    """

    order: tuple[str, ...]
    main: DuctKind
    branch: DuctKind
    layers: int
    first_mm: float
    gap_share: float = 1.0
    hollow: frozenset[str] = frozenset()


@dataclass(eq=False)
class TreeLeg:
    """One duct of a tree that is being built.

    Attributes:
        points: corners, its start and end included.
        before: the leg at whose end it begins; branch: square off from there.
        outlet: in which it ends; None for a splitter.
        wide: it was led as wide as the main duct.
    """

    points: list[Vec3]
    before: TreeLeg | None = None
    branch: bool = False
    outlet: WantedOutlet | None = None
    wide: bool = False


@dataclass
class Tree:
    """A tree that is being built: its legs, each after the one that it comes from."""

    legs: list[TreeLeg] = field(default_factory=list)

    def copy(self) -> Tree:
        """Return the same tree, to be built on."""
        copies = {id(leg): replace(leg, points=list(leg.points)) for leg in self.legs}
        for leg in copies.values():
            leg.before = copies[id(leg.before)] if leg.before is not None else None
        return Tree(list(copies.values()))

    def outlets_after(self, leg: TreeLeg) -> int:
        """Return how many outlets a leg leads to."""
        if leg.outlet is not None:
            return 1
        return sum(self.outlets_after(other) for other in self.legs if other.before is leg)

    def way_mm(self, leg: TreeLeg) -> float:
        """Return the way from the heater to where a leg begins."""
        before = leg.before
        return 0.0 if before is None else self.way_mm(before) + length_mm(before.points)

    def split(self, leg: TreeLeg, point: Vec3, branch: TreeLeg) -> None:
        """Put a splitter into a leg at a point of one of its straights."""
        index = _straight_with(leg.points, point)
        rest = TreeLeg([point, *leg.points[index + 1 :]], leg, False, leg.outlet, leg.wide)
        for other in self.legs:
            if other.before is leg:
                other.before = rest
        leg.points, leg.outlet = [*leg.points[: index + 1], point], None
        branch.before, branch.branch = leg, True
        at = self.legs.index(leg)
        self.legs[at + 1 : at + 1] = [rest]
        self.legs.append(branch)


@dataclass(frozen=True, slots=True)
class NoWay:
    """An outlet that no duct could be led to."""

    outlet: WantedOutlet


def _straight_with(points: Sequence[Vec3], point: Vec3) -> int:
    """The straight on which a point lies."""
    off = [
        math.dist(a, point) + math.dist(point, b) - math.dist(a, b)
        for a, b in itertools.pairwise(points)
    ]
    return off.index(min(off))


Known = dict[TreeOptions, "Tree | NoWay"]


def find_tree(
    job: Job, wanted: Sequence[WantedOutlet], options: TreeOptions, known: Known | None = None
) -> Tree | NoWay:
    """Return a tree to every wanted outlet, or the outlet that there is no way to.

    Needs a heater in its place.

    Args:
        known: trees that were found already, by how; what is found here is put with them. One that
            leads to the first of these outlets is gone on from.
    """
    known = known if known is not None else {}
    if options in known:
        return known[options]
    outlet = next(each for each in wanted if each.id == options.order[-1])
    before = Tree()
    if len(options.order) > 1:
        found = find_tree(job, wanted, replace(options, order=options.order[:-1]), known)
        if isinstance(found, NoWay):
            return found
        before = found.copy()
        reached = _next(job, before, outlet, options)
    else:
        leg = _first(job, warm_end(job), outlet, options)
        before.legs.extend([leg] if leg is not None else [])
        reached = leg is not None
    known[options] = before if reached else NoWay(outlet)
    return known[options]


def _space(job: Job, kind: DuctKind, options: TreeOptions) -> DuctSpace:
    return DuctSpace(
        duct_radius_mm(job, kind, options.layers),
        kind.least_radius_mm,
        options.gap_share,
        options.hollow,
    )


def _first(job: Job, end: End | None, outlet: WantedOutlet, options: TreeOptions) -> TreeLeg | None:
    """The duct from the heater to the first outlet."""
    if end is None:
        return None
    start, along = end
    space = _space(job, options.main, options)
    way = next((n for n, each in enumerate(DIRECTIONS) if dot(each, along) > ALONG), None)
    begins: tuple[Vec3, ...] = ()
    if way is not None:
        ways: tuple[int, ...] = (way,)
        straight_mm, own_mm = SHORT_FIRST_MM, 2 * space.radius_mm
    else:  # it lies across the vehicle's directions: its first bend takes it along one of them
        begins = (start,)
        start = _rounded(add(start, scale(along, options.first_mm + space.bend_mm)))
        ways = tuple(n for n, each in enumerate(DIRECTIONS) if dot(each, along) > 0.0)
        straight_mm, own_mm = space.bend_mm, 0.0
    own = duct_lattice(job, space, (start, outlet.at), without="spot.heater")
    lattice = duct_lattice(job, space, (start, outlet.at))
    wanted_mm = options.first_mm if way is not None else 0.0
    at = lattice.nearest(start)
    begin = SquareStart(at, ways, straight_mm, own_mm=own_mm, wanted_mm=wanted_mm)
    arrives = ways_it_may_blow(job, outlet, options.main.bore_mm)
    corners = _led(job, (lattice, own), (begin,), space, outlet, arrives)
    return TreeLeg([*begins, *corners], outlet=outlet, wide=True) if corners is not None else None


def _next(job: Job, tree: Tree, outlet: WantedOutlet, options: TreeOptions) -> bool:
    """Put a duct to one more outlet into the tree, from a splitter where that is shortest; say
    whether there is a way.
    """
    space = _space(job, options.branch, options)
    known = [point for leg in tree.legs for point in _every(leg.points, SPLITTER_STEP_MM)]
    apart_mm = math.ceil(space.radius_mm + duct_radius_mm(job, options.main, options.layers)) + 1.0
    laid = [box for leg in tree.legs for box in stretch_boxes(leg.points, apart_mm)]
    corners_of_laid = (corner for box in laid for corner in box)
    own = duct_lattice(job, space, (*known, *corners_of_laid, outlet.at))
    lattice = own.copy()
    for box in laid:
        lattice.block(box)
    starts: list[SquareStart] = []
    legs: dict[Node, TreeLeg] = {}
    for leg in tree.legs:
        for node, axis, cost in _splitter_places(tree, leg, own, options):
            legs.setdefault(node, leg)
            ways = tuple(way for way in range(6) if way // 2 != axis)
            starts.append(SquareStart(node, ways, SPLITTER_MM, cost, apart_mm))
    arrives = ways_it_may_blow(job, outlet, options.branch.bore_mm)
    corners = _led(job, (lattice, own), tuple(starts), space, outlet, arrives)
    if corners is None:
        return False
    branch = TreeLeg(list(corners), outlet=outlet)
    tree.split(legs[own.nearest(corners[0])], corners[0], branch)
    return True


def _led(
    job: Job,
    lattices: tuple[Lattice, Lattice],
    starts: tuple[SquareStart, ...],
    space: DuctSpace,
    outlet: WantedOutlet,
    arrives: frozenset[int],
) -> tuple[Vec3, ...] | None:
    lattice, own = lattices
    return SquareSearch(
        lattice,
        own,
        starts,
        space.bend_mm,
        ends_of(job, lattice, outlet),
        arrives,
        SquareCosts(bend_counts_mm(job), PANEL_COSTS_MM, OPEN_SHARE, HASTE),
        OUTLET_STRAIGHT_MM,
        space.radius_mm + MARGIN_MM + math.sqrt(2 * space.bend_mm * STRAY_MM),
    ).run()


def _splitter_places(
    tree: Tree, leg: TreeLeg, lattice: Lattice, options: TreeOptions
) -> Iterator[tuple[Node, int, float]]:
    """Yield where a splitter finds room on a leg: points of the lattice, the axis along which the
    leg runs there, and what it costs.
    """
    passed = tree.way_mm(leg)
    last = len(leg.points) - 2
    for index, (start, end) in enumerate(itertools.pairwise(leg.points)):
        along, length = unit(sub(end, start)), norm(sub(end, start))
        bend = options.main.least_radius_mm + SPLITTER_MM
        after = bend if index > 0 else 2 * SPLITTER_MM
        if index == 0 and leg.before is None:
            after = max(options.first_mm, SPLITTER_MM)
        before = bend if index < last else 2 * SPLITTER_MM
        axis = next((n // 2 for n, each in enumerate(DIRECTIONS) if dot(each, along) > ALONG), None)
        if axis is not None:
            for node, at in _points_along(lattice, start, axis, end):
                if after <= at <= length - before and _clear_of_panels(lattice, node, axis):
                    yield node, axis, SPLITTER_COSTS_MM + FAR_SHARE * (passed + at)
        passed += length


def _every(points: Sequence[Vec3], step_mm: float) -> Iterator[Vec3]:
    """Yield the corners, and points between them."""
    yield points[0]
    for start, end in itertools.pairwise(points):
        count = max(math.ceil(math.dist(start, end) / step_mm), 1)
        for number in range(1, count):
            share = number / count
            x, y, z = (round(a + share * (b - a)) for a, b in zip(start, end, strict=True))
            yield (float(x), float(y), float(z))
        yield end


def _points_along(
    lattice: Lattice, start: Vec3, axis: int, end: Vec3
) -> Iterator[tuple[Node, float]]:
    """Points of a lattice on a straight, with their distance from its start."""
    base = list(lattice.nearest(start))
    low, high = sorted((start[axis], end[axis]))
    for number, value in enumerate(lattice.axes[axis].tolist()):
        if low <= value <= high:
            base[axis] = number
            yield (base[0], base[1], base[2]), abs(value - start[axis])


def _clear_of_panels(lattice: Lattice, node: Node, axis: int) -> bool:
    """Whether the duct passes no panel right before or after a point."""
    steps, line = lattice.steps[axis], lattice.axes[axis]
    low, high = line[node[axis]] - SPLITTER_MM, line[node[axis]] + SPLITTER_MM
    index: list[int] = list(node)
    for number in range(len(line) - 1):
        if line[number + 1] > low and line[number] < high:
            index[axis] = number
            if steps[tuple(index)] == PASSAGE:
                return False
    return True


def _rounded(point: Vec3) -> Vec3:
    x, y, z = (float(round(value)) for value in point)
    return (x, y, z)
