"""The loop and what it warms as one linear system: room, coolant, tanks, blocks and floors.

The coolant of the heater's circuit is one stirred volume at the heater's inlet; on its way round it
follows at once. Between two decisions of the heater everything is linear, and is stepped exactly.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from scipy.linalg import expm

from gale_nook.core.ducts.places import CAB as CAB_PLACE
from gale_nook.core.heat.load_space import load_space
from gale_nook.core.heat.zoned_space import NODES, zoned_network
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.consumers import LEAST_KG_S, Giving, giving_of, plate_share
from gale_nook.core.loop.convectors import Blown, blown, drawn_from
from gale_nook.core.loop.fill import circuit_content_l
from gale_nook.core.loop.flows import CircuitFlow, Setting, circuit_flow
from gale_nook.core.loop.graph import Branch, LoopGraph, loop_graph
from gale_nook.core.loop.hoses import kind_of, loop_parts
from gale_nook.core.loop.mix import filled_mix
from gale_nook.core.plan.air import LIVING
from gale_nook.core.plan.coolant import HEATER, LoopPart

WATER_J_LK = 4180.0
BINS_C = (-20.0, 0.0, 20.0, 40.0, 60.0, 80.0)  # at which flows are worked out
OUTSIDE, CAB, ONE = 0, 1, 2  # columns of what is given from outside: two temperatures and heat


@dataclass(frozen=True)
class Stores:
    """What stores heat, in the order of the state.

    Attributes:
        names: "room:0", …, "coolant", "tank:…", "block:…", "floor:…".
        j_k: heat capacity of each.
    """

    names: tuple[str, ...]
    j_k: Any
    room: Any
    outside_c: float
    cab_c: float
    zones: tuple[str, ...]

    @cached_property
    def place(self) -> dict[str, int]:
        """The place of each in the state."""
        return {name: n for n, name in enumerate(self.names)}

    def air(self, zone: str) -> int:
        """The place of a zone's air."""
        return NODES * (self.zones.index(zone) if zone in self.zones else 0)


@fact
def stores(job: Job) -> Stores:
    """Return what stores heat."""
    plan, book = job.plan, job.catalogue
    zones: tuple[str, ...] = (LIVING,)
    if plan.air.zones:
        network, loss, shares = zoned_network(plan, book)
        zones = tuple(shares.ids)
    else:
        network, loss = load_space(plan, book)
    names = [f"room:{n}" for n in range(len(network.capacities_j_k))]
    sizes = list(network.capacities_j_k)
    names.append("coolant")
    sizes.append(_coolant_j_k(job))
    for part, kind in loop_parts(job):
        if kind.kind == "calorifier":
            names.append(f"tank:{part.id}")
            sizes.append(kind.tank_l * WATER_J_LK)
        elif kind.kind == "engine":
            names.append(f"block:{part.id}")
            sizes.append(kind.block_j_k)
        elif kind.kind == "floor":
            names.append(f"floor:{part.id}")
            sizes.append(kind.floor_j_mk * part.length_m)
    return Stores(tuple(names), np.array(sizes), network, loss.outside_c, loss.cab_c, zones)


def _coolant_j_k(job: Job) -> float:
    number = loop_graph(job).heater_circuit()
    mix = filled_mix(job).at(60.0)
    litres = circuit_content_l(job, number) if number is not None else 1.0
    return max(litres, 0.5) / 1000 * mix.density_kg_m3 * mix.heat_capacity_j_kgk


@dataclass(frozen=True)
class Mode:
    """How the loop is worked over some time.

    Attributes:
        bin_c: temperature that flows are taken for.
        fans: convectors blow as they are set; pumps: all run.
        mixed: each mixing valve's share of hot.
        stopped: pumps that stand, by their part.
    """

    bin_c: float
    fans: bool
    pumps: bool
    mixed: tuple[tuple[str, float], ...]
    stopped: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Linear:
    """dx/dt = A·x + B·(outside, cab, heater's W); and of the heat lost outside, W: a·x + b·(…).

    Attributes:
        carried_w_k: by the coolant through the heater.
    """

    a: Any
    b: Any
    lost_a: Any
    lost_b: Any
    carried_w_k: float

    def step(self, step_s: float) -> Any:
        """Return Φ with (x, lost heat, given) after a step = Φ·(x, lost heat, given)."""
        n, m = self.b.shape
        whole = np.zeros((n + 1 + m, n + 1 + m))
        whole[:n, :n], whole[:n, n + 1 :] = self.a, self.b
        whole[n, :n], whole[n, n + 1 :] = self.lost_a, self.lost_b
        return expm(whole * step_s)


def linear(job: Job, mode: Mode) -> Linear:
    """Return the system in a mode."""
    there, graph = stores(job), loop_graph(job)
    count = len(there.names)
    a, b = np.zeros((count, count)), np.zeros((count, 3))
    lost_a, lost_b = np.zeros(count), np.zeros(3)
    _room(there, a, b, lost_a, lost_b)
    _own_losses(job, there, a, b, lost_a, lost_b)
    carried = _loop(job, there, graph, mode, (a, b, lost_a, lost_b))
    return Linear(a / there.j_k[:, None], b / there.j_k[:, None], lost_a, lost_b, carried)


