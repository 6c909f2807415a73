"""Clamps of a burner pipe: where two ends meet, what is clamped there, and which clamps go along
with what is moved.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Fitting, FittingKind, Route, Tube

CLAMP_MM = 12.0  # from the end that it holds to its middle
REACH_MM = 25.0  # a clamp this near to where one is needed is that one
HELD: tuple[FittingKind, ...] = ("joint", "silencer", "filter")


@dataclass(frozen=True, slots=True)
class Connection:
    """An end that is pushed over or into another, and where its clamp goes (mm from the port)."""

    name: str
    at_mm: float


def connections(route: Route, length_mm: float) -> tuple[Connection, ...]:
    """Return every end of a pipe that has to be clamped, from the port on: the port's, and both of
    what is set into it.
    """
    results = [Connection("the port", CLAMP_MM)]
    for fitting in route.of_kind(*HELD):
        results += [
            Connection(f"the {fitting.kind}'s near end", fitting.at_mm - CLAMP_MM),
            Connection(f"the {fitting.kind}'s far end", fitting.end_mm + CLAMP_MM),
        ]
    return tuple(sorted((c for c in results if 0 < c.at_mm < length_mm), key=lambda c: c.at_mm))


def unclamped(job: Job, tube: Tube) -> tuple[Connection, ...]:
    """Return the connections that have no clamp near them; a clamp holds one end."""
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    if run is None or route is None:
        return ()
    free = [clamp.at_mm for clamp in route.of_kind("clamp")]
    missing = []
    for connection in connections(route, run.length_mm):
        near = min(free, key=lambda at: abs(at - connection.at_mm), default=None)
        if near is None or abs(near - connection.at_mm) > REACH_MM:
            missing.append(connection)
        else:
            free.remove(near)
    return tuple(missing)


def proposed_clamps(job: Job, tube: Tube) -> tuple[Fitting, ...]:
    """Return a clamp for every connection."""
    run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
    return clamps_for(route, run.length_mm) if run is not None and route is not None else ()


def clamps_for(route: Route, length_mm: float) -> tuple[Fitting, ...]:
    """Return the same for a route that is not yet in a plan."""
    places = connections(route, length_mm)
    return tuple(
        Fitting(id=f"clamp-{number}", kind="clamp", at_mm=float(round(place.at_mm)))
        for number, place in enumerate(places, 1)
    )


def reclamped(
    kept: list[dict[str, Any]], old: list[dict[str, Any]], new: list[dict[str, Any]]
) -> list[dict[str, Any]]:
    """Return what stays on the pipe, as plain data, with the clamps of old joints replaced by those
    of new ones.

    A pipe without any clamp stays without: its finding says so.
    """
    if not any(fitting["kind"] == "clamp" for fitting in kept):
        return kept
    loose = [clamp["id"] for joint in old for clamp in clamps_of(kept, joint)]
    results = [fitting for fitting in kept if fitting["id"] not in loose]
    taken = {fitting["id"] for fitting in (*results, *new)}
    for at_mm in (
        end for joint in new for end in (joint["at_mm"] - CLAMP_MM, joint["at_mm"] + CLAMP_MM)
    ):
        number = 1
        while f"clamp-{number}" in taken:
            number += 1
        taken.add(f"clamp-{number}")
        results.append(
            Fitting(id=f"clamp-{number}", kind="clamp", at_mm=max(at_mm, 0.0)).model_dump(
                mode="json"
            )
        )
    return results


def clamps_of(fittings: list[dict[str, Any]], held: dict[str, Any]) -> list[dict[str, Any]]:
    """Return the clamps, as plain data, that hold the ends of something on the pipe."""
    if held["kind"] not in HELD:
        return []
    ends = (held["at_mm"] - CLAMP_MM, held["at_mm"] + held["length_mm"] + CLAMP_MM)
    clamps = [fitting for fitting in fittings if fitting["kind"] == "clamp"]
    return [clamp for clamp in clamps if any(abs(clamp["at_mm"] - end) <= REACH_MM for end in ends)]
