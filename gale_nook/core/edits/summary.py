"""What an edit did, in a few words, for undo and the list of revisions."""

from __future__ import annotations

from gale_nook.core.catalogue import Catalogue
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
)
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.words import field_words, item_id


def summary_of(command: Command, plan: Plan, catalogue: Catalogue) -> str:  # noqa: PLR0911 - one return a command
    """Return a summary such as `fuel tank: length`."""
    match command:
        case SetValues():
            return _of_values(command, plan)
        case AddItem():
            return f"added {_name(plan, command.item.id, getattr(command.item, 'name', ''))}"
        case RemoveItem():
            return f"took out {_name(plan, command.item_id)}"
        case PlaceHeater():
            return "moved the heater" if plan.spot is not None else "placed the heater"
        case ChooseHeater():
            sheet = catalogue.heaters.get(command.sheet) if command.sheet is not None else None
            return f"chose the {sheet.label}" if sheet is not None else "chose no heater"
        case StartExhaust():
            return "started the exhaust"
        case RemoveExhaust():
            return "took out the exhaust"
        case Accept():
            return "accepted a deviation"
        case _:
            return "withdrew an acceptance"


def _of_values(command: SetValues, plan: Plan) -> str:
    first = command.changes[0].address
    item = item_id(first)
    where = f"{_name(plan, item)}: " if item else ""
    more = len(command.changes) - 1
    return f"{where}{field_words(first)}" + (f" and {more} more" if more else "")


def _name(plan: Plan, item: str, given: str = "") -> str:
    named = [*plan.vehicle.solids, *plan.vehicle.openings]
    route = plan.pipes.exhaust
    if given:
        return given
    if route is not None:
        for number, node in enumerate(route.nodes, 1):
            if node.id == item:
                return "the mouth" if number == len(route.nodes) else f"bend {number}"
    return next((thing.name for thing in named if thing.id == item), "a layer" if item.startswith("l") else item)
