"""What single changes save."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.heat.savings import savings
from gale_nook.core.plan.document import Plan


def test_each_saving_is_what_the_changed_plan_needs_less(
    any_demo: Plan, catalogue: Catalogue
) -> None:
    before = heat_loss(any_demo, catalogue).need_w
    found = savings(any_demo, catalogue)
    assert len(found) >= 6
    for saving in found:
        after = heat_loss(apply(any_demo, saving.command, catalogue), catalogue).need_w
        assert saving.saved_w == pytest.approx(before - after)
    assert [s.saved_w for s in found] == sorted((s.saved_w for s in found), reverse=True)


def test_herons_ribs_matter_most(heron: Plan, catalogue: Catalogue) -> None:
    """80.25 m from ψ 0.28 to 0.09 over 33 K, with the margin: 80.25 · 0.19 · 33 ·
    1.15 = 578.6 W.
    """
    best = savings(heron, catalogue)[0]
    assert best.sentence == "Ribs covered on the inside."
    assert best.saved_w == pytest.approx(578.6, abs=0.5)
    assert best.heater == "Bothy 22"
    assert best.saved_fuel_l is not None
    assert best.saved_fuel_l > 0.5


def test_a_face_without_insulation_is_offered_some(any_demo: Plan, catalogue: Catalogue) -> None:
    if any_demo.name == "Blank":
        words = " ".join(s.sentence for s in savings(any_demo, catalogue))
        assert "extruded polystyrene board in: floor" in words
        assert all(s.saved_fuel_l is None for s in savings(any_demo, catalogue))
