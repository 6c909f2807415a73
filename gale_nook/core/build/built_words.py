"""What a value that is measured on what was built is called."""

from __future__ import annotations

from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.words import TUBE_WORDS, field_words, item_id, item_name
from gale_nook.core.power.leads import LEAD_WORDS

ALONG = {"pipes": "from the port", "fuel": "from the take-off"}


def built_words(plan: Plan, address: str) -> str:
    """Return what a measured value is called, with the thing that it belongs to."""
    steps = address.split(".")
    station, leaf = steps[0], steps[-1]
    where = ALONG.get(station, "from its beginning") if leaf == "at_mm" else field_words(address)
    return f"{_thing(plan, steps)}, {where}"


def _thing(plan: Plan, steps: list[str]) -> str:
    """What a value belongs to: the words of its station, or of the item that it is in."""
    match steps:
        case ["pipes", ("exhaust" | "intake") as tube, "nodes", *_]:
            return f"mouth of the {TUBE_WORDS[tube]}"
        case ["pipes", ("exhaust" | "intake") as tube, "fittings", fitting, *_]:
            route = plan.pipes.route(tube)
            held = [each.id for each in route.of_kind("support")] if route is not None else []
            number = held.index(fitting) + 1 if fitting in held else 0
            return f"support {number} of the {TUBE_WORDS[tube]}"
        case ["air", "ducts", duct_id, "nodes", *_]:
            duct = next((duct for duct in plan.air.ducts if duct.id == duct_id), None)
            outlet = duct.outlet if duct is not None else None
            return outlet.name if outlet is not None else "end of the duct"
        case ["power", "leads", lead, "parts", part, *_]:
            named = next((words for kind, words in LEAD_WORDS.items() if kind == lead), lead)
            return f"{_numbered(part)} of the {named}"
        case ["coolant", "hoses", hose, "parts", part, *_]:
            return f"{_numbered(part)} of {item_name(plan, hose)}"
        case [station, thing, *_] if (station, thing) in THINGS:
            return THINGS[station, thing]
    item = item_id(".".join(steps))
    return item_name(plan, item) if item else PLACES.get(steps[0], steps[0])


PLACES = {"spot": "heater"}
THINGS = {("fuel", "tank"): "heater's tank", ("power", "controller"): "controller"}


def _numbered(part_id: str) -> str:
    """A part by its kind and number, as it is numbered in the plan.

    >>> _numbered("hole-2")
    'hole 2'
    """
    return part_id.replace("-", " ")
