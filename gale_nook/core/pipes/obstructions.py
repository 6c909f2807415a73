"""Why no way is found: the limit that stops it, by how much, and the nearest spot from which there
is one.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.judging import nothing_over, over_findings
from gale_nook.core.geometry.frames import turn_xy
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job
from gale_nook.core.pipes.checks import checks_of
from gale_nook.core.pipes.finder import RouteConstraints, constraints_of, find_route
from gale_nook.core.pipes.proposals import EDGE_WORDS, propose, route_of
from gale_nook.core.pipes.runs import with_route
from gale_nook.core.plan.pipes import EdgeName
from gale_nook.core.plan.spot import Spot
from gale_nook.core.quantities.sentences import q
from gale_nook.core.routing.grid_search import FoundRoute
from gale_nook.core.spot.checks import SPOT_CHECKS
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.core.spot.floor_map import YAWS, FloorMap
from gale_nook.core.spot.placement import heater_port, heater_underside_z_mm, port_point
from gale_nook.core.spot.search import TURN_COSTS_MM

LONGEST_MM = 5000.0
ANY_BENDS_DEG = 720.0
PARTS, PLACES_A_PART = 4, 4  # places that are looked at, so many at a time
MOST_SAID = 3  # limits that are named of several
WHAT_STOPS = (
    "pipes.length",
    "pipes.bends",
    "pipes.clearance",
    "pipes.floor",
    "pipes.tubes_apart",
    "pipes.ground",
    "pipes.mouth_opening",
    "pipes.mouth_part",
    "pipes.mouth_forward",
    "pipes.mouths_apart",
)
APART_MM = 120.0  # nearer ones are one place


@dataclass(frozen=True, slots=True)
class Obstruction:
    """What stops every way to an edge: a sentence with what there would be and what is allowed."""

    edge: EdgeName
    sentence: str


@dataclass(frozen=True, slots=True)
class SpotShift:
    """A shift of the heater from which there is a way."""

    sentence: str
    command: PlaceHeater


def stage_names() -> tuple[str, ...]:
    """Return the questions that are asked one after another until one has an answer."""
    return tuple(_STAGES)


def obstruction_of(job: Job, edge: EdgeName, stage: str) -> Obstruction | None:
    """Return what stops the ways to an edge, if it is what this stage asks for; None if not."""
    wanted = constraints_of(job)
    loosened, words = _STAGES[stage]
    for looser in loosened(wanted):
        result = find_route(job, edge, looser)
        if result is not None:
            return Obstruction(edge, words(job, edge, result, wanted))
    return None


def _too_long(_job: Job, edge: EdgeName, found: FoundRoute, wanted: RouteConstraints) -> str:
    return (
        f"The shortest clear run to {EDGE_WORDS[edge]} is {q(round(found.length_mm))}; "
        f"{q(wanted.length_mm)} are allowed."
    )


def _too_bent(_job: Job, edge: EdgeName, found: FoundRoute, wanted: RouteConstraints) -> str:
    return (
        f"A clear run to {EDGE_WORDS[edge]} has {q(found.bends_deg, 'deg')} of bends; "
        f"{q(wanted.bend_sum_deg, 'deg')} are allowed."
    )


def _bad_mouth(job: Job, edge: EdgeName, found: FoundRoute, wanted: RouteConstraints) -> str:
    over = _worst(
        job,
        found,
        wanted,
        ("pipes.mouth_opening", "pipes.mouth_part", "pipes.mouth_forward", "pipes.mouths_apart"),
    )
    run = f"A clear run gets to {EDGE_WORDS[edge]}"
    if over is None:
        return f"{run}, but not within the stretch in which the mouth may be."
    return f"{run}, but its mouth may not end there: {over}"


def _too_near(job: Job, edge: EdgeName, found: FoundRoute, wanted: RouteConstraints) -> str:
    over = _worst(job, found, wanted, ("pipes.clearance", "pipes.floor", "pipes.tubes_apart"))
    return f"A run to {EDGE_WORDS[edge]} only passes too near to something. {over or ''}".strip()


def _several_limits(job: Job, edge: EdgeName, found: FoundRoute, wanted: RouteConstraints) -> str:
    """Several limits at once: the worst of each rule that is over on the nearest thing to a way."""
    over = _over(job, found, wanted, WHAT_STOPS)
    worst = {f.rule: f for f in sorted(over, key=lambda f: -(f.margin or 0.0))}
    said = " ".join(_said(f) for f in list(worst.values())[:MOST_SAID])
    return (
        f"Several limits stop a run to {EDGE_WORDS[edge]}; the nearest to one breaks "
        f"{len(worst)}. {said}"
    )


def _worst(
    job: Job, found: FoundRoute, wanted: RouteConstraints, rules: tuple[str, ...]
) -> str | None:
    """What the checks themselves say of the run, the worst of some rules."""
    worst = min(_over(job, found, wanted, rules), key=lambda f: f.margin or 0.0, default=None)
    return _said(worst) if worst is not None else None


def _over(
    job: Job, found: FoundRoute, wanted: RouteConstraints, rules: tuple[str, ...]
) -> list[Finding]:
    there = with_route(job, "exhaust", route_of(found, wanted.radius_mm))
    return [f for f in over_findings(there, checks_of("exhaust")) if f.rule in rules]


def _said(finding: Finding) -> str:
    most, least = finding.band.maximum, finding.band.minimum
    asked = "are allowed" if least is None else "are asked for"
    limit = q((most if least is None else least) or 0.0, "deg" if finding.unit == "deg" else "mm")
    return f"{finding.sentence} {limit} {asked}."


def _anywhere(wanted: RouteConstraints) -> RouteConstraints:
    return replace(
        wanted,
        mouth_opening_mm=0.0,
        mouth_forward_deg=0.0,
        from_mm=-math.inf,
        to_mm=math.inf,
        avoid=(),
    )


def _anything(wanted: RouteConstraints) -> RouteConstraints:
    return replace(_anywhere(wanted), length_mm=LONGEST_MM, bend_sum_deg=ANY_BENDS_DEG)


_Loosen = Callable[[RouteConstraints], tuple[RouteConstraints, ...]]
_STAGES: dict[str, tuple[_Loosen, Callable[[Job, EdgeName, FoundRoute, RouteConstraints], str]]] = {
    "length": (lambda w: (replace(w, length_mm=LONGEST_MM),), _too_long),
    "bends": (lambda w: (replace(w, bend_sum_deg=ANY_BENDS_DEG),), _too_bent),
    "mouth": (lambda w: (_anywhere(w),), _bad_mouth),
    "gaps": (lambda w: (replace(w, gap_share=0.5), replace(w, gap_share=0.0)), _too_near),
    "all": (
        lambda w: tuple(replace(_anything(w), gap_share=share) for share in (1.0, 0.5, 0.0)),
        _several_limits,
    ),
}


def reasons_against(job: Job) -> tuple[str, ...]:
    """Return what stops every way, edge by edge, from the first question that has an answer, and a
    shift that would do.
    """
    results: list[str] = []
    for stage in _STAGES:
        stops = (obstruction_of(job, edge, stage) for edge in job.plan.pipes.edges)
        results = [stopped.sentence for stopped in stops if stopped is not None]
        if results:
            break
    shifts = (nearest_shift(job, part) for part in range(PARTS))
    shift = next((shift for shift in shifts if shift is not None), None)
    return (
        *(results or [nothing_leaves(job)]),
        *([shift.sentence] if shift else []),
    )


def nothing_leaves(job: Job) -> str:
    """Return why no run leaves the port at all."""
    mount = chosen_mount(job)
    up = port_point(job, heater_port(job, "exhaust"))[2] - heater_underside_z_mm(job)
    if mount is not None and mount.through == "floor" and up > 0:
        return (
            f"The exhaust's port ends {q(round(up, 1))} inside the floor: no pipe can be led away "
            "from it. Let the mount in, or take one for a thicker floor."
        )
    return "Something lies right at the port: there is no way out from here."


def nearest_shift(job: Job, part: int) -> SpotShift | None:
    """Return a shift of the heater to a clear spot from which there is a way, the nearest of one
    part of those looked at.

    Args:
        part: 0 to PARTS - 1, the nearest places first.
    """
    spot = job.plan.spot
    if spot is None:
        return None
    for place in _clear_places(job)[part * PLACES_A_PART : (part + 1) * PLACES_A_PART]:
        there = job.with_parts(spot=place)
        if not nothing_over(there, SPOT_CHECKS):
            continue
        if any(propose(there, edge) is not None for edge in job.plan.pipes.edges):
            command = PlaceHeater(x_mm=place.x_mm, y_mm=place.y_mm, yaw_deg=place.yaw_deg)
            return SpotShift(f"A spot {_shift_words(spot, place)} would do.", command)
    return None


def _shift_words(spot: Spot, place: Spot) -> str:
    dx, dy = place.x_mm - spot.x_mm, place.y_mm - spot.y_mm
    parts = [f"{q(abs(dx))} {'rearward' if dx > 0 else 'forward'}"] if dx else []
    parts += [f"{q(abs(dy))} farther {'right' if dy > 0 else 'left'}"] if dy else []
    turned = (
        f", turned {q(float((place.yaw_deg - spot.yaw_deg) % 360), 'deg')}"
        if place.yaw_deg != spot.yaw_deg
        else ""
    )
    return (" and ".join(parts) or "just here") + turned


def _clear_places(job: Job) -> list[Spot]:
    """Clear places of the map, from the nearest on and no two of them neighbours, that a short
    enough pipe could leave.
    """
    spot = job.plan.spot
    if spot is None:
        return []
    floor, result = FloorMap(job), []
    most = constraints_of(job).length_mm
    for yaw in YAWS:
        rows, columns = np.nonzero(floor.fields[yaw].margin_mm >= 0)
        x, y = floor.grid.x_mm[columns], floor.grid.y_mm[rows]
        port = heater_port(job, "exhaust")
        dx, dy = turn_xy(port.x_mm, port.y_mm, yaw)
        short = _to_edges_mm(job, x + dx, y + dy) < most
        far = np.hypot(x - spot.x_mm, y - spot.y_mm) + (
            0.0 if yaw == spot.yaw_deg else TURN_COSTS_MM
        )
        result += [
            (float(f), float(px), float(py), yaw)
            for f, px, py in zip(far[short], x[short], y[short], strict=True)
        ]
    chosen: list[Spot] = []
    for _, px, py, yaw in sorted(result):
        if len(chosen) >= PARTS * PLACES_A_PART:
            break
        if all(math.hypot(px - other.x_mm, py - other.y_mm) >= APART_MM for other in chosen):
            chosen.append(spot.model_copy(update={"x_mm": px, "y_mm": py, "yaw_deg": yaw}))
    return chosen


def _to_edges_mm(job: Job, x: Any, y: Any) -> Any:
    """The nearest permitted edge from places in plan."""
    shell = job.plan.vehicle.shell
    half = shell.outer_width_mm / 2
    away = {"left": half + y, "right": half - y, "rear": shell.rear_x_mm - x}
    return np.minimum.reduce([away[edge] for edge in job.plan.pipes.edges])
