"""Pipes station: its page, inserting corners into a run, and finding a way step by step."""

from __future__ import annotations

import json
import math

from fastapi.responses import Response

from gale_nook.core.derived import Derived
from gale_nook.core.edits.apply import fresh_id
from gale_nook.core.edits.commands import AddItem
from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.store import jobs as store
from gale_nook.web.context import Ask, Asked, JobId, desk_for, render
from gale_nook.web.editing import edited
from gale_nook.web.forms import text_of
from gale_nook.web.look import Look
from gale_nook.web.stations.page import by_word, station_router
from gale_nook.web.way_steps import MOST_WAYS, next_step, steps_of, taken

router = station_router(by_word("pipes"))


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


@router.post("/jobs/{job_id}/pipes/find")
def find(ask: Asked, job_id: JobId) -> Response:
    """Take one step of looking for a way and say what comes next."""
    desk = desk_for(ask.db, ask.book, ask.system, job_id, by_word("pipes"), Look.of(ask.form))
    if desk.plan.spot is None or desk.derived.mount is None:
        raise BadInput("way", None, "The burner's pipes start at the heater's ports: choose a heater and a spot first.")
    steps, mouths = steps_of(desk.derived, desk.look.tube), _mouths(ask)
    number = _number(ask, "step", len(steps) - 1)
    stopped = text_of(ask.form, "stopped", 10) == "yes"
    told = taken(desk.derived, desk.look.tube, steps[number], mouths)
    if told.way is not None:
        mouths = (*mouths, told.way.mouth)
    stopped = stopped or (bool(told.sentence) and steps[number].kind != "shift")
    after = next_step(steps, number, told, len(mouths), stopped)
    return render(
        "pipes/found.html", desk=desk, told=told, letter=chr(64 + len(mouths)), mouths=json.dumps(mouths), stopped=stopped,
        step=steps[after] if after is not None else None, number=after, done=number + 1, of=len(steps), any_way=bool(mouths),
    )  # fmt: skip


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
