"""Batteries, copper, contacts, fuses and feeds: what the electrics are computed from."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from gale_nook.core.base.models import CatalogueId, Frozen, Note
from gale_nook.core.base.sourced import Sourced

Points = tuple[tuple[float, float], ...]


class Chemistry(Sourced):
    """A kind of battery, as a block of 12 V.

    Attributes:
        rest_v: (charge in %, voltage at rest at 25 °C), rising.
        rest_v_k: change of that with temperature.
        resistance_mohm: of a new block of 100 Ah at 25 °C; in proportion to 1/capacity.
        cold_resistance, cold_capacity: (°C, factor on it), rising in °C.
        resistance_year, capacity_year: share by which it rises, and that is lost, each year.
        usable_percent: of the charge, that may be drawn again and again.
        disconnect_v: (least, most) voltage at which a device that protects it acts sensibly.
    """

    rest_v: Points
    rest_v_k: float
    resistance_mohm: Annotated[float, Field(gt=0, le=100)]
    cold_resistance: Points
    cold_capacity: Points
    resistance_year: Annotated[float, Field(ge=0, le=1)]
    capacity_year: Annotated[float, Field(ge=0, le=0.3)]
    usable_percent: Annotated[float, Field(gt=0, le=100)]
    disconnect_v: tuple[float, float]


class Copper(Sourced):
    """Copper's resistivity at 20 °C, ohm mm²/m, and its change with temperature, 1/K."""

    resistivity: Annotated[float, Field(gt=0.01, lt=0.03)]
    per_k: Annotated[float, Field(gt=0, lt=0.01)]
    density_kg_m3: Annotated[float, Field(gt=8000, lt=9500)]


class CableSize(Sourced):
    """A standard cable.

    Attributes:
        area_mm2: of its conductor.
        ampacity_a: (insulation's temperature, current) in air of 30 °C, alone.
        price_per_m: of one conductor.
    """

    area_mm2: Annotated[float, Field(gt=0, le=150)]
    ampacity_a: Points
    price_per_m: Annotated[float, Field(ge=0, le=1000)]


class Contact(Sourced):
    """A joint, plug or terminal that the current passes."""

    resistance_mohm: Annotated[float, Field(ge=0, le=100)]


class FuseSize(Sourced):
    """A fuse of the standard series with its resistance, cold."""

    rating_a: Annotated[float, Field(gt=0, le=200)]
    resistance_mohm: Annotated[float, Field(ge=0, le=200)]


class Feed(Sourced):
    """Where the feed can be taken.

    Attributes:
        needs, risks, after_run: what it needs, what can go wrong, what happens in the after-run.
        contact_mohm: of all that it puts in the way.
        is_switched: it can be switched off while the fan still cools the chamber.
    """

    needs: Note
    risks: Note
    after_run: Note
    contact_mohm: Annotated[float, Field(ge=0, le=500)]
    is_switched: bool


class Grouping(Frozen):
    """Up to how many cables together carry which share of their current."""

    cables: Annotated[int, Field(ge=1)]
    share: Annotated[float, Field(gt=0, le=1)]


class PowerEquipment(Frozen):
    """All of it.

    Attributes:
        holder_mohm: of a fuse holder; charge_share: of what a charger gives, that is kept.
        wall_share: of the way from the room's air to a wall's surface that a sensor on it feels.
        air_film_m2k_w: of an inside surface, ISO 6946.
        insulation_mm: round a conductor; strand_fill: copper's share of its strands' bundle.
    """

    chemistries: tuple[Chemistry, ...]
    copper: Copper
    cables: tuple[CableSize, ...]
    contacts: tuple[Contact, ...]
    fuses: tuple[FuseSize, ...]
    feeds: tuple[Feed, ...]
    groupings: tuple[Grouping, ...]
    ampacity_at_c: float
    charge_share: Annotated[float, Field(gt=0, le=1)]
    wall_share: Annotated[float, Field(ge=0, le=1)]
    air_film_m2k_w: Annotated[float, Field(gt=0, le=1)]
    insulation_mm: Annotated[float, Field(gt=0, le=5)]
    strand_fill: Annotated[float, Field(gt=0.3, le=1)]

    def chemistry(self, chemistry_id: CatalogueId) -> Chemistry:
        return next(entry for entry in self.chemistries if entry.id == chemistry_id)

    def feed(self, feed_id: str) -> Feed:
        return next(entry for entry in self.feeds if entry.id == feed_id)

    def contact(self, contact_id: str) -> Contact:
        return next(entry for entry in self.contacts if entry.id == contact_id)

    def cable(self, area_mm2: float) -> CableSize | None:
        """Return the standard cable of an area; None for one that is not standard."""
        return next((c for c in self.cables if abs(c.area_mm2 - area_mm2) < 1e-6), None)
