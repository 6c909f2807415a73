"""What the card for someone lying under the vehicle gives back."""

from __future__ import annotations

import base64
import binascii
import json
import re
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from gale_nook.core.base.models import CoordinateMm
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan, places_of
from gale_nook.core.plan.solids import Solid
from gale_nook.core.plan.spot import Pilot
from gale_nook.core.plan.words import field_words
from gale_nook.core.quantities.length import UnitSystem, parse_length_mm
from gale_nook.core.spot.commands import TakeBelow
from gale_nook.core.vehicle.heights import From, height_over_floor_mm
from gale_nook.core.vehicle.pencil import part_addresses
from gale_nook.core.vehicle.starts import starting_part
from gale_nook.exchange.creeper_card import CardHole, axis_of, measured_leaves
from gale_nook.exchange.photos import kept_picture

MAX_LINE = 2_200_000  # with a few photos
MOST_PHOTO = 700_000  # of one, as text
_PHOTO = re.compile(r"data:image/(jpeg|png|webp);base64,")


@dataclass(frozen=True, slots=True)
class FromCard:
    """What a card gave back: the command that takes it in, and the pictures that it brought, by
    their file name.
    """

    command: TakeBelow
    pictures: dict[str, bytes]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


Typed = Annotated[str, Field(max_length=80)]


class _TypedPilot(_Strict):
    hole: Typed
    along: Typed = ""
    forth: Literal["forward", "rearward"] = "rearward"
    across: Typed = ""
    side: Literal["left", "right"] = "right"
    drilled: tuple[CoordinateMm, CoordinateMm] | None = None
    mark: tuple[CoordinateMm, CoordinateMm] | None = None


class _TypedFound(_Strict):
    kind: Typed
    name: Typed = ""
    shape: Literal["box", "tube", "cylinder"] = "box"
    values: Annotated[dict[Typed, Typed], Field(max_length=20)] = {}
    photo: Annotated[str, Field(max_length=MOST_PHOTO)] = ""


class _TypedBelow(_Strict):
    gale_nook: Literal["below"]
    version: Literal[1]
    job: int
    revision: int
    units: Literal["mm", "in"]
    heights: Literal["floor", "underside", "ground"] = "floor"
    features: Annotated[dict[Typed, tuple[Typed, Typed]], Field(max_length=120)] = {}
    parts: Annotated[dict[Typed, dict[Typed, Typed]], Field(max_length=400)] = {}
    runs: Annotated[dict[Typed, dict[Typed, Typed]], Field(max_length=3)] = {}
    found: Annotated[tuple[_TypedFound, ...], Field(max_length=20)] = ()
    pilots: Annotated[tuple[_TypedPilot, ...], Field(max_length=40)] = ()
    note: Annotated[str, Field(max_length=1000)] = ""


def read_below(line: str, job: Job, job_id: int, holes: tuple[CardHole, ...]) -> FromCard:
    """Return what a card gave back.

    Args:
        holes: of the mount as they are now, for a card that does not say where it had them.

    Raises:
        BadInput: not a card's line, of another job, or a length that cannot be read; names it.
    """
    typed, plan = _typed(line), job.plan
    if typed.job != job_id:
        raise BadInput(
            "line", None, f"This line is of job {typed.job}; it was given to job {job_id}."
        )
    system = UnitSystem.IMPERIAL if typed.units == "in" else UnitSystem.METRIC
    known = {feature.id: feature.name for feature in plan.vehicle.features}
    features: dict[str, tuple[float, float]] = {}
    for key, (x, y) in typed.features.items():
        if key not in known:
            raise BadInput("feature", key, f"The feature '{key}' is not in this job any more.")
        features[key] = (
            parse_length_mm(x, system, f"{known[key]}, behind"),
            parse_length_mm(y, system, f"{known[key]}, across"),
        )
    changes = [*_measured(typed, job, system), *_laid(typed, job, system)]
    found, pictures = _found(typed, job, system)
    pilots: list[Pilot] = []
    for pilot in typed.pilots:
        pilots.append(_pilot(pilot, plan, holes, system, tuple(pilots)))
    try:
        command = TakeBelow.model_validate(
            {
                "features": [{"id": key, "at": at} for key, at in features.items()],
                "pilots": [p.model_dump() for p in pilots],
                "changes": changes,
                "found": [solid.model_dump() for solid, _ in found],
                "pencilled": [address for _, pencilled in found for address in pencilled],
                "note": typed.note.strip(),
            }
        )
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place, None, problem) from None
    return FromCard(command, pictures)


def _measured(typed: _TypedBelow, job: Job, system: UnitSystem) -> list[dict[str, Any]]:
    """The changes of surveyed parts as address and value; heights from what the card had them
    measured from, whatever the job says now.
    """
    known = {solid.id: solid for solid in job.plan.vehicle.solids}
    changes: list[dict[str, Any]] = []
    for key, given in typed.parts.items():
        if key not in known:
            raise BadInput("part", key, f"The part '{key}' is not in this job any more.")
        leaves = {leaf for leaf, _ in measured_leaves(known[key])}
        for leaf, text in given.items():
            if leaf not in leaves:
                raise _no_such_length("part", leaf, known[key].name)
            name = f"{known[key].name}, {field_words(leaf)}"
            value = _length(job, leaf, text, system, typed.heights, name)
            changes.append({"address": f"vehicle.solids.{key}.{leaf}", "value": value})
    return changes


