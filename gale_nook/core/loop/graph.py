"""The loop as a graph: what is one node, and the branches between them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.job import Job, fact
from gale_nook.core.loop.hoses import HEATER_ENDS, End, HoseRun, hose_runs, loop_parts, loop_side
from gale_nook.core.plan.coolant import HEATER, LoopPart

# from which end of a part coolant goes to which, where it resists
WAYS: dict[str, tuple[tuple[str, str], ...]] = {
    "mixer": (("hot", "mixed"), ("cold", "mixed")),
    "diverter": (("in", "a"), ("in", "b")),
    "plate": (("in", "out"), ("engine-in", "engine-out")),
}
JOINED = {"tee", "header"}  # all their ends are one node
LOOSE = {("header", "vent")}  # an end that need not be joined to anything


@dataclass(frozen=True, slots=True)
class Branch:
    """Something that coolant flows through.

    Attributes:
        id: of the hose, or of the part and its way; kind: "hose", "heater", or the part's kind.
        start, end: numbers of its nodes.
    """

    id: str
    kind: str
    name: str
    start: int
    end: int
    ends: tuple[End, End]
    run: HoseRun | None = None
    part: LoopPart | None = None


@dataclass(frozen=True)
class LoopGraph:
    """All nodes and branches.

    Attributes:
        node_of: the node of every end; nodes: how many there are.
        circuit_of: the number of each node's circuit; circuits do not mix.
        open_ends: ends that lead nowhere.
    """

    branches: tuple[Branch, ...]
    node_of: dict[End, int]
    nodes: int
    circuit_of: tuple[int, ...]
    open_ends: tuple[End, ...]

    def circuit(self, number: int) -> tuple[Branch, ...]:
        """Return the branches of a circuit."""
        return tuple(b for b in self.branches if self.circuit_of[b.start] == number)

    def heater_circuit(self) -> int | None:
        """Return the number of the circuit that the heater is in."""
        node = self.node_of.get((HEATER, "flow"))
        return self.circuit_of[node] if node is not None else None


@fact
def loop_graph(job: Job) -> LoopGraph:
    """Return the loop as a graph."""
    ends = list(_ends(job))
    together = _Together(ends)
    for part, kind in loop_parts(job):
        if kind.kind in JOINED or (kind.kind not in WAYS and kind.loss_kpa == 0 and not kind.pump):
            names = list(kind.ports)
            for name in names[1:]:
                if kind.kind not in {"floor"}:
                    together.join((part.id, names[0]), (part.id, name))
    numbers = together.numbers()
    branches = [
        Branch(
            run.hose.id,
            "hose",
            run.name,
            numbers[run.hose.from_part, run.hose.from_end],
            numbers[run.hose.to_part, run.hose.to_end],
            ((run.hose.from_part, run.hose.from_end), (run.hose.to_part, run.hose.to_end)),
            run=run,
        )
        for run in hose_runs(job)
    ]
    branches += _part_branches(job, numbers)
    nodes = len(set(numbers.values()))
    circuits = _circuits(branches, nodes)
    joined = {end for b in branches if b.kind == "hose" for end in b.ends}
    kinds = {part.id: kind.kind for part, kind in loop_parts(job)}
    loose = (e for e in ends if e not in joined and (kinds.get(e[0], ""), e[1]) not in LOOSE)
    return LoopGraph(tuple(branches), numbers, nodes, circuits, tuple(loose))


def _ends(job: Job) -> Iterator[End]:
    if loop_side(job) is not None and job.plan.spot is not None:
        yield from ((HEATER, name) for name in HEATER_ENDS)
    for part, kind in loop_parts(job):
        yield from ((part.id, name) for name in kind.ports)


def _part_branches(job: Job, numbers: dict[End, int]) -> Iterator[Branch]:
    if (HEATER, "flow") in numbers:
        back, flow = (HEATER, "back"), (HEATER, "flow")
        yield Branch(HEATER, "heater", "heater", numbers[back], numbers[flow], (back, flow))
    for part, kind in loop_parts(job):
        names = list(kind.ports)
        for start, end in WAYS.get(kind.kind, ((names[0], names[-1]),)):
            ends = ((part.id, start), (part.id, end))
            if numbers[ends[0]] != numbers[ends[1]]:
                way = part.id if len(WAYS.get(kind.kind, ())) == 0 else f"{part.id}:{start}-{end}"
                yield Branch(
                    way,
                    kind.kind,
                    part.name,
                    numbers[ends[0]],
                    numbers[ends[1]],
                    ends,
                    part=part,
                )


class _Together:
    """Ends that are one node, by their representatives."""

    def __init__(self, ends: list[End]) -> None:
        self._before = {end: end for end in ends}

    def first(self, end: End) -> End:
        while self._before[end] != end:
            end = self._before[end]
        return end

    def join(self, one: End, other: End) -> None:
        self._before[self.first(one)] = self.first(other)

    def numbers(self) -> dict[End, int]:
        """Return the number of each end's node."""
        firsts = list(dict.fromkeys(self.first(end) for end in self._before))
        return {end: firsts.index(self.first(end)) for end in self._before}


def _circuits(branches: list[Branch], nodes: int) -> tuple[int, ...]:
    """The circuit of each node: nodes that branches join, directly or not."""
    circuit = list(range(nodes))
    changed = True
    while changed:
        changed = False
        for branch in branches:
            least = min(circuit[branch.start], circuit[branch.end])
            if (circuit[branch.start], circuit[branch.end]) != (least, least):
                circuit[branch.start] = circuit[branch.end] = least
                changed = True
    return tuple(circuit)


@fact
def behind_mixers(job: Job) -> dict[str, float]:
    """Return the branches that only a mixing valve feeds, each with the highest that it can be set
    to: from its mixed end on, up to where anything else comes in.
    """
    graph = loop_graph(job)
    leaving: dict[int, list[Branch]] = {}
    for branch in graph.branches:
        leaving.setdefault(branch.start, []).append(branch)
        leaving.setdefault(branch.end, []).append(branch)
    results: dict[str, float] = {}
    for part, kind in loop_parts(job):
        if kind.kind != "mixer":
            continue
        seen = {b.id for b in graph.branches if b.part is not None and b.part.id == part.id}
        nodes = [graph.node_of[part.id, "mixed"]]
        while nodes:
            onward = [b for b in leaving.get(nodes.pop(), ()) if b.id not in seen]
            if len(onward) != 1:
                continue  # where ways part or meet it may be the heater's own coolant
            (branch,) = onward
            seen.add(branch.id)
            results[branch.id] = kind.high_c
            ends = {branch.start, branch.end}
            nodes += [n for n in ends if any(b.id not in seen for b in leaving[n])]
    return results
