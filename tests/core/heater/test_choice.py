"""Choosing a heater: derating, the three demands, and the sentence that says why not."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.apply import apply
from gale_nook.core.base.heater_sheet import Output
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heater.choice import judgements
from gale_nook.core.heater.commands import ChooseHeater, DropSheet, PutSheet
from gale_nook.core.job import Job
from gale_nook.core.physics.diesel_heat import output_w
from gale_nook.core.plan.air import Air
from gale_nook.core.plan.document import Plan
from gale_nook.demo.load import demo_plan
from tests.plans import heron_blowing_free

PLAIN = Output(
    minimum_w=1000,
    maximum_w=4000,
    efficiency=0.8,
    excess_air=1.5,
    fuel_l_h_minimum=0.126,
    fuel_l_h_maximum=0.503,
    dose_ml=0.03,
)


def test_fuel_to_heat() -> None:
    """0.5 l/h × 0.84 kg/l × 42.6 MJ/kg / 3600 s × 0.8 = 3976 W."""
    assert output_w(0.5, 0.8) == pytest.approx(3976, abs=0.5)


@pytest.mark.parametrize(
    ("altitude_m", "ratio"), [(0, 1), (1000, 0.9075), (2000, 0.8217), (3000, 0.7423)]
)
def test_output_falls_with_the_airs_density(altitude_m: float, ratio: float) -> None:
    """Density ratios of ISO 2533."""
    assert derated_w(PLAIN, altitude_m) / 4000 == pytest.approx(ratio, abs=1e-3)


def test_a_compensated_heater_holds_to_its_height_and_falls_from_there() -> None:
    output = PLAIN.model_copy(update={"compensated_to_m": 1500})
    assert derated_w(output, 1500) == 4000
    assert 0.7423 < derated_w(output, 3000) / 4000 < 1


@given(st.floats(-500, 6000), st.floats(-500, 6000))
def test_higher_never_gives_more(one: float, other: float) -> None:
    low, high = sorted((one, other))
    assert derated_w(PLAIN, high) <= derated_w(PLAIN, low) + 1e-9 <= 4000 + 1e-6


@pytest.mark.parametrize(
    ("name", "heater"), [("heron", "bothy-40"), ("wren", "bothy-22"), ("quarto", "croft-52")]
)
def test_recommended_for_the_demo_jobs(name: str, heater: str, catalogue: Catalogue) -> None:
    plan = demo_plan(name)  # Wren without its ducts, which starve every heater
    free = (
        plan.model_copy(update={"air": Air()}) if name == "wren" else plan
    )  # its ducts starve all
    judged = judgements(Job(free, catalogue))
    assert [j.sheet.id for j in judged if j.recommended] == [heater]
    assert judged[0].recommended


def test_each_other_heater_says_why_it_is_worse(heron: Plan, catalogue: Catalogue) -> None:
    for judged in judgements(Job(heron, catalogue))[1:]:
        assert judged.verdict.startswith(judged.sheet.label)
        assert "\ue000" in judged.verdict


def test_the_smallest_that_meets_the_need_is_recommended(
    any_demo: Plan, catalogue: Catalogue
) -> None:
    judged = judgements(Job(any_demo, catalogue))
    best = next((j for j in judged if j.recommended), None)
    if best is not None:
        rivals = [j for j in judged if j.meets_need and not j.spot_over]
        assert all(best.sheet.output.maximum_w <= j.sheet.output.maximum_w for j in rivals)


def test_a_hotter_need_asks_for_more(heron: Plan, catalogue: Catalogue) -> None:
    bare = apply(heron, set_value("heat.air_changes_per_h", 12), catalogue)
    finding = check(bare, catalogue, ("heater",)).find("heater.output", "bothy-40")
    assert finding is not None
    assert finding.verdict == "over"


def test_a_slow_warm_up_alone_decides(catalogue: Catalogue) -> None:
    """Bothy 40 takes 96 minutes; asked for 80, the Byre with its 70 would be quick enough, but it
    idles.
    """
    heron = heron_blowing_free()
    hasty = apply(heron, set_value("heat.warm_up_h", 80 / 60), catalogue)
    judged = {j.sheet.id: j for j in judgements(Job(hasty, catalogue))}
    assert not judged["bothy-40"].quick_enough
    assert "not warm within" in judged["bothy-40"].verdict
    assert judged["byre-50"].quick_enough
    assert not judged["byre-50"].clean_enough
    assert not any(j.recommended for j in judged.values())
    finding = check(hasty, catalogue, ("heater",)).find("heater.warm_up", "bothy-40")
    assert finding is not None
    assert finding.verdict == "over"
    assert finding.measured == pytest.approx(96.5, abs=2)
    unasked = apply(heron, set_value("heat.warm_up_h", None), catalogue)
    assert check(unasked, catalogue, ("heater",)).find("heater.warm_up", "bothy-40") is None


def test_idling_alone_decides(heron: Plan, catalogue: Catalogue) -> None:
    strict = apply(heron, set_value("heat.idle_percent", 10), catalogue)
    judged = {j.sheet.id: j for j in judgements(Job(strict, catalogue))}
    assert "would cycle through" in judged["bothy-40"].verdict
    finding = check(strict, catalogue, ("heater",)).find("heater.idle", "bothy-40")
    assert finding is not None
    assert finding.verdict == "over"
    assert finding.measured == pytest.approx(25.2, abs=0.5)


def test_a_heater_of_ones_own_can_be_the_recommended_one(heron: Plan, catalogue: Catalogue) -> None:
    """A Bothy 40 of 3.9 kW still covers the 2.85 kW and is warm in time, and is smaller."""
    bothy = catalogue.heaters["bothy-40"]
    output = bothy.output.model_copy(
        update={"maximum_w": 3900.0, "fuel_l_h_maximum": bothy.output.fuel_l_h_maximum * 0.975}
    )
    mine = bothy.model_copy(update={"id": "mine", "label": "Mine", "output": output})
    plan = apply(heron, PutSheet(sheet=mine), catalogue)
    assert judgements(Job(plan, catalogue))[0].sheet.id == "mine"
    chosen = apply(plan, ChooseHeater(sheet="mine"), catalogue)
    (asked,) = [f for f in check(chosen, catalogue).findings if f.verdict == "over"]
    assert "another heater is chosen" in asked.lapsed  # what was accepted is asked again
    gone = apply(chosen, DropSheet(sheet_id="mine"), catalogue)
    assert gone.heater.sheet is None


def test_a_heater_of_ones_own_that_contradicts_itself_is_refused(
    heron: Plan, catalogue: Catalogue
) -> None:
    bothy = catalogue.heaters["bothy-40"]
    thirsty = bothy.output.model_copy(update={"fuel_l_h_maximum": 0.9})
    with pytest.raises(BadInput, match="not to the stated 4000 W"):
        apply(
            heron,
            PutSheet(sheet=bothy.model_copy(update={"id": "mine", "output": thirsty})),
            catalogue,
        )
    with pytest.raises(BadInput, match="has a heater 'bothy-40' already"):
        apply(heron, PutSheet(sheet=bothy), catalogue)
    with pytest.raises(BadInput, match="names no value of this sheet"):
        apply(
            heron,
            PutSheet(
                sheet=bothy.model_copy(update={"id": "mine", "sources": {"output.luck_w": "p. 3"}})
            ),
            catalogue,
        )
