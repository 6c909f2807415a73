"""What is written down after a night, a filling, a service, a fault."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import CatalogueId, Frozen, ItemId, Note

Kind = Literal["night", "fuel", "service", "fault"]
DAYS_BEFORE_MONTH = (0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334)
DAYS_OF_MONTH = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)


def day_number(on: str) -> int:
    """Return the days from the beginning of the year 1 to a day written as YYYY-MM-DD.

    >>> day_number("2026-03-01") - day_number("2026-02-27")
    2
    """
    year, month, day = (int(each) for each in on.split("-"))
    before = year - 1
    leap = month > 2 and _is_leap(year)
    whole_years = 365 * before + before // 4 - before // 100 + before // 400
    return whole_years + DAYS_BEFORE_MONTH[month - 1] + leap + day


def _is_leap(year: int) -> bool:
    return year % 4 == 0 and (year % 100 != 0 or year % 400 == 0)


def _real_day(on: str) -> str:
    year, month, day = (int(each) for each in on.split("-"))
    leap = month == 2 and _is_leap(year)
    if not 1 <= month <= 12 or not 1 <= day <= DAYS_OF_MONTH[month - 1] + leap:
        raise ValueError("is no day of the calendar; write it as 2026-11-30")
    return on


Day = Annotated[
    str, Field(max_length=10, pattern=r"^(19|20)\d{2}-\d{2}-\d{2}$"), AfterValidator(_real_day)
]
Depth = Annotated[float, Field(ge=0, le=2_000)]


class LogEntry(Frozen):
    """One entry; None and empty for what nobody wrote down.

    Attributes:
        stick_before_mm, stick_after_mm: fuel on the dip-stick as the night began and ended.
        litres: used, where they were measured otherwise.
        refilled_l: filled in between the two dips; in a filling, what was filled.
        hours_h: that the heater was on; set_c: to which temperature.
        lowest_c: outside, the coldest of the night.
        charge_ah: that it drew from the battery.
        drove: on the fuel of the same tank, between the dips; slope: the vehicle stood on one.
        code: that the controller showed.
        photo: file of a picture that is kept with the job; empty for none.
        done: what was serviced, by its id.
        cause: of a fault, by its id, once it is known.
    """

    id: ItemId
    kind: Kind = "night"
    on: Day
    stick_before_mm: Depth | None = None
    stick_after_mm: Depth | None = None
    litres: Annotated[float, Field(ge=0, le=200)] | None = None
    refilled_l: Annotated[float, Field(ge=0, le=200)] = 0.0
    hours_h: Annotated[float, Field(gt=0, le=48)] | None = None
    set_c: Annotated[float, Field(ge=0, le=40)] | None = None
    lowest_c: Annotated[float, Field(ge=-60, le=40)] | None = None
    people: Annotated[int, Field(ge=0, le=20)] | None = None
    charge_ah: Annotated[float, Field(ge=0, le=2_000)] | None = None
    drove: bool = False
    slope: bool = False
    smoke: bool = False
    smell: bool = False
    noise: bool = False
    code: Annotated[str, Field(max_length=20)] = ""
    note: Note = ""
    photo: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")] = ""
    done: Annotated[tuple[CatalogueId, ...], Field(max_length=40)] = ()
    cause: Annotated[str, Field(max_length=60)] = ""
