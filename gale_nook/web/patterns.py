"""The pattern page: every component of the interface, on made-up data, in both themes.

It is for whoever changes the interface. Its components are the application's own templates, so
that it cannot go stale; nothing on it can change a job.
"""

from __future__ import annotations

from typing import Literal

from fastapi import APIRouter
from fastapi.responses import HTMLResponse

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.rule import Remedy
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.settings import Acceptance
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.demo.load import demo_plan
from gale_nook.exchange.finding_cards import FindingCard, finding_cards
from gale_nook.store.jobs import JobHead
from gale_nook.web.context import Book, Units, render
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.spot.station import SPOT_PAGES
from gale_nook.web.view_state import ViewState
from gale_nook.worker.works import WorkState

router = APIRouter(include_in_schema=False)

COLOURS = (
    "paper",
    "sheet",
    "ink",
    "quiet",
    "rule",
    "deep",
    "on-deep",
    "over",
    "tight",
    "clear",
    "unknown",
    "accepted",
    "brass",
    "act",
)
REFUSED = (("spot.x_mm", "'abot 40' is not a length: 340, 340 mm or 13 3/8 in are."),)
MET = (("place of the heater, behind the datum", "", "1500 mm", "1540 mm", "1620 mm"),)
OFFERED = (Remedy(f"Shift the heater {q(35)} rearward.", PlaceHeater(x_mm=1575, y_mm=0)),)


@router.get("/patterns")
def patterns(book: Book, system: Units, theme: Literal["light", "dark"] = "light") -> HTMLResponse:
    """Show every component of the interface."""
    plan = demo_plan("heron")
    head = JobHead(0, 7, plan, "coldest night", None)
    job = kept_jobs.of(plan, book)
    page = SPOT_PAGES.page(head, job, system, SPOT_PAGES.station, ViewState(floor="off"))
    cards: list[FindingCard] = finding_cards(_one_of_each(book), system, book.limit_bands)
    return render(
        "patterns.html",
        page=page,
        theme=theme,
        colours=COLOURS,
        cards=cards,
        offered=OFFERED,
        refused=REFUSED,
        rows=MET,
        working=WorkState("pattern-working", "working", "looking for a way to the rear", 3, 9),
        queued=WorkState("pattern-queued", "waiting", "looking for lines", ahead=2),
    )


def _one_of_each(book: Catalogue) -> tuple[Finding, ...]:
    """A finding of each verdict, the accepted one accepted by hand, and one of a question."""
    wren, heron = demo_plan("wren"), demo_plan("heron")
    hazard = next(f for f in check(wren, book).findings if f.verdict is Verdict.OVER)
    plans = (_accepted(wren, hazard), wren, heron, demo_plan("blank"))
    findings = [finding for plan in plans for finding in check(plan, book).findings]
    results = [next(f for f in findings if f.verdict is verdict) for verdict in Verdict]
    return (*results, next(f for f in findings if f.answer is not None))


def _accepted(plan: Plan, finding: Finding) -> Plan:
    accepted = Acceptance(
        id="pattern",
        rule=finding.rule,
        run=finding.run if finding.run in {"exhaust", "intake", "fuel"} else "",
        subject=finding.subject,
        reason="Measured again with the panel off",
        by="Isa Marel",
        on="2026-02-11",
    )
    return plan.model_copy(update={"acceptances": (accepted,)})
