"""What the first fire station shows."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from markupsafe import Markup

from gale_nook.core.base.phases import PHASES
from gale_nook.core.catalogue.firing import FaultKind, FiringBook, PhaseTold, PreCheck
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.firing.expected import Expected, PhaseExpected, expected_phases
from gale_nook.core.firing.looks import looks_for
from gale_nook.core.firing.model import SIMULATED
from gale_nook.core.firing.places import SurveyedPlace, survey_begun, surveyed_places
from gale_nook.core.firing.pre_checks import pre_checks, rechecks
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.fuel.priming import Prime, prime
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.drawing.strip import ROWS, strip
from gale_nook.drawing.svg import svg
from gale_nook.web.page import StationPage

KINDS = {"voltage_v": "v", "current_a": "a", "pump_hz": "hz", "outlet_c": "c"}
WORDS = {name: words for name, words, _ in ROWS}
CO_PLACES = ("at the sleeper's head", "beside the heater", "near the pass-through")
CONTROLLER_CARDS = ("start and stop", "modes", "timer", "burn-off", "codes")
SMOKE = (("not-looked", "not looked"), ("none", "none"), ("some", "some"), ("thick", "thick"))


@dataclass(frozen=True, slots=True)
class Cell:
    """One reading of one phase: where it is typed, and what is expected; empty for nothing."""

    name: str
    words: str
    address: str
    expected: str


@dataclass(frozen=True)
class PhaseRow:
    """One phase, ready to print."""

    told: PhaseTold
    begins: str
    lasts: str
    cells: tuple[Cell, ...]

    @property
    def at(self) -> str:
        return f"firing.readings.{self.told.id}"


@dataclass(frozen=True)
class Look:
    """What is over, where it has the same causes, and where to look, in order."""

    titles: tuple[str, ...]
    sentences: tuple[str, ...]
    looks: tuple[str, ...]


class FiringPage(StationPage):
    """What the first fire station shows."""

    is_titled = True
    has_style = True
    scrolls = True

    @property
    def book(self) -> FiringBook:
        return self.catalogue.firing

    @property
    def has_heater(self) -> bool:
        return heater_sheet(self.job) is not None

    @cached_property
    def expected(self) -> tuple[PhaseExpected, ...]:
        return expected_phases(self.job)

    @property
    def strip(self) -> Markup:
        labels = {told.id: told.label for told in self.book.phases}
        scene = strip(self.expected, self.plan.firing, labels)
        return Markup(svg(scene)) if scene is not None else Markup("")

    @property
    def phases(self) -> list[PhaseRow]:
        return [self._row(each) for each in self.expected]

    @property
    def reading_words(self) -> tuple[str, ...]:
        """What is read in each phase."""
        return tuple(WORDS.values())

    def _row(self, phase: PhaseExpected) -> PhaseRow:
        at = f"firing.readings.{phase.phase}"
        cells = tuple(
            Cell(name, words, f"{at}.{name}", self._band(phase.values.get(name), KINDS[name]))
            for name, words in WORDS.items()
        )
        return PhaseRow(
            self.book.phase(phase.phase),
            self._span(phase.begins_s if phase.phase != "check" else None),
            self._span(phase.lasts_s),
            cells,
        )

    def _band(self, band: Expected | None, kind: str) -> str:
        """A band in words; empty for none."""
        if band is None:
            return ""
        if band.high == 0:
            return "none"
        low = self.amount(round(band.low, 2), kind)
        return f"{low.rsplit(' ', 1)[0]} to {self.amount(round(band.high, 2), kind)}"

    @staticmethod
    def _span(span: tuple[float, float] | None) -> str:
        """A span of seconds in words; in minutes where it is long."""
        if span is None or span[1] == 0:
            return ""
        if span[1] >= 600:
            return f"{span[0] / 60:.0f} to {span[1] / 60:.0f} min"
        return f"{span[0]:.0f} to {span[1]:.0f} s"

    @property
    def checks(self) -> tuple[PreCheck, ...]:
        return pre_checks(self.job)

    def caution_of(self, check: PreCheck) -> str:
        """The caution that belongs to a check; empty for none, and where one before has it."""
        first = next((each for each in self.checks if each.caution == check.caution), None)
        if first is not check:
            return ""
        return next((c.text for c in self.catalogue.cautions if c.id == check.caution), "")

    @property
    def checks_done(self) -> int:
        known = {check.id for check in self.checks}
        return sum(check in known for check in self.plan.firing.ticked)

    @property
    def rechecks(self) -> tuple[PreCheck, ...]:
        return rechecks(self.job)

    @property
    def rechecks_done(self) -> int:
        known = {check.id for check in self.rechecks}
        return sum(check in known for check in self.plan.firing.rechecked)

    @property
    def stops(self) -> list[Finding]:
        """What was read that can hurt somebody: the firing ends there."""
        found = self.check.of(self.station.word)
        return [f for f in found if f.verdict is Verdict.OVER and f.hazard]

    @property
    def controller_begun(self) -> list[tuple[str, dict[str, Any]]]:
        """Cards of the controller that are usual and not there yet, with the command that adds
        each.
        """
        cards = self.plan.firing.controller
        taken = {card.title for card in cards}
        titles = [title for title in CONTROLLER_CARDS if title not in taken]
        results = []
        for title in [*titles, "another"]:
            item = {"id": fresh_id(cards, "use"), "title": title}
            added = {"op": "add", "collection": "firing.controller", "item": item}
            results.append((title, added))
        return results

    @property
    def prime(self) -> Prime | None:
        run = fuel_run(self.job)
        return prime(self.job, run) if run is not None else None

    @property
    def looks(self) -> list[Look]:
        """Where to look, of everything that is over here: what has the same causes together, the
        controller's code after what was read.
        """
        over = [f for f in self.check.of(self.station.word) if f.verdict is Verdict.OVER]
        over.sort(key=lambda finding: finding.rule == "firing.code")
        together: dict[tuple[str, ...], list[Finding]] = {}
        for finding in over:
            texts = looks_for(self.job, finding)
            if texts:
                together.setdefault(texts, []).append(finding)
        return [
            Look(
                tuple(finding.title for finding in findings),
                tuple(self.say(finding.sentence) for finding in findings),
                tuple(self.say(text) for text in texts),
            )
            for texts, findings in together.items()
        ]

    @cached_property
    def places(self) -> dict[str, SurveyedPlace]:
        return {place.id: place for place in surveyed_places(self.job)}

    @property
    def survey_begun(self) -> dict[str, Any] | None:
        """The command that lists the places of this plan; None where there are none."""
        places = [place.model_dump(mode="json") for place in survey_begun(self.job)]
        return {"op": "start-survey", "places": places} if places else None

    @property
    def faults(self) -> tuple[FaultKind, ...]:
        return self.book.simulation.faults

    @property
    def co_begun(self) -> dict[str, Any]:
        """The command that adds a place where carbon monoxide is read."""
        taken = {reading.name for reading in self.plan.firing.co}
        name = next((each for each in CO_PLACES if each not in taken), "another place")
        item = {"id": fresh_id(self.plan.firing.co, "co"), "name": name, "after_min": 10}
        return {"op": "add", "collection": "firing.co", "item": item}

    @property
    def smoke_choices(self) -> tuple[tuple[str, str], ...]:
        return SMOKE

    @property
    def simulated(self) -> bool:
        """Whether what was read is of the simulated heater."""
        trace = self.plan.firing.trace
        return trace is not None and trace.source == SIMULATED

    @property
    def begun(self) -> bool:
        return self.plan.firing.begun

    @property
    def read_phases(self) -> int:
        """Phases of which something was read."""
        readings = self.plan.firing.readings
        return sum(
            reading != type(reading)(id=phase)
            for phase, reading in zip(PHASES, readings, strict=True)
        )
