"""A network of ducts behind a fan: node pressures and flows, by Newton with its exact Jacobian.

In plain numbers: a van's ducts are a few dozen pieces, on which arrays cost more than they save.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache, partial
from typing import NamedTuple

from gale_nook.core.ducts.friction import friction_load
from gale_nook.core.errors import NotConverged

MOST_STEPS = 60
SOLVED = 1e-5  # of the flows, relative to the largest; the step that tells leaves its square
BALANCED = 1e-9
LEAST_SLOPE = 1e-2  # Pa s/kg: of what hardly resists; ducts have thousands. It only slows steps
HALVINGS = 30
ROUNDING = 1e-12  # of the sum, below which nothing can be told of it
SMALL_FLOW_KG_S = 1e-7  # below it an opening resists in proportion, so that its slope is never 0
GROUND = -1

LossOf = Callable[[float], tuple[float, float]]


class Resistance(NamedTuple):
    """A piece of duct, one of several in a branch: it loses (f·L/D + K) velocity heads.

    Attributes:
        branch: of the network, that it is in.
        reynolds_per_flow: s/kg.
        relative_roughness: to the bore.
        along_pa: loss to the friction load f·Re².
        across: loss to the square of the flow, Pa s²/kg².
    """

    branch: int
    reynolds_per_flow: float
    relative_roughness: float
    along_pa: float
    across: float


class Bore(NamedTuple):
    """What of a piece of duct resists, whatever the air in it.

    Attributes:
        per_viscosity: Reynolds number times viscosity, to the flow, 1/m.
        relative_roughness: to the bore.
        along: loss to the friction load, at a viscosity and a density of 1.
        head: velocity head to the square of the flow, at a density of 1.
    """

    per_viscosity: float
    relative_roughness: float
    along: float
    head: float

    @classmethod
    def of(cls, length_m: float, bore_m: float, roughness_m: float) -> Bore:
        """Return the bore of a piece of duct."""
        area = math.pi * bore_m**2 / 4
        per_viscosity = bore_m / area
        head = 1.0 / (2.0 * area**2)
        along = length_m / bore_m * head / per_viscosity**2
        return cls(per_viscosity, roughness_m / bore_m, along, head)

    def resistance(
        self, branch: int, loss_k: float, density_kg_m3: float, viscosity_pa_s: float
    ) -> Resistance:
        """Return how it resists in a branch, with some air in it and loss_k velocity heads lost."""
        return Resistance(
            branch,
            self.per_viscosity / viscosity_pa_s,
            self.relative_roughness,
            self.along * viscosity_pa_s**2 / density_kg_m3,
            loss_k * self.head / density_kg_m3,
        )


def duct_losses_pa(
    pieces: Iterable[Resistance], flow_kg_s: Sequence[float], branches: int
) -> tuple[list[float], list[float]]:
    """Return what each branch loses at its flow, and the slope of that, (branches,) each; against
    the flow where that is negative.
    """
    losses, slopes = [0.0] * branches, [0.0] * branches
    for branch, reynolds_per_flow, relative_roughness, along_pa, across in pieces:
        flow = flow_kg_s[branch]
        size = abs(flow)
        load, rise = friction_load(size * reynolds_per_flow, relative_roughness)
        minor = across * size
        losses[branch] += math.copysign(along_pa * load + minor * size, flow)
        slopes[branch] += along_pa * rise * reynolds_per_flow + 2.0 * minor
    return losses, slopes


def opening_loss_pa(factor: float, flow_kg_s: float) -> tuple[float, float]:
    """Return what an opening loses that resists in proportion to the square of the flow, k·m·|m|,
    and the slope of that.

    Args:
        factor: k, Pa s²/kg².
    """
    size = math.hypot(flow_kg_s, SMALL_FLOW_KG_S)
    return factor * flow_kg_s * size, factor * (size + flow_kg_s**2 / size)


@dataclass(frozen=True)
class Network:
    """Branches between nodes, and a source that lifts the pressure from outside to the first node.

    Branches are the ducts first, then the openings, then what tells its own loss: pumps, valves
    that pass one way. Node GROUND is outside, at no pressure; of a closed loop it is where its pump
    draws in.

    Attributes:
        starts, ends: node of each branch, (m,).
        nodes: how many there are; 0 is where the source blows in.
        pieces: of the ducts, in any order.
        openings: factor of each, as in opening_loss_pa.
        source: returns the pressure that the source gives at a flow, and its slope, which is not
            above 0.
        others: each returns its loss at a flow, and the slope of that, which is not below 0.
    """

    starts: tuple[int, ...]
    ends: tuple[int, ...]
    nodes: int
    pieces: Sequence[Resistance]
    openings: Sequence[float]
    source: LossOf
    others: Sequence[LossOf] = ()

    @property
    def ducts(self) -> int:
        """How many branches are ducts."""
        return len(self.starts) - len(self.openings) - len(self.others)


@dataclass(frozen=True)
class Flows:
    """The solution.

    Attributes:
        branch_kg_s, node_pa: of each branch, of each node.
        total_kg_s, source_pa: through the source, and the pressure that it gives.
        steps: that it took.
    """

    branch_kg_s: Sequence[float]
    node_pa: Sequence[float]
    total_kg_s: float
    source_pa: float
    steps: int

    @property
    def guess_kg_s(self) -> list[float]:
        """To begin the solution of a like network from."""
        return [self.total_kg_s, *self.branch_kg_s]


def solve(
    network: Network,
    guess_kg_s: float | Sequence[float] = 0.02,
    solved: float = SOLVED,
    least_kg_s: float = SMALL_FLOW_KG_S,
) -> Flows:
    """Return flows and node pressures.

    Every branch loses more the more flows, and the source gives less, so there is one solution,
    whatever the guess. Each step solves the linearised equations for the node pressures (E. Todini,
    S. Pilati, in Computer Applications in Water Supply, 1988); it is the exact Newton step of a
    convex sum, and halved where it goes too far.

    Args:
        guess_kg_s: of the flow everywhere, or through the source and each branch, (m + 1,).
        solved: change of the flows in a step, relative to the largest, after which there is no
            other.
        least_kg_s: what `solved` is relative to where every flow is smaller: of a loop that is open
            or shut nothing is left.

    Raises:
        NotConverged: it did not come to rest.
    """
    count = len(network.starts) + 1
    flow = [guess_kg_s] * count if isinstance(guess_kg_s, float) else list(guess_kg_s)
    told = _losses(network, flow)
    if _largest(_into_nodes(network, flow)) > BALANCED * _largest(flow):
        _, flow = _step(network, flow, *told)  # mass balances from here on
        told = _losses(network, flow)
    left_over = 0.0
    for steps in range(1, MOST_STEPS):
        pressure, wanted = _step(network, flow, *told)
        change = [after - before for after, before in zip(wanted, flow, strict=True)]
        left_over = _largest(change)
        if left_over <= solved * max(_largest(wanted), least_kg_s):
            return _flows(network, wanted, pressure, steps)
        flow, told = _damped(network, flow, change, told[0], _lifts(network, pressure))
    raise NotConverged("flow through the ducts", MOST_STEPS, left_over)


def step_on(network: Network, flow_kg_s: Sequence[float]) -> Flows:
    """Return what one Newton step makes of flows near the solution that balance at every node: its
    error is the square of theirs. For a network whose resistances change between steps.

    Args:
        flow_kg_s: through the source and each branch, (m + 1,).
    """
    pressure, wanted = _step(network, flow_kg_s, *_losses(network, flow_kg_s))
    return _flows(network, wanted, pressure, 1)


def _flows(network: Network, flow: Sequence[float], pressure: Sequence[float], steps: int) -> Flows:
    source_pa, _ = network.source(flow[0])
    return Flows(flow[1:], pressure, flow[0], source_pa, steps)


def _largest(values: Iterable[float]) -> float:
    return max(map(abs, values))


def _losses(network: Network, flow: Sequence[float]) -> tuple[list[float], list[float]]:
    """Of the source (what it takes away) and of every branch."""
    given, falls = network.source(flow[0])
    ducts = network.ducts
    losses, slopes = duct_losses_pa(network.pieces, flow[1:], ducts)
    telling: list[LossOf] = [partial(opening_loss_pa, factor) for factor in network.openings]
    telling += network.others
    for loss_of, through in zip(telling, flow[1 + ducts :], strict=True):
        loss, slope = loss_of(through)
        losses.append(loss)
        slopes.append(slope)
    return [-given, *losses], [max(slope, LEAST_SLOPE) for slope in (-falls, *slopes)]


def _into_nodes(network: Network, flow: Sequence[float]) -> list[float]:
    """What comes to each node less what leaves it."""
    sums = [0.0] * network.nodes
    sums[0] = flow[0]
    for start, end, through in zip(network.starts, network.ends, flow[1:], strict=True):
        if start != GROUND:
            sums[start] -= through
        if end != GROUND:
            sums[end] += through
    return sums


def _lifts(network: Network, pressure: Sequence[float]) -> list[float]:
    """By how much the pressure is higher where the source, and each branch, ends."""
    at = [*pressure, 0.0]  # the last is GROUND's
    pairs = zip(network.starts, network.ends, strict=True)
    return [pressure[0], *(at[end] - at[start] for start, end in pairs)]


def _step(
    network: Network, flow: Sequence[float], losses: Sequence[float], slopes: Sequence[float]
) -> tuple[list[float], list[float]]:
    """Node pressures and flows of the linearised equations."""
    weights = [1.0 / slope for slope in slopes]
    lossless = [m - w * loss for m, w, loss in zip(flow, weights, losses, strict=True)]
    pressure = _node_pressures(network, weights, _into_nodes(network, lossless))
    # the pressure at a branch's end is that at its start less its loss
    lifts = _lifts(network, pressure)
    return pressure, [m - w * lift for m, w, lift in zip(lossless, weights, lifts, strict=True)]


def _node_pressures(network: Network, weights: Sequence[float], right: list[float]) -> list[float]:
    """Solve the symmetric equations of the nodes by elimination, fewest neighbours first, in which
    a tree fills in nothing. They are positive definite: no pivot is small.
    """
    diagonal = [0.0] * network.nodes
    rows = [[0.0] * network.nodes for _ in diagonal]
    diagonal[0] = weights[0]
    for start, end, weight in zip(network.starts, network.ends, weights[1:], strict=True):
        if start != GROUND:
            diagonal[start] += weight
        if end != GROUND:
            diagonal[end] += weight
        if GROUND not in {start, end}:
            rows[start][end] -= weight
            rows[end][start] -= weight
    order = _elimination(network.starts, network.ends, network.nodes)
    for node, neighbours in order:
        row, pivot = rows[node], diagonal[node]
        for one in neighbours:
            share = row[one] / pivot
            diagonal[one] -= share * row[one]
            right[one] -= share * right[node]
            for other in neighbours:
                rows[one][other] -= share * row[other]
    for node, neighbours in reversed(order):
        row = rows[node]
        known = sum(row[one] * right[one] for one in neighbours)
        right[node] = (right[node] - known) / diagonal[node]
    return right


@lru_cache(maxsize=256)
def _elimination(
    starts: tuple[int, ...], ends: tuple[int, ...], nodes: int
) -> tuple[tuple[int, tuple[int, ...]], ...]:
    """Nodes in the order of elimination, each with its neighbours that come after it."""
    near: dict[int, set[int]] = {node: set() for node in range(nodes)}
    for start, end in zip(starts, ends, strict=True):
        if GROUND not in {start, end} and start != end:
            near[start].add(end)
            near[end].add(start)
    order = []
    while near:
        node = min(near, key=lambda each: (len(near[each]), each))
        neighbours = near.pop(node)
        for one in neighbours:
            near[one] = (near[one] | neighbours) - {one, node}
        order.append((node, tuple(sorted(neighbours))))
    return tuple(order)


def _damped(
    network: Network,
    flow: Sequence[float],
    change: Sequence[float],
    losses: Sequence[float],
    lifts: Sequence[float],
) -> tuple[list[float], tuple[list[float], list[float]]]:
    """Go a step as far as the sum of all losses falls along it; return flows, losses and slopes
    there.

    Along a step that keeps mass balanced, the sum's slope is that of losses times step: below 0 at
    its start, and it may rise to no more than half of that. What the pressures lift adds nothing to
    it, but leaves little of each loss, so that the sum is not lost in the rounding of large ones.
    """
    start, share = _slope_along(losses, lifts, change), 1.0
    slack = ROUNDING * sum(abs(loss * c) for loss, c in zip(losses, change, strict=True))
    for _ in range(HALVINGS):
        ahead = [m + share * c for m, c in zip(flow, change, strict=True)]
        told = _losses(network, ahead)
        if _slope_along(told[0], lifts, change) <= -0.5 * start + slack:
            return ahead, told
        share /= 2
    return ahead, told


def _slope_along(losses: Sequence[float], lifts: Sequence[float], change: Sequence[float]) -> float:
    return sum((loss + lift) * c for loss, lift, c in zip(losses, lifts, change, strict=True))
