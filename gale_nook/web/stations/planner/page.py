"""What the planner shows: wishes, what counts, layouts and what clears what is over."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, get_args

from markupsafe import Markup

from gale_nook.core.apply import applied
from gale_nook.core.book.document import BookWishes
from gale_nook.core.catalogue.planner import Effort, MeasureKind
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.fuel.sources import against
from gale_nook.core.job import Job
from gale_nook.core.plan.wishes import PartWish, Pinned, Weights
from gale_nook.core.plan.words import SOURCE_WORDS
from gale_nook.core.planner.commands import AddPartWish, SetPinned, SetSources
from gale_nook.core.planner.layouts import Layout
from gale_nook.core.planner.measures import compared, measures_of
from gale_nook.core.planner.search import LayoutSearch
from gale_nook.core.planner.wished import Broken, broken_wishes
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.core.stations import BY_WORD
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.drawing.layouts import layout_picture
from gale_nook.drawing.svg import svg
from gale_nook.store.job_store import JobStore
from gale_nook.web.page import StationPage

EFFORTS: tuple[tuple[Effort, str], ...] = (
    ("quick", "quickly"),
    ("usual", "as usual"),
    ("thorough", "thoroughly"),
)
WISH_WORDS = (
    ("near", "heater near it"),
    ("not-in", "heater not there"),
    ("keep", "nothing into it or through"),
)
SIDES = (("any", "either side"), ("left", "on the left"), ("right", "on the right"))
FILL_SIDES = (
    ("any", "from any side"),
    *((side, f"from the {side}") for side in ("left", "right", "front", "rear")),
)


@dataclass(frozen=True, slots=True)
class MeasureCell:
    """One measure of one layout.

    Attributes:
        than: "better" or "worse" than the first of those compared; empty for alike.
    """

    text: str
    than: str = ""


@dataclass(frozen=True, slots=True)
class LayoutCard:
    """A layout, ready to print."""

    layout: Layout
    picture: Markup
    measures: tuple[tuple[str, str], ...]
    tightest: str
    command: dict[str, Any]


def measure_texts(
    job: Job, values: dict[str, float], system: UnitSystem
) -> tuple[tuple[str, str], ...]:
    """Return measures with their labels, as texts."""
    return tuple(
        (kind.label, measure_text(job, kind, values[kind.id], system))
        for kind in job.catalogue.planner.measures
        if kind.id in values
    )


def measure_text(job: Job, kind: MeasureKind, value: float, system: UnitSystem) -> str:
    """Return a measure with its unit."""
    if kind.unit == "m":
        return format_quantity(round(value * 1000, -1), "mm", system)
    if kind.unit == "money":
        return f"{job.plan.fuel.currency} {value:.0f}"
    if kind.unit == "h":
        return f"{value:.0f} h"
    if kind.unit in {"l", "w", "db"}:
        return format_quantity(round(value, 0), kind.unit, system)
    return f"{value:.0f}"


class PlannerPage(StationPage):
    """What the planner shows.

    Attributes:
        book_wishes: of the workshop's own book, to begin with.
    """

    book_wishes: tuple[BookWishes, ...] = ()

    has_style = True
    has_board = True
    board_hint = "paint where the heater is wanted, or not"
    scripts = ("sketch.js", "layouts.js")

    @property
    def wishes(self) -> Any:
        return self.plan.wishes

    sides = SIDES
    fill_sides = FILL_SIDES

    @property
    def parts(self) -> list[tuple[str, str]]:
        """Surveyed parts that wishes can be about."""
        found = (
            (s.id, s.name) for s, kind, _ in surveyed_parts(self.job) if kind.where == "inside"
        )
        return sorted(found, key=lambda part: part[1])

    @property
    def next_part_wish(self) -> dict[str, Any] | None:
        """The command that adds a wish about a part; None without any part."""
        if not self.parts:
            return None
        wish = PartWish(id=fresh_id(self.plan.wishes.parts, "wish"), part=self.parts[0][0])
        return AddPartWish(item=wish).model_dump(mode="json")

    @property
    def wish_words(self) -> tuple[tuple[str, str], ...]:
        return WISH_WORDS

    @property
    def pins(self) -> list[tuple[str, bool, dict[str, Any]]]:
        """Stations that can be pinned: label, whether one is, and the command that turns it."""
        now = self.plan.wishes.pinned
        results = []
        for word in get_args(Pinned):
            station = BY_WORD[word]
            if station.shown(self.job):
                after = tuple(w for w in now if w != word) if word in now else (*now, word)
                command = SetPinned(pinned=after).model_dump(mode="json")
                results.append((station.label, word in now, command))
        return results

    @property
    def sources(self) -> list[tuple[str, bool, dict[str, Any]]]:
        """Sources of fuel that there can be: words, whether one is wished, what turns it."""
        now = self.plan.wishes.sources
        results = []
        for source, words in SOURCE_WORDS.items():
            if source in now or not against(self.job, source):
                after = tuple(s for s in now if s != source) if source in now else (*now, source)
                command = SetSources(sources=after).model_dump(mode="json")
                results.append((words, source in now, command))
        return results

    @property
    def measure_kinds(self) -> tuple[MeasureKind, ...]:
        return self.catalogue.planner.measures

    @property
    def weights(self) -> Weights:
        return self.plan.wishes.weights

    @property
    def efforts(self) -> tuple[tuple[Effort, str], ...]:
        return EFFORTS

    @property
    def over_count(self) -> int:
        return self.check.tally()[Verdict.OVER.value]

    @property
    def broken(self) -> tuple[Broken, ...]:
        """Wishes that the plan breaks as it is."""
        return broken_wishes(self.job) if self.plan.spot is not None else ()

    @property
    def now(self) -> tuple[tuple[str, str], ...]:
        """Measures of the layout that there is."""
        if self.plan.spot is None or self.plan.pipes.exhaust is None:
            return ()
        return self.measures(measures_of(self.job))

    def measures(self, values: dict[str, float]) -> tuple[tuple[str, str], ...]:
        """Measures with their labels, as texts."""
        return measure_texts(self.job, values, self.system)

    def measure_text(self, kind: MeasureKind, value: float) -> str:
        """A measure with its unit."""
        return measure_text(self.job, kind, value, self.system)

    def cards(self, found: LayoutSearch) -> list[LayoutCard]:
        """The layouts that were found, each drawn small."""
        return [
            LayoutCard(
                each,
                Markup(svg(layout_picture(self.laid(each), (), f"layout-{each.letter}"))),
                self.measures(each.measures),
                f"{each.tightest.title}: {self.say(each.tightest.sentence)}"
                if each.tightest
                else "",
                each.command.model_dump(mode="json", exclude_none=True),
            )
            for each in found.layouts
        ]

    def laid(self, layout: Layout) -> Job:
        """The job with a layout."""
        return self.job.with_plan(applied(self.job, layout.command))

    def side_by_side(
        self, layouts: Sequence[Layout]
    ) -> list[tuple[Layout, Markup, list[MeasureCell]]]:
        """Layouts with their drawings, in which the others are drawn faintly, and their measures
        against the first.
        """
        jobs = [self.laid(each) for each in layouts]
        results = []
        for number, each in enumerate(layouts):
            others = tuple(job for other, job in enumerate(jobs) if other != number)
            drawing = layout_picture(jobs[number], others, f"compare-{each.letter}", large=True)
            against_first = compared(each.measures, layouts[0].measures)
            cells = []
            for kind in self.measure_kinds:
                text = "–"
                if kind.id in each.measures:
                    text = self.measure_text(kind, each.measures[kind.id])
                than = "better" if kind.id in against_first.better else ""
                cells.append(MeasureCell(text, "worse" if kind.id in against_first.worse else than))
            results.append((each, Markup(svg(drawing)), cells))
        return results

    def stop_words(self, found: LayoutSearch) -> str:
        """At which stations choices came to a stop."""
        told = [
            f"{BY_WORD[word].label if word in BY_WORD else word} {number}"
            for word, number in sorted(found.stops.items(), key=lambda each: -each[1])
        ]
        return ", ".join(told)

    def station_label(self, word: str) -> str:
        return BY_WORD[word].label if word in BY_WORD else word


def fill(page: StationPage, db: JobStore) -> None:
    """Give the page what is not of the plan."""
    if isinstance(page, PlannerPage):
        page.book_wishes = db.held_book().book.wishes
