"""Edits of the survey: parts, openings, features, pop-top and slide-out."""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import ItemId, Point2, Point3
from gale_nook.core.edits import address as addresses
from gale_nook.core.edits.command import Command, Data
from gale_nook.core.edits.items import AddItem
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.plan.vehicle import Feature, Opening, PopTop, SlideOut, Solid
from gale_nook.core.plan.words import item_name
from gale_nook.core.vehicle.parts import surveyed_where


class AddSolid(AddItem):
    """Add a surveyed part."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"vehicle\.solids")
    collection: Literal["vehicle.solids"] = "vehicle.solids"
    item: Solid


class AddOpening(AddItem):
    """Add a window, door or vent."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"vehicle\.openings")
    collection: Literal["vehicle.openings"] = "vehicle.openings"
    item: Opening


class AddFeature(AddItem):
    """Add a named feature."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"vehicle\.features")
    collection: Literal["vehicle.features"] = "vehicle.features"
    item: Feature


class SetPoints(Command):
    """Replace the points of a tube, or the corners of an outline (mm)."""

    op: Literal["points"] = "points"
    item_id: ItemId
    points: Annotated[tuple[Point3 | Point2, ...], Field(max_length=60)]

    def change(self, data: Data, before: Job) -> None:
        del before
        solid = addresses.find(data, f"vehicle.solids.{self.item_id}")
        leaf = {"tube": "points", "outline": "outline"}.get(solid["shape"])
        if leaf is None:
            raise BadInput("points", self.item_id, "Only tubes and outlines are made of points.")
        solid[leaf] = [list(point) for point in self.points]

    def words(self, before: Job) -> str:
        return f"{item_name(before.plan, self.item_id)}: its points"


class TakeSurvey(Command):
    """Add surveyed parts, or put them in the place of all that was surveyed; an id that is taken
    already gets a new one.
    """

    op: Literal["survey"] = "survey"
    solids: Annotated[tuple[Solid, ...], Field(min_length=1, max_length=400)]
    replace: bool = False

    def change(self, data: Data, before: Job) -> None:
        del before
        solids = [] if self.replace else data["vehicle"]["solids"]
        taken = {solid["id"] for solid in solids}
        for solid in self.solids:
            number, free = 2, solid.id
            while free in taken:
                number, free = number + 1, f"{solid.id[:34]}-{number}"
            taken.add(free)
            solids.append({**solid.model_dump(mode="json"), "id": free})
        data["vehicle"]["solids"] = solids

    def words(self, before: Job) -> str:
        del before
        return f"took in {len(self.solids)} surveyed parts"


class SetFeature(Command):
    """Set where a named feature was measured on one side of the floor, or that it is not seen from
    there.
    """

    op: Literal["feature"] = "feature"
    feature_id: ItemId
    side: Literal["inside", "below"]
    at: Point2 | None

    def change(self, data: Data, before: Job) -> None:
        del before
        feature = addresses.find(data, f"vehicle.features.{self.feature_id}")
        feature[self.side] = list(self.at) if self.at is not None else None

    def words(self, before: Job) -> str:
        return f"{item_name(before.plan, self.feature_id)}: {self.side}"


class ShiftBelow(Command):
    """Move everything that was surveyed below the floor, and the features' places there, by a
    shift.
    """

    op: Literal["shift-below"] = "shift-below"
    rearward_mm: Annotated[float, Field(ge=-1000, le=1000)]
    right_mm: Annotated[float, Field(ge=-1000, le=1000)]

    def change(self, data: Data, before: Job) -> None:
        below = {solid.id for solid, _, _ in surveyed_where(before, "below")}
        dx, dy = self.rearward_mm, self.right_mm
        for solid in data["vehicle"]["solids"]:
            if solid["id"] in below:
                _shift(solid, dx, dy)
        across = -dy if data["vehicle"]["below_mirrored"] else dy
        for feature in data["vehicle"]["features"]:
            if feature["below"] is not None:
                feature["below"] = [feature["below"][0] + dx, feature["below"][1] + across]
        for pilot in data["pilots"]:
            pilot["rearward_mm"] += dx
            pilot["right_mm"] += dy

    def words(self, before: Job) -> str:
        del before
        return "moved the survey below"


def _shift(solid: Data, dx: float, dy: float) -> None:
    leaf = {"tube": "points", "outline": "outline"}.get(solid["shape"])
    if leaf is not None:
        solid[leaf] = [[point[0] + dx, point[1] + dy, *point[2:]] for point in solid[leaf]]
        return
    solid["x_mm"] += dx
    solid["y_mm"] += dy


class SetPopTop(Command):
    """Give the roof a pop-top, or none."""

    op: Literal["pop-top"] = "pop-top"
    pop_top: PopTop | None

    def change(self, data: Data, before: Job) -> None:
        del before
        top = self.pop_top
        data["vehicle"]["pop_top"] = top.model_dump(mode="json") if top is not None else None

    def words(self, before: Job) -> str:
        del before
        return "a pop-top" if self.pop_top is not None else "no pop-top"


class SetSlide(Command):
    """Give the body a slide-out, or none."""

    op: Literal["slide"] = "slide"
    slide: SlideOut | None

    def change(self, data: Data, before: Job) -> None:
        del before
        slide = self.slide
        data["vehicle"]["slide"] = slide.model_dump(mode="json") if slide is not None else None

    def words(self, before: Job) -> str:
        del before
        return "a slide-out" if self.slide is not None else "no slide-out"


COMMANDS: tuple[type[Command], ...] = (
    AddSolid,
    AddOpening,
    AddFeature,
    SetPoints,
    TakeSurvey,
    SetFeature,
    ShiftBelow,
    SetPopTop,
    SetSlide,
)
