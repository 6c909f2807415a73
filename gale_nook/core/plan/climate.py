"""The plan's weather: hours by month and whole degree, from a weather file or a region."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Annotated

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import Frozen, Name

Month = Annotated[int, Field(ge=1, le=12)]
WINTER = (1, 2, 3, 10, 11, 12)


def _in_order(months: tuple[int, ...]) -> tuple[int, ...]:
    return tuple(sorted(set(months)))


class MonthHours(Frozen):
    """One month: hours at `first_c`, at the degree above it, and so on; a degree holds what is
    rounded down to it.
    """

    month: Month
    first_c: Annotated[int, Field(ge=-80, le=70)]
    hours: Annotated[
        tuple[Annotated[int, Field(ge=0, le=100_000)], ...], Field(min_length=1, max_length=151)
    ]


class Climate(Frozen):
    """How many hours each month has at each temperature.

    Attributes:
        months: the months in which the vehicle is heated.
    """

    name: Name
    source: Name
    by_month: Annotated[tuple[MonthHours, ...], Field(min_length=1, max_length=12)]
    months: Annotated[tuple[Month, ...], Field(min_length=1), AfterValidator(_in_order)] = WINTER

    def bins(self) -> Iterator[tuple[int, int, int]]:
        """Yield (month, °C rounded down, hours)."""
        for part in self.by_month:
            for offset, hours in enumerate(part.hours):
                yield part.month, part.first_c + offset, hours


def climate_of(name: str, source: str, counts: Mapping[tuple[int, int], int]) -> Climate:
    """Return the climate of hours counted by (month, °C rounded down)."""
    parts = []
    for month in sorted({month for month, _ in counts}):
        degrees = [celsius for known, celsius in counts if known == month]
        first, last = min(degrees), max(degrees)
        hours = tuple(counts.get((month, celsius), 0) for celsius in range(first, last + 1))
        parts.append(MonthHours(month=month, first_c=first, hours=hours))
    return Climate(name=name, source=source, by_month=tuple(parts))
