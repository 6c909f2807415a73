"""Carrying out a command: plan in, plan out; nothing else changes."""

from __future__ import annotations

from functools import singledispatch
from typing import Any

from pydantic import ValidationError

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits import address as addresses
from gale_nook.core.edits.commands import (
    Accept,
    AddItem,
    Change,
    ChooseHeater,
    Command,
    DropOwnLimit,
    DropSheet,
    PlaceHeater,
    PutFittings,
    PutLine,
    PutSheet,
    RemoveItem,
    RemoveRun,
    ReverseRun,
    SetClimate,
    SetEdges,
    SetFeature,
    SetLayers,
    SetOwnLimit,
    SetPoints,
    SetPopTop,
    SetProfile,
    SetSlide,
    SetSource,
    SetValues,
    ShiftBelow,
    StartLine,
    StartRun,
    TakeBelow,
    TakeRun,
    TakeSurvey,
    Withdraw,
)
from gale_nook.core.edits.reverse import reversed_line, reversed_run
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.fuel.start import starting_line, starting_tank
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.pipes.clamps import clamps_of, reclamped
from gale_nook.core.pipes.start import starting_run
from gale_nook.core.plan.document import Plan, places_of
from gale_nook.core.plan.fuel import OWN_TANKS, LinePart
from gale_nook.core.plan.size import too_large
from gale_nook.core.references import check_references
from gale_nook.core.vehicle.parts import surveyed_where

Data = dict[str, Any]
RUNS = {f"pipes.{tube}.nodes": tube for tube in ("exhaust", "intake")}
FITTINGS = tuple(f"pipes.{tube}.fittings" for tube in ("exhaust", "intake"))
OWNED_ELSEWHERE = ("format", "version", "acceptances")


def apply(plan: Plan, command: Command, catalogue: Catalogue) -> Plan:
    """Return the plan after a command.

    Raises:
        BadInput: the command names something that is not there, or leads to a value that a plan
            cannot hold.
    """
    data = plan.model_dump(mode="json")
    _change(command, data, Job(plan, catalogue))
    after = plan_of(data, catalogue, command)
    problem = too_large(after, plan)
    if problem:
        raise BadInput("plan", None, problem)
    return after


def plan_of(data: dict[str, Any], catalogue: Catalogue, command: Command | None = None) -> Plan:
    """Return the plan that plain data stands for; raises BadInput naming the first value that is
    wrong.
    """
    try:
        return check_references(Plan.model_validate(data), catalogue)
    except ValidationError as error:
        place, problem = places_of(error)[0]
    except PlanUnreadable as error:
        place, problem = error.places[0]
    changes = command.changes if isinstance(command, SetValues) else ()
    value = next((change.value for change in changes), None)
    raise BadInput(place, value, problem)


@singledispatch
def _change(command: Command, data: Data, before: Job) -> None:
    """Carry a command out on the plan's plain data, in place."""
    raise TypeError(f"nothing carries out {type(command).__name__}")


@_change.register
def _(command: SetValues, data: Data, _before: Job) -> None:
    for change in command.changes:
        if change.address.split(".")[0] in OWNED_ELSEWHERE or change.address.endswith(".id"):
            raise BadInput(change.address, change.value, "This value cannot be set.")
        old = addresses.find(data, change.address)
        if isinstance(old, dict | list):
            raise BadInput(change.address, change.value, "This names a group, not one value.")
        _carry_clamps(change, data)
        addresses.put(data, change.address, change.value)


def _carry_clamps(change: Change, data: Data) -> None:
    """Clamps go along with the joint, silencer or filter that they hold."""
    collection, _, leaf = change.address.rpartition(".")
    place, _, held_id = collection.rpartition(".")
    if leaf != "at_mm" or place not in FITTINGS or not isinstance(change.value, int | float):
        return
    fittings = _items(data, place)
    held = addresses.find(data, f"{place}.{held_id}")
    by = change.value - held["at_mm"]
    for clamp in clamps_of(fittings, held):
        clamp["at_mm"] = max(clamp["at_mm"] + by, 0.0)


@_change.register
def _(command: AddItem, data: Data, _before: Job) -> None:
    items = _items(data, command.collection)
    index = 0 if command.first else len(items)
    if command.after is not None:
        index = next(
            (i + 1 for i, item in enumerate(items) if item.get("id") == command.after), len(items)
        )
    item = command.item.model_dump(mode="json")
    if command.collection == "fuel.line.parts":  # a filter of a pipe reads the same
        item = {name: value for name, value in item.items() if name in LinePart.model_fields}
    items.insert(index, item)


@_change.register
def _(command: RemoveItem, data: Data, _before: Job) -> None:
    items = _items(data, command.collection)
    kept = [
        item for item in items if not (isinstance(item, dict) and item.get("id") == command.item_id)
    ]
    if len(kept) == len(items):
        raise BadInput(
            command.collection, command.item_id, f"'{command.item_id}' is not there any more."
        )
    if command.collection in FITTINGS:  # with the clamps that hold it
        gone = addresses.find(data, f"{command.collection}.{command.item_id}")
        kept = [item for item in kept if item not in clamps_of(kept, gone)]
    tube = RUNS.get(command.collection)
    if not kept and tube is not None:
        data["pipes"][tube] = None
        return
    addresses.put(data, command.collection, kept)


