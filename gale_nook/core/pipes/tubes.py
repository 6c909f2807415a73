"""What the checks of both burner pipes share: names of straights and corners, and
who drains where.
"""

from __future__ import annotations

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Rule
from gale_nook.core.geometry.route import RouteGeometry, Straight
from gale_nook.core.job import Job
from gale_nook.core.plan.pipes import RouteNode, Tube
from gale_nook.core.plan.words import TUBE_WORDS

BOTH = ("exhaust", "intake")


def tube_of(about: Rule | Finding) -> Tube:
    """Return which pipe a rule or finding is about; the exhaust where it is about both."""
    return "intake" if about.runs == ("intake",) else "exhaust"


def nodes_of(job: Job, tube: Tube) -> tuple[RouteNode, ...]:
    route = job.plan.pipes.route(tube)
    return route.nodes if route is not None else ()


def straight_id(job: Job, tube: Tube, straight: Straight) -> str:
    """Return the id of the node that a straight leads to."""
    nodes = nodes_of(job, tube)
    return nodes[straight.index].id if nodes else str(straight.index)


def straight_name(straight: Straight) -> str:
    return f"straight {straight.index + 1}"


def node_name(nodes: tuple[RouteNode, ...], node: RouteNode) -> str:
    return "the mouth" if node is nodes[-1] else f"bend {nodes.index(node) + 1}"


def tube_words(tube: Tube) -> str:
    return TUBE_WORDS[tube]


def drained_corners(job: Job, tube: Tube) -> frozenset[int]:
    """Return the corners, counted from the port, that have a drain hole."""
    return frozenset(number for number, node in enumerate(nodes_of(job, tube), 1) if node.drain)


def risers(run: RouteGeometry, drained: frozenset[int]) -> frozenset[int]:
    """Return the straights that rise from a drained corner and so drain back to it, by index."""
    results: set[int] = set()
    for straight in run.straights:
        if straight.fall_deg < 0 and (straight.index in drained or straight.index - 1 in results):
            results.add(straight.index)
    return frozenset(results)
