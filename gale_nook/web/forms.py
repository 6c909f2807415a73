"""Reading what forms send: typed quantities by address, the base revision, commands as JSON."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any

from fastapi import Depends, Request
from pydantic import ValidationError
from starlette.datastructures import FormData

from gale_nook.core.base.models import printable
from gale_nook.core.commands import COMMAND
from gale_nook.core.edits.command import Command, Value
from gale_nook.core.edits.values import Change, SetValues
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.document import places_of
from gale_nook.core.plan.vehicle import Vehicle
from gale_nook.core.plan.words import field_words
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import parse_quantity, quantity_of
from gale_nook.web.from_features import from_feature

PREFIX = "set:"
YES_NO = {"covered", "opens", "drain", "raised", "below_mirrored"}
MAY_BE_EMPTY = {
    "heat.cab_c",
    "heat.cab_loss_w_k",
    "heat.leakage",
    "heat.night.start_c",
    "heat.warm_up_h",
    "heat.ribs.pitch_mm",
    "heat.ribs.length_m",
    "vehicle.floor.pitch_mm",
    "pipes.mouth_from_mm",
    "pipes.mouth_to_mm",
    "vehicle.shell.firewall_x_mm",
    "vehicle.shell.firewall_mm",
    "fuel.tap_x_mm",
    "fuel.tap_y_mm",
    "fuel.tap_z_mm",
}
TIMER_OFF = ("heat.night.timers.", ".set_c")
WHOLE = {"spot.yaw_deg", "heat.sleepers", "heat.ribs.stringers"}
MAX_REVISION = 2**31 - 1
MAX_COMMAND = 1_000_000  # a whole survey fits


async def _form(request: Request) -> FormData:
    return await request.form(max_files=1, max_fields=800)


Form = Annotated[FormData, Depends(_form)]


def text_of(form: Mapping[str, Any], name: str, most: int = 2000) -> str:
    """Return a text field; a file or nothing in its place counts as empty."""
    value = form.get(name)
    text = value if isinstance(value, str) else ""
    if len(text) > most:
        raise BadInput(name, text[:60], f"The text is longer than {most} characters.")
    try:
        printable(text.replace("\r\n", "\n").replace("\t", " "))
    except ValueError as error:
        raise BadInput(name, text[:60], f"{str(error)[:1].upper()}{str(error)[1:]}.") from None
    return text


def base_of(form: Mapping[str, Any]) -> int:
    """Return the revision that the form was filled in on."""
    text = text_of(form, "base", 12)
    if not (text.isascii() and text.isdigit()) or int(text) > MAX_REVISION:
        raise BadInput(
            "base",
            text,
            "The form does not say which revision it was filled in on. Reload the page.",
        )
    return int(text)


def command_of(form: Mapping[str, Any]) -> Command:
    """Return the command that a form carries as JSON."""
    try:
        return COMMAND.validate_json(text_of(form, "command", MAX_COMMAND))
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place, None, problem) from None


def typed_values(form: Mapping[str, Any], system: UnitSystem, vehicle: Vehicle) -> SetValues:
    """Return the command for every `set:<address>` field of a form, read in the user's units or
    from named features.
    """
    changes = []
    for name in form:
        if name.startswith(PREFIX):
            address = name.removeprefix(PREFIX)
            changes.append(_change(address, text_of(form, name), system, vehicle))
    if not changes:
        raise BadInput("form", None, "Nothing was typed.")
    return SetValues(changes=tuple(changes))


def _change(address: str, text: str, system: UnitSystem, vehicle: Vehicle) -> Change:
    words = field_words(address)
    measured = from_feature(text, address, vehicle, system, words)
    if measured is not None:
        return Change(address=address, value=measured)
    try:
        return Change(address=address, value=_value(address, text, system))
    except ValidationError as error:
        raise BadInput(words, text, places_of(error)[0][1]) from None


def _may_be_empty(address: str) -> bool:
    if address.startswith("vehicle.features.") and address.endswith(".diameter_mm"):
        return True
    return address in MAY_BE_EMPTY or (
        address.startswith(TIMER_OFF[0]) and address.endswith(TIMER_OFF[1])
    )


def _value(address: str, text: str, system: UnitSystem) -> Value:
    leaf = address.rsplit(".", 1)[-1]
    kind = quantity_of(address)
    if leaf in YES_NO:
        return text == "yes"
    if not text.strip() and _may_be_empty(address):
        return None
    if kind == "text":
        return text.replace("\r\n", "\n")
    number = parse_quantity(text, kind, system, field_words(address))
    return int(number) if address in WHOLE and float(number).is_integer() else number
