"""Where somebody has looked, how and when, and what was confirmed."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.base.models import (
    CoordinateMm,
    Frozen,
    ItemId,
    Note,
)

_DAY = re.compile(r"\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])")


def _day(text: str) -> str:
    if text and not _DAY.fullmatch(text.strip()):
        raise ValueError("a date is written year, month, day: 2026-10-03; or leave it empty")
    return text.strip()


DayText = Annotated[str, Field(max_length=20), AfterValidator(_day)]
LookedWhere = Literal["below", "inside", "engine-bay"]
HowLooked = Literal["seen", "measured", "drawing", "assumed"]


class LookedArea(Frozen):
    """A rectangle in plan that somebody has looked at: what is there was entered, and the rest is
    free.

    Attributes:
        from_x_mm, to_x_mm: its ends behind the datum; left_y_mm, right_y_mm: its sides, right of
            centre.
        how: seen, measured, from a drawing, or only assumed.
        on: the date of that, as YYYY-MM-DD; empty where it was not noted.
    """

    id: ItemId
    where: LookedWhere = "below"
    how: HowLooked = "seen"
    on: DayText = ""
    from_x_mm: CoordinateMm
    to_x_mm: CoordinateMm
    left_y_mm: CoordinateMm
    right_y_mm: CoordinateMm
    note: Note = ""

    @model_validator(mode="after")
    def _has_a_size(self) -> LookedArea:
        if self.from_x_mm >= self.to_x_mm:
            raise ValueError("a looked-at area's front end lies ahead of its rear end")
        if self.left_y_mm >= self.right_y_mm:
            raise ValueError("a looked-at area's left side lies left of its right side")
        return self


class Confirmed(Frozen):
    """A value that looked unlikely and was said to be right: it is not asked about again."""

    address: Annotated[str, Field(max_length=160)]
    value: float | Annotated[str, Field(max_length=80)]
