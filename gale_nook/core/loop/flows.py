"""Flow through every branch of a circuit, by its pumps, hoses and parts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from gale_nook.core.base.heater_sheet import LoopSide
from gale_nook.core.catalogue.coolant import HoseKind, LoopPartKind
from gale_nook.core.ducts.network import GROUND, Bore, LossOf, Network, Resistance, solve
from gale_nook.core.job import Job
from gale_nook.core.loop.graph import Branch, LoopGraph, loop_graph
from gale_nook.core.loop.hoses import kind_of, loop_side
from gale_nook.core.loop.mix import Properties
from gale_nook.core.loop.pump import OneWay, PumpLift, factor_of
from gale_nook.core.plan.coolant import LoopPart

SQUARE_BEND_K = 0.9  # velocity heads of a bend of 90°; VDI Heat Atlas, L1.3
SHUT_PERCENT = 1.0
SHUT_KPA = 1e9  # at 10 l/min: a shut valve passes nothing that counts
LEAST_KPA = 0.05
FULL = 100.0
START_KG_S, LEAST_KG_S = 0.1, 1e-3


@dataclass(frozen=True)
class Setting:
    """How the loop is worked: what the plan says, unless it is told otherwise here.

    Attributes:
        shut: valves that are shut.
        fans: steps of convectors' fans.
        mixed: share of hot in what each mixing valve passes, by its part.
        pumps_on: all pumps run; engine_on: the engine's.
        stopped: pumps that stand, by their part.
    """

    shut: frozenset[str] = frozenset()
    fans: Mapping[str, int] = field(default_factory=dict)
    mixed: Mapping[str, float] = field(default_factory=dict)
    pumps_on: bool = True
    engine_on: bool | None = None
    stopped: frozenset[str] = frozenset()


@dataclass(frozen=True)
class CircuitFlow:
    """Flow in a circuit, kg/s from a branch's start to its end, by its id; and pressures over that
    at the main pump's suction, Pa, by node.
    """

    kg_s: Mapping[str, float]
    node_pa: Mapping[int, float]
    main: str = ""


def circuit_flow(
    job: Job,
    number: int,
    mix_at: Mapping[str, Properties],
    how: Setting,
    near: Mapping[str, float] | None = None,
) -> CircuitFlow:
    """Return the flow through a circuit.

    Args:
        mix_at: properties of what is in each branch, by its id.
        near: flows of a circuit that is like it; they change nothing but the time.

    Raises:
        NotConverged: it did not come to rest.
    """
    graph = loop_graph(job)
    branches = graph.circuit(number)
    pumping = [b for b in branches if _lift(job, b, 1.0) is not None]
    running = [b for b in pumping if _runs(job, b, how)]
    if not running:
        return CircuitFlow({b.id: 0.0 for b in branches}, {})
    main = running[0]
    nodes = _numbered(graph, number, main)
    ducts, square, telling = _sorted_out(job, branches, main)
    lift = _lift(job, main, mix_at[main.id].density_kg_m3 / 1000.0)
    if lift is None:
        raise ValueError("the main pump has no curve")
    own_kpa = _own_loss_kpa(job, main)
    order = [*ducts, *square, *telling]
    network = Network(
        tuple(nodes[b.start] for b in order),
        tuple(nodes[b.end] for b in order),
        len(nodes) - 1,
        [piece for i, b in enumerate(ducts) for piece in _pieces(job, b, i, mix_at[b.id])],
        [factor_of(_loss_kpa(job, b, how), mix_at[b.id].density_kg_m3 / 1000.0) for b in square],
        _Pumped(lift, factor_of(own_kpa, lift.density_kg_l)).pressure_pa,
        [_own(job, b, how, mix_at[b.id]) for b in telling],
    )
    guess = [near[main.id], *(near[b.id] for b in order)] if near is not None else START_KG_S
    found = solve(network, guess, least_kg_s=LEAST_KG_S)
    flow = {b.id: m for b, m in zip(order, found.branch_kg_s, strict=True)}
    flow[main.id] = found.total_kg_s
    pressure = {node: found.node_pa[n] if n != GROUND else 0.0 for node, n in nodes.items()}
    return CircuitFlow(flow, pressure, main.id)


@dataclass(frozen=True, slots=True)
class _Pumped:
    """A pump in a part that resists itself."""

    lift: PumpLift
    factor: float

    def pressure_pa(self, flow_kg_s: float) -> tuple[float, float]:
        """Return what it lifts, and the slope of that."""
        head, slope = self.lift.head_pa(flow_kg_s)
        size = abs(flow_kg_s)
        return head - self.factor * flow_kg_s * size, slope - 2.0 * self.factor * size

    def loss_pa(self, flow_kg_s: float) -> tuple[float, float]:
        """Return the same as a loss."""
        head, slope = self.pressure_pa(flow_kg_s)
        return -head, -slope


def _numbered(graph: LoopGraph, number: int, main: Branch) -> dict[int, int]:
    """Numbers of a circuit's nodes for the network: where the main pump draws in is GROUND, where
    it gives is 0.
    """
    own = [n for n in range(graph.nodes) if graph.circuit_of[n] == number]
    others = [n for n in own if n not in {main.start, main.end}]
    return {main.start: GROUND, main.end: 0, **{n: i for i, n in enumerate(others, 1)}}


def _sorted_out(
    job: Job, branches: Sequence[Branch], main: Branch
) -> tuple[list[Branch], list[Branch], list[Branch]]:
    ducts, square, telling = [], [], []
    for branch in branches:
        if branch.id == main.id:
            continue
        if branch.kind in {"hose", "floor"}:
            ducts.append(branch)
        elif branch.kind == "check" or _has_pump(job, branch):
            telling.append(branch)
        else:
            square.append(branch)
    return ducts, square, telling


def _pieces(job: Job, branch: Branch, number: int, mix: Properties) -> list[Resistance]:
    """A hose, or a floor's pipe, as a resistance."""
    kind, length_m, loss_k = _tube(job, branch)
    bore = Bore.of(length_m, kind.bore_mm / 1000, kind.roughness_mm / 1000)
    return [bore.resistance(number, loss_k, mix.density_kg_m3, mix.viscosity_pa_s)]


