"""What of the work has changed between two plans."""

from __future__ import annotations

import pytest

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.build.changes import changes
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import say
from gale_nook.demo.load import DEMO_NAMES, demo_plan

BOOK = load_catalogue()


def _changed(*commands: object) -> str:
    heron = demo_plan("heron")
    after = heron
    for command in commands:
        after = apply(after, command, BOOK)  # type: ignore[arg-type]
    return "\n".join(say(line) for line in changes(Job(heron, BOOK), Job(after, BOOK)))


@pytest.mark.parametrize("name", DEMO_NAMES)
def test_nothing_has_changed_in_the_same_plan(name: str) -> None:
    assert changes(Job(demo_plan(name), BOOK), Job(demo_plan(name), BOOK)) == ()


def test_a_moved_heater_moves_its_holes_and_lengths() -> None:
    told = _changed(set_value("spot.x_mm", 2770.0))
    assert "Turret hole: 2770 mm" in told
    assert "it was 2" in told
    assert "cut to" in told
    assert "New step" not in told


def test_what_is_new_and_what_is_gone_is_told() -> None:
    heron = demo_plan("heron")
    lead = next(lead for lead in heron.power.leads if lead.id == "pump")
    hole = next(part for part in lead.parts if part.kind == "hole")
    gone = RemoveItem(collection="power.leads.pump.parts", item_id=hole.id)
    told = _changed(gone)
    assert "Hole of the pump's lead: not to be drilled any more." in told
    back = [say(line) for line in changes(Job(apply(heron, gone, BOOK), BOOK), Job(heron, BOOK))]
    assert any(line.startswith("Hole of the pump's lead: new, ") for line in back)


def test_other_parts_and_steps_are_told() -> None:
    told = _changed(RemoveItem(collection="power.alarms", item_id="smoke"))
    assert "No step any more:" in told
    assert "needed; it was" in told


def test_a_name_or_a_note_changes_nothing_of_the_work() -> None:
    assert _changed(set_value("note", "another note")) == ""
