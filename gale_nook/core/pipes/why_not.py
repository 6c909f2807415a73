"""Why no way is found: the limit that stops it, by how much, and the nearest spot from which there is one."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from gale_nook.core.checking import check
from gale_nook.core.derived import Derived
from gale_nook.core.edits.apply import apply
from gale_nook.core.edits.commands import PlaceHeater, TakeRun
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.pipes.finder import Found, Wanted, find_way, wanted_of
from gale_nook.core.pipes.proposals import EDGE_WORDS, propose, route_of
from gale_nook.core.plan.pipes import EdgeName
from gale_nook.core.quantities.said import q

LONGEST_MM = 5000.0
ANY_BENDS_DEG = 720.0
SHIFTS_MM = (50.0, 100.0, 150.0, 200.0, 300.0, 400.0, 500.0)
WAYS = (("rearward", 1, 0), ("forward", -1, 0), ("to the right", 0, 1), ("to the left", 0, -1))


@dataclass(frozen=True, slots=True)
class Stopped:
    """What stops every way to an edge: a sentence with what there would be and what is allowed."""

    edge: EdgeName
    sentence: str


@dataclass(frozen=True, slots=True)
class Shift:
    """A shift of the heater from which there is a way."""

    sentence: str
    command: PlaceHeater


def stage_names() -> tuple[str, ...]:
    """Return the questions that are asked one after another until one has an answer."""
    return tuple(_STAGES)


def what_stops(derived: Derived, edge: EdgeName, stage: str) -> Stopped | None:
    """Return what stops the ways to an edge, if it is what this stage asks for; None if not."""
    wanted = wanted_of(derived)
    loosened, words = _STAGES[stage]
    for looser in loosened(wanted):
        found = find_way(derived, edge, looser)
        if found is not None:
            return Stopped(edge, words(derived, found, wanted))
    return None


def _too_long(_derived: Derived, found: Found, wanted: Wanted) -> str:
    return f"The shortest clear run to {EDGE_WORDS[found.edge]} is {q(round(found.length_mm))}; {q(wanted.length_mm)} are allowed."


def _too_bent(_derived: Derived, found: Found, wanted: Wanted) -> str:
    return f"A clear run to {EDGE_WORDS[found.edge]} has {q(found.bends_deg, 'deg')} of bends; {q(wanted.bend_sum_deg, 'deg')} are allowed."


def _bad_mouth(derived: Derived, found: Found, wanted: Wanted) -> str:
    over = _worst(
        derived, found, wanted, ("pipes.mouth_opening", "pipes.mouth_part", "pipes.mouth_forward", "pipes.mouths_apart")
    )
    run = f"A clear run gets to {EDGE_WORDS[found.edge]}"
    if over is None:
        return f"{run}, but not within the stretch in which the mouth may be."
    return f"{run}, but its mouth may not end there: {over}"


def _too_near(derived: Derived, found: Found, wanted: Wanted) -> str:
    over = _worst(derived, found, wanted, ("pipes.clearance", "pipes.floor", "pipes.tubes_apart"))
    return f"A run to {EDGE_WORDS[found.edge]} only passes too near to something. {over or ''}".strip()


def _worst(derived: Derived, found: Found, wanted: Wanted, rules: tuple[str, ...]) -> str | None:
    """What the checks themselves say of the run, the worst of some rules."""
    plan = apply(derived.plan, TakeRun(tube="exhaust", route=route_of(found, wanted.radius_mm)), derived.catalogue)
    over = [
        f
        for f in check(plan, derived.catalogue, ("pipes",), derived).findings
        if f.verdict is Verdict.OVER and f.rule in rules
    ]
    worst = min(over, key=lambda f: f.margin or 0.0, default=None)
    if worst is None:
        return None
    limit = worst.band.minimum if worst.band.minimum is not None else worst.band.maximum
    return f"{worst.sentence} {q(limit or 0.0, 'deg' if worst.unit == 'deg' else 'mm')} are asked for."


def _anywhere(wanted: Wanted) -> Wanted:
    return replace(wanted, mouth_opening_mm=0.0, mouth_forward_deg=0.0, from_mm=-math.inf, to_mm=math.inf, avoid=())


_Loosen = Callable[[Wanted], tuple[Wanted, ...]]
_STAGES: dict[str, tuple[_Loosen, Callable[[Derived, Found, Wanted], str]]] = {
    "length": (lambda w: (replace(w, length_mm=LONGEST_MM),), _too_long),
    "bends": (lambda w: (replace(w, bend_sum_deg=ANY_BENDS_DEG),), _too_bent),
    "mouth": (lambda w: (_anywhere(w),), _bad_mouth),
    "gaps": (lambda w: (replace(w, gap_share=0.5), replace(w, gap_share=0.0)), _too_near),
}


def reasons_against(derived: Derived) -> tuple[str, ...]:
    """Return what stops every way, edge by edge, from the first question that has an answer, and a shift that would do."""
    found: list[str] = []
    for stage in _STAGES:
        stops = (what_stops(derived, edge, stage) for edge in derived.plan.pipes.edges)
        found = [stopped.sentence for stopped in stops if stopped is not None]
        if found:
            break
    shifts = (nearest_shift(derived, way) for way, _, _ in WAYS)
    shift = next((shift for shift in shifts if shift is not None), None)
    return (
        *(found or ["Something lies right at the port: there is no way out from here."]),
        *([shift.sentence] if shift else []),
    )


def nearest_shift(derived: Derived, way: str) -> Shift | None:
    """Return the smallest shift of the heater one way from which there is a clear run and nothing new is over at its spot."""
    spot = derived.plan.spot
    if spot is None:
        return None
    dx, dy = next((x, y) for name, x, y in WAYS if name == way)
    before = _over_at_spot(derived)
    for by in SHIFTS_MM:
        command = PlaceHeater(x_mm=spot.x_mm + dx * by, y_mm=spot.y_mm + dy * by)
        try:
            there = Derived(apply(derived.plan, command, derived.catalogue), derived.catalogue, derived)
        except BadInput:
            return None
        if not _over_at_spot(there) <= before:
            continue
        if any(propose(there, edge) is not None for edge in derived.plan.pipes.edges):
            return Shift(f"A spot {q(by)} {way} would do.", command)
    return None


def _over_at_spot(derived: Derived) -> set[str]:
    found = check(derived.plan, derived.catalogue, ("spot",), derived).findings
    return {f.rule for f in found if f.verdict is Verdict.OVER}
