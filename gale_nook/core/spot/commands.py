"""Edits of the spot: where the heater stands, places kept beside it, pilots and what was measured
below.
"""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import CatalogueId, CoordinateMm, Frozen, ItemId, Note, Point2
from gale_nook.core.edits.command import Address, Command, Data
from gale_nook.core.edits.items import AddItem
from gale_nook.core.edits.values import Change, SetValues
from gale_nook.core.errors import BadInput
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.solids import Solid
from gale_nook.core.plan.spot import Candidate, Pilot, Spot
from gale_nook.core.plan.words import item_name
from gale_nook.core.spot.plate import over_opening
from gale_nook.core.vehicle.commands import SetFeature
from gale_nook.core.vehicle.several import AddParts

# what is under the vehicle and can be measured there
MEASURED_BELOW = (
    "vehicle.solids.",
    "pipes.exhaust.nodes.",
    "pipes.intake.nodes.",
    "fuel.line.nodes.",
)
FIRST_MOUNT = "turret"  # until a sheet says which it has


class AddCandidate(AddItem):
    """Keep a place for the heater beside others."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"candidates")
    collection: Literal["candidates"] = "candidates"
    item: Candidate


class AddPilot(AddItem):
    """Log a pilot hole."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"pilots")
    collection: Literal["pilots"] = "pilots"
    item: Pilot


class PlaceHeater(Command):
    """Put the heater somewhere, whether or not it had a place; leaving out yaw or mount keeps
    them.
    """

    op: Literal["place"] = "place"
    x_mm: CoordinateMm
    y_mm: CoordinateMm
    yaw_deg: Literal[0, 90, 180, 270] | None = None
    mount: CatalogueId | None = None

    def change(self, data: Data, before: Job) -> None:
        sheet = heater_sheet(before)
        mount = sheet.mounts[0].id if sheet is not None else FIRST_MOUNT
        spot = data["spot"] or {"yaw_deg": 0, "mount": mount}
        given = self.model_dump(mode="json", exclude={"op"}, exclude_none=True)
        data["spot"] = {**spot, **given}

    def words(self, before: Job) -> str:
        return "moved the heater" if before.plan.spot is not None else "placed the heater"


class UseOpening(Command):
    """Put the heater over an existing opening, on an adapter plate that laps its rim and carries
    the mount; without one, take the plate out.
    """

    op: Literal["use-opening"] = "use-opening"
    opening: ItemId | None = None

    def change(self, data: Data, before: Job) -> None:
        spot, sheet = before.plan.spot, heater_sheet(before)
        if self.opening is None:
            if data["spot"]:
                data["spot"]["adapter"] = None
            return
        if sheet is None:
            raise BadInput("opening", self.opening, "Choose a heater first.")
        feature = next((f for f in before.plan.vehicle.features if f.id == self.opening), None)
        if feature is None or feature.at is None or feature.opening_mm is None:
            problem = "Its place or its size was not measured: enter both at Vehicle."
            raise BadInput("opening", self.opening, problem)
        if spot is None:
            spot = Spot(x_mm=feature.at[0], y_mm=feature.at[1], mount=sheet.mounts[0].id)
        data["spot"] = over_opening(before, spot, feature).model_dump(mode="json")

    def words(self, before: Job) -> str:
        if self.opening is None:
            return "took the adapter plate out"
        return f"put the heater over {item_name(before.plan, self.opening)}"


class FeatureBelow(Frozen):
    """A feature and where it was measured from below."""

    id: ItemId
    at: Point2


class TakeBelow(Command):
    """Take in what was typed under the vehicle: features, parts, pipes and line measured there,
    parts found, pilots, and a note to the job's own.

    Attributes:
        pencilled: addresses of what was not measured of the parts that were found.
    """

    generic: ClassVar[bool] = True

    op: Literal["take-below"] = "take-below"
    features: Annotated[tuple[FeatureBelow, ...], Field(max_length=120)] = ()
    pilots: Annotated[tuple[Pilot, ...], Field(max_length=40)] = ()
    changes: Annotated[tuple[Change, ...], Field(max_length=200)] = ()
    found: Annotated[tuple[Solid, ...], Field(max_length=20)] = ()
    pencilled: Annotated[tuple[Address, ...], Field(max_length=4000)] = ()
    note: Annotated[Note, Field(max_length=1000)] = ""

    def change(self, data: Data, before: Job) -> None:
        for feature in self.features:
            measured = SetFeature(feature_id=feature.id, side="below", at=feature.at)
            measured.change(data, before)
        if self.changes:
            if any(not change.address.startswith(MEASURED_BELOW) for change in self.changes):
                problem = "Only surveyed parts, pipes and the line are measured from below."
                raise BadInput("part", None, problem)
            SetValues(changes=self.changes).change(data, before)
        if self.found:
            AddParts(items=self.found, pencilled=self.pencilled).change(data, before)
        data["pilots"] += [pilot.model_dump(mode="json") for pilot in self.pilots]
        if self.note:
            data["note"] = f"{data['note']}\n{self.note}".strip()[-2000:]

    def typed(self) -> tuple[str, ...]:
        return tuple(change.address for change in self.changes)

    def words(self, before: Job) -> str:
        del before
        return "took in what was measured below"


COMMANDS: tuple[type[Command], ...] = (
    AddCandidate,
    AddPilot,
    PlaceHeater,
    UseOpening,
    TakeBelow,
)
