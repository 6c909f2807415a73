"""Limits: a permitted band, and between which values it is believable."""

from __future__ import annotations

from typing import Literal

from pydantic import model_validator

from gale_nook.core.base.models import CatalogueId, Frozen, Name


class Limit(Frozen):
    """A permitted band; at least one end is given. The unit follows from the limit's name."""

    minimum: float | None = None
    maximum: float | None = None
    source: Name

    @model_validator(mode="after")
    def _has_an_end(self) -> Limit:
        if self.minimum is None and self.maximum is None:
            raise ValueError("a limit needs a minimum or a maximum")
        if self.minimum is not None and self.maximum is not None and self.minimum > self.maximum:
            raise ValueError("a limit's minimum lies above its maximum")
        return self

    def holds(self, value: float) -> bool:
        """Return whether a value lies within the band."""
        return (self.minimum is None or value >= self.minimum) and (
            self.maximum is None or value <= self.maximum
        )


class LimitBand(Frozen):
    """Between which values a limit of this name is physically believable, and what it is called."""

    id: CatalogueId
    label: Name
    unit: Literal[
        "mm",
        "deg",
        "W",
        "Pa",
        "K",
        "C",
        "count",
        "dB",
        "m/s",
        "V",
        "A",
        "%",
        "nights",
        "l/min",
        "kg",
        "ppm",
    ]
    lowest: float
    highest: float
