"""Parts of a job that a customer agrees to, and which of them have changed since."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping

from gale_nook.core.plan.document import Plan

# what each part is called, and what of the plan it is
PARTS: dict[str, tuple[str, tuple[str, ...]]] = {
    "vehicle": ("the vehicle as it was surveyed", ("vehicle",)),
    "heat": ("how warm it gets", ("heat",)),
    "heater": ("the heater and its place", ("heater", "spot")),
    "pipes": ("exhaust and combustion air", ("pipes",)),
    "fuel": ("fuel", ("fuel",)),
    "warmth": ("warm air and coolant", ("air", "coolant")),
    "power": ("electrics", ("power",)),
}


def prints_of(plan: Plan) -> dict[str, str]:
    """Return a hash of each part as it stands; it changes with anything of that part."""
    return {part: _print(plan, fields) for part, (_, fields) in PARTS.items()}


def _print(plan: Plan, fields: tuple[str, ...]) -> str:
    told = {name: getattr(plan, name).model_dump(mode="json") for name in fields}
    if "heater" in told:  # heaters that are only there to choose from were not agreed to
        sheets = [sheet for sheet in plan.heater.own_sheets if sheet.id == plan.heater.sheet]
        told["heater"]["own_sheets"] = [sheet.model_dump(mode="json") for sheet in sheets]
    return hashlib.sha256(json.dumps(told, sort_keys=True).encode()).hexdigest()


def changed_since(agreed: Mapping[str, str], plan: Plan) -> tuple[str, ...]:
    """Return the parts that are not as they were agreed to, by their words."""
    now = prints_of(plan)
    return tuple(PARTS[part][0] for part in PARTS if agreed.get(part) != now[part])
