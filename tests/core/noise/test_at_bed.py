"""Sound at a bed: sums of levels to 0.1 dB on paper, what holds whatever sounds, what each change
brings.
"""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.noise.at_bed import AtBed, Heard, at_beds, changes, sources
from gale_nook.core.noise.levels import direct_db, let_in_db, panel_loss_db, room_db, sum_db
from gale_nook.core.plan.document import Plan
from gale_nook.core.remedies import remedies_for
from gale_nook.demo.load import demo_plan

LEVELS = st.floats(-20, 110)


@pytest.mark.parametrize(
    ("levels", "paper"),
    [
        ((50.0, 50.0), 53.01),  # two alike: 3 dB more
        ((60.0, 50.0), 60.41),
        ((40.0, 43.0, 46.0), 48.43),
        ((30.0,) * 10, 40.0),  # ten alike: 10 dB more
        ((50.0, 0.0), 50.0),
    ],
)
def test_sums_on_paper(levels: tuple[float, ...], paper: float) -> None:
    assert sum_db(levels) == pytest.approx(paper, abs=0.05)


@given(st.lists(LEVELS, min_size=1, max_size=8), LEVELS)
def test_one_more_source_is_never_quieter(levels: list[float], more: float) -> None:
    whole = sum_db(levels)
    assert sum_db([*levels, more]) >= whole - 1e-9
    assert max(levels) - 1e-9 <= whole <= max(levels) + 10 * math.log10(len(levels)) + 1e-9


@given(st.floats(40, 90), st.floats(0.4, 10))
def test_twice_as_far_is_six_less(power: float, metres: float) -> None:
    assert direct_db(power, metres) - direct_db(power, 2 * metres) == pytest.approx(6.02, abs=0.01)


def test_a_way_in_on_paper() -> None:
    """A mouth of 76 dB two metres off, a floor of 20 kg/m², 2 m² of it over 8 m² of absorption."""
    outside = 76 - 20 * math.log10(2) - 8
    loss = 20 * math.log10(20 * 250) - 47
    inside = outside - loss + 10 * math.log10(2 / 8)
    told = let_in_db(direct_db(76, 2.0), panel_loss_db(20, 250, 40), 2.0, 8.0)
    assert told == pytest.approx(inside, abs=1e-9)
    assert panel_loss_db(200, 250, 26) == 26
    assert room_db(60, 8) == pytest.approx(60 + 10 * math.log10(0.5))


def _bed(plan: Plan, catalogue: Catalogue, *, by_night: bool = True) -> AtBed:
    (bed,) = at_beds(Job(plan, catalogue), by_night)
    return bed


def _one(bed: AtBed, begins: str, way: str = "") -> Heard:
    return next(h for h in bed.sources if h.name.startswith(begins) and way in h.way)


def test_every_source_is_there_once_with_its_way(heron: Plan, catalogue: Catalogue) -> None:
    bed = _bed(heron, catalogue)
    names = [each.name.split(",")[0] for each in bed.sources]
    assert len(names) == len(set(names))
    assert {"exhaust's mouth", "combustion air's mouth", "fuel pump"} <= set(names)
    assert any(name.startswith("air at") for name in names)
    assert _one(bed, "fuel pump").way == "through the floor"
    for each in bed.sources:
        assert each.least_db < each.most_db
    assert bed.least_db < bed.middle_db < bed.most_db
    loud = _bed(heron, catalogue, by_night=False)
    assert loud.middle_db - bed.middle_db == pytest.approx(catalogue.sound.least_db, abs=0.5)


def test_what_is_fixed_hard_is_heard_through_the_body(heron: Plan, catalogue: Catalogue) -> None:
    for address, name in (("fuel.line.pump.rubber", "fuel pump"), ("spot.on_rubber", "heater")):
        hard = apply(heron, set_value(address, False), catalogue)
        bed = _bed(hard, catalogue)
        assert _one(bed, name, "body").most_db > 0
        assert bed.middle_db > _bed(heron, catalogue).middle_db
        with pytest.raises(StopIteration):
            _one(_bed(heron, catalogue), name, "body")


def test_a_change_brings_what_it_says(heron: Plan, catalogue: Catalogue) -> None:
    """Rubber back under what was fixed hard, carried out, is as much quieter as was told."""
    both = (
        Change(address="spot.on_rubber", value=False),
        Change(address="fuel.line.pump.rubber", value=False),
    )
    plan = apply(heron, SetValues(changes=both), catalogue)
    bed = _bed(plan, catalogue)
    told = {each.words: each.quieter_db for each in changes(Job(plan, catalogue), bed)}
    for words, address in (
        ("rubber under the heater's fan and burner", "spot.on_rubber"),
        ("rubber under the fuel pump", "fuel.line.pump.rubber"),
    ):
        after = _bed(apply(plan, set_value(address, True), catalogue), catalogue)
        assert told.get(words, 0.0) == pytest.approx(bed.middle_db - after.middle_db, abs=0.5)


def test_silencer_and_box_quieten(heron: Plan, catalogue: Catalogue) -> None:
    route = heron.pipes.exhaust
    assert route is not None
    bare = route.model_copy(
        update={"fittings": tuple(f for f in route.fittings if f.kind != "silencer")}
    )
    loud = heron.model_copy(update={"pipes": heron.pipes.model_copy(update={"exhaust": bare})})
    with_it, without = (_one(_bed(plan, catalogue), "exhaust") for plan in (heron, loud))
    assert without.middle_db - with_it.middle_db == pytest.approx(catalogue.sound.silencer_db)


def test_a_sheet_told_farther_off_is_louder_at_its_source(
    heron: Plan, catalogue: Catalogue
) -> None:
    sheet = catalogue.heater(heron.heater.sheet or "")
    far = sheet.model_copy(update={"id": "far", "noise_at_m": 2.0})
    heater = heron.heater.model_copy(update={"sheet": "far", "own_sheets": (far,)})
    plan = heron.model_copy(update={"heater": heater})
    one, other = (
        next(s for s in sources(Job(p, catalogue)) if s.name.startswith("heater"))
        for p in (heron, plan)
    )
    assert other.power_db - one.power_db == pytest.approx(20 * math.log10(2))


def test_wren_is_over_and_quarto_tells_its_fan(catalogue: Catalogue) -> None:
    wren = check(demo_plan("wren"), catalogue, ("air",)).find("air.sleep", "bunk")
    assert wren is not None
    assert wren.verdict is Verdict.OVER
    quarto = demo_plan("quarto")
    finding = next(
        f for f in check(quarto, catalogue, ("coolant",)).findings if f.rule == "coolant.sleep"
    )
    assert "fan of the convector" in finding.sentence
    fast = apply(quarto, set_value("coolant.parts.convector-1.fan", 3), catalogue)
    loud = next(
        f for f in check(fast, catalogue, ("coolant",)).findings if f.rule == "coolant.sleep"
    )
    assert (loud.measured or 0) > (finding.measured or 0)
    if loud.verdict is Verdict.OVER:
        assert remedies_for(Job(fast, catalogue), loud)


def test_no_bed_or_no_heater_no_sound(heron: Plan, catalogue: Catalogue) -> None:
    assert at_beds(Job(heron.model_copy(update={"spot": None}), catalogue), True) == ()
    solids = tuple(s for s in heron.vehicle.solids if s.kind != "bed")
    bare = heron.model_copy(update={"vehicle": heron.vehicle.model_copy(update={"solids": solids})})
    assert at_beds(Job(bare, catalogue), True) == ()
