"""Pipes station: its page, inserting corners into a run, and finding a way step by step."""

from __future__ import annotations

import json
import math
from dataclasses import dataclass

from fastapi.responses import Response

from gale_nook.core.derived import Derived
from gale_nook.core.edits.apply import fresh_id
from gale_nook.core.edits.commands import AddItem, Command
from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.pipes.proposals import EDGE_WORDS, Proposal, edges_nearest_first, propose
from gale_nook.core.pipes.why_not import PARTS, nearest_shift, stage_names, what_stops
from gale_nook.core.plan.pipes import EdgeName, RouteNode
from gale_nook.store import jobs as store
from gale_nook.web.context import Ask, Asked, JobId, desk_for, render
from gale_nook.web.editing import edited
from gale_nook.web.forms import text_of
from gale_nook.web.look import Look
from gale_nook.web.stations.page import by_word, station_router

router = station_router(by_word("pipes"))
MOST_WAYS = 3


@router.post("/jobs/{job_id}/pipes/insert")
def insert_corner(ask: Asked, job_id: JobId) -> Response:
    """Put a corner into the middle of the straight that leads to a node."""
    plan, tube = store.head_of(ask.db, job_id).plan, Look.of(ask.form).tube
    route, run = plan.pipes.route(tube), Derived(plan, ask.book).run(tube)
    wanted = text_of(ask.form, "node")
    index = next((i for i, node in enumerate(route.nodes) if node.id == wanted), -1) if route is not None else -1
    if route is None or run is None or index < 0:
        raise BadInput("corner", wanted, "This corner is not there any more.")
    straight = run.straights[index]
    x, y, z = (round((straight.start[i] + straight.end[i]) / 2, 1) for i in range(3))
    radius = route.nodes[max(index - 1, 0)].radius_mm
    node = RouteNode(id=fresh_id(route.nodes, "n"), x_mm=x, y_mm=y, z_mm=z, radius_mm=radius)
    after = route.nodes[index - 1].id if index > 0 else None
    command = AddItem(collection=f"pipes.{tube}.nodes", item=node, first=index == 0, after=after)
    return edited(ask, job_id, "pipes", command)


# --- finding a way: one short step a request, so that the page shows how far it is and can stop asking ---


@dataclass(frozen=True, slots=True)
class Step:
    """One step of looking for a way.

    Attributes:
        kind: "way" for the first to an edge, "other" for one more, a stage of `why_not`, or "shift".
        where: the edge, or which part of the places to shift to.
    """

    kind: str
    where: str

    @property
    def words(self) -> str:
        """What is being done, for the page."""
        to = EDGE_WORDS.get(self.where, self.where)  # type: ignore[call-overload]
        return {
            "way": f"looking for a way to {to}", "other": f"looking for another way to {to}",
            "length": f"looking for a longer way to {to}", "bends": f"looking for a more winding way to {to}",
            "mouth": f"looking for a way to {to} with its mouth anywhere", "gaps": f"looking for a tighter way to {to}",
            "all": f"looking for anything like a way to {to}",
            "shift": "looking from clear spots near here",
        }[self.kind]  # fmt: skip


def steps_of(edges: tuple[EdgeName, ...]) -> tuple[Step, ...]:
    """Return every step, in order; most are passed over once there is something to show."""
    return (
        *(Step("way", edge) for edge in edges),
        *(Step("other", edge) for edge in edges),
        *(Step(stage, edge) for stage in stage_names() for edge in edges),
        *(Step("shift", str(part)) for part in range(PARTS)),
    )


@dataclass(frozen=True, slots=True)
class Told:
    """What a step has to show: a way, or a sentence with perhaps a command that does what it says."""

    way: Proposal | None = None
    sentence: str = ""
    command: Command | None = None


@router.post("/jobs/{job_id}/pipes/find")
def find(ask: Asked, job_id: JobId) -> Response:
    """Take one step of looking for a way and say what comes next."""
    desk = desk_for(ask.db, ask.book, ask.system, job_id, by_word("pipes"), Look.of(ask.form))
    if desk.plan.spot is None or desk.derived.mount is None:
        raise BadInput("way", None, "The exhaust starts at the heater's port: choose a heater and a spot first.")
    steps, mouths = steps_of(edges_nearest_first(desk.derived)), _mouths(ask)
    number = _number(ask, "step", len(steps) - 1)
    stopped = text_of(ask.form, "stopped", 10) == "yes"
    told = _taken(desk.derived, steps[number], mouths)
    if told.way is not None:
        mouths = (*mouths, told.way.mouth)
    stopped = stopped or (bool(told.sentence) and steps[number].kind != "shift")
    after = _next(steps, number, steps[number].kind, len(mouths), stopped, shifted=told.command is not None)
    return render(
        "pipes/found.html", desk=desk, told=told, letter=chr(64 + len(mouths)), mouths=json.dumps(mouths), stopped=stopped,
        step=steps[after] if after is not None else None, number=after, done=number + 1, of=len(steps), any_way=bool(mouths),
    )  # fmt: skip


def _next(steps: tuple[Step, ...], number: int, kind: str, ways: int, stopped: bool, shifted: bool) -> int | None:
    """Return the number of the step that is worth taking next."""
    for after in range(number + 1, len(steps)):
        step = steps[after]
        if step.kind == "way" and ways < MOST_WAYS:
            return after
        if step.kind == "other" and 0 < ways < MOST_WAYS:
            return after
        if step.kind in stage_names() and ways == 0 and (not stopped or step.kind == kind):
            return after
        if step.kind == "shift" and ways == 0 and not shifted:
            return after
    return None


def _taken(derived: Derived, step: Step, mouths: tuple[Vec3, ...]) -> Told:
    if step.kind in {"way", "other"}:
        return Told(way=propose(derived, step.where, mouths if step.kind == "other" else ()))  # type: ignore[arg-type]
    if step.kind == "shift":
        shift = nearest_shift(derived, int(step.where))
        return Told(sentence=shift.sentence, command=shift.command) if shift is not None else Told()
    reason = what_stops(derived, step.where, step.kind)  # type: ignore[arg-type]
    return Told(sentence=reason.sentence) if reason is not None else Told()


def _number(ask: Ask, name: str, most: int) -> int:
    text = text_of(ask.form, name, 6)
    if not (text.isascii() and text.isdigit() and int(text) <= most):
        raise BadInput(name, text, f"This is a step from 0 to {most}.")
    return int(text)


def _mouths(ask: Ask) -> tuple[Vec3, ...]:
    """The mouths of the ways found so far, as the page sends them back."""
    text = text_of(ask.form, "mouths", 400) or "[]"
    try:
        mouths = [(float(x), float(y), float(z)) for x, y, z in json.loads(text)]
    except (ValueError, TypeError):
        raise BadInput("mouths", text, "These are not places of mouths.") from None
    if not all(math.isfinite(value) for mouth in mouths for value in mouth):
        raise BadInput("mouths", text, "These are not places of mouths.")
    return tuple(mouths[:MOST_WAYS])
