"""The plan's part for the work: what is done, what was cut, what is in stock, and when it is
worked on.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import CatalogueId, Frozen, ItemId, Note, unique_ids

CardId = Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{0,79}$")]
BuiltAddress = Annotated[str, Field(max_length=160, pattern=r"^[A-Za-z0-9_.-]+$")]


class DoneCard(Frozen):
    """A card of the work that was ticked off.

    Attributes:
        note: what was found or done otherwise.
    """

    id: CardId
    note: Note = ""


class AsBuilt(Frozen):
    """A value of the plan that was measured on what was built.

    Attributes:
        id: its address in the plan, where the measured value stands now.
        planned: what the plan had before.
    """

    id: BuiltAddress
    planned: float
    built: float


class CutPiece(Frozen):
    """A length that was cut, by the id of its line in the cutting list."""

    id: Annotated[str, Field(max_length=120)]
    length_mm: Annotated[float, Field(gt=0, le=60_000)]


class CardPhoto(Frozen):
    """A photo that is kept with a card; the picture itself is kept beside the plan.

    Attributes:
        file: SHA-256 of the picture as it is kept, in hexadecimal digits.
    """

    id: ItemId
    card: CardId
    file: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class StockLine(Frozen):
    """What there is of a part, and what one of it costs (a metre, of what is cut).

    Attributes:
        have: pieces, or mm of what is cut.
        price: None where the price list does not have it.
    """

    id: CatalogueId
    have: Annotated[float, Field(ge=0, le=1_000_000)] = 0.0
    price: Annotated[float, Field(ge=0, le=100_000)] | None = None


class Build(Frozen):
    """The job in hand.

    Attributes:
        hours_a_day: that are worked; begins_on: the first day, empty for none.
        by: whose hands.
    """

    done: Annotated[tuple[DoneCard, ...], Field(max_length=200), AfterValidator(unique_ids)] = ()
    as_built: Annotated[tuple[AsBuilt, ...], Field(max_length=100), AfterValidator(unique_ids)] = ()
    cut: Annotated[tuple[CutPiece, ...], Field(max_length=200), AfterValidator(unique_ids)] = ()
    photos: Annotated[tuple[CardPhoto, ...], Field(max_length=60), AfterValidator(unique_ids)] = ()
    stock: Annotated[tuple[StockLine, ...], Field(max_length=400), AfterValidator(unique_ids)] = ()
    people: Literal[1, 2] = 1
    hours_a_day: Annotated[float, Field(ge=1, le=14)] = 7.0
    begins_on: Annotated[str, Field(max_length=10, pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = ""
    by: Annotated[str, Field(max_length=80)] = ""

    def is_done(self, card_id: str) -> bool:
        return any(card.id == card_id for card in self.done)

    def stock_of(self, part_id: str) -> StockLine | None:
        return next((line for line in self.stock if line.id == part_id), None)
