"""Filling the line: against an example worked by hand, and what holds whatever the line."""

from __future__ import annotations

import math

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.values import Change, SetValues
from gale_nook.core.fuel.adapters import adapters
from gale_nook.core.fuel.line import FuelRun, fuel_run
from gale_nook.core.fuel.priming import Prime, prime, volume_ml
from gale_nook.core.fuel.work import fuel_parts, fuel_steps
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.sentences import say


def _run(job: Job) -> FuelRun:
    found = fuel_run(job)
    assert found is not None
    return found


def _prime(job: Job) -> Prime:
    found = prime(job, _run(job))
    assert found is not None
    return found


def _changed(plan: Plan, catalogue: Catalogue, **values: object) -> Job:
    changes = [
        Change(address=f"fuel.{name.replace('__', '.')}", value=value)  # type: ignore[arg-type]
        for name, value in values.items()
    ]
    return Job(apply(plan, SetValues(changes=tuple(changes)), catalogue), catalogue)


def test_the_worked_example_lies_in_the_range(heron: Plan, catalogue: Catalogue) -> None:
    """On paper: a pick-up of 4 mm bore all dry, a bowl of 18 ml, 2 mm line; the pump strokes 6
    times a second, 0.022 ml (times 0.25 to 0.6 in air) each.
    """
    job = _changed(heron, catalogue, pick_up_bore_mm=4.0, level_percent=0.0)
    run, told, sheet = _run(job), _prime(job), heater_sheet(job)
    assert sheet is not None
    assert run.supply.tip is not None
    dose, dip = sheet.output.dose_ml, run.supply.start[2] - run.supply.tip[2]
    suction = math.pi / 4 * run.suction.bore_mm**2 * run.suction_mm / 1000
    pick_up = math.pi / 4 * 4.0**2 * dip / 1000
    pressure = math.pi / 4 * run.pressure.bore_mm**2 * run.pressure_mm / 1000
    air = pick_up + 18.0 + suction
    # half of the bowl at the best, all of it at the worst
    least = (pick_up + 9.0 + suction) / (dose * 0.6) + pressure / dose
    most = air / (dose * 0.25) + pressure / dose
    assert told.volume_ml == pytest.approx(air + pressure)
    assert told.least == pytest.approx(least, abs=4)
    assert told.most == pytest.approx(most, abs=4)
    assert told.least_minutes == pytest.approx(least / 6 / 60, rel=0.01)
    assert told.most_minutes == pytest.approx(most / 6 / 60, rel=0.01)
    middle = (pick_up + 14 + suction) / (dose * 0.4) + pressure / dose
    assert told.least_minutes < middle / 360 < told.most_minutes


def test_what_makes_it_longer(heron: Plan, catalogue: Catalogue) -> None:
    """A wider line, a wider pick-up, an emptier tank, a filter; a fuller tank shortens the best."""
    usual = _prime(Job(heron, catalogue))
    for longer in (
        {"line__suction": "nylon-4"},
        {"pick_up_bore_mm": 8.0, "level_percent": 0.0},
    ):
        told = _prime(_changed(heron, catalogue, **longer))
        assert told.volume_ml > usual.volume_ml
        assert told.most_minutes > usual.most_minutes
    wide = {"pick_up_bore_mm": 8.0}
    full, empty = (
        _prime(_changed(heron, catalogue, **wide, level_percent=level)) for level in (100.0, 0.0)
    )
    assert full.least_minutes < empty.least_minutes
    assert full.most_minutes == pytest.approx(empty.most_minutes)
    parts = [p for p in heron.fuel.line.parts if p.kind != "filter"]  # type: ignore[union-attr]
    line = heron.fuel.line.model_copy(update={"parts": tuple(parts)})  # type: ignore[union-attr]
    bare = heron.model_copy(update={"fuel": heron.fuel.model_copy(update={"line": line})})
    assert _prime(Job(bare, catalogue)).volume_ml == pytest.approx(usual.volume_ml - 18.0)


def test_by_hand_it_is_quicker_and_told_so(heron: Plan, catalogue: Catalogue) -> None:
    by = {
        way: _prime(_changed(heron, catalogue, priming=way)) for way in ("pump", "bulb", "syringe")
    }
    assert by["bulb"].counted == "squeezes"
    assert by["syringe"].counted == "pulls"
    assert by["bulb"].most_minutes < by["pump"].most_minutes
    assert by["syringe"].most_minutes < by["pump"].most_minutes
    assert len({told.volume_ml for told in by.values()}) == 1
    for told in by.values():
        assert 0 < told.least <= told.most
        assert 0 < told.least_minutes <= told.most_minutes
    job = _changed(heron, catalogue, priming="syringe")
    text = {step.title: say(step.text) for step in fuel_steps(job)}["Prime the line"]
    assert "syringe" in text
    assert "Fill the tank to" in text


def test_the_tank_is_filled_over_the_pick_up(heron: Plan, catalogue: Catalogue) -> None:
    low, high = (_prime(_changed(heron, catalogue, stand_pipe_mm=mm)) for mm in (20.0, 120.0))
    assert low.fill_to_l is not None
    assert high.fill_to_l is not None
    run = _run(_changed(heron, catalogue, stand_pipe_mm=120.0))
    assert run.supply.vessel is not None
    assert run.supply.tip is not None
    assert low.fill_to_l < high.fill_to_l
    assert run.supply.vessel.level_mm(high.fill_to_l) == pytest.approx(
        run.supply.tip[2] + 30.0, abs=0.5
    )


def test_a_sheet_that_asks_for_it_has_the_pump_held_upright(
    heron: Plan, catalogue: Catalogue
) -> None:
    sheet = heater_sheet(Job(heron, catalogue))
    assert sheet is not None
    asks = sheet.model_copy(update={"id": "asks", "pump_upright": True})
    heater = heron.heater.model_copy(update={"sheet": "asks", "own_sheets": (asks,)})
    job = Job(heron.model_copy(update={"heater": heater}), catalogue)
    assert _prime(job).upright
    assert (
        "Hold the pump upright"
        in {step.title: say(step.text) for step in fuel_steps(job)}["Prime the line"]
    )
    assert not _prime(Job(heron, catalogue)).upright


@pytest.mark.parametrize(
    ("take_off", "suction", "pressure", "expected"),
    [
        ("spare-6", "nylon-2", "nylon-2", ["6 to 2 mm"]),
        ("spare-8", "rubber-5", "nylon-2", ["8 to 5 mm", "5 to 2 mm"]),
        ("spare-4", "nylon-4", "nylon-4", []),
        (None, "nylon-3", "nylon-2", ["3 to 2 mm"]),
        ("auxiliary-6", "nylon-6", "nylon-3", ["6 to 3 mm"]),
    ],
)
def test_every_change_of_bore_has_its_adapter(
    heron: Plan,
    catalogue: Catalogue,
    take_off: str | None,
    suction: str,
    pressure: str,
    expected: list[str],
) -> None:
    job = _changed(
        heron,
        catalogue,
        source="take-off",
        take_off=take_off,
        line__suction=suction,
        line__pressure=pressure,
    )
    found = adapters(job, _run(job))
    assert [each.words for each in found] == expected
    parts = fuel_parts(job)
    for each in found:
        assert parts[each.part] >= 1
        assert each.part in catalogue.parts
    assert volume_ml(1000, 2.0) == pytest.approx(math.pi)
