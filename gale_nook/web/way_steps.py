"""Finding a way in short steps, one a request, so that the page shows how far it is and can stop asking."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.derived import Derived
from gale_nook.core.edits.commands import Command
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.pipes.proposals import EDGE_WORDS, edges_nearest_first, propose
from gale_nook.core.pipes.short_ways import is_short, parts_of_runs, short_runs, short_way, what_stops_short
from gale_nook.core.pipes.ways import Proposal
from gale_nook.core.pipes.why_not import PARTS, nearest_shift, stage_names, what_stops
from gale_nook.core.plan.pipes import EdgeName, Tube

MOST_WAYS = 3


@dataclass(frozen=True, slots=True)
class Step:
    """One step of looking for a way.

    Attributes:
        kind: "way" for the first to an edge, "other" for one more, a stage of `why_not`, or "shift"; "short" for short
            runs, "short-stops" for what stops these.
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
            "way": f"looking for a way to {to}", "other": f"looking for another way to {to}",
            "length": f"looking for a longer way to {to}", "bends": f"looking for a more winding way to {to}",
            "mouth": f"looking for a way to {to} with its mouth anywhere", "gaps": f"looking for a tighter way to {to}",
            "all": f"looking for anything like a way to {to}", "shift": "looking from clear spots near here",
            "short": "trying short runs all round", "short-stops": "looking what stops them",
        }[self.kind]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Told:
    """What a step has to show: a way, or a sentence with perhaps a command that does what it says."""

    way: Proposal | None = None
    sentence: str = ""
    command: Command | None = None


def steps_of(derived: Derived, tube: Tube) -> tuple[Step, ...]:
    """Return every step, in order; most are passed over once there is something to show. Needs a heater in its place."""
    if is_short(derived, tube):
        parts = max(parts_of_runs(short_runs(derived, tube)), 1)
        # a part that has a way is tried again for another
        return (*(Step("short", part=part) for part in range(parts) for _ in range(MOST_WAYS)), Step("short-stops"))
    edges = edges_nearest_first(derived)
    return (
        *(Step("way", edge) for edge in edges),
        *(Step("other", edge) for edge in edges),
        *(Step(stage, edge) for stage in stage_names() for edge in edges),
        *(Step("shift", part=part) for part in range(PARTS)),
    )


def next_step(steps: tuple[Step, ...], number: int, told: Told, ways: int, stopped: bool) -> int | None:
    """Return the number of the step that is worth taking next; None when there is none.

    Args:
        told: what the step just taken had to show.
        ways: found so far.
        stopped: what stops every way has been said.
    """
    now = steps[number]
    for after in range(number + 1, len(steps)):
        step = steps[after]
        same_part = step.kind == now.kind and step.part == now.part and step.edge == now.edge
        worth = {
            "way": ways < MOST_WAYS, "other": 0 < ways < MOST_WAYS, "shift": ways == 0 and told.command is None,
            "short": ways < MOST_WAYS and (told.way is not None or not same_part), "short-stops": ways == 0,
        }.get(step.kind, ways == 0 and (not stopped or step.kind == now.kind))  # fmt: skip
        if worth:
            return after
    return None


def taken(derived: Derived, tube: Tube, step: Step, mouths: tuple[Vec3, ...]) -> Told:
    """Return what a step has to show.

    Args:
        mouths: of the ways found so far.
    """
    if step.kind in {"way", "other"}:
        return Told(way=propose(derived, step.edge, mouths if step.kind == "other" else ()))
    if step.kind == "short":
        return Told(way=short_way(derived, tube, short_runs(derived, tube), step.part, mouths))
    if step.kind == "short-stops":
        return Told(sentence=what_stops_short(derived, tube, short_runs(derived, tube)))
    if step.kind == "shift":
        shift = nearest_shift(derived, step.part)
        return Told(sentence=shift.sentence, command=shift.command) if shift is not None else Told()
    reason = what_stops(derived, step.edge, step.kind)
    return Told(sentence=reason.sentence) if reason is not None else Told()
