"""Air layers across which more than 5 K fall, by the standard's own terms on paper."""

from __future__ import annotations

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.film import Flow, foil_layer_m2k_w, gap_m2k_w
from gale_nook.core.heat.uvalue import build_up
from gale_nook.core.plan.vehicle import Layer

HR0 = 4 * 5.670374e-8 * 283.15**3  # black radiation at 10 °C, ISO 6946:2017, D.2


@pytest.mark.parametrize(
    ("flow", "across_k", "convective"),
    [
        (Flow.SIDEWAYS, 20.0, 0.73 * 20 ** (1 / 3)),
        (Flow.UP, 20.0, 1.14 * 20 ** (1 / 3)),
        (Flow.DOWN, 20.0, 0.09 * 20**0.187 * 0.025**-0.44),
    ],
)
def test_a_foil_gap_by_the_terms_of_annex_d(flow: Flow, across_k: float, convective: float) -> None:
    between = 1 / (1 / 0.1 + 1 / 0.9 - 1)
    expected = 1 / (max(convective, 0.025 / 0.025) + between * HR0)
    assert foil_layer_m2k_w(25, flow, 0.1, across_k) == pytest.approx(expected, rel=1e-6)


@pytest.mark.parametrize("flow", list(Flow))
@pytest.mark.parametrize("thickness_mm", [5.0, 15.0, 50.0])
def test_more_across_it_never_insulates_more(flow: Flow, thickness_mm: float) -> None:
    for foil in (None, 0.1):
        values = [gap_m2k_w(thickness_mm, flow, k, foil) for k in (0, 4.9, 5.1, 10, 20, 40)]
        assert values == sorted(values, reverse=True)
        # where the two sets of terms meet, within what the standard rounds
        assert values[2] == pytest.approx(values[1], rel=0.05)


def test_ply_gap_steel_on_a_cold_night(catalogue: Catalogue) -> None:
    """Nearly all of 33 K falls across films and gap; U is told where the sum closes on itself."""
    layers = (
        Layer(id="l1", material="plywood", thickness_mm=4),
        Layer(id="l2", material="air", thickness_mm=25),
        Layer(id="l3", material="steel", thickness_mm=1),
    )
    mild = build_up(layers, catalogue.materials, Flow.SIDEWAYS, 0.04, 5.0)
    cold = build_up(layers, catalogue.materials, Flow.SIDEWAYS, 0.04, 33.0)
    gap = cold.rows[2].resistance_m2k_w
    across = 33.0 * gap / cold.resistance_m2k_w
    assert across > 5
    assert gap == pytest.approx(gap_m2k_w(25, Flow.SIDEWAYS, across), rel=1e-4)
    assert cold.u_w_m2k > 1.01 * mild.u_w_m2k
