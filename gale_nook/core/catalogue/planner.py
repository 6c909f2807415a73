"""How whole layouts are compared, and how far they are looked for."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import CatalogueId, Frozen, Name, unique_ids
from gale_nook.core.base.sourced import Sourced

Effort = Literal["quick", "usual", "thorough"]
Price = Annotated[float, Field(ge=0, le=100_000)]


class MeasureKind(Sourced):
    """Something that layouts are compared by; less of it is better.

    Attributes:
        slider: what its weight is called.
        unit: of its values; empty for a number of things.
        least: under which nothing more is gained.
        scale: so much of it counts as much as the scale of any other, at the same weight.
    """

    id: Literal["storage", "exhaust", "quiet", "heat", "fuel", "holes", "cost", "hours"]
    slider: Name
    unit: Annotated[str, Field(max_length=8)]
    least: Annotated[float, Field(ge=0)] = 0.0
    scale: Annotated[float, Field(gt=0)]


class UsualPrices(Frozen):
    """What is taken for a price where nobody has typed one.

    Attributes:
        piece, metre: of what is not in `usual`.
    """

    piece: Price
    metre: Price
    usual: dict[CatalogueId, Price]

    def of(self, part: str, unit: str) -> float:
        """Return the price of a piece, or of a metre of what is cut."""
        return self.usual.get(part, self.metre if unit == "mm" else self.piece)


class SearchLimits(Frozen):
    """How far layouts are looked for.

    Attributes:
        cell_mm: places of one turn within a square of this side are one place to try.
        apart_mm: heaters nearer than this stand in one place.
        most_layouts: that are shown.
        most_cures: that are tried on one layout for what is still over.
        stands_on: kinds of boxes that a heater may stand on, where the floor has no room.
        most_stands: of these that are tried.
        takes: what a choice takes of the effort, by the station at which it ends; a whole layout as
            much as what ends at the last.
        efforts: how much there is of it.
    """

    cell_mm: Annotated[float, Field(gt=0)]
    apart_mm: Annotated[float, Field(gt=0)]
    most_layouts: Annotated[int, Field(ge=1, le=9)]
    most_cures: Annotated[int, Field(ge=0, le=100)]
    stands_on: tuple[CatalogueId, ...]
    most_stands: Annotated[int, Field(ge=0, le=20)]
    takes: dict[CatalogueId, Annotated[int, Field(ge=1)]]
    efforts: dict[Effort, Annotated[int, Field(ge=1)]]


class PlannerBook(Sourced):
    """All of it."""

    measures: Annotated[tuple[MeasureKind, ...], AfterValidator(unique_ids)]
    prices: UsualPrices
    search: SearchLimits
