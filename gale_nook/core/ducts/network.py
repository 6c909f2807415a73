"""A network of ducts behind a fan: node pressures and flows, by Newton with its exact Jacobian."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np

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


@dataclass(frozen=True)
class Resistances:
    """Pieces of duct, several to a branch: each loses (f·L/D + K) velocity heads.

    Attributes:
        branch: of each piece, (n,).
        length_m, bore_m, roughness_m, loss_k: of each, (n,).
        density_kg_m3, viscosity_pa_s: of the air in each, (n,).
        branches: how many there are.
    """

    branch: Any
    length_m: Any
    bore_m: Any
    roughness_m: Any
    loss_k: Any
    density_kg_m3: Any
    viscosity_pa_s: Any
    branches: int

    def losses_pa(self, flow_kg_s: Any) -> tuple[Any, Any]:
        """Return what each branch loses at a flow, and the slope of that, (branches,) each; against
        the flow where that is negative.
        """
        flow = flow_kg_s[self.branch]
        size = np.abs(flow)
        reynolds_per_flow, relative_roughness, along, across = self._constants
        load, rise = friction_load(size * reynolds_per_flow, relative_roughness)
        minor = across * size
        loss = along * load + minor * size
        slope = along * rise * reynolds_per_flow + 2.0 * minor
        count = self.branches
        losses = np.bincount(self.branch, loss * np.sign(flow), count)
        return losses, np.bincount(self.branch, slope, count)

    @cached_property
    def _constants(self) -> tuple[Any, Any, Any, Any]:
        """Of each piece: Reynolds number to its flow, roughness to its bore, loss to its friction
        load, minor loss to the square of its flow.
        """
        area = np.pi * self.bore_m**2 / 4
        reynolds_per_flow = self.bore_m / (area * self.viscosity_pa_s)
        head = 1.0 / (2.0 * self.density_kg_m3 * area**2)
        along = self.length_m / self.bore_m * head / reynolds_per_flow**2
        return reynolds_per_flow, self.roughness_m / self.bore_m, along, self.loss_k * head


@dataclass(frozen=True)
class Openings:
    """Openings that lose in proportion to the square of the flow: k·m·|m|."""

    factor: Any  # Pa s²/kg², (n,)

    def losses_pa(self, flow_kg_s: Any) -> tuple[Any, Any]:
        """Return what each loses, and the slope of that, (n,) each."""
        size = np.sqrt(flow_kg_s**2 + SMALL_FLOW_KG_S**2)
        return self.factor * flow_kg_s * size, self.factor * (size + flow_kg_s**2 / size)


@dataclass(frozen=True)
class Network:
    """Branches between nodes, and a source that lifts the pressure from outside to the first node.

    Branches are the resistances' first, then the openings'. Node GROUND is outside, at no pressure.

    Attributes:
        starts, ends: node of each branch, (m,).
        nodes: how many there are; 0 is where the source blows in.
        source: returns the pressure that the source gives at a flow, and its slope, which is not
            above 0.
    """

    starts: tuple[int, ...]
    ends: tuple[int, ...]
    nodes: int
    resistances: Resistances
    openings: Openings
    source: LossOf


@dataclass(frozen=True)
class Flows:
    """The solution.

    Attributes:
        branch_kg_s, node_pa: of each branch, of each node.
        total_kg_s, source_pa: through the source, and the pressure that it gives.
        steps: that it took.
    """

    branch_kg_s: Any
    node_pa: Any
    total_kg_s: float
    source_pa: float
    steps: int

    @property
    def guess_kg_s(self) -> Any:
        """To begin the solution of a like network from."""
        return np.concatenate([[self.total_kg_s], self.branch_kg_s])


def solve(network: Network, guess_kg_s: Any = 0.02, solved: float = SOLVED) -> Flows:
    """Return flows and node pressures.

    Every branch loses more the more flows, and the source gives less, so there is one solution,
    whatever the guess. Each step solves the linearised equations for the node pressures (E. Todini,
    S. Pilati, in Computer Applications in Water Supply, 1988); it is the exact Newton step of a
    convex sum, and halved where it goes too far.

    Args:
        guess_kg_s: of the flow everywhere, or through the source and each branch, (m + 1,).
        solved: change of the flows in a step, relative to the largest, after which there is no
            other.

    Raises:
        NotConverged: it did not come to rest.
    """
    incidence = _incidence(network)
    flow = np.broadcast_to(np.asarray(guess_kg_s, dtype=float), (incidence.shape[1],))
    told = _losses(network, flow)
    if np.abs(incidence @ flow).max() > BALANCED * np.abs(flow).max():
        _, flow = _step(incidence, flow, *told)  # mass balances from here on
        told = _losses(network, flow)
    left_over = 0.0
    for count in range(1, MOST_STEPS):
        pressure, wanted = _step(incidence, flow, *told)
        change = wanted - flow
        left_over = float(np.abs(change).max())
        if left_over <= solved * max(float(np.abs(wanted).max()), SMALL_FLOW_KG_S):
            source_pa, _ = network.source(float(wanted[0]))
            return Flows(wanted[1:], pressure, float(wanted[0]), source_pa, count)
        flow, told = _damped(network, flow, change, told[0], incidence.T @ pressure)
    raise NotConverged("flow through the ducts", MOST_STEPS, left_over)


def step_on(network: Network, flow_kg_s: Any) -> Flows:
    """Return what one Newton step makes of flows near the solution that balance at every node: its
    error is the square of theirs. For a network whose resistances change between steps.

    Args:
        flow_kg_s: through the source and each branch, (m + 1,).
    """
    incidence = _incidence(network)
    pressure, wanted = _step(incidence, flow_kg_s, *_losses(network, flow_kg_s))
    source_pa, _ = network.source(float(wanted[0]))
    return Flows(wanted[1:], pressure, float(wanted[0]), source_pa, 1)


def _incidence(network: Network) -> Any:
    return _incidence_of(network.starts, network.ends, network.nodes)


@lru_cache(maxsize=256)
def _incidence_of(starts: tuple[int, ...], ends: tuple[int, ...], nodes: int) -> Any:
    """Nodes by branches, the source first: −1 where a branch leaves a node, +1 where it comes."""
    result = np.zeros((nodes, len(starts) + 1))
    result[0, 0] = 1.0
    for number, (start, end) in enumerate(zip(starts, ends, strict=True), 1):
        if start != GROUND:
            result[start, number] -= 1.0
        if end != GROUND:
            result[end, number] += 1.0
    result.flags.writeable = False
    return result


def _losses(network: Network, flow: Any) -> tuple[Any, Any]:
    """Of the source (what it takes away) and of every branch."""
    given, falls = network.source(float(flow[0]))
    count = network.resistances.branches
    ducts, openings = flow[1 : 1 + count], flow[1 + count :]
    losses, slopes = [np.array([-given])], [np.array([-falls])]
    for part, flows in ((network.resistances, ducts), (network.openings, openings)):
        if len(flows):
            loss, slope = part.losses_pa(flows)
            losses.append(loss)
            slopes.append(slope)
    return np.concatenate(losses), np.maximum(np.concatenate(slopes), LEAST_SLOPE)


def _step(incidence: Any, flow: Any, losses: Any, slopes: Any) -> tuple[Any, Any]:
    """Node pressures and flows of the linearised equations."""
    weights = 1.0 / slopes
    left = (incidence * weights) @ incidence.T
    right = incidence @ (flow - weights * losses)
    # the pressure at a branch's end is that at its start less its loss
    pressure = np.linalg.solve(left, right)
    return pressure, flow - weights * (losses + incidence.T @ pressure)


def _damped(
    network: Network, flow: Any, change: Any, losses: Any, lifts: Any
) -> tuple[Any, tuple[Any, Any]]:
    """Go a step as far as the sum of all losses falls along it; return flows, losses and slopes
    there.

    Along a step that keeps mass balanced, the sum's slope is that of losses times step: below 0 at
    its start, and it may rise to no more than half of that. What the pressures lift adds nothing to
    it, but leaves little of each loss, so that the sum is not lost in the rounding of large ones.
    """
    start, share = float((losses + lifts) @ change), 1.0
    slack = ROUNDING * float(np.abs(losses) @ np.abs(change))
    for _ in range(HALVINGS):
        ahead = flow + share * change
        told = _losses(network, ahead)
        if float((told[0] + lifts) @ change) <= -0.5 * start + slack:
            return ahead, told
        share /= 2
    return ahead, told
