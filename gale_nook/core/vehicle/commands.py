"""Edits of the survey: parts, openings, features, pop-top and slide-out."""

from __future__ import annotations

import re
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from gale_nook.core.base.models import CatalogueId, ItemId, Name, Point2, Point3
from gale_nook.core.edits import address as addresses
from gale_nook.core.edits.command import Address, Command, Data
from gale_nook.core.edits.items import AddItem
from gale_nook.core.edits.values import NO_VALUE
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.looked import LookedArea
from gale_nook.core.plan.moves import SlideOut, Space
from gale_nook.core.plan.old import OldOpening
from gale_nook.core.plan.photo import Photo, PhotoPoint
from gale_nook.core.plan.solids import Hollow, PanelOpening, Solid
from gale_nook.core.plan.vehicle import Feature, FloorArea, Opening, PopTop
from gale_nook.core.plan.words import field_words, item_id, item_name
from gale_nook.core.vehicle.datum import move_along
from gale_nook.core.vehicle.parts import surveyed_where


class AddPencilled(AddItem):
    """Add an item with what nobody has measured of it.

    Attributes:
        pencilled: addresses of its values that nobody has measured.
    """

    pencilled: Annotated[tuple[Address, ...], Field(max_length=200)] = ()

    def change(self, data: Data, before: Job) -> None:
        super().change(data, before)
        here = f"{self.collection}.{self.item.id}."
        data["vehicle"]["pencilled"] += [a for a in self.pencilled if a.startswith(here)]

    def rebased(self, seen: Plan, now: Plan) -> Command:
        other = super().rebased(seen, now)
        if not isinstance(other, AddPencilled) or other.item.id == self.item.id:
            return other
        here, there = (f"{self.collection}.{each.item.id}." for each in (self, other))
        moved = tuple(there + a.removeprefix(here) for a in self.pencilled)
        return other.model_copy(update={"pencilled": moved})


class AddSolid(AddPencilled):
    """Add a surveyed part."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"vehicle\.solids")
    collection: Literal["vehicle.solids"] = "vehicle.solids"
    item: Solid


class AddOpening(AddItem):
    """Add a window, door or vent."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"vehicle\.openings")
    collection: Literal["vehicle.openings"] = "vehicle.openings"
    item: Opening


class AddFloor(AddPencilled):
    """Add a floor that differs from the load floor."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"vehicle\.floors")
    collection: Literal["vehicle.floors"] = "vehicle.floors"
    item: FloorArea


class AddFeature(AddItem):
    """Add a named feature."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"vehicle\.features")
    collection: Literal["vehicle.features"] = "vehicle.features"
    item: Feature


class AddOldOpening(AddItem):
    """Add an opening that something went through before."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"vehicle\.old_openings")
    collection: Literal["vehicle.old_openings"] = "vehicle.old_openings"
    item: OldOpening


class AddSpace(AddItem):
    """Add a space with a name in which some things have no place."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"vehicle\.spaces")
    collection: Literal["vehicle.spaces"] = "vehicle.spaces"
    item: Space


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
        here = f"vehicle.solids.{self.item_id}.{leaf}"
        pencilled = data["vehicle"]["pencilled"]
        if any(address.startswith(f"{here}.") for address in pencilled):
            data["vehicle"]["pencilled"] = pencilled + list(addresses.leaves(solid[leaf], here))

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
        before_it = data["vehicle"]["solids"]
        hollow = {s["id"]: s["hollow"] for s in before_it if s["shape"] == "box"}
        solids = [] if self.replace else before_it
        taken = {solid["id"] for solid in solids}
        for solid in self.solids:
            number, free = 2, solid.id
            while free in taken:
                number, free = number + 1, f"{solid.id[:34]}-{number}"
            taken.add(free)
            taken_in = {**solid.model_dump(mode="json"), "id": free}
            # files do not carry how furniture is hollow: what is put in its place keeps that
            if taken_in["shape"] == "box" and taken_in["hollow"] is None and self.replace:
                taken_in["hollow"] = hollow.get(free)
            solids.append(taken_in)
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
        _shift_photos(data, dx, dy)
        across = -dy if data["vehicle"]["below_mirrored"] else dy
        for feature in data["vehicle"]["features"]:
            if feature["below"] is not None:
                feature["below"] = [feature["below"][0] + dx, feature["below"][1] + across]
        for pilot in data["pilots"]:
            for mark, miss, by in (("mark_x_mm", "rearward_mm", dx), ("mark_y_mm", "right_mm", dy)):
                moved = mark if pilot[mark] is not None else miss
                if pilot[moved] is not None:
                    pilot[moved] += by

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


def _shift_photos(data: Data, dx: float, dy: float) -> None:
    """Move the known points of the photos from below."""
    points = (p for ph in data["vehicle"]["photos"] if ph["seen"] == "below" for p in ph["points"])
    for point in points:
        if point["place_mm"] is not None:
            point["place_mm"] = [point["place_mm"][0] + dx, point["place_mm"][1] + dy]


class Ink(Command):
    """Say that values are as the tape has them: they are pencilled no more."""

    op: Literal["ink"] = "ink"
    addresses: Annotated[tuple[Address, ...], Field(min_length=1, max_length=100)]

    def change(self, data: Data, before: Job) -> None:
        del before
        for address in self.addresses:
            addresses.find(data, address)

    def typed(self) -> tuple[str, ...]:
        return self.addresses

    def words(self, before: Job) -> str:
        first = self.addresses[0]
        item = item_id(first)
        return f"{item_name(before.plan, item) if item else field_words(first)}: measured"