def _room(there: Stores, a: Any, b: Any, lost_a: Any, lost_b: Any) -> None:
    network = there.room
    n = len(network.capacities_j_k)
    a[:n, :n] += network.links_w_k - np.diag(network.links_w_k.sum(1) + network.fixed_w_k.sum(1))
    b[:n, :2] += network.fixed_w_k
    lost_a[:n] += network.fixed_w_k.sum(1)
    lost_b[:2] -= network.fixed_w_k.sum(0)


def _own_losses(job: Job, there: Stores, a: Any, b: Any, lost_a: Any, lost_b: Any) -> None:
    """A tank loses to its zone, a block to the outside, a floor gives to the room over it."""
    for part, kind in loop_parts(job):
        if kind.kind == "calorifier":
            _link(a, there.place[f"tank:{part.id}"], there.air(part.zone), kind.standing_w_k)
        elif kind.kind == "floor":
            up = kind.area_w_mk * part.length_m / kind.surface_share
            _link(a, there.place[f"floor:{part.id}"], there.air(part.zone), up)
        elif kind.kind == "engine":
            at, lost = there.place[f"block:{part.id}"], kind.block_lost_w_k
            a[at, at] -= lost
            b[at, OUTSIDE] += lost
            lost_a[at] += lost
            lost_b[OUTSIDE] -= lost


def _link(a: Any, one: int, other: int, w_k: float) -> None:
    a[one, one] -= w_k
    a[other, other] -= w_k
    a[one, other] += w_k
    a[other, one] += w_k


def _loop(
    job: Job, there: Stores, graph: LoopGraph, mode: Mode, into: tuple[Any, Any, Any, Any]
) -> float:
    """What the coolant gives on its way round, as a function of the state; return what it carries
    through the heater.
    """
    a, b, lost_a, lost_b = into
    fans = {} if mode.fans else {p.id: 0 for p, kind in loop_parts(job) if kind.kind == "matrix"}
    how = Setting(fans=fans, mixed=dict(mode.mixed), pumps_on=mode.pumps, stopped=mode.stopped)
    flows, gives = _working(job, graph, mode, how)
    carried = gives[HEATER].carried_w_k
    at = there.place["coolant"]
    if carried <= 0:
        b[at, ONE] += 1.0  # no flow: its own water takes it
        return 0.0
    nodes = _nodes(there, graph, flows, gives)
    count = len(there.names)
    for branch in graph.branches:
        giving, flow = gives[branch.id], flows.kg_s[branch.id]
        if giving.share <= 0 or giving.carried_w_k <= 0:
            continue
        inlet = nodes[branch.start if flow > 0 else branch.end]
        for sink, part in giving.sinks:
            facing = _sink(there, sink, nodes, graph, flows)
            heat = part * giving.share * giving.carried_w_k * (inlet - facing)
            for place, share in _places(job, there, sink, branch, how):
                if place is not None:
                    a[place] += share * heat[:count]
                    b[place] += share * heat[count:]
                else:
                    lost_a += share * heat[:count]
                    lost_b += share * heat[count:]
    _join_blown(job, there, how, a)
    back = carried * (nodes[graph.node_of[HEATER, "back"]] - _unit(there, at))
    a[at] += back[:count]
    b[at] += back[count:]
    b[at, ONE] += 0.0
    return carried


def _working(
    job: Job, graph: LoopGraph, mode: Mode, how: Setting
) -> tuple[CircuitFlow, dict[str, Giving]]:
    heat_capacity = filled_mix(job).at(mode.bin_c).heat_capacity_j_kgk
    flow = _flows(job, replace(mode, fans=True))  # what blows changes no flow of the coolant
    gives = {}
    for branch in graph.branches:
        found = giving_of(job, branch, flow[branch.id], heat_capacity, how)
        gives[branch.id] = _to_floor(job, branch.id, found)
    for branch in graph.branches:
        if branch.kind == "plate" and branch.part is not None:
            own = gives[branch.id]
            facing = gives.get(own.sink.removeprefix("branch:"))
            if facing is not None:
                share = plate_share(kind_of(job, branch.part), own.carried_w_k, facing.carried_w_k)
                gives[branch.id] = replace(own, share=share)
    return CircuitFlow(flow, {}), gives


@fact
def _flows(job: Job, mode: Mode) -> dict[str, float]:
    """Flow of each branch in a mode, kg/s."""
    graph, mix = loop_graph(job), filled_mix(job).at(mode.bin_c)
    props = dict.fromkeys((b.id for b in graph.branches), mix)
    how = Setting(mixed=dict(mode.mixed), pumps_on=mode.pumps, stopped=mode.stopped)
    flow: dict[str, float] = {}
    near = _near(job, mode)
    for number in sorted(set(graph.circuit_of)):
        flow |= circuit_flow(job, number, props, how, near).kg_s
    return flow


