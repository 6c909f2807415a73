"""Whether the exhaust finds a way from a place, before the heater is put there."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.findings.rule import Rule
from gale_nook.core.job import Job
from gale_nook.core.ledger.body import Body
from gale_nook.core.pipes.route_search import search_routes, search_steps
from gale_nook.core.pipes.together import PIPES_TOGETHER
from gale_nook.core.plan.spot import Spot
from gale_nook.core.spot.search import at_place, without_runs

LOOKED_FOR = ("way", "short")  # steps that lay a way; the others say what stops it


@dataclass(frozen=True, slots=True)
class WayFrom:
    """What was found for the exhaust from a place.

    Attributes:
        where: to which edge it leads; empty where there is no way.
    """

    where: str = ""
    length_mm: float = 0.0


def exhaust_way_from(
    job: Job,
    spot: Spot,
    beside: tuple[Rule, ...] = (PIPES_TOGETHER,),
    others: tuple[Body, ...] = (),
) -> WayFrom:
    """Return the first way for the exhaust with the heater at a place, proved by every check of it;
    one without an edge where the search finds none.

    Args:
        beside: checks of all else, of which it may put nothing over that was not.
        others: bodies of what other stations have planned and that stay where they are.
    """
    there = without_runs(at_place(job, spot))
    steps = tuple(step for step in search_steps(there, "exhaust") if step.kind in LOOKED_FOR)
    for _, _, found in search_routes(there, "exhaust", steps, beside, others):
        if found.ways:
            way = found.ways[0]
            return WayFrom(way.where, way.length_mm)
    return WayFrom()
