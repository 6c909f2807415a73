"""What whoever drives the vehicle has to know about its heater."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import CatalogueId, Frozen, Name, unique_ids
from gale_nook.core.base.sourced import Sourced

Text = Annotated[str, Field(min_length=1, max_length=400)]
When = Literal["", "air", "coolant", "own-tank", "vehicle-tank"]


class Point(Frozen):
    """One thing to know.

    Attributes:
        when: in which jobs it counts.
    """

    text: Text
    when: When = ""


class Section(Frozen):
    """Some of them under one title."""

    id: CatalogueId
    title: Name
    points: Annotated[tuple[Point, ...], Field(min_length=1)]


class HandoverBook(Sourced):
    """All of it, in the order of use."""

    sections: Annotated[tuple[Section, ...], AfterValidator(unique_ids)]
