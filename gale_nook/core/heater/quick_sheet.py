"""A heater of one's own from the dozen values that decide first: the rest is typical, and says so.

Typical is what the catalogue's heater of the nearest output has, in proportion to the body.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, Literal

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.limit import Limit
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import BadInput
from gale_nook.core.heater.sheets import numbers_of
from gale_nook.core.physics.diesel_heat import output_w

TYPICAL = "typical, not from its own sheet"
GIVEN = {
    "output.minimum_w": "minimum_w",
    "output.maximum_w": "maximum_w",
    "body.length_mm": "length_mm",
    "body.width_mm": "width_mm",
    "body.height_mm": "height_mm",
    "exhaust.x_mm": "exhaust_x_mm",
    "exhaust.y_mm": "exhaust_y_mm",
    "exhaust.diameter_mm": "exhaust_mm",
    "intake.diameter_mm": "intake_mm",
    "electrical.voltage_v": "voltage_v",
    "electrical.glow_current_a": "glow_current_a",
    "limits.exhaust_length_mm.maximum": "exhaust_longest_mm",
}


@dataclass(frozen=True, slots=True)
class QuickHeater:
    """The values that decide first.

    Attributes:
        exhaust_x_mm, exhaust_y_mm: of its port from the middle of the mount, towards the warm end
            and to its right.
        exhaust_mm, intake_mm: outside diameters of the pipes.
        hole_mm: of the one hole in the floor that its mount needs.
        exhaust_longest_mm: that its sheet allows.
    """

    label: str
    source: str
    medium: Literal["air", "coolant"]
    minimum_w: float
    maximum_w: float
    length_mm: float
    width_mm: float
    height_mm: float
    exhaust_x_mm: float
    exhaust_y_mm: float
    exhaust_mm: float
    intake_mm: float
    hole_mm: float
    voltage_v: float
    glow_current_a: float
    exhaust_longest_mm: float


def quick_sheet(given: QuickHeater, heater_id: str, catalogue: Catalogue) -> HeaterSheet:
    """Return the sheet of such a heater; pydantic.ValidationError where a value cannot be.

    Raises:
        BadInput: the catalogue has no heater of the medium.
    """
    base = nearest(given, catalogue)
    data: dict[str, Any] = base.model_dump(mode="json")
    data |= {"id": heater_id, "label": given.label, "source": given.source, "kit": []}
    data["summary"] = f"Your own; what is not known of it is as of a {base.label}."
    _burner(data, given)
    _body(data, given, base)
    _mount(data, given, base)
    _supply(data, given, base)
    if data["fan"] is not None:
        more = given.maximum_w / base.output.maximum_w
        data["fan"] |= {"free_flow_m3_h": round(data["fan"]["free_flow_m3_h"] * more, 1)}
        data["fan"]["points"] = [[round(f * more, 1), p] for f, p in data["fan"]["points"]]
    for limit in data["limits"].values():
        limit["source"] = TYPICAL
    known = data["limits"].get("exhaust_length_mm", {"minimum": None})
    least = known["minimum"]
    data["limits"]["exhaust_length_mm"] = {
        "minimum": min(least, given.exhaust_longest_mm) if least is not None else None,
        "maximum": given.exhaust_longest_mm,
        "source": given.source,
    }
    data["sources"] = {}
    told = set(GIVEN) | {"mounts.0.holes.0.diameter_mm"}
    data["sources"] = {path: TYPICAL for path, _ in numbers_of(data) if path not in told}
    return HeaterSheet.model_validate(data)


def nearest(given: QuickHeater, catalogue: Catalogue) -> HeaterSheet:
    """Return the catalogue's heater of the medium whose most output is nearest, as a ratio."""
    same = [sheet for sheet in catalogue.heaters.values() if sheet.medium == given.medium]
    if not same:
        raise BadInput("heated by", given.medium, "There is no such heater to compare with.")
    return min(same, key=lambda s: abs(math.log(s.output.maximum_w / max(given.maximum_w, 1.0))))


def _burner(data: dict[str, Any], given: QuickHeater) -> None:
    output = data["output"]
    output |= {"minimum_w": given.minimum_w, "maximum_w": given.maximum_w}
    for end in ("minimum", "maximum"):
        a_litre = output_w(1.0, output["efficiency"])
        output[f"fuel_l_h_{end}"] = round(output[f"{end}_w"] / a_litre, 4)


def _body(data: dict[str, Any], given: QuickHeater, base: HeaterSheet) -> None:
    body = base.body
    along, across = given.length_mm / body.length_mm, given.width_mm / body.width_mm
    high = given.height_mm / body.height_mm
    data["body"] |= {
        "x_mm": round(body.x_mm * along),
        "y_mm": round(body.y_mm * across),
        "length_mm": given.length_mm,
        "width_mm": given.width_mm,
        "height_mm": given.height_mm,
        "mass_kg": round(body.mass_kg * along * across * high, 1),
    }
    for name in ("exhaust", "intake", "fuel"):
        port = data[name]
        port |= {"x_mm": round(port["x_mm"] * along), "y_mm": round(port["y_mm"] * across)}
    data["exhaust"] |= {
        "x_mm": given.exhaust_x_mm,
        "y_mm": given.exhaust_y_mm,
        "diameter_mm": given.exhaust_mm,
    }
    data["intake"]["diameter_mm"] = given.intake_mm


def _mount(data: dict[str, Any], given: QuickHeater, base: HeaterSheet) -> None:
    """One hole in the floor, of the size that is given."""
    like = next(
        (m for m in base.mounts if len(m.holes) == 1 and m.through == "floor" and not m.ports),
        None,
    )
    stack = (like.stack if like is not None else base.mounts[0].stack).model_copy(
        update={"source": TYPICAL}
    )
    hole = {"name": "hole", "x_mm": 0.0, "y_mm": 0.0, "diameter_mm": given.hole_mm}
    data["mounts"] = [
        {
            "id": "own-hole",
            "label": f"one {given.hole_mm:g} mm hole",
            "place": like.place if like is not None else "inside",
            "holes": [hole],
            "stack": Limit.model_dump(stack, mode="json"),
            "collar": like.collar if like is not None else False,
        }
    ]


def _supply(data: dict[str, Any], given: QuickHeater, base: HeaterSheet) -> None:
    supply = base.electrical
    less = given.voltage_v / supply.voltage_v
    data["electrical"] |= {
        "voltage_v": given.voltage_v,
        "glow_current_a": given.glow_current_a,
        "run_minimum_a": round(supply.run_minimum_a / less, 2),
        "run_maximum_a": round(supply.run_maximum_a / less, 2),
        "cut_out_v": round(supply.cut_out_v * less, 1),
    }


def typical_count(sheet: HeaterSheet) -> int:
    """Return how many values of a sheet are typical ones."""
    return sum(source == TYPICAL for source in sheet.sources.values())
