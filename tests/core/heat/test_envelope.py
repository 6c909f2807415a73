"""The shell's surfaces against sums by hand, and the cab in its three ways."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.heat.cab import guessed_cab_w_k
from gale_nook.core.heat.envelope import (
    face_area_m2,
    hoops,
    rib_length_m,
    surface_areas_m2,
    volume_m3,
)
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.vehicle import PopTop
from gale_nook.core.vehicle.commands import SetPopTop
from gale_nook.demo.load import demo_plan

TOP = PopTop(start_mm=800, length_mm=2000, width_mm=1300, rise_mm=550)


def test_wheel_arches_by_hand(wren: Plan) -> None:
    """Each box gives its top, inner side and two ends; the floor and its own side lose what stands
    on them.
    """
    areas = surface_areas_m2(wren.vehicle, wren.heat)
    boxes = [s for s in wren.vehicle.solids if s.kind == "wheel-arch"]
    wanted, floor = 0.0, face_area_m2(wren.vehicle.shell, "floor")
    for box in boxes:
        size: dict[str, Any] = box.model_dump()
        length, width, height = size["length_mm"], size["width_mm"], size["height_mm"]
        wanted += (length * width + length * height + 2 * width * height) / 1e6
        floor -= length * width / 1e6
    assert len(boxes) == 2
    assert areas["arches"] == pytest.approx(wanted)
    assert areas["floor"] == pytest.approx(floor)


def test_a_raised_pop_top_by_hand(heron: Plan, catalogue: Catalogue) -> None:
    """Lid 2.0 × 1.3 m, canvas 2 × (2.0 + 1.3) × 0.55 m, and as much air above the roof."""
    raised = apply(heron, SetPopTop(pop_top=TOP), catalogue)
    before, after = (
        surface_areas_m2(heron.vehicle, heron.heat),
        surface_areas_m2(raised.vehicle, raised.heat),
    )
    assert after["pop-top"] == pytest.approx(2.6)
    assert after["canvas"] == pytest.approx(3.63)
    assert before["roof"] - after["roof"] == pytest.approx(2.6)
    assert volume_m3(raised.vehicle) - volume_m3(heron.vehicle) == pytest.approx(1.43)
    shut = apply(raised, set_value("vehicle.pop_top.raised", False), catalogue)
    assert "canvas" not in surface_areas_m2(shut.vehicle, shut.heat)
    assert volume_m3(shut.vehicle) == volume_m3(heron.vehicle)
    canvas = next(e for e in heat_loss(raised, catalogue).elements if e.id == "canvas")
    film = 1 / (4 + 4 * 5 + 4 * 0.9 * 5.670374e-8 * 259.15**3)
    assert canvas.u_w_m2k == pytest.approx(1 / (0.13 + 0.001 / 0.10 + film), rel=1e-6)


@given(st.floats(50, 900), st.floats(400, 3000), st.floats(300, 1700))
def test_raising_a_pop_top_never_saves(rise_mm: float, length_mm: float, width_mm: float) -> None:
    book, plan = load_catalogue(), demo_plan("heron")
    top = TOP.model_copy(
        update={"rise_mm": rise_mm, "length_mm": length_mm, "width_mm": width_mm, "raised": False}
    )
    shut = apply(plan, SetPopTop(pop_top=top), book)
    raised = apply(shut, set_value("vehicle.pop_top.raised", True), book)
    assert heat_loss(raised, book).design_loss_w > heat_loss(shut, book).design_loss_w


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"width_mm": 1900}, "wider than the load space"),
        ({"start_mm": 3000}, "between bulkhead and rear doors"),
    ],
)
def test_a_pop_top_lies_in_the_roof(
    heron: Plan, catalogue: Catalogue, change: dict[str, float], said: str
) -> None:
    with pytest.raises(BadInput, match=said):
        apply(heron, SetPopTop(pop_top=TOP.model_copy(update=change)), catalogue)


def test_ribs_from_their_pitch_or_as_typed(heron: Plan, catalogue: Catalogue) -> None:
    """4.19 m at 0.35 m: 12 hoops of 2 × 1.93 + 1.78 m, and three of 4.19 m; a typed length goes
    before it.
    """
    assert hoops(heron.vehicle, heron.heat) == 12
    assert rib_length_m(heron.vehicle, heron.heat) == pytest.approx(12 * 5.64 + 3 * 4.19)
    typed = apply(heron, set_value("heat.ribs.length_m", 86), catalogue)
    assert rib_length_m(typed.vehicle, typed.heat) == 86
    bare = apply(heron, set_value("heat.ribs.pitch_mm", None), catalogue)
    assert rib_length_m(bare.vehicle, bare.heat) == pytest.approx(3 * 4.19)


def test_a_file_without_the_rarer_surfaces_gets_them_as_they_come(heron: Plan) -> None:
    data = heron.model_dump(mode="json")
    data["heat"]["surfaces"] = [
        s
        for s in data["heat"]["surfaces"]
        if s["id"] not in {"curtain", "arches", "pop-top", "canvas"}
    ]
    read = {surface.id: surface.layers for surface in Plan.model_validate(data).heat.surfaces}
    assert [layer.material for layer in read["arches"]] == ["steel"]
    assert [layer.material for layer in read["canvas"]] == ["canvas"]


def test_a_heated_cab_loses_all_that_it_loses(heron: Plan, catalogue: Catalogue) -> None:
    inside = apply(heron, set_value("heat.cab", "inside"), catalogue)
    by_id = {e.id: e for e in heat_loss(inside, catalogue).elements}
    guess = guessed_cab_w_k(heron.vehicle.shell, catalogue.cab)
    assert by_id["cab"].loss_w == pytest.approx(guess * 33)
    assert "bulkhead" not in by_id
    typed = apply(inside, set_value("heat.cab_loss_w_k", 50), catalogue)
    assert {e.id: e for e in heat_loss(typed, catalogue).elements}["cab"].loss_w == pytest.approx(
        1650
    )


def test_a_usual_cab_by_hand(heron: Plan, catalogue: Catalogue) -> None:
    """0.96 m of 1.6 m, 2.04 m wide, 1.3 m high: 5.148 m² upright at 0.4 × 5.7 + 0.6 × 3.5, 3.917 m²
    level, two changes.
    """
    upright, level = 2.04 * 1.3 + 2 * 0.96 * 1.3, 2 * 0.96 * 2.04
    air = 101325 / (287.05 * 273.15) * 0.96 * 2.04 * 1.3 * 2 / 3600 * 1006
    wanted = upright * (0.4 * 5.7 + 0.6 * 3.5) + level * 3.5 + air
    assert guessed_cab_w_k(heron.vehicle.shell, catalogue.cab) == pytest.approx(wanted, rel=1e-6)


def test_a_curtain_saves_against_a_heated_cab_and_less_than_an_insulated_bulkhead(
    heron: Plan, catalogue: Catalogue
) -> None:
    losses = {
        way: heat_loss(apply(heron, set_value("heat.cab", way), catalogue), catalogue).design_loss_w
        for way in ("bulkhead", "curtain", "inside")
    }
    assert losses["bulkhead"] < losses["curtain"] < losses["inside"]
