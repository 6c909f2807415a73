"""The plan's part for the workshop's own book: what of it the job takes."""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator, Field

from gale_nook.core.base.limit import Limit
from gale_nook.core.base.material import Material
from gale_nook.core.base.models import CatalogueId, Frozen, Name, unique_ids

MOST_LIMITS, MOST_MATERIALS, MOST_PRICES = 120, 60, 400


class BookLimit(Limit):
    """A limit of the workshop, in the place of the usual one of its name."""

    id: CatalogueId


class BookPrice(Frozen):
    """What a part costs: a piece of it, or a metre of what is cut."""

    id: CatalogueId
    price: Annotated[float, Field(ge=0, le=100_000)]
    source: Name


BookLimits = Annotated[
    tuple[BookLimit, ...], Field(max_length=MOST_LIMITS), AfterValidator(unique_ids)
]
BookMaterials = Annotated[
    tuple[Material, ...], Field(max_length=MOST_MATERIALS), AfterValidator(unique_ids)
]
BookPrices = Annotated[
    tuple[BookPrice, ...], Field(max_length=MOST_PRICES), AfterValidator(unique_ids)
]


class PlanBook(Frozen):
    """What a job takes from the workshop's own book.

    Attributes:
        edit: of the book from which it was taken; 0 for none.
        school: of the book, whose limits stand over the others'; None for none.
        limits: those of the book, with those of the school over them.
    """

    edit: Annotated[int, Field(ge=0, le=2**31 - 1)] = 0
    school: CatalogueId | None = None
    limits: BookLimits = ()
    materials: BookMaterials = ()
    prices: BookPrices = ()

    def price_of(self, part_id: str) -> float | None:
        """Return what a part costs; None where the book does not say it."""
        return next((each.price for each in self.prices if each.id == part_id), None)
