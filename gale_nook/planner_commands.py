"""The command line's part for whole layouts: find them, and clear what is over."""

from __future__ import annotations

import json
from dataclasses import asdict
from pathlib import Path
from typing import Any

import typer
from pydantic import ValidationError

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.catalogue.planner import Effort, PlannerBook
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan, places_of, write_plan
from gale_nook.core.plan.wishes import Wishes
from gale_nook.core.planner.clearing import Clearing, changed, clear_over
from gale_nook.core.planner.layouts import Layout
from gale_nook.core.planner.search import LayoutSearch, find_layouts
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.sentences import say
from gale_nook.core.text import read_text

UNREADABLE, NONE_FOUND = 2, 1
MOST_BYTES = 200_000


def find(
    plan: Plan, wishes: Path | None, effort: Effort, out: Path | None, *, as_json: bool
) -> int:
    """Find whole layouts, print them, and write each as a plan file; returns how to end."""
    book = load_catalogue()
    if wishes is not None:
        plan = plan.model_copy(update={"wishes": read_wishes(wishes)})
    try:
        found = find_layouts(Job(plan, book), effort, _telling)
    except BadInput as error:
        raise _ended(str(error)) from None
    if out is not None:
        _write(out, {f"layout-{e.letter}": apply(plan, e.command, book) for e in found.layouts})
    if as_json:
        typer.echo(json.dumps(layouts_data(found), ensure_ascii=False, indent=2))
    else:
        for line in _layout_lines(found, book):
            typer.echo(line)
    return 0 if found.layouts else NONE_FOUND


def clear(plan: Plan, out: Path | None, *, as_json: bool) -> int:
    """Find what clears what is over, print it, and write the plan with all of it; returns how to
    end.
    """
    job = Job(plan, load_catalogue())
    found = clear_over(job, lambda done, of, words: _telling(done, of, words, None))
    if out is not None:
        after = changed(job, [each.command for each in found.changes])
        _write(out, {"cleared": after.plan})
    if as_json:
        typer.echo(json.dumps(clearing_data(found), ensure_ascii=False, indent=2))
    else:
        for line in _clearing_lines(found):
            typer.echo(line)
    return NONE_FOUND if found.after else 0


def read_wishes(path: Path) -> Wishes:
    """Return the wishes of a file: the same as under `wishes` in a plan."""
    try:
        text = read_text(path.read_bytes(), MOST_BYTES, "files of wishes")
        return Wishes.model_validate_json(text)
    except OSError as error:
        raise _ended(f"{path}: {error.strerror}") from None
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise _ended(f"{path}: {place}: {problem}") from None


def layouts_data(found: LayoutSearch) -> dict[str, Any]:
    """Return what was found as plain data."""
    return {
        "layouts": [_layout_data(each) for each in found.layouts],
        "reasons": [
            {"wishes": list(each.wishes), "why": _said(each.sentence), "allows": _said(each.allows)}
            for each in found.reasons
        ],
        "choices": found.choices,
        "tried": found.tried,
        "stopped_at": found.stops,
        "heater": found.heater,
    }


def _layout_data(layout: Layout) -> dict[str, Any]:
    return {
        "letter": layout.letter,
        "where": _said(layout.where),
        "score": layout.score,
        "measures": layout.measures,
        "tally": layout.tally,
        "tightest": asdict(layout.tightest) if layout.tightest is not None else None,
        "to_measure": list(layout.to_measure),
        "accepted": list(layout.accepted),
    }


def clearing_data(found: Clearing) -> dict[str, Any]:
    """Return what clears what is over as plain data."""
    return {
        "before": found.before,
        "after": found.after,
        "changes": [
            {
                "station": each.station,
                "words": _said(each.sentence),
                "clears": list(each.clears),
                "command": each.command.model_dump(mode="json", exclude_none=True),
            }
            for each in found.changes
        ],
        "left": [{**asdict(each), "sentence": _said(each.sentence)} for each in found.left],
    }


def _layout_lines(found: LayoutSearch, book: Catalogue) -> list[str]:
    lines = [
        f"{found.heater}: {len(found.layouts)} layouts, "
        f"{found.tried} of {found.choices} choices tried"
    ]
    for each in found.layouts:
        lines.append(f"  {each.letter}  {_said(each.where)}")
        lines.append(f"     {measure_words(book.planner, each)}")
        if each.tightest is not None:
            lines.append(f"     tightest: {each.tightest.title}: {_said(each.tightest.sentence)}")
        if each.to_measure:
            lines.append(f"     to measure: {', '.join(each.to_measure)}")
    for reason in found.reasons:
        lines.append(f"  {_said(reason.sentence)} {_said(reason.allows)}".rstrip())
    return lines


def measure_words(book: PlannerBook, layout: Layout) -> str:
    """Return a layout's measures in one line."""
    units = {"db": "dB", "w": "W", "money": ""}
    told = []
    for kind in book.measures:
        if kind.id in layout.measures:
            unit = units.get(kind.unit, kind.unit)
            told.append(f"{kind.label} {layout.measures[kind.id]:.4g} {unit}".rstrip())
    return ", ".join(told)


def _clearing_lines(found: Clearing) -> list[str]:
    lines = [f"{found.before} over, {found.after} after {len(found.changes)} changes"]
    lines += [f"  {each.id}. {each.station}: {_said(each.sentence)}" for each in found.changes]
    lines += [f"  left: {each.title}: {_said(each.sentence)} {each.why}" for each in found.left]
    return lines


def _write(folder: Path, plans: dict[str, Plan]) -> None:
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for name, plan in plans.items():
            (folder / f"{name}.json").write_text(write_plan(plan), encoding="utf-8")
    except OSError as error:
        raise _ended(f"{folder}: {error.strerror}") from None


def _telling(done: int, of: int, words: str, _found: object) -> None:
    typer.echo(f"{words}: {done} of {of}", err=True)


def _said(text: str) -> str:
    return say(text, UnitSystem.METRIC)


def _ended(problem: str) -> typer.Exit:
    typer.echo(problem, err=True)
    return typer.Exit(UNREADABLE)
