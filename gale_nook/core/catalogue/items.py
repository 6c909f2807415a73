"""What is bought or cut, and the cautions."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from gale_nook.core.base.models import CatalogueId, Frozen
from gale_nook.core.base.sourced import Sourced


class CatalogueItem(Sourced):
    """Something that is bought or cut.

    Attributes:
        shop: kind of shop that sells it.
        hole_mm: that is drilled for it; None for none.
        stock_mm: length in which it is sold; None where it is cut from a roll, or no length.
    """

    unit: Literal["piece", "mm"]
    use: str
    shop: CatalogueId
    hole_mm: Annotated[float, Field(gt=0, le=60)] | None = None
    stock_mm: Annotated[float, Field(gt=0, le=20_000)] | None = None


class Caution(Frozen):
    """A caution, the stations that show it, and its place in the order of work.

    Attributes:
        moves: how the body moves that it is for: itself, towed, carried, afloat; any where none is
            given.
    """

    id: CatalogueId
    stations: tuple[str, ...]
    text: str
    moves: tuple[str, ...] = ()
