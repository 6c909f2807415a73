"""What every part of the plan document shares: frozen models, ids, bounded numbers
and clean texts.
"""

from __future__ import annotations

import unicodedata
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field


class Frozen(BaseModel):
    """Base of every plan model: immutable, no unknown fields, no NaN or infinity."""

    model_config = ConfigDict(
        frozen=True, extra="forbid", allow_inf_nan=False, validate_default=True
    )


def schema_of(model: type[Frozen], title: str) -> dict[str, Any]:
    """Return the JSON Schema (2020-12) of the files that a model is written as."""
    schema = model.model_json_schema(mode="validation")
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": title,
        **{key: value for key, value in schema.items() if key != "title"},
    }


def printable(text: str) -> str:
    """Return the text; raises ValueError for characters that do not print, that a database text
    cannot hold, or that mark quantities inside sentences (Unicode's categories Cc, Cs and Co, the
    line feed excepted).
    """
    for character in text:
        if unicodedata.category(character) in {"Cc", "Cs", "Co"} and character != "\n":
            raise ValueError(f"the character U+{ord(character):04X} cannot be kept in a text")
    return text


def _one_line(text: str) -> str:
    if not text.strip():
        raise ValueError("it needs a name")
    if "\n" in text:
        raise ValueError("a name has to be on one line")
    return text.strip()


ItemId = Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")]
CatalogueId = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_-]{0,59}$")]
Name = Annotated[str, Field(max_length=80), AfterValidator(printable), AfterValidator(_one_line)]
Note = Annotated[str, Field(max_length=2000), AfterValidator(printable)]

CoordinateMm = Annotated[float, Field(ge=-30_000, le=30_000)]
SizeMm = Annotated[float, Field(ge=0.01, le=30_000)]  # less is no size that a tape or gauge shows
ThicknessMm = Annotated[float, Field(ge=0, le=1_000)]
Moves = Literal["itself", "towed", "carried", "afloat"]
Point3 = tuple[CoordinateMm, CoordinateMm, CoordinateMm]
Point2 = tuple[CoordinateMm, CoordinateMm]


def unique_ids(items: tuple[Any, ...]) -> tuple[Any, ...]:
    """Validator for a collection: every id stands once."""
    seen: set[str] = set()
    for item in items:
        if item.id in seen:
            raise ValueError(f"the id '{item.id}' stands twice in this list")
        seen.add(item.id)
    return items
