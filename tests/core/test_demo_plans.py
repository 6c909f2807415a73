"""The demo workshop says what its jobs are meant to show."""

from __future__ import annotations

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.demo.load import demo_plan


def test_heron_is_finished_with_one_accepted_deviation_and_three_tight_margins(
    catalogue: Catalogue,
) -> None:
    tally = check(demo_plan("heron"), catalogue).tally()
    assert (tally["over"], tally["unknown"], tally["accepted"], tally["tight"]) == (0, 0, 1, 3)


def test_wren_has_a_dozen_kinds_of_honest_mistakes(catalogue: Catalogue) -> None:
    over = {f.rule for f in check(demo_plan("wren"), catalogue).findings if f.verdict == "over"}
    assert len(over) >= 12


def test_quarto_is_commissioned_with_one_reading_outside(catalogue: Catalogue) -> None:
    done = check(demo_plan("quarto"), catalogue)
    assert sorted(f.rule for f in done.findings if f.verdict in {"over", "unknown"}) == [
        "firing.voltage",
    ]


def test_blank_leads_to_what_is_missing(catalogue: Catalogue) -> None:
    done = check(demo_plan("blank"), catalogue)
    unknown = {f.rule for f in done.findings if f.verdict == "unknown"}
    assert unknown == {
        "vehicle.survey_below",
        "vehicle.asked_for",
        "heater.chosen",
        "spot.place",
        "pipes.run",
        "fuel.source",
        "power.supply",
    }
    assert done.tally()["over"] == 0


def test_under_the_floor_it_is_as_crowded_as_it_should_be(catalogue: Catalogue) -> None:
    """Cross-members at uneven pitch of 700 to 900 mm or near, two rails, brake, fuel, exhaust,
    suspension, wiring.
    """
    kinds = {solid.kind for solid in demo_plan("heron").vehicle.solids}
    wanted = {
        "member",
        "rail",
        "brake-pipe",
        "handbrake-cable",
        "fuel-pipe",
        "fuel-tank",
        "vehicle-exhaust",
        "wiring",
        "spare-wheel",
        "suspension",
        "wheel",
    }
    assert wanted <= kinds
    assert {"hv-cable", "traction-battery"} <= {
        solid.kind for solid in demo_plan("wren").vehicle.solids
    }


@pytest.mark.parametrize(("name", "accepted"), [("dunlin", 1), ("plover", 1), ("coot", 3)])
def test_the_surveyed_examples_are_clear_with_stated_deviations(
    name: str, accepted: int, catalogue: Catalogue
) -> None:
    """A trailer, a demountable body with a slide-out, a small boat: nothing over, nothing to
    measure, each deviation with its reason.
    """
    plan = demo_plan(name)
    tally = check(plan, catalogue).tally()
    assert (tally["over"], tally["unknown"], tally["accepted"]) == (0, 0, accepted)
    assert all(len(each.reason) > 40 for each in plan.acceptances)
    assert plan.vehicle.moves == {"dunlin": "towed", "plover": "carried", "coot": "afloat"}[name]
    assert (plan.vehicle.slide is not None) is (name == "plover")
