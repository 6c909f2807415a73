"""Findings as cards: everything a template prints, already in the reader's words and units."""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass
from functools import lru_cache
from urllib.parse import urlencode

from markupsafe import Markup

from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_number, format_quantity
from gale_nook.core.quantities.sentences import say
from gale_nook.core.remedies import rule_of
from gale_nook.drawing.finding_marks import frame_of, mark_numbers
from gale_nook.drawing.gauge import gauge
from gale_nook.drawing.scene import Scene
from gale_nook.drawing.svg import svg

VERDICT_WORDS = {
    Verdict.OVER: "over",
    Verdict.UNKNOWN: "to measure",
    Verdict.TIGHT: "tight",
    Verdict.ACCEPTED: "accepted",
    Verdict.CLEAR: "clear",
}
VERDICT_MARKS = {
    Verdict.OVER: "✕",
    Verdict.UNKNOWN: "?",
    Verdict.TIGHT: "≈",
    Verdict.ACCEPTED: "±",
    Verdict.CLEAR: "✓",
}
MOST_ASSUMED = 4  # names in one line
KEPT_CARDS = 2048
_KINDS = {
    "mm": "mm",
    "deg": "deg",
    "W": "w",
    "C": "c",
    "m/s": "m_s",
    "cm²": "cm2",
    "K": "k",
    "dB": "db",
    "V": "v",
    "A": "a",
    "/s": "hz",
    "s": "s",
    "ppm": "ppm",
}


@dataclass(frozen=True, slots=True, eq=False)  # what was printed of a card is kept by the card
class FindingCard:
    """One finding, ready to print.

    Attributes:
        anchor: its name in addresses.
        number: on the drawing; None where it is not on it.
        frame: that shows it there; empty for none.
    """

    rule: str
    run: str
    subject: str
    station: str
    verdict: str
    word: str
    mark: str
    title: str
    sentence: str
    anchor: str
    number: int | None
    frame: str
    measured: str
    limit: str
    margin: str
    whose: str
    source: str
    gauge_scene: Scene | None
    has_remedy: bool
    can_accept: bool
    hazard: str
    lapsed: str
    assumed: str
    accepted_reason: str
    accepted_by: str
    limit_name: str
    least: str
    most: str

    @property
    def gauge(self) -> Markup:
        """The gauge for a page; empty where there is nothing to draw."""
        return Markup(svg(self.gauge_scene)) if self.gauge_scene is not None else Markup("")

    @property
    def about(self) -> dict[str, str]:
        """Which finding it is."""
        return {"rule": self.rule, "run": self.run, "subject": self.subject}

    @property
    def query(self) -> str:
        return urlencode(self.about)

    @property
    def withdraw(self) -> dict[str, str]:
        """The command that withdraws its acceptance."""
        return {"op": "withdraw", **self.about}

    @property
    def drop_limit(self) -> dict[str, str]:
        """The command that goes back to the given limit."""
        return {"op": "drop-limit", "limit_id": self.limit_name}

    @property
    def summary(self) -> str:
        """Limit and margin in a line; of a question, the answer and the one asked for."""
        if self.margin:
            return f"limit {self.limit}, margin {self.margin}"
        return f"{self.measured}; asked for: {self.limit}"

    @property
    def found(self) -> str:
        return f"{'Measured' if self.margin else 'Found:'} {self.measured}."

    @property
    def tells(self) -> str:
        """Its figure in the list: the margin; nothing where there is none, of a question or of what
        is to be measured.
        """
        return self.margin if self.verdict != Verdict.UNKNOWN.value else ""

    @property
    def told(self) -> str:
        """Its figure and its verdict in a few words."""
        return f"{self.tells} {self.word}".strip()


def anchor_of(finding: Finding) -> str:
    """Return a finding's name in addresses."""
    about = f"{finding.rule}-{finding.run}" if finding.run else finding.rule
    return re.sub(r"[^a-z0-9]", "-", f"{about}-{finding.subject}".lower())


