"""Edits of the planner: wishes, and taking a whole layout."""

from __future__ import annotations

import re
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import Name
from gale_nook.core.edits.command import Command, Data
from gale_nook.core.edits.items import AddItem
from gale_nook.core.job import Job
from gale_nook.core.plan.air import Air
from gale_nook.core.plan.coolant import Coolant
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.fuel import Fuel, FuelSource
from gale_nook.core.plan.heat import HeatNeed
from gale_nook.core.plan.heater import HeaterChoice
from gale_nook.core.plan.pipes import Pipes
from gale_nook.core.plan.power import Power
from gale_nook.core.plan.spot import Spot
from gale_nook.core.plan.vehicle import Vehicle
from gale_nook.core.plan.wishes import PartWish, Pinned, Weights, WishArea, Wishes

ALWAYS = ("spot", "pipes", "fuel", "air", "coolant", "power")
NOW_AND_THEN = ("heat", "heater", "vehicle")


class AddPartWish(AddItem):
    """Add a wish about a surveyed part."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"wishes\.parts")
    collection: Literal["wishes.parts"] = "wishes.parts"
    item: PartWish


class AddWishArea(AddItem):
    """Paint an area as wanted, or to be kept out of."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"wishes\.areas")
    collection: Literal["wishes.areas"] = "wishes.areas"
    item: WishArea


class SetPinned(Command):
    """Say which stations stay as they are."""

    op: Literal["pin"] = "pin"
    pinned: Annotated[tuple[Pinned, ...], Field(max_length=7)]

    def change(self, data: Data, before: Job) -> None:
        del before
        data["wishes"]["pinned"] = list(dict.fromkeys(self.pinned))

    def words(self, before: Job) -> str:
        del before
        return f"stays as it is: {', '.join(self.pinned) or 'nothing'}"


class SetSources(Command):
    """Say which sources of fuel a layout may use; none for any that can be."""

    op: Literal["wish-sources"] = "wish-sources"
    sources: Annotated[tuple[FuelSource, ...], Field(max_length=7)]

    def change(self, data: Data, before: Job) -> None:
        del before
        data["wishes"]["sources"] = list(dict.fromkeys(self.sources))

    def words(self, before: Job) -> str:
        del before
        return "sources of fuel that a layout may use"


class SetWeights(Command):
    """Say how much each thing about a layout counts."""

    op: Literal["weigh"] = "weigh"
    weights: Weights

    def change(self, data: Data, before: Job) -> None:
        del before
        data["wishes"]["weights"] = self.weights.model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return "what counts about a layout"


class TakeWishes(Command):
    """Begin with wishes that were written down; what is wished of parts, and what stays, remains.

    Attributes:
        name: what they are called.
    """

    op: Literal["take-wishes"] = "take-wishes"
    name: Name
    wishes: Wishes

    def change(self, data: Data, before: Job) -> None:
        del before
        kept = {part: data["wishes"][part] for part in ("parts", "pinned")}
        data["wishes"] = {**self.wishes.model_dump(mode="json"), **kept}

    def words(self, before: Job) -> str:
        del before
        return f"wishes of the book: {self.name}"


class TakeLayout(Command):
    """Put a whole layout in the place of what there was; a part that is left out stays."""

    op: Literal["take-layout"] = "take-layout"
    name: Name
    heat: HeatNeed | None = None
    heater: HeaterChoice | None = None
    spot: Spot | None = None
    pipes: Pipes | None = None
    fuel: Fuel | None = None
    air: Air | None = None
    coolant: Coolant | None = None
    power: Power | None = None
    vehicle: Vehicle | None = None

    def change(self, data: Data, before: Job) -> None:
        del before
        for part in (*ALWAYS, *NOW_AND_THEN):
            value: Any = getattr(self, part)
            if value is not None:
                data[part] = value.model_dump(mode="json")

    def words(self, before: Job) -> str:
        del before
        return f"took {self.name}"


def taking(name: str, before: Plan, after: Plan) -> TakeLayout:
    """Return the command that takes a plan's layout: all that is laid, and of the rest what differs
    from the plan that it was found for.
    """
    parts = [
        part
        for part in (*ALWAYS, *NOW_AND_THEN)
        if part in ALWAYS or getattr(after, part) != getattr(before, part)
    ]
    return TakeLayout(name=name, **{part: getattr(after, part) for part in parts})


COMMANDS: tuple[type[Command], ...] = (
    AddPartWish,
    AddWishArea,
    SetPinned,
    SetSources,
    SetWeights,
    TakeWishes,
    TakeLayout,
)
