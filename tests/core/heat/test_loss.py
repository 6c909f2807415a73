"""U-values and the loss against hand calculations, and the laws that they obey."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.heat.envelope import face_area_m2, wheel_arches_m
from gale_nook.core.heat.film import Flow
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.heat.uvalue import build_up
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.vehicle import Layer
from gale_nook.demo.load import demo_plan


def _layers(*rows: tuple[str, float]) -> list[Layer]:
    return [
        Layer(id=f"l{i}", material=material, thickness_mm=mm)
        for i, (material, mm) in enumerate(rows)
    ]


@pytest.mark.parametrize(
    ("rows", "flow", "outside", "u"),
    [
        # 0.13 + 0.004/0.13 + 0.040/0.039 + 0.001/50 + 0.04 = 1.226431
        ([("lining-ply", 4), ("wool", 40), ("steel", 1)], Flow.SIDEWAYS, 0.04, 1 / 1.226431),
        # 0.10 + 0.009/0.13 + 0.16 (air 25 up) + 0.030/0.034 + 0.04 = 1.251584
        ([("plywood", 9), ("air", 25), ("xps", 30)], Flow.UP, 0.04, 1 / 1.251584),
        # 0.17 + 0.012/0.13 + 0.025/0.034 + 0.05 = 1.047602
        ([("plywood", 12), ("xps", 25)], Flow.DOWN, 0.05, 1 / 1.047602),
        # bare steel: 0.13 + 0.001/50 + 0.04
        ([("steel", 1)], Flow.SIDEWAYS, 0.04, 1 / 0.17002),
    ],
)
def test_u_values_by_hand(
    catalogue: Catalogue, rows: list[tuple[str, float]], flow: Flow, outside: float, u: float
) -> None:
    """ISO 6946:2017, 6.7.1.2, summed by hand with the design values of the materials file."""
    assert build_up(_layers(*rows), catalogue.materials, flow, outside).u_w_m2k == pytest.approx(
        u, rel=0.005
    )


def test_the_whole_loss_of_a_bare_box_by_hand(catalogue: Catalogue) -> None:
    """A bare plan reduced to what fits on one line of paper.

    Load space 2.86 × 1.68 × 1.42 m; each face its own U; ribs of 0.28 at a pitch of 0.6 m: hoops at
    0, 0.6 … 2.4 m, 5 × (2 × 1.42 + 1.68) m, and two of 2.86 m; 0.8 changes of air an hour.
    """
    plan = demo_plan("blank").model_copy(
        update={"vehicle": demo_plan("blank").vehicle.model_copy(update={"openings": ()})}
    )
    loss = heat_loss(plan, catalogue)
    by_id = {element.id: element for element in loss.elements}
    film = 1 / (4 + 16 + 4 * 0.9 * 5.670374e-8 * 263.15**3)
    roof = 2.86 * 1.68 / (0.10 + 0.019 / 0.036 + 0.001 / 50 + film) * 29
    assert by_id["roof"].loss_w == pytest.approx(roof, rel=1e-6)
    assert by_id["ribs"].loss_w == pytest.approx(0.28 * (5 * (2 * 1.42 + 1.68) + 2 * 2.86) * 29)
    air = 101325 / (287.05 * 263.15) * (2.86 * 1.68 * 1.42) * 0.8 / 3600 * 1006 * 29
    assert loss.ventilation_w == pytest.approx(air, rel=1e-6)
    assert loss.design_loss_w == pytest.approx(sum(e.loss_w for e in loss.elements) + air)
    assert loss.need_w == pytest.approx(1.15 * loss.design_loss_w)


def test_openings_are_taken_out_of_their_face(heron: Plan, catalogue: Catalogue) -> None:
    loss = heat_loss(heron, catalogue)
    left = [element for element in loss.elements if element.face == "left"]
    arch = sum(
        length * height
        for length, _, height, side in wheel_arches_m(heron.vehicle)
        if side == "left"
    )
    whole = face_area_m2(heron.vehicle.shell, "left")
    assert sum(element.area_m2 or 0 for element in left) + arch == pytest.approx(whole)


def test_elements_come_largest_first(any_demo: Plan, catalogue: Catalogue) -> None:
    losses = [element.loss_w for element in heat_loss(any_demo, catalogue).elements]
    assert losses == sorted(losses, reverse=True)


def test_too_large_an_opening_is_over(heron: Plan, catalogue: Catalogue) -> None:
    plan = apply(heron, set_value("vehicle.openings.window-left.height_mm", 9000), catalogue)
    finding = check(plan, catalogue, ("heat",)).find("heat.openings", "left")
    assert finding is not None
    assert finding.verdict == "over"


@given(st.sampled_from(["roof", "left", "right", "rear"]), st.floats(0, 200), st.floats(0, 200))
def test_more_insulation_never_raises_the_loss(face: str, thin: float, thick: float) -> None:
    low, high = sorted((thin, thick))
    address = f"heat.surfaces.{face}.layers.l2.thickness_mm"
    losses = [_loss_with(address, value) for value in (low, high)]
    assert losses[1] <= losses[0] + 1e-9


@given(st.floats(-50, 3), st.floats(-50, 3))
def test_colder_never_lowers_the_loss(one: float, other: float) -> None:
    cold, mild = sorted((one, other))
    open_cab = apply(demo_plan("heron"), set_value("heat.cab_c", None), load_catalogue())
    colder, milder = (_loss_with("heat.outside_c", t, open_cab) for t in (cold, mild))
    assert colder >= milder - 1e-9


@given(st.floats(0, 20), st.floats(0, 20))
def test_more_air_never_lowers_the_loss(one: float, other: float) -> None:
    little, much = sorted((one, other))
    assert (
        _loss_with("heat.air_changes_per_h", much)
        >= _loss_with("heat.air_changes_per_h", little) - 1e-9
    )


def _loss_with(address: str, value: float, plan: Plan | None = None) -> float:
    book = load_catalogue()
    base = plan if plan is not None else demo_plan("heron")
    return heat_loss(apply(base, set_value(address, value), book), book).design_loss_w
