"""The command line's part for the workshop's own book: what a plan's taking it changes."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import typer

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import applied
from gale_nook.core.book.commands import taking_book
from gale_nook.core.book.document import OwnBook, read_book
from gale_nook.core.book.effect import BookEffect, book_effect
from gale_nook.core.book.troubles import checked_book
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.findings.finding import Finding
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan, write_plan
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.sentences import say
from gale_nook.exchange.finding_cards import VERDICT_WORDS, margin_words

UNREADABLE, OVER = 2, 1
EDIT_OF_A_FILE = 1


def take(plan: Plan, file: Path, school: str | None, out: Path | None, *, as_json: bool) -> int:
    """Tell what a plan's taking a book changes, and write the plan that took it; returns how to
    end: 1 where a finding gets over by it.
    """
    catalogue = load_catalogue()
    book = _read(file, catalogue)
    if school is not None and book.school(school) is None:
        known = ", ".join(each.id for each in book.schools) or "none"
        raise _ended(f"{file}: there is no school '{school}' in it; known are: {known}")
    job = Job(plan, catalogue)
    try:
        command = taking_book(book, EDIT_OF_A_FILE, school, plan, catalogue)
        effect = book_effect(job, command)
        if out is not None:
            out.write_text(write_plan(applied(job, command)), encoding="utf-8")
    except BadInput as error:
        raise _ended(f"{error.name}: {say(error.problem)}") from None
    except OSError as error:
        raise _ended(f"{out}: {error.strerror}") from None
    if as_json:
        typer.echo(json.dumps(effect_data(effect), ensure_ascii=False, indent=2))
    else:
        for line in _lines(effect):
            typer.echo(line)
    return OVER if effect.gets_over else 0


def effect_data(effect: BookEffect) -> dict[str, Any]:
    """Return what taking a book changes as plain data."""
    return {
        "findings": [
            {
                "rule": finding.rule,
                "subject": finding.subject,
                "before": _side(each.before),
                "after": _side(each.after),
            }
            for each in effect.changed
            if (finding := each.after or each.before) is not None
        ],
        "need_w": list(effect.need_w),
        "cost": list(effect.cost_money),
    }


def _side(finding: Finding | None) -> dict[str, Any] | None:
    if finding is None:
        return None
    return {"verdict": finding.verdict.value, "margin": finding.margin}


def _lines(effect: BookEffect) -> list[str]:
    lines = []
    for each in effect.changed:
        finding = each.after or each.before
        if finding is not None:
            about = f", {finding.subject_name}" if finding.subject_name else ""
            lines.append(f"{finding.title}{about}: {_said(each.before)} → {_said(each.after)}")
    (need, needs), (cost, costs) = effect.need_w, effect.cost_money
    lines.append(f"Heat need {need:.0f} W → {needs:.0f} W, parts about {cost:.0f} → {costs:.0f}")
    return lines


def _said(finding: Finding | None) -> str:
    if finding is None:
        return "not there"
    margin = margin_words(finding, UnitSystem.METRIC)
    return f"{VERDICT_WORDS[finding.verdict]}{f' by {margin}' if margin else ''}"


def _read(file: Path, catalogue: Catalogue) -> OwnBook:
    try:
        return checked_book(read_book(file.read_bytes()), catalogue)
    except OSError as error:
        raise _ended(f"{file}: {error.strerror}") from None
    except PlanUnreadable as error:
        told = "".join(f"\n  {place}: {say(problem)}" for place, problem in error.places)
        raise _ended(f"{file}: {error.summary}{told}") from None


def _ended(text: str) -> typer.Exit:
    typer.echo(text, err=True)
    return typer.Exit(UNREADABLE)
