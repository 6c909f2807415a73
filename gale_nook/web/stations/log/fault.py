"""Finding a fault: what was seen and checked so far, what is likely, what to check next."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import urlencode

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from gale_nook.core.catalogue.log import CauseKind, LogBook, Telling
from gale_nook.core.log.faults import Ranked, Ranking, rank, signs_of
from gale_nook.web.forms import clean
from gale_nook.web.stations.log.page import LogPage

MOST_CAUSES, MOST_CHECKS = 6, 3


class FaultAsked(BaseModel):
    """Where the search stands.

    Attributes:
        seen: symptoms that are there; off, fine: checks, by what they showed; ids with commas.
    """

    model_config = ConfigDict(frozen=True, extra="ignore")

    seen: Annotated[str, BeforeValidator(clean), Field(max_length=600)] = ""
    off: Annotated[str, BeforeValidator(clean), Field(max_length=600)] = ""
    fine: Annotated[str, BeforeValidator(clean), Field(max_length=600)] = ""


class FaultFinder:
    """What the search shows."""

    def __init__(self, page: LogPage, asked: FaultAsked) -> None:
        self.page = page
        self.book: LogBook = page.catalogue.log
        symptoms = {each.id for each in self.book.symptoms}
        checks = {each.id for each in self.book.checks}
        self.seen = _known(asked.seen, symptoms)
        self.off = _known(asked.off, checks)
        self.fine = tuple(each for each in _known(asked.fine, checks) if each not in self.off)
        answers = dict.fromkeys(self.off, True) | dict.fromkeys(self.fine, False)
        told = dict.fromkeys(self.seen, True)
        signs = signs_of(page.season, page.soot, page.today)
        self.ranking: Ranking = rank(self.book, page.check.findings, told, answers, signs)

    def url(self, **changes: tuple[str, ...]) -> str:
        """Address of this search with something changed."""
        state = {"seen": self.seen, "off": self.off, "fine": self.fine, **changes}
        query = urlencode({name: ",".join(ids) for name, ids in state.items() if ids})
        return f"{self.page.url}/fault?{query}" if query else f"{self.page.url}/fault"

    @property
    def symptoms(self) -> list[tuple[str, bool, str]]:
        """Each symptom: its words, whether it is there, where choosing it leads."""
        results = []
        for each in self.book.symptoms:
            there = each.id in self.seen
            others = tuple(s for s in self.seen if s != each.id)
            results.append(
                (each.label, there, self.url(seen=others if there else (*others, each.id)))
            )
        return results

    @property
    def causes(self) -> tuple[Ranked, ...]:
        return self.ranking.causes[:MOST_CAUSES]

    @property
    def named(self) -> CauseKind | None:
        return self.ranking.named

    @property
    def checks(self) -> list[tuple[Telling, str, str]]:
        """What to check next, and where either answer leads."""
        if not (self.seen or self.off):
            return []
        return [
            (check, self.url(off=(*self.off, check.id)), self.url(fine=(*self.fine, check.id)))
            for check in self.ranking.next_checks[:MOST_CHECKS]
        ]

    @property
    def made(self) -> list[tuple[str, bool, str]]:
        """Checks that were made: words, whether it was so, where taking it back leads."""
        labels = {check.id: check.label for check in self.book.checks}
        gone = [
            (labels[c], True, self.url(off=tuple(o for o in self.off if o != c))) for c in self.off
        ]
        return gone + [
            (labels[c], False, self.url(fine=tuple(o for o in self.fine if o != c)))
            for c in self.fine
        ]

    @property
    def caution(self) -> str:
        """The caution of the cause that was named."""
        wanted = self.named.caution if self.named is not None else ""
        return next((c.text for c in self.page.catalogue.cautions if c.id == wanted), "")


def _known(text: str, ids: set[str]) -> tuple[str, ...]:
    return tuple(each for each in dict.fromkeys(text.split(",")) if each in ids)