@_change.register
def _(command: SetPoints, data: Data, _before: Job) -> None:
    solid = addresses.find(data, f"vehicle.solids.{command.item_id}")
    leaf = {"tube": "points", "outline": "outline"}.get(solid["shape"])
    if leaf is None:
        raise BadInput("points", command.item_id, "Only tubes and outlines are made of points.")
    solid[leaf] = [list(point) for point in command.points]


@_change.register
def _(command: TakeSurvey, data: Data, _before: Job) -> None:
    solids = [] if command.replace else data["vehicle"]["solids"]
    taken = {solid["id"] for solid in solids}
    for solid in command.solids:
        number, free = 2, solid.id
        while free in taken:
            number, free = number + 1, f"{solid.id[:34]}-{number}"
        taken.add(free)
        solids.append({**solid.model_dump(mode="json"), "id": free})
    data["vehicle"]["solids"] = solids


@_change.register
def _(command: SetLayers, data: Data, _before: Job) -> None:
    for surface in data["heat"]["surfaces"]:
        if surface["id"] in command.faces:
            surface["layers"] = [layer.model_dump(mode="json") for layer in command.layers]


@_change.register
def _(command: SetClimate, data: Data, _before: Job) -> None:
    data["heat"]["climate"] = (
        command.climate.model_dump(mode="json") if command.climate is not None else None
    )


@_change.register
def _(command: SetFeature, data: Data, _before: Job) -> None:
    feature = addresses.find(data, f"vehicle.features.{command.feature_id}")
    feature[command.side] = list(command.at) if command.at is not None else None


@_change.register
def _(command: TakeBelow, data: Data, before: Job) -> None:
    for feature in command.features:
        _change(SetFeature(feature_id=feature.id, side="below", at=feature.at), data, before)
    if command.changes:
        if any(not change.address.startswith("vehicle.solids.") for change in command.changes):
            raise BadInput("part", None, "Only surveyed parts are measured from below.")
        _change(SetValues(changes=command.changes), data, before)
    data["pilots"] += [pilot.model_dump(mode="json") for pilot in command.pilots]
    if command.note:
        data["note"] = f"{data['note']}\n{command.note}".strip()[-2000:]


@_change.register
def _(command: ShiftBelow, data: Data, before: Job) -> None:
    below = {solid.id for solid, _, _ in surveyed_where(before, "below")}
    dx, dy = command.rearward_mm, command.right_mm
    for solid in data["vehicle"]["solids"]:
        if solid["id"] not in below:
            continue
        if solid["shape"] in {"tube", "outline"}:
            leaf = "points" if solid["shape"] == "tube" else "outline"
            solid[leaf] = [[point[0] + dx, point[1] + dy, *point[2:]] for point in solid[leaf]]
        else:
            solid["x_mm"], solid["y_mm"] = solid["x_mm"] + dx, solid["y_mm"] + dy
    across = -dy if data["vehicle"]["below_mirrored"] else dy
    for feature in data["vehicle"]["features"]:
        if feature["below"] is not None:
            feature["below"] = [feature["below"][0] + dx, feature["below"][1] + across]
    for pilot in data["pilots"]:
        pilot["rearward_mm"], pilot["right_mm"] = pilot["rearward_mm"] + dx, pilot["right_mm"] + dy


@_change.register
def _(command: PlaceHeater, data: Data, before: Job) -> None:
    sheet = heater_sheet(before)
    first_mount = sheet.mounts[0].id if sheet is not None else "turret"
    spot = data["spot"] or {"yaw_deg": 0, "mount": first_mount}
    data["spot"] = {**spot, **command.model_dump(mode="json", exclude={"op"}, exclude_none=True)}


@_change.register
def _(command: ChooseHeater, data: Data, before: Job) -> None:
    data["heater"]["sheet"] = command.sheet
    data["heater"]["reason"] = command.reason
    data["heater"]["instead_of"] = command.instead_of
    sheet = before.catalogue.heaters.get(command.sheet) if command.sheet is not None else None
    if (
        sheet is not None
        and data["spot"] is not None
        and sheet.mount(data["spot"]["mount"]) is None
    ):
        data["spot"]["mount"] = sheet.mounts[0].id


@_change.register
def _(command: PutSheet, data: Data, _before: Job) -> None:
    sheets, fresh = data["heater"]["own_sheets"], command.sheet.model_dump(mode="json")
    known = [sheet["id"] for sheet in sheets]
    if command.sheet.id in known:
        sheets[known.index(command.sheet.id)] = fresh
    else:
        sheets.append(fresh)


@_change.register
def _(command: DropSheet, data: Data, _before: Job) -> None:
    heater = data["heater"]
    kept = [sheet for sheet in heater["own_sheets"] if sheet["id"] != command.sheet_id]
    if len(kept) == len(heater["own_sheets"]):
        raise BadInput(
            "heater", command.sheet_id, "There is no heater of your own of that name any more."
        )
    heater["own_sheets"] = kept
    if heater["sheet"] == command.sheet_id:
        heater["sheet"] = None


