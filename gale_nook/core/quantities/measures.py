"""Reading and writing the other quantities: temperature, power, angle, speed, altitude, plain
numbers.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass

from gale_nook.core.errors import BadInput
from gale_nook.core.quantities.length import (
    MAYBE_THOUSANDS,
    TWO_READINGS,
    UnitSystem,
    format_length,
    parse_length_mm,
    write_length,
)

W_PER_BTU_H = 0.293071  # international table BTU per hour, ISO 80000-5
M_PER_FOOT = 0.3048
M_S_PER_MPH = 0.44704
M_S_PER_KMH = 1 / 3.6

_NUMBER = re.compile(
    r"\s*([+-]?\d{1,9}(?:[.,]\d{1,9}|\.(?!\d))?|[+-]?[.,]\d{1,9})\s*([^\s\d][^\d]{0,11})?\s*",
    re.ASCII,
)


_MARKS = str.maketrans({"−": "-", "–": "-", "\u00a0": " ", "\u202f": " ", "\u2009": " "})


@dataclass(frozen=True, slots=True)
class Quantity:
    """How one kind of quantity is read and shown.

    Attributes:
        units: unit as typed (lower case) -> (factor, offset) so that value = typed × factor +
            offset.
        metric, imperial: unit shown, and taken when none is typed, in each system.
        decimals: places shown.
    """

    units: dict[str, tuple[float, float]]
    metric: str
    imperial: str
    decimals: int

    def shown_unit(self, system: UnitSystem) -> str:
        return self.imperial if system is UnitSystem.IMPERIAL else self.metric


WHOLE_FROM = {"deg": 10.0, "c": 30.0}  # above, tenths are not known
_PLAIN = {"": (1.0, 0.0)}
QUANTITIES: dict[str, Quantity] = {
    "c": Quantity(
        {"°c": (1, 0), "c": (1, 0), "°f": (5 / 9, -160 / 9), "f": (5 / 9, -160 / 9)}, "°C", "°F", 1
    ),
    "db": Quantity({"db": (1, 0)}, "dB", "dB", 0),
    "k": Quantity({"k": (1, 0), "°f": (5 / 9, 0)}, "K", "°F", 1),
    "w": Quantity(
        {"w": (1, 0), "kw": (1000, 0), "btu/h": (W_PER_BTU_H, 0), "btu": (W_PER_BTU_H, 0)},
        "W",
        "BTU/h",
        0,
    ),
    "deg": Quantity({"°": (1, 0), "deg": (1, 0)}, "°", "°", 1),
    "m_s": Quantity(
        {"m/s": (1, 0), "km/h": (M_S_PER_KMH, 0), "mph": (M_S_PER_MPH, 0)}, "m/s", "mph", 1
    ),
    "m": Quantity({"m": (1, 0), "ft": (M_PER_FOOT, 0), "'": (M_PER_FOOT, 0)}, "m", "ft", 0),
    "per_h": Quantity({"/h": (1, 0), "per h": (1, 0)}, "/h", "/h", 2),
    "percent": Quantity({"%": (1, 0)}, "%", "%", 0),
    "h": Quantity({"h": (1, 0)}, "h", "h", 2),
    "min": Quantity({"min": (1, 0)}, "min", "min", 0),
    "kj_k": Quantity({"kj/k": (1, 0)}, "kJ/K", "kJ/K", 0),
    "w_k": Quantity({"w/k": (1, 0)}, "W/K", "W/K", 0),
    "cm2": Quantity(
        {"cm²": (1, 0), "cm2": (1, 0), "in²": (6.4516, 0), "in2": (6.4516, 0)}, "cm²", "in²", 0
    ),
    "mm2": Quantity({"mm²": (1, 0), "mm2": (1, 0)}, "mm²", "mm²", 2),
    "v": Quantity({"v": (1, 0), "mv": (0.001, 0)}, "V", "V", 2),
    "a": Quantity({"a": (1, 0), "ma": (0.001, 0)}, "A", "A", 1),
    "ah": Quantity({"ah": (1, 0)}, "Ah", "Ah", 1),
    "mohm": Quantity(
        {"mω": (1, 0), "mohm": (1, 0), "ω": (1000, 0), "ohm": (1000, 0)}, "mΩ", "mΩ", 2
    ),
    "years": Quantity({"years": (1, 0), "year": (1, 0)}, "years", "years", 1),
    "days": Quantity({"days": (1, 0), "day": (1, 0)}, "days", "days", 0),
    "l_h": Quantity({"l/h": (1, 0)}, "l/h", "l/h", 2),
    "l": Quantity({"l": (1, 0), "gal": (3.785411784, 0)}, "l", "l", 1),
    "s": Quantity({"s": (1, 0), "min": (60, 0)}, "s", "s", 0),
    "hz": Quantity({"/s": (1, 0), "hz": (1, 0), "per s": (1, 0)}, "/s", "/s", 1),
    "ppm": Quantity({"ppm": (1, 0)}, "ppm", "ppm", 0),
    "number": Quantity(_PLAIN, "", "", 2),
}


SUFFIXES = (
    "per_h",
    "l_h",
    "kj_k",
    "w_k",
    "cm2",
    "mm2",
    "m_s",
    "percent",
    "deg",
    "mohm",
    "years",
    "days",
    "ah",
    "ppm",
    "min",
    "hz",
    "c",
    "w",
    "h",
    "m",
    "l",
    "v",
    "a",
    "s",
)


def quantity_of(address: str) -> str:
    """Return the kind of quantity that a field's name ends in: `mm`, a key of QUANTITIES, or
    `text`.

    >>> quantity_of("heat.wind_m_s")
    'm_s'
    """
    leaf = address.rsplit(".", 1)[-1]
    if leaf in {"sleepers", "stringers", "people"}:
        return "number"
    if leaf == "price_per_l":
        return "number"
    if leaf == "hours_a_day":
        return "h"
    if leaf.endswith("_mm") or any(
        f".{name}." in address for name in ("points", "outline", "profile")
    ):
        return "mm"
    for suffix in SUFFIXES:
        if leaf.endswith(f"_{suffix}"):
            return suffix
    return "text"


def parse_quantity(text: str, kind: str, system: UnitSystem, name: str) -> float:
    """Return the value of `text` in the unit of `kind` (see `quantity_of`).

    Raises:
        BadInput: not a number, or a unit that this quantity does not have.
    """
    if kind == "mm":
        return parse_length_mm(text, system, name)
    quantity = QUANTITIES[kind]
    match = _NUMBER.fullmatch(text.translate(_MARKS))
    accepted = " or ".join(dict.fromkeys([quantity.metric, quantity.imperial])) or "a plain number"
    if match is None:
        raise BadInput(
            name, text, f"'{text}' is not a number that can be read here; give it in {accepted}."
        )
    # prices and other plain numbers are never in the thousands
    if kind != "number" and MAYBE_THOUSANDS.fullmatch(match[1].lstrip("+-")):
        raise BadInput(name, text, f"'{text}' could be read in two ways: {TWO_READINGS}")
    unit = (match[2] or quantity.shown_unit(system)).strip().lower()
    if unit not in quantity.units:
        raise BadInput(
            name, text, f"The unit '{match[2]}' is not taken here; give it in {accepted}."
        )
    factor, offset = quantity.units[unit]
    return float(match[1].replace(",", ".")) * factor + offset


def format_quantity(value: float, kind: str, system: UnitSystem, unit: bool = True) -> str:
    """Return `value` (in the unit of `kind`) for the eye in the user's system, with its unit, as
    precisely as it is known.

    >>> [format_quantity(value, "deg", UnitSystem.METRIC) for value in (239.3, 2.46)]
    ['239°', '2.5°']
    """
    if kind == "mm":
        return format_length(value, system, unit)
    if kind in WHOLE_FROM and abs(value) >= WHOLE_FROM[kind]:
        return _written(value, kind, system, unit, 0)
    return write_quantity(value, kind, system, unit)


def write_quantity(value: float, kind: str, system: UnitSystem, unit: bool = True) -> str:
    """Return `value` as it was typed, for a field that shows it."""
    if kind == "mm":
        return write_length(value, system, unit)
    return _written(value, kind, system, unit, QUANTITIES[kind].decimals)


def _written(value: float, kind: str, system: UnitSystem, unit: bool, decimals: int) -> str:
    quantity = QUANTITIES[kind]
    shown = quantity.shown_unit(system)
    factor, offset = quantity.units[shown.lower()]
    number = round((value - offset) / factor, decimals) + 0.0
    text = f"{number:.{decimals}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    text = text.replace("-", "−")
    gap = "" if shown in {"°", ""} else " "
    return f"{text}{gap}{shown}" if unit and shown else text


def format_number(value: float, figures: int = 3) -> str:
    """Return a number to some significant figures, without an exponent.

    >>> format_number(12345.0), format_number(-0.04567), format_number(3.0)
    ('12300', '−0.0457', '3')
    """
    if value == 0:
        return "0"
    decimals = figures - 1 - math.floor(math.log10(abs(value)))
    text = f"{round(value, decimals):.{max(decimals, 0)}f}"
    return (text.rstrip("0").rstrip(".") if "." in text else text).replace("-", "−")


def formatter(system: UnitSystem) -> Callable[[float, str], str]:
    """Return a two-argument formatter bound to one system, for templates and sentences."""
    return lambda value, kind: format_quantity(value, kind, system)
