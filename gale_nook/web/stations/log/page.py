"""What the log station shows."""

from __future__ import annotations

import datetime
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from markupsafe import Markup

from gale_nook.core.apply import applied
from gale_nook.core.catalogue.log import LogBook, ServiceKind
from gale_nook.core.fitted.night import fitted_night
from gale_nook.core.fuel.sources import offers
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.heater.choice import judgements
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.log.commands import TakeLearned
from gale_nook.core.log.entries import LogEntry, day_number
from gale_nook.core.log.learning import Factor
from gale_nook.core.log.season import NightLine, Season, season
from gale_nook.core.log.service import Due, due_list, runs
from gale_nook.core.plan.heat import Learned
from gale_nook.core.power.nights import nights as battery_nights
from gale_nook.drawing.nights import nights_strip
from gale_nook.drawing.svg import svg
from gale_nook.store.bounded import BoundedCache
from gale_nook.store.job_store import JobStore
from gale_nook.web.kept import kept_jobs
from gale_nook.web.page import StationPage

MOST_ON_STRIP, MOST_LISTED = 90, 40
FACTOR_WORDS = {
    "loss": "loss of walls, windows and ribs",
    "air": "air that is renewed",
    "consumption": "fuel for the heat",
    "least": "least output",
    "charge": "charge while it runs",
}
Kept = tuple[tuple[LogEntry, ...], Season]
MOST_BYTES, NIGHT_BYTES = 40_000_000, 2_500
Service = tuple[tuple[Due, ...], float]
SERVICE_BYTES = 10_000
_services: BoundedCache[tuple[str, int, int, int, str], Service] = BoundedCache(2_000_000)
_seasons: BoundedCache[tuple[str, int, int, int], Kept] = BoundedCache(MOST_BYTES)


@dataclass(frozen=True, slots=True)
class NightField:
    """A field of a night's entry: what it is called, and its kind of quantity."""

    name: str
    words: str
    kind: str


NIGHT_FIELDS = tuple(
    NightField(*each)
    for each in (
        ("on", "evening of", "text"),
        ("stick_before_mm", "stick before", "mm"),
        ("stick_after_mm", "stick after", "mm"),
        ("litres", "or litres used", "l"),
        ("refilled_l", "filled in between", "l"),
        ("hours_h", "hours on", "h"),
        ("set_c", "set to", "c"),
        ("lowest_c", "lowest outside", "c"),
        ("people", "people inside", "number"),
        ("charge_ah", "charge used", "ah"),
        ("code", "code shown", "text"),
        ("note", "note", "text"),
    )
)
NIGHT_TICKS = (
    ("drove", "driven on the same tank"),
    ("slope", "stick read on a slope"),
    ("smoke", "smoke"),
    ("smell", "smell"),
    ("noise", "noise"),
)


def today() -> str:
    """The day, as it is written in entries."""
    return datetime.datetime.now(tz=datetime.UTC).date().isoformat()


def fill(page: StationPage, db: JobStore) -> None:
    """Give the page its entries: they are not of the plan."""
    if isinstance(page, LogPage):
        page.entries, page.season = season_of(db, page.job_id, page.head.number, page.job)
        page.due, page.soot = _service_of(db, page)


def season_of(db: JobStore, job_id: int, revision: int, job: Job) -> Kept:
    """Return the entries of a job with their season; kept as long as neither changes."""
    stamp = db.log_stamp(job_id)
    if stamp == 0:
        return (), season(job, ())

    def made() -> Kept:
        entries = db.log(job_id)
        return entries, season(job, entries)

    key = (str(db.engine.url), job_id, revision, stamp)
    return _seasons.of(key, made, NIGHT_BYTES * stamp_size(db, job_id))


def _service_of(db: JobStore, page: LogPage) -> Service:
    """Return what is due and the soot index; kept for the day, as long as the season is."""
    day = page.today

    def made() -> Service:
        burnt = [entry.on for entry in page.entries if "burn-off" in entry.done]
        since = day_number(max(burnt)) if burnt else 0
        due = due_list(page.job, page.entries, page.season.nights, day)
        return due, runs(page.job, page.season.nights).since(since).soot

    key = (str(db.engine.url), page.job_id, page.head.number, db.log_stamp(page.job_id), day)
    return _services.of(key, made, SERVICE_BYTES)


def stamp_size(db: JobStore, job_id: int) -> int:
    """How many entries there are, about."""
    return max(db.log_count(job_id), 1)