def _tube(job: Job, branch: Branch) -> tuple[HoseKind, float, float]:
    if branch.run is not None:
        turned = sum(bend.angle_deg for bend in branch.run.geometry.bends)
        length = max(branch.run.length_mm, 1.0) / 1000
        return branch.run.kind, length, SQUARE_BEND_K * turned / 90.0
    if branch.part is None:
        raise ValueError("a pipe is a hose or a floor's")
    return job.catalogue.coolant_equipment.hose("tube-15"), branch.part.length_m, 4.0


def _own(job: Job, branch: Branch, how: Setting, mix: Properties) -> LossOf:
    density = mix.density_kg_m3 / 1000.0
    if branch.kind == "check":
        return OneWay(max(_loss_kpa(job, branch, how), LEAST_KPA), density).loss_pa
    lift = _lift(job, branch, density)
    if lift is None:
        raise ValueError("what is no pump has no curve")
    if not _runs(job, branch, how):
        lift = PumpLift(lift.curve, 0.0, density)
    return _Pumped(lift, factor_of(_own_loss_kpa(job, branch), density)).loss_pa


def _has_pump(job: Job, branch: Branch) -> bool:
    return _lift(job, branch, 1.0) is not None


def _lift(job: Job, branch: Branch, density_kg_l: float) -> PumpLift | None:
    """The pump that a branch has; None where it has none."""
    if branch.kind == "heater":
        side: LoopSide | None = loop_side(job)
        return PumpLift(side.pump, 1.0, density_kg_l) if side is not None and side.pump else None
    if branch.part is None:
        return None
    kind: LoopPartKind = kind_of(job, branch.part)
    if not kind.pump:
        return None
    return PumpLift(kind.pump, branch.part.level_percent / FULL, density_kg_l)


def _runs(job: Job, branch: Branch, how: Setting) -> bool:
    if branch.part is not None and kind_of(job, branch.part).kind == "engine":
        return branch.part.driving if how.engine_on is None else how.engine_on
    if branch.part is not None and branch.part.id in how.stopped:
        return False
    level = branch.part.level_percent if branch.part is not None else FULL
    return how.pumps_on and level > SHUT_PERCENT


def _own_loss_kpa(job: Job, branch: Branch) -> float:
    if branch.kind == "heater":
        side = loop_side(job)
        return side.loss_kpa if side is not None else 0.0
    return kind_of(job, branch.part).loss_kpa if branch.part is not None else 0.0


def _loss_kpa(job: Job, branch: Branch, how: Setting) -> float:
    """What a part loses at 10 l/min as it stands: valves by how far they are open."""
    loss, part = max(_own_loss_kpa(job, branch), LEAST_KPA), branch.part
    if part is None:
        return loss
    share = _open_share(branch, part, how)
    if part.id in how.shut or share * FULL <= SHUT_PERCENT:
        return SHUT_KPA
    return loss / share**2


def _open_share(branch: Branch, part: LoopPart, how: Setting) -> float:
    if branch.kind == "mixer":
        hot = min(max(how.mixed.get(part.id, 0.5), 0.0), 1.0)
        return hot if branch.id.endswith(":hot-mixed") else 1.0 - hot
    if branch.kind == "diverter":
        to_a = part.open_percent / FULL
        return to_a if branch.id.endswith(":in-a") else 1.0 - to_a
    return part.open_percent / FULL if branch.kind == "valve" else 1.0