def _no_such_length(what: str, leaf: str, name: str) -> BadInput:
    return BadInput(what, leaf, f"{name} has no such length.")


def _length(job: Job, leaf: str, text: str, system: UnitSystem, heights: From, name: str) -> float:
    value = parse_length_mm(text, system, name)
    return height_over_floor_mm(job, heights, value) if axis_of(leaf) == "z" else value


def _laid(typed: _TypedBelow, job: Job, system: UnitSystem) -> list[dict[str, Any]]:
    """The changes of corners of pipes and line: where they were found to be."""
    changes: list[dict[str, Any]] = []
    for address, given in typed.runs.items():
        pipes, line = job.plan.pipes, job.plan.fuel.line
        runs = {"pipes.exhaust": pipes.exhaust, "pipes.intake": pipes.intake, "fuel.line": line}
        run = runs.get(address)
        if run is None:
            raise BadInput("run", address, "This pipe or line is not in this job any more.")
        leaves = {f"nodes.{n.id}.{leaf}" for n in run.nodes for leaf in ("x_mm", "y_mm", "z_mm")}
        for leaf, text in given.items():
            if leaf not in leaves:
                raise Gone("corner", leaf)
            value = _length(job, leaf, text, system, typed.heights, field_words(address))
            changes.append({"address": f"{address}.{leaf}", "value": value})
    return changes


def _found(
    typed: _TypedBelow, job: Job, system: UnitSystem
) -> tuple[list[tuple[Solid, tuple[str, ...]]], dict[str, bytes]]:
    """The parts that were found below, each with the addresses of what of it was not measured; and
    their pictures.
    """
    results: list[tuple[Solid, tuple[str, ...]]] = []
    pictures: dict[str, bytes] = {}
    for each in typed.found:
        vehicle = job.plan.vehicle.model_copy(
            update={"solids": (*job.plan.vehicle.solids, *(solid for solid, _ in results))}
        )
        then = job.with_parts(vehicle=vehicle)
        part, given = _found_part(each, then, system, typed.heights)
        if each.photo:
            kept = kept_picture(_photo_bytes(each.photo))
            pictures[kept.file] = kept.data
            part = part.model_copy(update={"picture": kept.file})
        pencilled = tuple(
            address
            for address in part_addresses(part)
            if address.removeprefix(f"vehicle.solids.{part.id}.") not in given
        )
        results.append((part, pencilled))
    return results, pictures


def _found_part(
    each: _TypedFound, job: Job, system: UnitSystem, heights: From
) -> tuple[Solid, set[str]]:
    """The part, and which of its values were measured."""
    kind = job.catalogue.solid_kinds.get(each.kind)
    if kind is None or kind.where != "below":
        raise BadInput("what was found", each.kind, "Choose the kind of part from the list.")
    start = starting_part(job, kind, each.shape)
    name = each.name.strip() or start.name.removeprefix("new ")
    data: dict[str, Any] = {**start.model_dump(mode="json"), "name": name}
    leaves, given = {leaf for leaf, _ in measured_leaves(start)}, set()
    for leaf, text in each.values.items():
        if leaf not in leaves:
            raise _no_such_length("what was found", leaf, name)
        words = f"{name}, {field_words(leaf)}"
        _put(data, leaf, _length(job, leaf, text, system, heights, words))
        given.add(leaf)
    try:
        return type(start).model_validate(data), given
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(f"{name}, {field_words(place)}", None, problem) from None


def _put(data: dict[str, Any], leaf: str, value: float) -> None:
    parts = leaf.split(".")
    if len(parts) == 1:
        data[leaf] = value
    else:
        data[parts[0]][int(parts[1])][int(parts[2])] = value


def _photo_bytes(text: str) -> bytes:
    found = _PHOTO.match(text)
    try:
        return base64.b64decode(text[found.end() :], validate=True) if found else b""
    except (binascii.Error, ValueError):
        return b""  # which is no picture, and is said so


def _typed(line: str) -> _TypedBelow:
    text = line.strip()
    if not text or len(text) > MAX_LINE:
        raise BadInput("line", None, "Paste the line that the card shows, or load its file.")
    try:
        data: Any = json.loads(text)
        return _TypedBelow.model_validate(data)
    except (ValueError, RecursionError):
        raise BadInput(
            "line", None, "This is not what a card gives back, or a part of it is missing."
        ) from None


def _pilot(
    typed: _TypedPilot,
    plan: Plan,
    holes: tuple[CardHole, ...],
    system: UnitSystem,
    others: tuple[Pilot, ...],
) -> Pilot:
    hole = next((each for each in holes if each.name == typed.hole), None)
    if hole is None:
        raise BadInput("hole", typed.hole, f"The mount has no hole '{typed.hole}' any more.")
    along = (
        parse_length_mm(typed.along, system, f"{typed.hole}, along") if typed.along.strip() else 0.0
    )
    across = (
        parse_length_mm(typed.across, system, f"{typed.hole}, across")
        if typed.across.strip()
        else 0.0
    )
    x, y = typed.drilled or hole.drilled
    mark_x, mark_y = typed.mark or hole.mark
    try:
        return Pilot(
            id=fresh_id((*plan.pilots, *others), "pilot"),
            hole=typed.hole,
            x_mm=x,
            y_mm=y,
            rearward_mm=along if typed.forth == "rearward" else -along,
            right_mm=across if typed.side == "right" else -across,
            mark_x_mm=mark_x,
            mark_y_mm=mark_y,
        )
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place, None, problem) from None
