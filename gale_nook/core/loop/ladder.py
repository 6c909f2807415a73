"""The loop in the order in which coolant goes round: from the heater's flow to its return, and what
branches off on the way.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.job import Job, fact
from gale_nook.core.loop.graph import Branch, loop_graph
from gale_nook.core.loop.state import BranchState, loop_state
from gale_nook.core.plan.coolant import HEATER

STILL_L_MIN = 0.05


@dataclass(frozen=True, slots=True)
class Rung:
    """A hose or a part on the way round.

    Attributes:
        depth: 0 on the main way, one more for what branches off it.
        found: its flow and temperatures; None where they cannot be worked out.
    """

    depth: int
    branch: Branch
    found: BranchState | None

    @property
    def stands(self) -> bool:
        """Whether hardly anything flows through it."""
        return self.found is None or abs(self.found.flow_l_min) < STILL_L_MIN


@fact
def rungs(job: Job) -> tuple[Rung, ...]:
    """Return every hose and part once: the heater's circuit from its flow on, then each other one
    from its pump on.
    """
    return tuple(_Walk(job).all())


class _Walk:
    """Follows the coolant; each branch is passed once."""

    def __init__(self, job: Job) -> None:
        self._graph, state = loop_graph(job), loop_state(job)
        self._found = dict(state.branches) if state is not None else {}
        self._left = {branch.id: branch for branch in self._graph.branches}
        self._coming: dict[int, int] = {}  # ways into a node that were not passed yet
        for branch in self._graph.branches:
            if self._flows(branch):
                end = self._ends(branch)[1]
                self._coming[end] = self._coming.get(end, 0) + 1

    def all(self) -> Iterator[Rung]:
        """Yield every branch once."""
        heater = self._left.get(HEATER)
        if heater is not None:
            yield from self._from(heater)
        for kind in ("pump", "engine"):
            for branch in self._graph.branches:
                if branch.kind == kind and branch.id in self._left:
                    yield from self._from(branch)
        while self._left:
            yield from self._from(next(iter(self._left.values())))

    def _from(self, first: Branch) -> Iterator[Rung]:
        yield self._pass(first, 0)
        yield from self._onward(self._ends(first)[1], 0)

    def _onward(self, node: int, depth: int) -> Iterator[Rung]:
        """From a node on, the strongest flow last: what branches off stands before the way on."""
        while True:
            leaving = [b for b in self._left.values() if self._leaves(b, node)]
            if not leaving:
                return
            *aside, main = sorted(leaving, key=lambda b: (self._l_min(b), b.id))
            for branch in aside:
                if branch.id in self._left:
                    yield self._pass(branch, depth + 1)
                    yield from self._aside(self._ends(branch, node)[1], depth + 1)
            if main.id not in self._left:
                return
            yield self._pass(main, depth)
            node = self._ends(main, node)[1]
            if depth > 0 and self._coming.get(node, 0) > 0:
                return

    def _aside(self, node: int, depth: int) -> Iterator[Rung]:
        """What branched off, up to where it meets another way."""
        if self._coming.get(node, 0) <= 0:
            yield from self._onward(node, depth)

    def _pass(self, branch: Branch, depth: int) -> Rung:
        del self._left[branch.id]
        if self._flows(branch):
            self._coming[self._ends(branch)[1]] -= 1
        return Rung(depth, branch, self._found.get(branch.id))

    def _l_min(self, branch: Branch) -> float:
        found = self._found.get(branch.id)
        return abs(found.flow_l_min) if found is not None else 0.0

    def _flows(self, branch: Branch) -> bool:
        return self._l_min(branch) >= STILL_L_MIN

    def _ends(self, branch: Branch, node: int | None = None) -> tuple[int, int]:
        """Where coolant comes in and goes out; of one that stands still, from a node on."""
        found = self._found.get(branch.id)
        backwards = found is not None and self._flows(branch) and found.flow_l_min < 0
        turned = not self._flows(branch) and node == branch.end
        return (branch.end, branch.start) if backwards or turned else (branch.start, branch.end)

    def _leaves(self, branch: Branch, node: int) -> bool:
        if self._flows(branch):
            return self._ends(branch)[0] == node
        return node in (branch.start, branch.end)