class Confirm(Command):
    """Say that a value that looks unlikely is right."""

    op: Literal["confirm"] = "confirm"
    address: Address

    def change(self, data: Data, before: Job) -> None:
        del before
        value = addresses.find(data, self.address)
        if not isinstance(value, float | int | str):
            raise BadInput(self.address, None, NO_VALUE)
        kept = [e for e in data["vehicle"]["confirmed"] if e["address"] != self.address]
        data["vehicle"]["confirmed"] = [*kept, {"address": self.address, "value": value}]

    def typed(self) -> tuple[str, ...]:
        return (self.address,)

    def words(self, before: Job) -> str:
        item = item_id(self.address)
        where = f"{item_name(before.plan, item)}: " if item else ""
        return f"{where}{field_words(self.address)} is right"


class HasNone(Command):
    """Say that the vehicle has no part of a kind that is asked for, or take that back."""

    op: Literal["has-none"] = "has-none"
    kind: CatalogueId
    none: bool = True

    def change(self, data: Data, before: Job) -> None:
        if self.kind not in before.catalogue.solid_kinds:
            raise BadInput("kind", self.kind, "There is no such kind of part.")
        others = [kind for kind in data["vehicle"]["has_none"] if kind != self.kind]
        data["vehicle"]["has_none"] = [*others, self.kind] if self.none else others

    def words(self, before: Job) -> str:
        label = before.catalogue.solid_kinds[self.kind].label
        return f"no {label}" if self.none else f"a {label} after all"


class AddLookedArea(AddItem):
    """Say where somebody has looked."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"vehicle\.looked_at")
    collection: Literal["vehicle.looked_at"] = "vehicle.looked_at"
    item: LookedArea

    def words(self, before: Job) -> str:
        del before
        return "a looked-at area"


class AddPhoto(AddItem):
    """Add a photo of the floor."""

    lists: ClassVar[re.Pattern[str]] = re.compile(r"vehicle\.photos")
    collection: Literal["vehicle.photos"] = "vehicle.photos"
    item: Photo


class SetPhotoPoints(Command):
    """Say which points of a photo are known, and from where it was taken."""

    op: Literal["photo-points"] = "photo-points"
    photo: ItemId
    seen: Literal["below", "inside"]
    points: Annotated[tuple[PhotoPoint, ...], Field(max_length=8)]

    def change(self, data: Data, before: Job) -> None:
        del before
        photo = addresses.find(data, f"vehicle.photos.{self.photo}")
        photo["seen"] = self.seen
        photo["points"] = [point.model_dump(mode="json") for point in self.points]

    def words(self, before: Job) -> str:
        return f"{item_name(before.plan, self.photo)}: its points"


class MoveDatum(Command):
    """Measure from another datum: every place behind the old one becomes one behind the new one.

    Attributes:
        by_mm: how far the new datum lies behind the old one; 0 where it is the same point by
            another name.
    """

    op: Literal["datum"] = "datum"
    name: Name
    by_mm: Annotated[float, Field(ge=-10_000, le=10_000)]

    def change(self, data: Data, before: Job) -> None:
        if self.by_mm and self.name == before.plan.vehicle.datum:
            raise BadInput("datum", self.name, "A datum that moves needs a name of its own.")
        data["vehicle"]["datum"] = self.name
        if self.by_mm:
            move_along(data, -self.by_mm)

    def words(self, before: Job) -> str:
        del before
        return f"measured from the {self.name}"


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


class AddPanelOpening(AddItem):
    """Add an opening to a panel of hollow furniture."""

    lists: ClassVar[re.Pattern[str]] = re.compile(
        r"vehicle\.solids\.[a-z][a-z0-9-]{0,39}\.hollow\.openings"
    )
    collection: Annotated[
        str,
        Field(pattern=r"^vehicle\.solids\.[a-z][a-z0-9-]{0,39}\.hollow\.openings$", max_length=160),
    ]
    item: PanelOpening


class SetHollow(Command):
    """Say that a piece of furniture is hollow, with its panels and openings; or that it is
    solid.
    """

    op: Literal["hollow"] = "hollow"
    solid: ItemId
    hollow: Hollow | None = None

    def change(self, data: Data, before: Job) -> None:
        del before
        for solid in data["vehicle"]["solids"]:
            if solid["id"] == self.solid and solid["shape"] == "box":
                hollow = self.hollow
                solid["hollow"] = hollow.model_dump(mode="json") if hollow is not None else None
                return
        raise BadInput("hollow", self.solid, "There is no box of that name in the survey.")

    def words(self, before: Job) -> str:
        name = next((s.name for s in before.plan.vehicle.solids if s.id == self.solid), self.solid)
        return f"{name} is {'hollow' if self.hollow is not None else 'solid'}"


COMMANDS: tuple[type[Command], ...] = (
    Ink,
    Confirm,
    HasNone,
    AddLookedArea,
    AddPhoto,
    SetPhotoPoints,
    MoveDatum,
    AddSolid,
    AddOpening,
    AddFloor,
    AddFeature,
    AddOldOpening,
    AddSpace,
    SetPoints,
    TakeSurvey,
    SetFeature,
    ShiftBelow,
    SetPopTop,
    SetSlide,
    AddPanelOpening,
    SetHollow,
)
