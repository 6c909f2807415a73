"""What a log learns from, what is due when, and what faults look like."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.base.models import CatalogueId, Frozen, Name, unique_ids
from gale_nook.core.base.sourced import Sourced

Text = Annotated[str, Field(min_length=4, max_length=400)]
Share = Annotated[float, Field(gt=0, lt=1)]
Every = Annotated[float, Field(gt=0, le=100_000)] | None
Likely = dict[CatalogueId, Share]


class ServiceKind(Frozen):
    """Something that is due again and again, or once.

    Attributes:
        every_h, every_l, every_starts, months: of running, of fuel, of starts, of the calendar;
            whichever comes first.
        before_month: due once a year before this month begins.
        after_h: due once, after the first hours of running.
        after_soot_h: due when so many idle hours have sooted it.
        nights_count: a night that it ran is as good.
        licensed: done by those whom the heater's manual allows.
    """

    id: CatalogueId
    label: Name
    text: Text
    every_h: Every = None
    every_l: Every = None
    every_starts: Every = None
    months: Annotated[int, Field(ge=1, le=120)] | None = None
    before_month: Annotated[int, Field(ge=1, le=12)] | None = None
    after_h: Every = None
    after_soot_h: Every = None
    parts: tuple[CatalogueId, ...] = ()
    nights_count: bool = False
    licensed: bool = False


class CauseKind(Frozen):
    """A cause of a fault.

    Attributes:
        prior: how often it is met, against the others.
        remedy: what is done about it; caution: id of the caution that belongs to it.
        licensed: done by those whom the heater's manual allows.
    """

    id: CatalogueId
    label: Name
    prior: Annotated[float, Field(gt=0, le=1000)]
    remedy: Text
    caution: Annotated[str, Field(max_length=60)] = ""
    licensed: bool = False


class Telling(Frozen):
    """A symptom, or what a check shows to be off: how likely it is with each cause.

    Attributes:
        minutes: that it takes to check; 0 for a symptom.
        of: chance with a cause, by its id; `unlikely` with any other.
    """

    id: CatalogueId
    label: Name
    minutes: Annotated[float, Field(ge=0, le=240)] = 0.0
    of: Likely


class Margin(Frozen):
    """A check of the plan that makes causes likelier where its margin is thin or gone."""

    rule: Annotated[str, Field(max_length=60)]
    causes: Annotated[tuple[CatalogueId, ...], Field(min_length=1)]
    times: Annotated[float, Field(gt=1, le=20)]


class Sign(Frozen):
    """Something in the log that makes causes likelier.

    Attributes:
        sign: idle hours since a burn-off; kelvins of frost in the last week; percent a month of
            drift; nights with a tick among the last ten.
        least: from which it counts.
        words: what it says of them.
    """

    sign: Literal["soot", "cold", "drift", "smoke", "smell"]
    least: Annotated[float, Field(gt=0, le=1000)]
    causes: Annotated[tuple[CatalogueId, ...], Field(min_length=1)]
    times: Annotated[float, Field(gt=1, le=20)]
    words: Text


class LogBook(Sourced):
    """All of it.

    Attributes:
        spread_loss, …: how far survey and sheet may be off, one standard deviation, as a share.
        night_over_lowest_k: of a night's mean over its lowest.
        person_w: that somebody inside gives.
        stick_mm: that a dip may be off; litres_share, litres_least: by which the litres of a night
            may differ from any model; charge_share, charge_least_ah: the charge.
        soot_per_idle_h: that an hour at least output adds to the soot index.
        unlikely: chance of a symptom, and of a check to be off, with any cause that is not named.
    """

    spread_loss: Share
    spread_air: Share
    spread_consumption: Share
    spread_least: Share
    spread_charge: Share
    night_over_lowest_k: Annotated[float, Field(ge=0, le=15)]
    person_w: Annotated[float, Field(ge=0, le=200)]
    stick_mm: Annotated[float, Field(gt=0, le=30)]
    litres_share: Share
    litres_least: Annotated[float, Field(gt=0, le=2)]
    charge_share: Share
    charge_least_ah: Annotated[float, Field(gt=0, le=20)]
    reasons_high: Annotated[tuple[Text, ...], Field(min_length=1)]
    reasons_low: Annotated[tuple[Text, ...], Field(min_length=1)]
    services: Annotated[tuple[ServiceKind, ...], AfterValidator(unique_ids)]
    soot_per_idle_h: Annotated[float, Field(gt=0, le=10)]
    causes: Annotated[tuple[CauseKind, ...], AfterValidator(unique_ids)]
    margins: tuple[Margin, ...]
    signs: tuple[Sign, ...] = ()
    symptoms: Annotated[tuple[Telling, ...], AfterValidator(unique_ids)]
    checks: Annotated[tuple[Telling, ...], AfterValidator(unique_ids)]
    unlikely: Share

    @model_validator(mode="after")
    def _known(self) -> LogBook:
        causes = {cause.id for cause in self.causes}
        named = {c for each in (*self.symptoms, *self.checks) for c in each.of}
        named |= {c for margin in self.margins for c in margin.causes}
        named |= {c for sign in self.signs for c in sign.causes}
        if not named <= causes:
            raise ValueError(f"there is no such cause: {', '.join(sorted(named - causes))}")
        return self

    def cause(self, cause_id: str) -> CauseKind | None:
        return next((cause for cause in self.causes if cause.id == cause_id), None)