def _near(job: Job, mode: Mode) -> Mapping[str, float] | None:
    """Flows to begin from: those of the next warmer coolant."""
    warmer = [bin_c for bin_c in BINS_C if bin_c > mode.bin_c]
    if not warmer or not mode.pumps:
        return None
    return _flows(job, replace(mode, bin_c=warmer[0]))


def _to_floor(job: Job, branch_id: str, giving: Giving) -> Giving:
    """A floor loop warms its floor, and that the room."""
    part = job.plan.coolant.part(branch_id)
    if part is None or kind_of(job, part).kind != "floor" or giving.carried_w_k <= 0:
        return giving
    kind = kind_of(job, part)
    conductance = kind.area_w_mk * part.length_m / (1.0 - kind.surface_share)
    share = -float(np.expm1(-conductance / giving.carried_w_k))
    return Giving(share, f"floor:{part.id}", giving.carried_w_k)


def _unit(there: Stores, place: int) -> Any:
    """A state's own temperature, as a function of (state, given)."""
    row = np.zeros(len(there.names) + 3)
    row[place] = 1.0
    return row


def _place(there: Stores, sink: str) -> int | None:
    kind, _, name = sink.partition(":")
    if kind == "zone":
        return there.air(name)
    return there.place.get(sink)


def _places(
    job: Job, there: Stores, sink: str, branch: Branch, how: Setting
) -> list[tuple[int | None, float]]:
    """Where a branch's heat for a sink goes, each with its share; None for what is lost outside."""
    if sink.startswith("branch:"):
        return []
    shares = _blown(job, branch.part, how).shares if branch.kind == "matrix" else {}
    if not shares:
        return [(_place(there, sink), 1.0)]
    known = {*there.zones, CAB_PLACE}
    return [
        (there.air(place) if place in known else None, share) for place, share in shares.items()
    ]


def _blown(job: Job, part: LoopPart | None, how: Setting) -> Blown:
    if part is None:
        return Blown(0.0, {}, {})
    last = max(len(kind_of(job, part).fans) - 1, 0)
    return blown(job, part.id, min(how.fans.get(part.id, part.fan), last))


def _join_blown(job: Job, there: Stores, how: Setting, a: Any) -> None:
    """Air that a convector blows into another zone comes back from there."""
    for part, kind in loop_parts(job):
        if kind.kind != "matrix":
            continue
        here = there.air(drawn_from(job, part))
        for zone, carried in _blown(job, part, how).flow_w_k.items():
            if there.air(zone) != here:
                _link(a, there.air(zone), here, carried)


def _sink(
    there: Stores,
    sink: str,
    nodes: Mapping[int, Any],
    graph: LoopGraph,
    flows: CircuitFlow,
) -> Any:
    if sink.startswith("branch:"):
        other = next(b for b in graph.branches if f"branch:{b.id}" == sink)
        return nodes[other.start if flows.kg_s[other.id] > 0 else other.end]
    place = _place(there, sink)
    given = CAB if sink == CAB_PLACE else OUTSIDE
    return _unit(there, place if place is not None else len(there.names) + given)


def _nodes(
    there: Stores, graph: LoopGraph, flows: CircuitFlow, gives: Mapping[str, Giving]
) -> dict[int, Any]:
    """Every node's temperature as a function of (state, given): the loop is cut at the heater,
    whose outlet is its inlet's coolant and its heat.
    """
    width = len(there.names) + 3
    matrix, right = np.eye(graph.nodes), np.zeros((graph.nodes, width))
    right[:, len(there.names) + OUTSIDE] = 1.0
    into: dict[int, list[tuple[Any, int]]] = {}
    for branch in graph.branches:
        flow = flows.kg_s[branch.id]
        if gives[branch.id].carried_w_k > 0 and abs(flow) > LEAST_KG_S:
            start, end = (branch.start, branch.end) if flow > 0 else (branch.end, branch.start)
            into.setdefault(end, []).append((branch, start))
    for node, coming in into.items():
        total = sum(gives[branch.id].carried_w_k for branch, _ in coming)
        right[node] = 0.0
        for branch, start in coming:
            giving = gives[branch.id]
            weight = giving.carried_w_k / total
            if branch.id == HEATER:
                right[node] += weight * _unit(there, there.place["coolant"])
                right[node, len(there.names) + ONE] += 1.0 / total
                continue
            matrix[node, start] -= weight * (1 - giving.share)
            if giving.share <= 0:
                continue
            if giving.sink.startswith("branch:"):
                other = next(b for b in graph.branches if f"branch:{b.id}" == giving.sink)
                from_node = other.start if flows.kg_s[other.id] > 0 else other.end
                matrix[node, from_node] -= weight * giving.share
            else:
                for sink, part in giving.sinks:
                    facing = _sink(there, sink, {}, graph, flows)
                    right[node] += weight * giving.share * part * facing
    return dict(enumerate(np.linalg.solve(matrix, right)))
