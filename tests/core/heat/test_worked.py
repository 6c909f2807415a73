"""The calculation that is shown comes to the figures that are used."""

from __future__ import annotations

import re

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.values import set_value
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.heat.worked import worked_out
from gale_nook.core.plan.document import Plan


def _number(text: str) -> float:
    return float(re.split(r"[ ,]", text, maxsplit=1)[0])


def test_the_steps_add_up_to_the_need(any_demo: Plan, catalogue: Catalogue) -> None:
    chapters, loss = dict(worked_out(any_demo, catalogue)), heat_loss(any_demo, catalogue)
    shell = sum(
        _number(step.result) for step in chapters["Through the shell: U × area × difference"]
    )
    bridges = sum(_number(s.result) for s in chapters["Ribs and cab"] if s.result.endswith(" W"))
    air = _number(chapters["Air that is renewed"][-1].result)
    assert shell + bridges + air == pytest.approx(loss.design_loss_w, abs=1.0)
    assert _number(chapters["Need"][-1].result) == pytest.approx(loss.need_w, abs=0.1)


def test_each_shown_product_is_its_result(heron: Plan, catalogue: Catalogue) -> None:
    """U × A × ΔT as printed, multiplied again, is the printed result to the places printed."""
    for step in dict(worked_out(heron, catalogue))["Through the shell: U × area × difference"]:
        u, area, difference = (_number(part) for part in step.sum.split(" × "))
        assert u * area * difference == pytest.approx(_number(step.result), rel=2e-3, abs=0.2)


def test_altitude_is_shown_for_every_heater(heron: Plan, catalogue: Catalogue) -> None:
    high = apply(heron, set_value("heat.altitude_m", 2600), catalogue)
    steps = {step.what: step for step in dict(worked_out(high, catalogue))["Altitude"]}
    for sheet in catalogue.heaters.values():
        assert _number(steps[sheet.label].result) == pytest.approx(
            derated_w(sheet.output, 2600), abs=0.5
        )


def test_a_heated_cab_has_no_temperature_of_its_own(heron: Plan, catalogue: Catalogue) -> None:
    inside = apply(heron, set_value("heat.cab", "inside"), catalogue)
    names = [step.what for step in dict(worked_out(inside, catalogue))["Ribs and cab"]]
    assert "Cab, heated too" in names
    assert "temperature of the cab" not in names