def finding_cards(
    findings: tuple[Finding, ...], system: UnitSystem, editable: Collection[str] = ()
) -> list[FindingCard]:
    """Return the cards of findings, in their order; `editable` names the limits that can be
    replaced by one's own.
    """
    numbers = mark_numbers(findings)
    own = frozenset(editable)
    return [_card(finding, system, own, numbers.get(finding.key)) for finding in findings]


@lru_cache(maxsize=KEPT_CARDS)  # while something is dragged, most findings stay as they are
def _card(
    finding: Finding, system: UnitSystem, editable: frozenset[str], number: int | None
) -> FindingCard:
    rule, open_verdict = rule_of(finding), finding.verdict in {Verdict.OVER, Verdict.UNKNOWN}
    return FindingCard(
        rule=finding.rule,
        run=finding.run,
        subject=finding.subject,
        station=finding.station,
        verdict=finding.verdict.value,
        word=VERDICT_WORDS[finding.verdict],
        mark=VERDICT_MARKS[finding.verdict],
        title=finding.title,
        sentence=say(finding.sentence, system),
        anchor=anchor_of(finding),
        number=number,
        frame=frame.text if (frame := frame_of(finding)) is not None else "",
        measured=measured_words(finding, system),
        limit=limit_words(finding, system),
        margin=margin_words(finding, system),
        whose=finding.band.whose.value,
        source=finding.band.source,
        gauge_scene=gauge(finding),
        has_remedy=open_verdict and rule is not None and bool(rule.remedies),
        can_accept=finding.verdict is Verdict.OVER,
        hazard=finding.hazard or "",
        lapsed=say(finding.lapsed, system),
        assumed=assumed_words(finding),
        accepted_reason=finding.accepted_reason,
        accepted_by=finding.accepted_by,
        limit_name=finding.band.name if finding.band.name in editable else "",
        least=_end(finding.band.minimum, finding, system),
        most=_end(finding.band.maximum, finding, system),
    )


def assumed_words(finding: Finding) -> str:
    """Return what a verdict rests on that nobody has measured; empty for nothing."""
    if not finding.assumed:
        return ""
    first, more = finding.assumed[:MOST_ASSUMED], finding.assumed[MOST_ASSUMED:]
    rest = f" and {len(more)} more" if more else ""
    return f"Rests on what is only assumed: {', '.join(first)}{rest}."


def _end(value: float | None, finding: Finding, system: UnitSystem) -> str:
    return amount(value, finding.unit, system).replace("−", "-") if value is not None else ""


def amount(value: float | None, unit: str, system: UnitSystem, sign: bool = False) -> str:
    """Return a value of a finding for the eye."""
    if value is None:
        return "not known"
    kind = _KINDS.get(unit)
    text = (
        format_quantity(value, kind, system)
        if kind is not None
        else f"{format_number(value)} {unit.replace('count', '')}".strip()
    )
    return f"+{text}" if sign and value > 0 else text


def measured_words(finding: Finding, system: UnitSystem) -> str:
    """Return what was found: a value, or the answer to a question."""
    if finding.answer is not None:
        return _answer(finding.answer)
    return amount(finding.measured, finding.unit, system)


def margin_words(finding: Finding, system: UnitSystem) -> str:
    """Return the margin; an empty text for a question, which has none."""
    if finding.answer is not None:
        return ""
    unit = "K" if finding.unit == "C" else finding.unit
    return amount(finding.margin, unit, system, sign=True)


def _answer(answer: bool) -> str:
    return "yes" if answer else "no"


def limit_words(finding: Finding, system: UnitSystem) -> str:
    """Return the permitted band in words, or the answer that is asked for."""
    if finding.band.wanted is not None:
        return _answer(finding.band.wanted)
    low, high = finding.band.minimum, finding.band.maximum
    if low is not None and high is not None:
        return f"{amount(low, finding.unit, system)} to {amount(high, finding.unit, system)}"
    if low is not None:
        return f"{amount(low, finding.unit, system)} or more"
    return f"{amount(high, finding.unit, system)} or less" if high is not None else "none"
