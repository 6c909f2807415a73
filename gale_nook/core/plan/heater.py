"""The plan's part for the heater: which, why, and sheets and limits of one's own."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.models import (
    CatalogueId,
    Frozen,
    Name,
    Note,
    unique_ids,
)


class OwnLimit(Frozen):
    """A limit that the user sets over the sheet's or the workshop's, with the reason."""

    id: CatalogueId
    minimum: Annotated[float, Field(ge=-10_000, le=100_000)] | None = None
    maximum: Annotated[float, Field(ge=-10_000, le=100_000)] | None = None
    note: Name

    @model_validator(mode="after")
    def _has_an_end(self) -> OwnLimit:
        if self.minimum is None and self.maximum is None:
            raise ValueError("a limit needs a least or a greatest value")
        if self.minimum is not None and self.maximum is not None and self.minimum > self.maximum:
            raise ValueError("the least value of a limit lies above its greatest")
        return self


class HeaterChoice(Frozen):
    """The heater in hand, by its id in the catalogue, and why it was chosen.

    Attributes:
        medium: what the job is to be heated by: warm air, or coolant with its consumers.
        instead_of: the heater that was recommended when another was chosen over it; `reason` says
            why.
        own_sheets: heaters that the catalogue does not have.
    """

    medium: Literal["air", "coolant"] = "air"
    sheet: CatalogueId | None = None
    reason: Note = ""
    instead_of: CatalogueId | None = None
    own_sheets: Annotated[
        tuple[HeaterSheet, ...], Field(max_length=12), AfterValidator(unique_ids)
    ] = ()
    own_limits: Annotated[
        tuple[OwnLimit, ...], Field(max_length=60), AfterValidator(unique_ids)
    ] = ()
