"""The edits of a plan as small typed commands. Each is data; `apply` carries it out."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, TypeAdapter

from gale_nook.core.plan.base import CatalogueId, CoordinateMm, Frozen, ItemId, Name, Note
from gale_nook.core.plan.stations import Acceptance, RouteNode
from gale_nook.core.plan.vehicle import Layer, Opening, Solid

Address = Annotated[str, Field(max_length=160, pattern=r"^[A-Za-z0-9_.-]+$")]
Value = bool | int | float | Annotated[str, Field(max_length=2000)] | None


class Change(Frozen):
    """One value of the plan and what it becomes."""

    address: Address
    value: Value


class SetValues(Frozen):
    """Set one or several existing values together."""

    op: Literal["set"] = "set"
    changes: Annotated[tuple[Change, ...], Field(min_length=1, max_length=200)]


class AddItem(Frozen):
    """Add an item to a list of the plan: first, after another, or (neither given) at the end."""

    op: Literal["add"] = "add"
    collection: Address
    item: Solid | Opening | Layer | RouteNode
    first: bool = False
    after: ItemId | None = None


class RemoveItem(Frozen):
    """Take an item out of a list of the plan."""

    op: Literal["remove"] = "remove"
    collection: Address
    item_id: ItemId


class PlaceHeater(Frozen):
    """Put the heater somewhere, whether or not it had a place; leaving out yaw or mount keeps them."""

    op: Literal["place"] = "place"
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    yaw_deg: Literal[0, 90, 180, 270] | None = None
    mount: CatalogueId | None = None


class ChooseHeater(Frozen):
    """Choose a heater of the catalogue, or none; a mount that the new sheet lacks gives way to its first."""

    op: Literal["choose"] = "choose"
    sheet: CatalogueId | None
    reason: Note = ""


class StartExhaust(Frozen):
    """Begin an exhaust run: straight down, then falling to the nearer side of the vehicle."""

    op: Literal["start-exhaust"] = "start-exhaust"


class RemoveExhaust(Frozen):
    """Take the exhaust run out."""

    op: Literal["remove-exhaust"] = "remove-exhaust"


class Accept(Frozen):
    """Accept a finding that is over, with reason and name."""

    op: Literal["accept"] = "accept"
    acceptance: Acceptance


class Withdraw(Frozen):
    """Withdraw an acceptance."""

    op: Literal["withdraw"] = "withdraw"
    rule: Name
    subject: Annotated[str, Field(max_length=80)]


Command = Annotated[
    SetValues | AddItem | RemoveItem | PlaceHeater | ChooseHeater | StartExhaust | RemoveExhaust | Accept | Withdraw,
    Field(discriminator="op"),
]
COMMAND: TypeAdapter[Command] = TypeAdapter(Command)


def set_values(**changes: Value) -> SetValues:
    """Return a SetValues of keyword addresses, `__` standing for the dot. For tests and remedies."""
    return SetValues(changes=tuple(Change(address=a.replace("__", "."), value=v) for a, v in changes.items()))


def set_value(address: str, value: Value) -> SetValues:
    """Return a SetValues of one address."""
    return SetValues(changes=(Change(address=address, value=value),))


def touches(command: Command) -> set[str]:  # noqa: PLR0911 - one return a command
    """Return the addresses that a command writes, to see whether it collides with another's edit."""
    match command:
        case SetValues():
            return {change.address for change in command.changes}
        case AddItem():
            return {f"{command.collection}.{command.item.id}"}
        case RemoveItem():
            return {f"{command.collection}.{command.item_id}"}
        case PlaceHeater():
            given = {
                "x_mm": True,
                "y_mm": True,
                "yaw_deg": command.yaw_deg is not None,
                "mount": command.mount is not None,
            }
            return {f"spot.{field}" for field, is_set in given.items() if is_set}
        case ChooseHeater():
            return {"heater.sheet", "heater.reason"}
        case StartExhaust() | RemoveExhaust():
            return {"pipes.exhaust"}
        case Accept():
            return {f"acceptances.{command.acceptance.id}"}
        case Withdraw():
            return {"acceptances"}
