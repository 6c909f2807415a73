"""How warm a hot pipe makes its neighbours: the view factor by integration, balances, and what each
cover brings.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import AddFitting
from gale_nook.core.pipes.report import first_firing, protections
from gale_nook.core.pipes.warmth import gap_for_mm, neighbour_c, shielded_c, view_factor
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.pipes import Fitting

WORKS = load_catalogue().pipe_physics
BOLTZMANN = 5.670374419e-8


@pytest.mark.parametrize("gap_mm", [5.0, 40.0, 200.0])
def test_the_view_factor_by_integration(gap_mm: float) -> None:
    """Rays from a small face, weighted by the cosine, counted where they meet a long cylinder
    square ahead.
    """
    radius, away = 13.0, 13.0 + gap_mm
    up = (np.arange(400_000) + 0.5) / 400_000 * math.pi - math.pi / 2
    # a direction is (sin up cos along, sin along, cos up cos along); what counts is its slope
    # across the cylinder,
    # and the part of the integral over `along` is the same for every `up`
    hits, weights = np.abs(np.sin(up)) <= radius / away, np.cos(up)
    assert view_factor(2 * radius, gap_mm) == pytest.approx(
        weights[hits].sum() / weights.sum(), rel=1e-3
    )


@given(st.floats(60, 400), st.floats(10, 60), st.floats(1, 600), st.floats(-20, 45))
def test_what_it_takes_in_it_gives_off(
    skin: float, diameter: float, gap: float, ambient: float
) -> None:
    warm = neighbour_c(skin, diameter, gap, ambient, WORKS)
    seen = view_factor(diameter, gap)
    k = [celsius + 273.15 for celsius in (skin, warm, ambient)]
    taken = 0.9 * seen * BOLTZMANN * (k[0] ** 4 - k[1] ** 4)
    given_off = 0.9 * (1 - seen) * BOLTZMANN * (k[1] ** 4 - k[2] ** 4) + 6 * (warm - ambient)
    assert taken == pytest.approx(given_off, abs=0.1)
    assert ambient - 0.01 <= warm <= skin + 0.01
    assert neighbour_c(skin, diameter, gap + 20, ambient, WORKS) <= warm + 0.01
    assert shielded_c(skin, diameter, gap, ambient, WORKS) <= warm + 0.01


def test_what_touches_has_the_pipes_temperature() -> None:
    assert neighbour_c(220, 26, 0, 25, WORKS) == 220
    assert shielded_c(220, 26, -3, 25, WORKS) == 220


@given(st.floats(100, 350), st.floats(50, 95))
def test_the_gap_that_would_do_is_the_least(skin: float, most: float) -> None:
    gap = gap_for_mm(most, lambda mm: neighbour_c(skin, 26, mm, 25, WORKS))
    assert gap is not None
    assert neighbour_c(skin, 26, gap, 25, WORKS) <= most
    assert gap < 1 or neighbour_c(skin, 26, gap - 1, 25, WORKS) > most


def test_where_no_gap_would_do() -> None:
    assert gap_for_mm(20, lambda _mm: 25.0) is None


def _beside_the_tank(heron: Plan, catalogue: Catalogue) -> Plan:
    """Heron's fuel tank pushed back until it lies beside the exhaust."""
    return apply(heron, set_value("vehicle.solids.tank.x_mm", 1350), catalogue)


def test_a_tank_by_the_exhaust_is_too_warm_and_lagging_helps(
    heron: Plan, catalogue: Catalogue
) -> None:
    near = _beside_the_tank(heron, catalogue)
    bare = check(near, catalogue, ("pipes",)).find("pipes.heat", "tank")
    assert bare is not None
    assert (bare.verdict, bare.unit, bare.hazard) == ("over", "C", "fire")
    lagging = Fitting(id="lagging-1", kind="lagging", at_mm=600, length_mm=740, layers=2)
    after = check(
        apply(near, AddFitting(collection="pipes.exhaust.fittings", item=lagging), catalogue),
        catalogue,
        ("pipes",),
    )
    lagged = after.find("pipes.heat", "tank")
    assert lagged is not None
    assert bare.measured is not None
    assert lagged.measured is not None
    assert lagged.measured < bare.measured - 10
    gap = after.find("pipes.clearance", "tank")
    assert gap is not None
    assert gap.band.minimum == catalogue.solid_kinds["fuel-tank"].covered_mm


def test_what_each_cover_would_bring_is_listed_in_order(heron: Plan, catalogue: Catalogue) -> None:
    rows = protections(Job(_beside_the_tank(heron, catalogue), catalogue))
    tank = next(row for row in rows if row.name == "fuel tank")
    assert tank is rows[0]
    assert None not in {tank.bare_mm, tank.once_mm, tank.twice_mm, tank.shield_mm}
    assert (tank.bare_mm or 0) > (tank.once_mm or 0) > (tank.twice_mm or 0)
    assert tank.gap_mm < (tank.bare_mm or 0)


def test_the_survey_of_the_first_firing_runs_from_hot_to_cool(
    heron: Plan, catalogue: Catalogue
) -> None:
    places = first_firing(Job(heron, catalogue))
    assert [place.distance_mm for place in places] == sorted(place.distance_mm for place in places)
    assert [place.skin_c for place in places] == sorted(
        (place.skin_c for place in places), reverse=True
    )
    assert {"port", "mouth", "beside fuel tank"} <= {place.name for place in places}
    colder = first_firing(Job(apply(heron, set_value("pipes.firing_c", -10), catalogue), catalogue))
    assert colder[0].skin_c < places[0].skin_c
