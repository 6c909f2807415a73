"""Looking for ways in short steps, the likeliest first, so that whoever waits sees how far it is
and what there is already.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from gale_nook.core.findings.rule import Rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.ledger.body import Body
from gale_nook.core.pipes.obstructions import (
    PARTS,
    nearest_shift,
    nothing_leaves,
    obstruction_of,
    stage_names,
)
from gale_nook.core.pipes.proposals import EDGE_WORDS, edges_nearest_first, propose
from gale_nook.core.pipes.route_proposal import RouteProposal
from gale_nook.core.pipes.short_routes import (
    is_short,
    parts_of_runs,
    short_obstruction,
    short_route,
    short_runs,
)
from gale_nook.core.pipes.together import PIPES_TOGETHER
from gale_nook.core.plan.pipes import EdgeName, Tube
from gale_nook.core.spot.commands import PlaceHeater

MOST_WAYS = 3


@dataclass(frozen=True, slots=True)
class SearchStep:
    """One step of looking for a way.

    Attributes:
        kind: "way" for the first to an edge, "other" for one more, a stage of `why_not`, or
            "shift"; "short" for short runs, "short-stops" for what stops these.
        edge: that it leads to.
        part: of the runs, or of the places to shift to, that are looked at in this step.
    """

    kind: str
    edge: EdgeName = "rear"
    part: int = 0

    @property
    def words(self) -> str:
        """What is being done, for the page."""
        to = EDGE_WORDS[self.edge]
        return {
            "way": f"looking for a way to {to}",
            "other": f"looking for another way to {to}",
            "length": f"looking for a longer way to {to}",
            "bends": f"looking for a more winding way to {to}",
            "mouth": f"looking for a way to {to} with its mouth anywhere",
            "gaps": f"looking for a tighter way to {to}",
            "all": f"looking for anything like a way to {to}",
            "shift": "looking from clear spots near here",
            "short": "trying short runs all round",
            "short-stops": "looking what stops them",
        }[self.kind]


@dataclass(frozen=True, slots=True)
class Hint:
    """A sentence about what stops the ways, with perhaps a shift of the heater that would do."""

    sentence: str
    command: PlaceHeater | None = None


@dataclass(frozen=True, slots=True)
class RouteSearch:
    """What was found.

    Attributes:
        hints: where there is no way, what stops it, and from where there would be one.
    """

    ways: tuple[RouteProposal, ...] = ()
    hints: tuple[Hint, ...] = ()

    @property
    def mouths(self) -> tuple[Vec3, ...]:
        """Mouths of the ways found so far."""
        return tuple(way.mouth for way in self.ways)

    @property
    def stopped(self) -> bool:
        """Whether what stops every way has been said."""
        return any(hint.command is None for hint in self.hints)

    @property
    def shifted(self) -> bool:
        """Whether a place was found from which there is a way."""
        return any(hint.command is not None for hint in self.hints)


def search_steps(job: Job, tube: Tube) -> tuple[SearchStep, ...]:
    """Return every step, in order; most are passed over once there is something to show. Needs a
    heater in its place.
    """
    if is_short(job, tube):
        parts = max(parts_of_runs(short_runs(job, tube)), 1)
        # a part that has a way is tried again for another
        return (
            *(SearchStep("short", part=part) for part in range(parts) for _ in range(MOST_WAYS)),
            SearchStep("short-stops"),
        )
    edges = edges_nearest_first(job)
    return (
        *(SearchStep("way", edge) for edge in edges),
        *(SearchStep("other", edge) for edge in edges),
        *(SearchStep(stage, edge) for stage in stage_names() for edge in edges),
        *(SearchStep("shift", part=part) for part in range(PARTS)),
    )


def search_routes(
    job: Job,
    tube: Tube,
    steps: tuple[SearchStep, ...],
    beside: tuple[Rule, ...] = (PIPES_TOGETHER,),
    others: tuple[Body, ...] = (),
) -> Iterator[tuple[int, str, RouteSearch]]:
    """Yield, before each step that is worth taking and at the end: its number, what it does, and
    what there is so far.

    Args:
        beside: checks of all else, of which a way may put nothing over that was not.
        others: bodies of what other stations have planned.
    """
    number: int | None = 0
    result = RouteSearch()
    while number is not None:
        yield number, steps[number].words, result
        before = result
        result = _taken(job, tube, steps[number], result, (beside, others))
        number = _next_step(steps, number, result, result != before)
    if tube == "exhaust" and not result.ways and not result.stopped:
        result = replace(result, hints=(*result.hints, Hint(nothing_leaves(job))))
    yield len(steps), "", result


def _next_step(
    steps: tuple[SearchStep, ...], number: int, found: RouteSearch, found_now: bool
) -> int | None:
    """Return the number of the step that is worth taking next; None when there is none."""
    now, ways = steps[number], len(found.ways)
    for after in range(number + 1, len(steps)):
        step = steps[after]
        same_part = step.kind == now.kind and step.part == now.part and step.edge == now.edge
        worth = {
            "way": ways < MOST_WAYS,
            "other": 0 < ways < MOST_WAYS,
            "shift": ways == 0 and not found.shifted,
            "short": ways < MOST_WAYS and (found_now or not same_part),
            "short-stops": ways == 0,
        }.get(step.kind, ways == 0 and (not found.stopped or step.kind == now.kind))
        if worth:
            return after
    return None


def _taken(
    job: Job,
    tube: Tube,
    step: SearchStep,
    found: RouteSearch,
    besides: tuple[tuple[Rule, ...], tuple[Body, ...]],
) -> RouteSearch:
    """Return what there is after a step."""
    beside, others = besides
    if step.kind in {"way", "other"}:
        return _with_way(
            found,
            propose(job, step.edge, found.mouths if step.kind == "other" else (), beside, others),
        )
    if step.kind == "short":
        return _with_way(
            found, short_route(job, tube, short_runs(job, tube), step.part, found.mouths, beside)
        )
    if step.kind == "short-stops":
        return _with_hint(found, Hint(short_obstruction(job, tube, short_runs(job, tube))))
    if step.kind == "shift":
        shift = nearest_shift(job, step.part)
        return (
            _with_hint(found, Hint(shift.sentence, shift.command)) if shift is not None else found
        )
    reason = obstruction_of(job, step.edge, step.kind)
    return _with_hint(found, Hint(reason.sentence)) if reason is not None else found


def _with_way(found: RouteSearch, proposal: RouteProposal | None) -> RouteSearch:
    return found if proposal is None else replace(found, ways=(*found.ways, proposal))


def _with_hint(found: RouteSearch, hint: Hint) -> RouteSearch:
    return replace(found, hints=(*found.hints, hint)) if hint.sentence else found
