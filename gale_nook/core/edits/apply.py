"""Carrying out a command: plan in, plan out; nothing else changes."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from gale_nook.core.catalogue import Catalogue
from gale_nook.core.derived import Derived
from gale_nook.core.edits import address as addresses
from gale_nook.core.edits.commands import (
    Accept,
    AddItem,
    ChooseHeater,
    Command,
    PlaceHeater,
    RemoveExhaust,
    RemoveItem,
    SetValues,
    StartExhaust,
    Withdraw,
)
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.pipes.start import starting_nodes
from gale_nook.core.plan.document import Plan, places_of
from gale_nook.core.references import check_references

OWNED_ELSEWHERE = ("format", "version", "acceptances")


def apply(plan: Plan, command: Command, catalogue: Catalogue) -> Plan:
    """Return the plan after a command.

    Raises:
        BadInput: the command names something that is not there, or leads to a value that a plan cannot hold.
    """
    data = plan.model_dump(mode="json")
    match command:
        case SetValues():
            _set(data, command)
        case AddItem():
            _add(data, command)
        case RemoveItem():
            _remove(data, command)
        case PlaceHeater():
            _place(data, command, plan, catalogue)
        case ChooseHeater():
            _choose(data, command, catalogue)
        case StartExhaust():
            data["pipes"]["exhaust"] = {"nodes": starting_nodes(Derived(plan, catalogue))}
        case RemoveExhaust():
            data["pipes"]["exhaust"] = None
        case Accept():
            _accept(data, command)
        case Withdraw():
            kept = [a for a in data["acceptances"] if (a["rule"], a["subject"]) != (command.rule, command.subject)]
            data["acceptances"] = kept
    return plan_of(data, catalogue, command)


def plan_of(data: dict[str, Any], catalogue: Catalogue, command: Command | None = None) -> Plan:
    """Return the plan that plain data stands for; raises BadInput naming the first value that is wrong."""
    try:
        return check_references(Plan.model_validate(data), catalogue)
    except ValidationError as error:
        place, problem = places_of(error)[0]
    except PlanUnreadable as error:
        place, problem = error.places[0]
    changes = command.changes if isinstance(command, SetValues) else ()
    value = next((change.value for change in changes), None)
    raise BadInput(place, value, problem)


def _set(data: dict[str, Any], command: SetValues) -> None:
    for change in command.changes:
        if change.address.split(".")[0] in OWNED_ELSEWHERE or change.address.endswith(".id"):
            raise BadInput(change.address, change.value, "This value cannot be set.")
        old = addresses.find(data, change.address)
        if isinstance(old, dict | list):
            raise BadInput(change.address, change.value, "This names a group, not one value.")
        addresses.put(data, change.address, change.value)


def _items(data: dict[str, Any], collection: str) -> list[Any]:
    items = addresses.find(data, collection)
    if not isinstance(items, list) or collection.split(".", maxsplit=1)[0] in OWNED_ELSEWHERE:
        raise BadInput(collection, collection, "This is not a list that can be changed.")
    return items


def _add(data: dict[str, Any], command: AddItem) -> None:
    items = _items(data, command.collection)
    index = 0 if command.first else len(items)
    if command.after is not None:
        index = next((i + 1 for i, item in enumerate(items) if item.get("id") == command.after), len(items))
    items.insert(index, command.item.model_dump(mode="json"))


def _remove(data: dict[str, Any], command: RemoveItem) -> None:
    items = _items(data, command.collection)
    kept = [item for item in items if not (isinstance(item, dict) and item.get("id") == command.item_id)]
    if len(kept) == len(items):
        raise BadInput(command.collection, command.item_id, f"'{command.item_id}' is not there any more.")
    if not kept and command.collection == "pipes.exhaust.nodes":
        data["pipes"]["exhaust"] = None
        return
    addresses.put(data, command.collection, kept)


def _place(data: dict[str, Any], command: PlaceHeater, plan: Plan, catalogue: Catalogue) -> None:
    spot = data["spot"] or {"yaw_deg": 0, "mount": _first_mount(plan.heater.sheet, catalogue)}
    given = command.model_dump(mode="json", exclude={"op"}, exclude_none=True)
    data["spot"] = {**spot, **given}


def _first_mount(sheet_id: str | None, catalogue: Catalogue) -> str:
    sheet = catalogue.heaters.get(sheet_id) if sheet_id is not None else None
    return sheet.mounts[0].id if sheet is not None else "turret"


def _choose(data: dict[str, Any], command: ChooseHeater, catalogue: Catalogue) -> None:
    data["heater"]["sheet"] = command.sheet
    data["heater"]["reason"] = command.reason
    sheet = catalogue.heaters.get(command.sheet) if command.sheet is not None else None
    if sheet is not None and data["spot"] is not None and sheet.mount(data["spot"]["mount"]) is None:
        data["spot"]["mount"] = sheet.mounts[0].id


def _accept(data: dict[str, Any], command: Accept) -> None:
    accepted = command.acceptance
    others = [a for a in data["acceptances"] if (a["rule"], a["subject"]) != (accepted.rule, accepted.subject)]
    data["acceptances"] = [*others, accepted.model_dump(mode="json")]


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
