"""The loop settled: flow and temperature of every branch, in turn until they agree.

Every temperature is settled: what a tank's water or an engine's block takes is what it loses.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from gale_nook.core.ducts.places import CAB, set_c
from gale_nook.core.errors import NotConverged
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.consumers import LEAST_KG_S, Giving, giving_of, plate_share
from gale_nook.core.loop.flows import CircuitFlow, Setting, circuit_flow
from gale_nook.core.loop.graph import Branch, LoopGraph, loop_graph
from gale_nook.core.loop.hoses import kind_of, loop_parts, loop_side, part_places
from gale_nook.core.loop.mix import Properties, filled_mix
from gale_nook.core.plan.coolant import HEATER, LoopPart

SETTLED_K, SETTLED_MIX_K, SETTLED_ODDS = 0.02, 0.05, 1e-4
MOST_ODDS, MOST_TURNS, MIXER_ROUNDS, OPEN_SHARE = 6.0, 40, 3, 0.5
ROUGHLY_ODDS, NEAR_TURNS, NUDGE_ODDS = 0.3, 5, 0.05
MOST_ROUNDS = 60
LEAST_SHARE, LARGEST_TURN = 1e-3, 2.0
START_C = 50.0
LOOP = "flow through the coolant loop"


@dataclass(frozen=True, slots=True)
class BranchState:
    """A branch: its flow from start to end, what comes in and goes out, what it gives, and to
    where how much.
    """

    branch: Branch
    flow_kg_s: float
    in_c: float
    out_c: float
    given_w: float
    sink: str
    density_kg_m3: float
    given_to: tuple[tuple[str, float], ...]

    @property
    def flow_l_min(self) -> float:
        """In the direction from its start to its end."""
        return self.flow_kg_s / self.density_kg_m3 * 60_000


@dataclass(frozen=True)
class LoopState:
    """The whole loop.

    Attributes:
        node_c, node_pa: temperature and pressure (over the main pump's suction) of each node.
        output_w: of the heater; most_w: that it could give.
        limited: it gives less, so that its outlet keeps the temperature at which it pauses.
        mixed: share of hot in what each mixing valve passes.
    """

    branches: Mapping[str, BranchState]
    node_c: Mapping[int, float]
    node_pa: Mapping[int, float]
    output_w: float
    most_w: float
    limited: bool
    mixed: Mapping[str, float]

    @property
    def heater(self) -> BranchState | None:
        return self.branches.get(HEATER)


@fact
def loop_state(job: Job) -> LoopState | None:
    """Return the loop settled on the coldest night, as the plan has it worked; None without a
    placed coolant heater with a loop, or where its flows cannot be worked out.
    """
    return known_state(job, Setting())


def known_state(job: Job, how: Setting, *, turns: bool = True) -> LoopState | None:
    """Return the same with valves, fans and pumps in some position; None also where it cannot be
    worked out.
    """
    try:
        return state_of(job, how, turns=turns)
    except (NotConverged, np.linalg.LinAlgError):
        return None


def most_output_w(job: Job) -> float:
    """Return what the heater gives at the most where the vehicle stands."""
    sheet = heater_sheet(job)
    return derated_w(sheet.output, job.plan.heat.altitude_m) if sheet is not None else 0.0


def state_of(job: Job, how: Setting, *, turns: bool = True) -> LoopState | None:
    """Return the loop settled with valves, fans and pumps in some position.

    Args:
        turns: mixing valves turn to what they are set to; else they stay as they are told.

    Raises:
        NotConverged: it did not come to rest.
    """
    graph, side = loop_graph(job), loop_side(job)
    if side is None or graph.heater_circuit() is None or not job.plan.coolant.hoses:
        return None
    most = most_output_w(job)
    valves = [part for part, kind in loop_parts(job) if kind.kind == "mixer"]
    mixed = {valve.id: how.mixed.get(valve.id, OPEN_SHARE) for valve in valves}
    at = _Working(job, graph, most, side.to_pause_c)
    if not turns or not valves:
        return at.settled(replace(how, mixed=mixed))
    together = at.turning(replace(how, mixed=mixed), valves)
    if together is not None:
        return together
    found, _ = at.round(replace(how, mixed=mixed))
    for _ in range(MIXER_ROUNDS if len(valves) > 1 else 1):
        for valve in valves:
            found = _turned(at, found, valve, replace(how, mixed=mixed))
            mixed[valve.id] = found.mixed[valve.id]
    return found


class _Working:
    """A loop that is settled again and again, each time from where it was."""

    def __init__(self, job: Job, graph: LoopGraph, most_w: float, limit_c: float) -> None:
        self.job, self.graph, self.most_w, self.limit_c = job, graph, most_w, limit_c
        self._now = {branch.id: START_C for branch in graph.branches}
        self._near: Mapping[str, float] | None = None

    def settled(self, how: Setting) -> LoopState:
        """Return the loop with its mixing valves in one position."""
        left = math.inf
        for _ in range(MOST_ROUNDS):
            found, left = self.round(how)
            if left < SETTLED_K:
                return found
        raise NotConverged(LOOP, MOST_ROUNDS, left)

    def round(self, how: Setting) -> tuple[LoopState, float]:
        """Return the loop a round nearer to rest, and by how much that changed it."""
        props = _properties(self.job, self.graph, self._now)
        flows = _flows(self.job, self.graph, props, how, self._near)
        self._near = flows.kg_s
        found = _temperatures(self.job, self.graph, flows, props, (how, self.most_w, self.limit_c))
        after = {n: (b.in_c + b.out_c) / 2 for n, b in found.branches.items()}
        left = max((abs(after[n] - self._now[n]) for n in self._now), default=0.0)
        self._now = after
        return replace(found, mixed=dict(how.mixed)), left

    def turning(self, how: Setting, valves: Sequence[LoopPart]) -> LoopState | None:
        """Return the loop settled while its mixing valves turn to what they are set to: each round
        turns each by as much as its own mix asks for. None where that does not come to rest.
        """
        odds = {valve.id: _odds(how.mixed[valve.id]) for valve in valves}
        for _ in range(MOST_TURNS):
            mixed = {name: 1.0 / (1.0 + math.exp(-each)) for name, each in odds.items()}
            found, left = self.round(replace(how, mixed=mixed))
            rests = True
            for valve in valves:
                step = _asked(found, valve, self.mixed_c(found, valve), self.job.plan.heat.inside_c)
                if step is None:
                    return None
                before = odds[valve.id]
                odds[valve.id] = min(max(before + step, -MOST_ODDS), MOST_ODDS)
                off = abs(self.mixed_c(found, valve) - valve.mix_c)
                rests &= off < SETTLED_MIX_K or odds[valve.id] == before
            if rests and left < SETTLED_K:
                return found
        return None

    def mixed_c(self, found: LoopState, valve: LoopPart) -> float:
        """Return what leaves a mixing valve."""
        return found.node_c[self.graph.node_of[valve.id, "mixed"]]


def _odds(share: float) -> float:
    return math.log(share / (1.0 - share))


def _asked(found: LoopState, valve: LoopPart, self_c: float, room_c: float) -> float | None:
    """By how much a mixing valve has to turn for what comes in now, as the logarithm of hot to
    cold; None where either does not come in.
    """
    hot, cold = (found.branches.get(f"{valve.id}:{end}-mixed") for end in ("hot", "cold"))
    if hot is None or cold is None or max(hot.flow_kg_s, cold.flow_kg_s) <= LEAST_KG_S:
        return None
    if cold.flow_kg_s <= LEAST_KG_S:
        return -LARGEST_TURN if hot.in_c > valve.mix_c else 0.0
    if hot.flow_kg_s <= LEAST_KG_S or hot.in_c <= cold.in_c:
        return LARGEST_TURN if cold.in_c < valve.mix_c else 0.0
    # what comes back cools along with what is sent out: towards the room
    over = (valve.mix_c - room_c) / max(self_c - room_c, 1.0)
    back_c = room_c + (cold.in_c - room_c) * max(over, 0.0)
    wanted = (valve.mix_c - back_c) / max(hot.in_c - back_c, 1.0)
    wanted = min(max(wanted, LEAST_SHARE), 1.0 - LEAST_SHARE)
    asked = _odds(wanted) - _odds(hot.flow_kg_s / (hot.flow_kg_s + cold.flow_kg_s))
    return min(max(asked, -LARGEST_TURN), LARGEST_TURN)


def _turned(at: _Working, found: LoopState, valve: LoopPart, how: Setting) -> LoopState:
    """Turn a mixing valve until what leaves it is as warm as it is set to: the more hot, the
    warmer, so that there is one position. Searched for by false position with the older end halved
    (Illinois), over the logarithm of hot to cold.
    """

    def tried(odds: float, *, roughly: bool = False) -> tuple[LoopState, float]:
        share = 1.0 / (1.0 + math.exp(-odds))
        there = replace(how, mixed={**how.mixed, valve.id: share})
        found = at.round(there)[0] if roughly else at.settled(there)
        return found, at.mixed_c(found, valve) - valve.mix_c

    rough = _roughly(tried)
    nearby = _from_near(tried, rough)
    if nearby is not None:
        return nearby
    high, low = min(rough + ROUGHLY_ODDS, MOST_ODDS), max(rough - ROUGHLY_ODDS, -MOST_ODDS)
    warmest, above = tried(high)
    if above <= 0 and high < MOST_ODDS:
        high = MOST_ODDS
        warmest, above = tried(high)
    if above <= 0:
        return warmest  # even all of the hot is not warm enough
    coldest, under = tried(low)
    if under >= 0 and low > -MOST_ODDS:
        low = -MOST_ODDS
        coldest, under = tried(low)
    if under >= 0:
        return coldest
    for _ in range(MOST_TURNS):
        middle = (low * above - high * under) / (above - under)
        found, off = tried(middle)
        if abs(off) < SETTLED_MIX_K or high - low < SETTLED_ODDS:
            return found
        if off > 0:
            high, above, under = middle, off, under / 2
        else:
            low, under, above = middle, off, above / 2
    return found


def _from_near(tried: Callable[..., tuple[LoopState, float]], odds: float) -> LoopState | None:
    """Return the loop where a valve is found by a few secants; None where it is not, as at either
    end of its way.
    """
    found, off = tried(odds)
    ahead = odds + (NUDGE_ODDS if off < 0 else -NUDGE_ODDS)
    for _ in range(NEAR_TURNS):
        if abs(off) < SETTLED_MIX_K:
            return found
        if not abs(ahead) <= MOST_ODDS:
            return None
        there, other = tried(ahead)
        if other == off:
            return None
        odds, ahead = ahead, ahead - other * (ahead - odds) / (other - off)
        found, off = there, other
    return None


def _roughly(tried: Callable[..., tuple[LoopState, float]]) -> float:
    """Return about where a valve stands: halved again and again, with a round for each try."""
    high, low = MOST_ODDS, -MOST_ODDS
    while high - low > ROUGHLY_ODDS / 2:
        middle = (high + low) / 2
        _, off = tried(middle, roughly=True)
        high, low = (middle, low) if off > 0 else (high, middle)
    return (high + low) / 2


def _properties(job: Job, graph: LoopGraph, mean_c: Mapping[str, float]) -> dict[str, Properties]:
    """Of what is in each branch; one heat capacity for a circuit, so that no heat is lost where
    warm and cold meet.
    """
    mix, results = filled_mix(job), {}
    for number in sorted(set(graph.circuit_of)):
        own = graph.circuit(number)
        mean = sum(mean_c[b.id] for b in own) / max(len(own), 1)
        capacity = mix.at(mean).heat_capacity_j_kgk
        for branch in own:
            found = mix.at(mean_c[branch.id])
            results[branch.id] = found._replace(heat_capacity_j_kgk=capacity)
    return results


def _flows(
    job: Job,
    graph: LoopGraph,
    props: Mapping[str, Properties],
    how: Setting,
    near: Mapping[str, float] | None = None,
) -> CircuitFlow:
    flow: dict[str, float] = {}
    pressure: dict[int, float] = {}
    for number in sorted(set(graph.circuit_of)):
        found = circuit_flow(job, number, props, how, near)
        flow |= found.kg_s
        pressure |= found.node_pa
    return CircuitFlow(flow, pressure)


@fact
def sink_c(job: Job, sink: str, engine_on: bool | None) -> float:
    """Return the temperature that a sink has of itself: a zone's set one, the outside, a driven
    engine's thermostat.
    """
    heat = job.plan.heat
    kind, _, name = sink.partition(":")
    if kind == "zone":
        return set_c(job, name)
    if kind == CAB:
        return set_c(job, CAB)
    if kind == "block":
        part = part_places(job).get(name)
        if part is not None and (part.driving if engine_on is None else engine_on):
            return kind_of(job, part).opens_at_c
    if kind == "tank":
        return heat.inside_c
    return heat.outside_c


def _sinks_c(job: Job, giving: Giving, how: Setting) -> float:
    if not giving.beside:
        return sink_c(job, giving.sink, how.engine_on)
    return sum(share * sink_c(job, name, how.engine_on) for name, share in giving.beside)


def _in_series(job: Job, giving: Giving, how: Setting) -> Giving:
    """A tank's and a block's own loss stand behind what the coolant gives them."""
    kind, _, name = giving.sink.partition(":")
    part = part_places(job).get(name)
    if part is None or kind not in {"tank", "block"} or giving.share <= 0:
        return giving
    sort = kind_of(job, part)
    lost = sort.standing_w_k if kind == "tank" else sort.block_lost_w_k
    if kind == "block" and (part.driving if how.engine_on is None else how.engine_on):
        return giving
    given = giving.share * giving.carried_w_k
    return replace(giving, share=1.0 / (1.0 / given + 1.0 / max(lost, 1e-6)) / giving.carried_w_k)


def _temperatures(
    job: Job,
    graph: LoopGraph,
    flows: CircuitFlow,
    props: Mapping[str, Properties],
    how_most: tuple[Setting, float, float],
) -> LoopState:
    """Mix at every node what flows into it; the heater's output is what keeps its outlet under the
    temperature at which it pauses.
    """
    how, most, limit_c = how_most
    gives = {}
    for branch in graph.branches:
        flow = flows.kg_s[branch.id]
        found = giving_of(job, branch, flow, props[branch.id].heat_capacity_j_kgk, how)
        gives[branch.id] = _in_series(job, found, how)
    for branch in graph.branches:
        if branch.kind == "plate" and branch.part is not None:
            own = gives[branch.id]
            facing = gives.get(own.sink.removeprefix("branch:"))
            if facing is not None:
                share = plate_share(kind_of(job, branch.part), own.carried_w_k, facing.carried_w_k)
                gives[branch.id] = replace(own, share=share)
    matrix = np.eye(graph.nodes)
    right = np.full(graph.nodes, job.plan.heat.outside_c)
    heated = np.zeros(graph.nodes)
    into = _into(graph, gives, flows)
    for node, coming in into.items():
        total = sum(gives[b.id].carried_w_k for b, _ in coming)
        right[node] = 0.0
        for branch, start in coming:
            giving = gives[branch.id]
            weight = giving.carried_w_k / total
            matrix[node, start] -= weight * (1 - giving.share)
            other = _other_inlet(graph, giving, flows)
            if other is not None:
                matrix[node, other] -= weight * giving.share
            elif giving.share > 0:
                right[node] += weight * giving.share * _sinks_c(job, giving, how)
            if branch.kind == "heater":
                heated[node] += 1.0 / total
    free = np.linalg.solve(matrix, np.column_stack([right, heated]))
    output, limited = _output(graph, free, most, limit_c)
    celsius = free[:, 0] + output * free[:, 1]
    return _told(job, graph, flows, gives, props, (celsius, output, most, limited, how))


def _into(
    graph: LoopGraph, gives: Mapping[str, Giving], flows: CircuitFlow
) -> dict[int, list[tuple[Branch, int]]]:
    """What flows into each node, each with the node that it comes from."""
    into: dict[int, list[tuple[Branch, int]]] = {}
    for branch in graph.branches:
        flow = flows.kg_s[branch.id]
        if gives[branch.id].carried_w_k <= 0 or abs(flow) < LEAST_KG_S:
            continue
        start, end = (branch.start, branch.end) if flow > 0 else (branch.end, branch.start)
        into.setdefault(end, []).append((branch, start))
    return into


def _other_inlet(graph: LoopGraph, giving: Giving, flows: CircuitFlow) -> int | None:
    """The node from which the other side of a plate exchanger is fed."""
    if giving.share <= 0 or not giving.sink.startswith("branch:"):
        return None
    other = next(b for b in graph.branches if f"branch:{b.id}" == giving.sink)
    return other.start if flows.kg_s[other.id] > 0 else other.end


def _output(
    graph: LoopGraph, free: np.ndarray, most_w: float, limit_c: float
) -> tuple[float, bool]:
    hot = graph.node_of[HEATER, "flow"]
    without, per_watt = float(free[hot, 0]), float(free[hot, 1])
    if per_watt <= 0:
        return 0.0, True
    output = min(max((limit_c - without) / per_watt, 0.0), most_w)
    return output, output < most_w


def _told(
    job: Job,
    graph: LoopGraph,
    flows: CircuitFlow,
    gives: Mapping[str, Giving],
    props: Mapping[str, Properties],
    rest: tuple[np.ndarray, float, float, bool, Setting],
) -> LoopState:
    celsius, output, most, limited, how = rest
    branches = {}
    for branch in graph.branches:
        flow, giving = flows.kg_s[branch.id], gives[branch.id]
        start = branch.start if flow >= 0 else branch.end
        inlet = float(celsius[start])
        other = _other_inlet(graph, giving, flows)
        sink = float(celsius[other]) if other is not None else _sinks_c(job, giving, how)
        given = giving.share * giving.carried_w_k * (inlet - sink)
        outlet = inlet
        if giving.carried_w_k > 0:
            outlet -= given / giving.carried_w_k
            if branch.kind == "heater":
                outlet += output / giving.carried_w_k
        density = props[branch.id].density_kg_m3
        branches[branch.id] = BranchState(
            branch,
            flow,
            inlet,
            outlet,
            given,
            giving.sink,
            density,
            tuple(
                (
                    name,
                    share
                    * giving.share
                    * giving.carried_w_k
                    * (inlet - sink_c(job, name, how.engine_on)),
                )
                for name, share in giving.beside
            )
            or ((giving.sink, given),),
        )
    nodes = {n: float(celsius[n]) for n in range(graph.nodes)}
    return LoopState(branches, nodes, flows.node_pa, output, most, limited, {})