class LogPage(StationPage):
    """What the log station shows.

    Attributes:
        soot: the soot index since the last burn-off, in idle hours.
    """

    is_titled = True
    has_style = True
    scrolls = True
    entries: tuple[LogEntry, ...] = ()
    due: tuple[Due, ...] = ()
    soot: float = 0.0
    season: Season = Season((), None, None, None, None, 0.0, 0.0, 0.0, 0.0)

    @property
    def book(self) -> LogBook:
        return self.catalogue.log

    @property
    def today(self) -> str:
        return today()

    @property
    def night_fields(self) -> tuple[NightField, ...]:
        return NIGHT_FIELDS

    @property
    def night_ticks(self) -> tuple[tuple[str, str], ...]:
        return NIGHT_TICKS

    def typed(self, entry: LogEntry | None, field: NightField) -> str:
        """What stands in a field of the form: of an entry, or of a fresh one."""
        if entry is None:
            return self.today if field.name == "on" else ""
        value = getattr(entry, field.name)
        if field.kind == "text":
            return str(value)
        return self.amount(value, field.kind) if value is not None else ""

    def told(self, value: float | None, kind: str) -> str:
        """A value of a table; a dash for what is not known."""
        return self.amount(value, kind) if value is not None else "–"

    @property
    def strip(self) -> Markup:
        scene = nights_strip(self.season.nights[-MOST_ON_STRIP:])
        return Markup(svg(scene)) if scene is not None else Markup("")

    @property
    def nights(self) -> list[NightLine]:
        """The last nights, the newest first."""
        return list(reversed(self.season.nights[-MOST_LISTED:]))

    @property
    def others(self) -> list[LogEntry]:
        """Fillings, services and faults, the newest first."""
        found = [entry for entry in self.entries if entry.kind != "night"]
        return list(reversed(found))[:MOST_LISTED]

    @property
    def factors(self) -> list[tuple[str, Factor, float]]:
        """What was learned: words, the factor, and what the plan has now."""
        if self.season.fit is None:
            return []
        now = self.plan.heat.learned
        return [
            (FACTOR_WORDS[each.name], each, getattr(now, each.name))
            for each in self.season.fit.factors
        ]

    @property
    def taking(self) -> dict[str, Any] | None:
        """The command that takes over what was learned; None where there is nothing new."""
        fit = self.season.fit
        if fit is None or fit.learned == self.plan.heat.learned:
            return None
        return TakeLearned(learned=fit.learned).model_dump(mode="json")

    @property
    def giving_up(self) -> dict[str, Any] | None:
        """The command that goes back to survey and sheet; None where nothing was taken over."""
        if self.plan.heat.learned == Learned():
            return None
        return TakeLearned(learned=Learned()).model_dump(mode="json")

    @cached_property
    def effect(self) -> list[tuple[str, str, str]]:
        """What taking it over would do: what it is about, as it is, as it would be."""
        fit = self.season.fit
        if fit is None or self.taking is None:
            return []
        after = self.job.with_plan(applied(self.job, TakeLearned(learned=fit.learned)))
        now, then = design_loss(self.job), design_loss(after)
        results = [
            (
                "needed on the coldest night",
                self.amount(now.need_w, "w"),
                self.amount(then.need_w, "w"),
            )
        ]
        results += _heaters(self.job, after)
        sheet = heater_sheet(self.job)
        if sheet is not None:
            fuel = [self.amount(fitted_night(j, sheet.id).fuel_l, "l") for j in (self.job, after)]
            results.append(("fuel of the coldest night", fuel[0], fuel[1]))
        results += _autonomy(self.job, after)
        before_n, after_n = battery_nights(self.job), battery_nights(after)
        if before_n is not None and after_n is not None:
            kind = "ah"
            told = (before_n.heater_ah, after_n.heater_ah)
            now_ah, then_ah = (self.amount(each, kind) for each in told)
            results.append(("charge of the coldest night", now_ah, then_ah))
            counts = [f"{min(each.nights, 999):.1f}" for each in (before_n, after_n)]
            results.append(("nights on the battery", counts[0], counts[1]))
        return results

    def service(self, item: str) -> ServiceKind | None:
        return next((kind for kind in self.book.services if kind.id == item), None)

    def cause_words(self, cause: str) -> str:
        found = self.book.cause(cause)
        return found.label if found is not None else cause

    def percent(self, factor: float) -> str:
        """A factor as what it adds, in words."""
        share = round((factor - 1) * 100)
        return f"{share:+d} %"


def _heaters(now: Job, then: Job) -> list[tuple[str, str, str]]:
    """Which heater is best for the need."""
    names = [
        next(
            (each.sheet.label for each in judgements(job) if each.recommended), "none of those here"
        )
        for job in (now, then)
    ]
    return [("heater that suits best", names[0], names[1])]


def _autonomy(now: Job, then: Job) -> list[tuple[str, str, str]]:
    """For how many of the coldest nights the fuel lasts, from the source that was chosen."""
    words = []
    for job in (now, then):
        sheet = heater_sheet(job)
        per_night = fitted_night(job, sheet.id).fuel_l if sheet is not None else None
        offered = offers(job, per_night)
        chosen = next((each for each in offered if each.source == job.plan.fuel.source), None)
        if chosen is None or chosen.nights is None:
            return []
        words.append(f"{chosen.nights:.1f}")
    return [("coldest nights that the fuel lasts", words[0], words[1])]


def job_of(db: JobStore, job_id: int, book: Any) -> Job:
    """The job as it stands."""
    return kept_jobs.of(db.head(job_id).plan, book)
