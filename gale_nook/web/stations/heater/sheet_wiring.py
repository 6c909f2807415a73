"""What a sheet says of wiring beside numbers: kinds of load, sensors, and the plugs pin by pin."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, get_args

from pydantic import BaseModel

from gale_nook.core.base.heater_sheet import HeaterSheet, LoadKind
from gale_nook.core.errors import BadInput
from gale_nook.web.forms import extra_text

THERE = "wiring"  # the field that says that a form has the others
SPARE_ROWS, MOST_ROWS, MOST_PIN, MOST_LETTERS = 4, 60, 60, 80
LEADS = (
    ("supply", "supply"),
    ("pump", "pump"),
    ("controller", "controller"),
    ("sensor", "sensor"),
)
LOADS = (
    ("resistive", "less with less voltage, as a glow element"),
    ("current", "the same current"),
    ("power", "more with less voltage, as a held motor"),
)
SENSORS = (
    ("controller", "in the controller"),
    ("heater", "at the heater's own inlet"),
    ("lead", "on a lead of its own"),
)
STATES = (("glow_load", "at glow it draws"), ("run_load", "running it draws"))
TEXTS = {"plug": "plug", "pin": "pin", "colour": "colour", "function": "what it is for"}


@dataclass(frozen=True, slots=True)
class WiringForm:
    """The choices and the rows of the table, as the form shows them.

    Attributes:
        loads: of each state its name, what it is called, and the kind that is chosen.
        sensors: of each its name, what it is called, and whether the heater has it.
        rows: of each pin its texts, by the names of TEXTS, and its lead.
    """

    loads: tuple[tuple[str, str, str], ...]
    sensors: tuple[tuple[str, str, bool], ...]
    rows: tuple[dict[str, str], ...]


def wiring_form(sheet: HeaterSheet) -> WiringForm:
    """Return what the form shows of a sheet, with some rows to fill in."""
    electrical, wiring = sheet.electrical, sheet.wiring
    rows = [
        {**{name: str(getattr(p, name)) for name in TEXTS}, "lead": p.lead} for p in wiring.pins
    ]
    spare = min(SPARE_ROWS, MOST_ROWS - len(rows))
    rows += [{**dict.fromkeys(TEXTS, ""), "lead": "supply"} for _ in range(spare)]
    return WiringForm(
        tuple((name, label, getattr(electrical, name)) for name, label in STATES),
        tuple((name, label, name in wiring.sensors) for name, label in SENSORS),
        tuple(rows),
    )


def take_wiring(form: BaseModel, data: dict[str, Any]) -> None:
    """Put what a form says of loads, sensors and pins into a sheet's data; a form without these
    fields leaves them as they are.

    Raises:
        BadInput: a choice that there is not, no sensor at all, or a row that is half empty.
    """
    if not extra_text(form, THERE, 10):
        return
    for name, label in STATES:
        data["electrical"][name] = _chosen(form, f"load:{name}", label, get_args(LoadKind))
    sensors = [name for name, _ in SENSORS if extra_text(form, f"sensor:{name}", 10)]
    if not sensors:
        raise BadInput("sensors", None, "Tick at least one: by which sensor can it regulate?")
    data["wiring"]["sensors"] = sensors
    rows = (_row(form, number) for number in range(MOST_ROWS))
    data["wiring"]["pins"] = [row for row in rows if row is not None]


def _chosen(form: BaseModel, name: str, label: str, kinds: Iterable[str]) -> str:
    text = extra_text(form, name, 20)
    if text not in kinds:
        raise BadInput(label, text, "Choose one of the list.")
    return text


def _row(form: BaseModel, number: int) -> dict[str, Any] | None:
    """A row of the table; None where it is empty."""
    texts = {name: extra_text(form, f"pin:{number}:{name}", MOST_LETTERS).strip() for name in TEXTS}
    if not any(texts.values()):
        return None
    empty = [label for name, label in TEXTS.items() if not texts[name]]
    if empty:
        raise BadInput(
            f"row {number + 1} of the plugs",
            " ".join(filter(None, texts.values())),
            f"Say also: {', '.join(empty)}. Or empty the whole row.",
        )
    label = f"lead, row {number + 1} of the plugs"
    lead = _chosen(form, f"pin:{number}:lead", label, dict(LEADS))
    pin = texts["pin"]
    if not (pin.isascii() and pin.isdigit() and 1 <= int(pin) <= MOST_PIN):
        raise BadInput(
            f"pin, row {number + 1} of the plugs", pin, f"A whole number from 1 to {MOST_PIN}."
        )
    return {**texts, "pin": int(pin), "lead": lead}
