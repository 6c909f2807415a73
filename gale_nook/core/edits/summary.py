"""What an edit did, in a few words, for undo and the list of revisions."""

from __future__ import annotations

from functools import singledispatch

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.commands import (
    Accept,
    AddItem,
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
from gale_nook.core.job import with_own_heaters
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.words import FITTING_WORDS, SOURCE_WORDS, TUBE_WORDS, field_words, item_id


@singledispatch
def summary_of(command: Command, plan: Plan, catalogue: Catalogue) -> str:
    """Return a summary such as `fuel tank: length`."""
    raise TypeError(f"no words for {type(command).__name__}")


@summary_of.register
def _(command: SetValues, plan: Plan, _catalogue: Catalogue) -> str:
    first = command.changes[0].address
    item = item_id(first)
    where = f"{_name(plan, item)}: " if item else ""
    more = len(command.changes) - 1
    return f"{where}{field_words(first)}" + (f" and {more} more" if more else "")


@summary_of.register
def _(command: AddItem, plan: Plan, _catalogue: Catalogue) -> str:
    return f"added {_name(plan, command.item.id, getattr(command.item, 'name', ''))}"


@summary_of.register
def _(command: RemoveItem, plan: Plan, _catalogue: Catalogue) -> str:
    return f"took out {_name(plan, command.item_id)}"


@summary_of.register
def _(command: SetPoints, plan: Plan, _catalogue: Catalogue) -> str:
    return f"{_name(plan, command.item_id)}: its points"


@summary_of.register
def _(command: TakeSurvey, _plan: Plan, _catalogue: Catalogue) -> str:
    return f"took in {len(command.solids)} surveyed parts"


@summary_of.register
def _(command: SetLayers, _plan: Plan, _catalogue: Catalogue) -> str:
    return f"build-up: {', '.join(command.faces)}"


@summary_of.register
def _(command: SetClimate, _plan: Plan, _catalogue: Catalogue) -> str:
    return f"weather of {command.climate.name}" if command.climate is not None else "no weather"


@summary_of.register
def _(command: SetFeature, plan: Plan, _catalogue: Catalogue) -> str:
    return f"{_name(plan, command.feature_id)}: {command.side}"


@summary_of.register
def _(_command: TakeBelow, _plan: Plan, _catalogue: Catalogue) -> str:
    return "took in what was measured below"


@summary_of.register
def _(_command: ShiftBelow, _plan: Plan, _catalogue: Catalogue) -> str:
    return "moved the survey below"


@summary_of.register
def _(_command: PlaceHeater, plan: Plan, _catalogue: Catalogue) -> str:
    return "moved the heater" if plan.spot is not None else "placed the heater"


@summary_of.register
def _(command: ChooseHeater, plan: Plan, catalogue: Catalogue) -> str:
    sheet = (
        with_own_heaters(plan, catalogue).heaters.get(command.sheet)
        if command.sheet is not None
        else None
    )
    return f"chose the {sheet.label}" if sheet is not None else "chose no heater"


@summary_of.register
def _(command: PutSheet, _plan: Plan, _catalogue: Catalogue) -> str:
    return f"sheet of the {command.sheet.label}"


@summary_of.register
def _(command: DropSheet, plan: Plan, _catalogue: Catalogue) -> str:
    label = next(
        (sheet.label for sheet in plan.heater.own_sheets if sheet.id == command.sheet_id),
        command.sheet_id,
    )
    return f"took out the {label}"


@summary_of.register
def _(command: SetPopTop, _plan: Plan, _catalogue: Catalogue) -> str:
    return "a pop-top" if command.pop_top is not None else "no pop-top"


@summary_of.register
def _(command: StartRun, _plan: Plan, _catalogue: Catalogue) -> str:
    return f"started the {TUBE_WORDS[command.tube]}"


@summary_of.register
def _(command: TakeRun, _plan: Plan, _catalogue: Catalogue) -> str:
    return f"a route for the {TUBE_WORDS[command.tube]}"


@summary_of.register
def _(command: RemoveRun, _plan: Plan, _catalogue: Catalogue) -> str:
    return f"took out the {TUBE_WORDS[command.tube]}"


@summary_of.register
def _(command: ReverseRun, _plan: Plan, _catalogue: Catalogue) -> str:
    what = "fuel line" if command.line == "fuel" else TUBE_WORDS[command.line]
    return f"turned the order of the {what}'s bends round"


@summary_of.register
def _(command: PutFittings, _plan: Plan, _catalogue: Catalogue) -> str:
    return f"{FITTING_WORDS[command.kind][1]} on the {TUBE_WORDS[command.tube]}"


@summary_of.register
def _(_command: SetEdges, _plan: Plan, _catalogue: Catalogue) -> str:
    return "sides at which the exhaust may end"


@summary_of.register
def _(command: SetSlide, _plan: Plan, _catalogue: Catalogue) -> str:
    return "a slide-out" if command.slide is not None else "no slide-out"


@summary_of.register
def _(command: SetProfile, _plan: Plan, _catalogue: Catalogue) -> str:
    return f"tank's profile of {len(command.corners)} corners"


@summary_of.register
def _(command: SetSource, _plan: Plan, _catalogue: Catalogue) -> str:
    return f"fuel from {SOURCE_WORDS[command.source]}"


@summary_of.register
def _(command: PutLine, _plan: Plan, _catalogue: Catalogue) -> str:
    return "took the fuel line out" if command.line is None else "another fuel line"


@summary_of.register
def _(_command: StartLine, _plan: Plan, _catalogue: Catalogue) -> str:
    return "began the fuel line"


@summary_of.register
def _(command: SetOwnLimit, _plan: Plan, catalogue: Catalogue) -> str:
    return f"a limit of your own: {_limit(catalogue, command.limit.id)}"


@summary_of.register
def _(command: DropOwnLimit, _plan: Plan, catalogue: Catalogue) -> str:
    return f"back to the given limit: {_limit(catalogue, command.limit_id)}"


@summary_of.register
def _(_command: Accept, _plan: Plan, _catalogue: Catalogue) -> str:
    return "accepted a deviation"


@summary_of.register
def _(_command: Withdraw, _plan: Plan, _catalogue: Catalogue) -> str:
    return "withdrew an acceptance"


def _limit(catalogue: Catalogue, limit_id: str) -> str:
    band = catalogue.limit_bands.get(limit_id)
    return band.label if band is not None else limit_id


def _name(plan: Plan, item: str, given: str = "") -> str:
    named = [*plan.vehicle.solids, *plan.vehicle.openings, *plan.vehicle.features]
    if given:
        return given
    for route in (plan.pipes.exhaust, plan.pipes.intake):
        for number, node in enumerate(route.nodes if route is not None else (), 1):
            if node.id == item:
                return (
                    "the mouth"
                    if route is not None and number == len(route.nodes)
                    else f"bend {number}"
                )
        for fitting in route.fittings if route is not None else ():
            if fitting.id == item:
                return f"a {FITTING_WORDS[fitting.kind][0]}"
    return next(
        (thing.name for thing in named if thing.id == item),
        "a layer" if item.startswith("l") else item,
    )
