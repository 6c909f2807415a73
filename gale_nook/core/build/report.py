"""The job in hand in figures, for the command line and other programs."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

from gale_nook.core.build.cards import cards
from gale_nook.core.build.days import work_days
from gale_nook.core.build.lists import cuts, holes_to_cut, parts_list
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import say


def build_report(job: Job) -> dict[str, Any]:
    """Return cards, days, holes, lengths to cut and parts as plain data; times in minutes."""
    listed = cards(job)
    return {
        "plan": job.plan.name,
        "cards": [
            {
                "id": card.id,
                "title": card.step.title,
                "stretch": card.group,
                "text": say(card.step.text),
                "minutes": list(card.minutes),
                "wait_h": card.kind.wait_h,
                "helper": card.kind.helper,
                "drivable": card.kind.drivable,
                "done": card.done is not None,
                "note": card.done.note if card.done is not None else "",
            }
            for card in listed
        ],
        "days": [
            {
                "day": day.number,
                "cards": [card.id for card in day.cards],
                "minutes": list(day.minutes),
                "wait_min": day.wait_min,
                "ends_with": day.ends_with,
            }
            for day in work_days(listed, job.plan.build.hours_a_day)
        ],
        "holes": [{**asdict(hole), "saw": say(hole.saw)} for hole in holes_to_cut(job)],
        "cuts": [
            {"id": cut.id, "label": cut.label, "length_mm": cut.length_mm, "remark": cut.remark}
            for cut in cuts(job)
        ],
        "parts": [
            {**asdict(line), "to_buy": line.to_buy, "cost": line.cost} for line in parts_list(job)
        ],
        "as_built": [value.model_dump(mode="json") for value in job.plan.build.as_built],
    }


def build_lines(report: dict[str, Any]) -> Iterator[str]:
    """Yield the report as lines of text."""
    done = sum(card["done"] for card in report["cards"])
    yield f"{report['plan']}: {done} of {len(report['cards'])} cards done"
    for number, card in enumerate(report["cards"], 1):
        low, high = card["minutes"]
        mark = "x" if card["done"] else " "
        yield f"[{mark}] {number:2} {card['title']} ({low:.0f} to {high:.0f} min)"
    for day in report["days"]:
        low, high = day["minutes"]
        ends = f", ends: {day['ends_with']}" if day["ends_with"] else ""
        hours = f"{low / 60:.1f} to {high / 60:.1f} h"
        yield f"day {day['day']}: {len(day['cards'])} cards, {hours}{ends}"
    for line in report["parts"]:
        if line["to_buy"]:
            unit = " mm of" if line["unit"] == "mm" else " x"
            yield f"buy {line['to_buy']:g}{unit} {line['label']}"
