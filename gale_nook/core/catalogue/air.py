"""Ducts, splitters, outlets, grilles and what holds them: what the warm air is computed with."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal, TypeVar

from pydantic import Field, model_validator

from gale_nook.core.base.models import CatalogueId, Frozen
from gale_nook.core.base.sourced import Sourced
from gale_nook.core.errors import UnknownEntry

BoreMm = Annotated[float, Field(ge=20, le=200)]
RatingC = Annotated[float, Field(ge=40, le=400)]
LossK = Annotated[float, Field(ge=0, le=50)]


class DuctKind(Sourced):
    """A kind of duct.

    Attributes:
        outer_mm: outside diameter, bare.
        roughness_mm: equivalent sand roughness of its folds.
        least_radius_mm: of a bend, at the centre line.
        rating_c: air temperature that it bears.
        emissivity: of its outside.
        heat_gain: how many times as much heat its wall takes from the air as a smooth one.
        flexible: it can be drawn in one piece round bends and follow what moves.
        part: that is bought.
    """

    bore_mm: BoreMm
    outer_mm: BoreMm
    roughness_mm: Annotated[float, Field(ge=0, le=5)]
    least_radius_mm: Annotated[float, Field(ge=10, le=600)]
    rating_c: RatingC
    emissivity: Annotated[float, Field(gt=0, le=1)]
    heat_gain: Annotated[float, Field(ge=1, le=5)] = 1.0
    flexible: bool = True
    part: CatalogueId

    @model_validator(mode="after")
    def _has_a_wall(self) -> DuctKind:
        if self.outer_mm < self.bore_mm:
            raise ValueError("a duct is wider outside than inside")
        return self


class SplitterKind(Sourced):
    """A splitter; its losses are in velocity heads of the leg that they are told for."""

    shape: Literal["y", "t"]
    straight_k: LossK
    branch_k: LossK
    length_mm: Annotated[float, Field(ge=20, le=500)]
    part: CatalogueId


class OutletKind(Sourced):
    """An outlet.

    Attributes:
        open_k: loss fully open, in velocity heads of its bore, what leaves included.
        closable, throttle: it can be closed; it can stand in between.
        swivel_deg: by which it can be turned away.
        part: that is bought.
    """

    bore_mm: BoreMm
    open_k: LossK
    closable: bool = False
    throttle: bool = False
    swivel_deg: Annotated[float, Field(ge=0, le=90)] = 0.0
    rating_c: RatingC
    part: CatalogueId


class GrilleKind(Sourced):
    """What covers an opening: how much of it is open, and its loss in velocity heads of that."""

    open_share: Annotated[float, Field(gt=0, le=1)]
    loss_k: LossK


class ClipKind(Sourced):
    """What holds a duct."""

    rating_c: RatingC
    part: CatalogueId


class DividerKind(Sourced):
    """What stands between a zone and the living space: heat through it, W/(m²K), with the air that
    it lets pass.
    """

    u_w_m2k: Annotated[float, Field(gt=0, le=200)]


class TypicalFan(Sourced):
    """What is taken of a heater whose sheet does not say it.

    Attributes:
        speed_at_minimum: fan's speed at least output, as a share of that at most.
        share_at_minimum, share_at_maximum: of the output that goes into the air blown.
        outlet_limit_c: at the warm end, where the heater throttles.
    """

    speed_at_minimum: Annotated[float, Field(gt=0, le=1)]
    share_at_minimum: Annotated[float, Field(gt=0.3, le=1)]
    share_at_maximum: Annotated[float, Field(gt=0.3, le=1)]
    outlet_limit_c: Annotated[float, Field(ge=50, le=200)]


class AirPhysics(Sourced):
    """Constants of the warm air's sums.

    Attributes:
        lagging_mm, lagging_w_mk, lagging_emissivity: of one layer round a duct.
        jet_core: bores that a round jet keeps its speed and temperature for.
        jet_spread_deg: half the angle by which it widens.
        contact_mm: nearer than this, a thing gets as hot as the duct's skin.
        fan_reference_kg_m3: density of air for which the sheets' fan curves are told.
    """

    lagging_mm: Annotated[float, Field(gt=0, le=100)]
    lagging_w_mk: Annotated[float, Field(gt=0, le=1)]
    lagging_emissivity: Annotated[float, Field(gt=0, le=1)]
    jet_core: Annotated[float, Field(gt=0, le=20)]
    jet_spread_deg: Annotated[float, Field(gt=0, le=45)]
    contact_mm: Annotated[float, Field(ge=0, le=100)]
    fan_reference_kg_m3: Annotated[float, Field(gt=0.5, le=2)]


class HeatBearing(Sourced):
    """How warm a stuff or a kind of part may get for good.

    Attributes:
        kinds, materials: of surveyed parts, to which it applies.
    """

    rating_c: RatingC
    kinds: tuple[CatalogueId, ...] = ()
    materials: tuple[CatalogueId, ...] = ()


Entry = TypeVar("Entry", bound=Sourced)


class AirEquipment(Frozen):
    """Everything of the warm air that is looked up."""

    ducts: tuple[DuctKind, ...]
    splitters: tuple[SplitterKind, ...]
    outlets: tuple[OutletKind, ...]
    grilles: tuple[GrilleKind, ...]
    clips: tuple[ClipKind, ...]
    dividers: tuple[DividerKind, ...]
    bearing: tuple[HeatBearing, ...]
    typical: TypicalFan
    physics: AirPhysics

    def duct(self, kind: str) -> DuctKind:
        return _entry(self.ducts, "duct", kind)

    def splitter(self, kind: str) -> SplitterKind:
        return _entry(self.splitters, "splitter", kind)

    def outlet(self, kind: str) -> OutletKind:
        return _entry(self.outlets, "outlet", kind)

    def grille(self, kind: str) -> GrilleKind:
        return _entry(self.grilles, "grille", kind)

    def clip(self, kind: str) -> ClipKind:
        return _entry(self.clips, "clip", kind)

    def divider(self, kind: str) -> DividerKind:
        return _entry(self.dividers, "divider", kind)

    def bears(self, kind: str, material: str) -> HeatBearing | None:
        """Return the strictest of what applies to a part; None where nothing does."""
        known = [b for b in self.bearing if kind in b.kinds or material in b.materials]
        return min(known, key=lambda bearing: bearing.rating_c, default=None)


def _entry(entries: Iterable[Entry], sort: str, entry_id: str) -> Entry:
    for entry in entries:
        if entry.id == entry_id:
            return entry
    raise UnknownEntry(sort, entry_id)