@_change.register
def _(command: SetPopTop, data: Data, _before: Job) -> None:
    data["vehicle"]["pop_top"] = (
        command.pop_top.model_dump(mode="json") if command.pop_top is not None else None
    )


@_change.register
def _(command: SetSlide, data: Data, _before: Job) -> None:
    data["vehicle"]["slide"] = (
        command.slide.model_dump(mode="json") if command.slide is not None else None
    )


@_change.register
def _(command: StartRun, data: Data, before: Job) -> None:
    data["pipes"][command.tube] = starting_run(before, command.tube).model_dump(mode="json")


@_change.register
def _(command: TakeRun, data: Data, _before: Job) -> None:
    data["pipes"][command.tube] = command.route.model_dump(mode="json")


@_change.register
def _(command: RemoveRun, data: Data, _before: Job) -> None:
    data["pipes"][command.tube] = None


@_change.register
def _(command: ReverseRun, data: Data, before: Job) -> None:
    if command.line == "fuel":
        data["fuel"]["line"] = reversed_line(before)
    else:
        data["pipes"][command.line] = reversed_run(before, command.line)


@_change.register
def _(command: PutFittings, data: Data, _before: Job) -> None:
    fittings = _items(data, f"pipes.{command.tube}.fittings")
    other = next(
        (fitting.kind for fitting in command.fittings if fitting.kind != command.kind), None
    )
    if other is not None:
        raise BadInput("fittings", other, f"Each of these should be a {command.kind}.")
    kept = [fitting for fitting in fittings if fitting["kind"] != command.kind]
    fresh = [fitting.model_dump(mode="json") for fitting in command.fittings]
    if command.kind == "joint":
        kept = reclamped(
            kept, [fitting for fitting in fittings if fitting["kind"] == "joint"], fresh
        )
    data["pipes"][command.tube]["fittings"] = [*kept, *fresh]


@_change.register
def _(command: SetEdges, data: Data, _before: Job) -> None:
    data["pipes"]["edges"] = [edge for edge in ("left", "right", "rear") if edge in command.edges]


@_change.register
def _(command: SetSource, data: Data, before: Job) -> None:
    data["fuel"]["source"] = command.source
    if command.source in OWN_TANKS and data["fuel"]["tank"] is None:
        data["fuel"]["tank"] = starting_tank(before, command.source).model_dump(mode="json")


@_change.register
def _(command: SetProfile, data: Data, _before: Job) -> None:
    if data["fuel"]["tank"] is None:
        raise BadInput("fuel.tank", None, "There is no tank of its own whose profile could be set.")
    data["fuel"]["tank"] |= {
        "shape": "profile",
        "profile": [list(corner) for corner in command.corners],
    }


@_change.register
def _(command: PutLine, data: Data, _before: Job) -> None:
    data["fuel"]["line"] = (
        command.line.model_dump(mode="json") if command.line is not None else None
    )


@_change.register
def _(_command: StartLine, data: Data, before: Job) -> None:
    data["fuel"]["line"] = starting_line(before).model_dump(mode="json")


@_change.register
def _(command: SetOwnLimit, data: Data, _before: Job) -> None:
    others = [own for own in data["heater"]["own_limits"] if own["id"] != command.limit.id]
    data["heater"]["own_limits"] = [*others, command.limit.model_dump(mode="json")]


@_change.register
def _(command: DropOwnLimit, data: Data, _before: Job) -> None:
    kept = [own for own in data["heater"]["own_limits"] if own["id"] != command.limit_id]
    if len(kept) == len(data["heater"]["own_limits"]):
        raise BadInput("limit", command.limit_id, "There is no limit of your own here any more.")
    data["heater"]["own_limits"] = kept


@_change.register
def _(command: Accept, data: Data, before: Job) -> None:
    accepted = command.acceptance
    _change(Withdraw(rule=accepted.rule, subject=accepted.subject), data, before)
    data["acceptances"].append(accepted.model_dump(mode="json"))


@_change.register
def _(command: Withdraw, data: Data, _before: Job) -> None:
    gone = (command.rule, command.subject)
    data["acceptances"] = [a for a in data["acceptances"] if (a["rule"], a["subject"]) != gone]


def _items(data: Data, collection: str) -> list[Any]:
    items = addresses.find(data, collection)
    if not isinstance(items, list) or collection.split(".", maxsplit=1)[0] in OWNED_ELSEWHERE:
        raise BadInput(collection, collection, "This is not a list that can be changed.")
    return items


def fresh_id(plan_items: tuple[Any, ...], stem: str) -> str:
    """Return an id that no item has: the stem with the lowest free number.

    >>> fresh_id((), "member")
    'member-1'
    """
    taken = {item.id for item in plan_items}
    number = 1
    while f"{stem[:30]}-{number}" in taken:
        number += 1
    return f"{stem[:30]}-{number}"
