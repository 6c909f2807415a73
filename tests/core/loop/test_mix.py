"""Mixes of water and glycol, against a fluid-property library and by their laws."""

from __future__ import annotations

import random

import pytest

from benchmarks.loops import mixes_by_library
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.catalogue.coolant import Fluid
from gale_nook.core.job import Job
from gale_nook.core.loop.mix import by_volume, filled_mix, mix_of
from gale_nook.demo.load import demo_plan

FLUIDS: tuple[Fluid, ...] = ("ethylene", "propylene")


@pytest.mark.slow
def test_properties_are_those_of_the_property_library(catalogue: Catalogue) -> None:
    """Between the table's grid points: within 1 %, viscosity within 2 %, freezing within 1 K."""
    chance = random.Random(17)
    works = catalogue.coolant_equipment
    cases = []
    while len(cases) < 120:
        fluid, percent = chance.choice(FLUIDS), chance.uniform(11.0, 59.0)
        celsius = chance.uniform(-30.0, 98.0)
        if celsius > mix_of(works, fluid, percent).freezes_c + 5:
            cases.append((fluid, percent, celsius))
    for (fluid, percent, celsius), theirs in zip(cases, mixes_by_library(cases), strict=True):
        mix = mix_of(works, fluid, percent)
        for number, (ours, other) in enumerate(zip(mix.at(celsius), theirs[:4], strict=True)):
            within = 0.02 if number == 2 else 0.01
            assert ours == pytest.approx(other, rel=within), (fluid, percent, celsius, number)
        assert mix.freezes_c == pytest.approx(theirs[4], abs=1.0)


@pytest.mark.parametrize(
    ("fluid", "percent", "freezes_c"),
    [("ethylene", 50.0, -37.0), ("ethylene", 30.0, -16.0), ("propylene", 50.0, -34.0)],
)
def test_freezing_points_of_the_handbook(
    catalogue: Catalogue, fluid: Fluid, percent: float, freezes_c: float
) -> None:
    """ASHRAE Handbook of Fundamentals, chapter 31, by volume, to the degree."""
    mix = mix_of(catalogue.coolant_equipment, fluid, percent)
    assert mix.freezes_c == pytest.approx(freezes_c, abs=1.0)


def test_water_is_water(catalogue: Catalogue) -> None:
    """VDI Heat Atlas, D2.1, at 60 °C."""
    water = mix_of(catalogue.coolant_equipment, "ethylene", 0.0).at(60.0)
    assert water.density_kg_m3 == pytest.approx(983.2, rel=0.004)
    assert water.heat_capacity_j_kgk == pytest.approx(4185, rel=0.004)
    assert water.viscosity_pa_s == pytest.approx(466e-6, rel=0.02)


@pytest.mark.parametrize("fluid", FLUIDS)
def test_more_glycol_freezes_later_and_flows_worse(catalogue: Catalogue, fluid: Fluid) -> None:
    mixes = [mix_of(catalogue.coolant_equipment, fluid, float(p)) for p in range(0, 61, 4)]
    frost = [mix.freezes_c for mix in mixes]
    thick = [mix.at(40.0).viscosity_pa_s for mix in mixes]
    carried = [mix.at(40.0).heat_capacity_j_kgk for mix in mixes]
    assert frost == sorted(frost, reverse=True)
    assert thick == sorted(thick)
    assert carried == sorted(carried, reverse=True)


def test_beyond_the_table_its_edge_is_taken(catalogue: Catalogue) -> None:
    mix = mix_of(catalogue.coolant_equipment, "propylene", 40.0)
    assert mix.at(150.0) == mix.at(100.0)
    assert mix.at(-80.0) == mix.at(-35.0)


def test_strength_by_mass_is_told_by_volume(catalogue: Catalogue) -> None:
    """50 % by mass of ethylene glycol: (0.5/1113.5) / (0.5/1113.5 + 0.5/998.2) = 47.27 %."""
    assert by_volume(catalogue.coolant_equipment, "ethylene", 50.0) == pytest.approx(
        47.27, abs=0.01
    )
    plan = demo_plan("quarto")
    loop = plan.coolant.model_copy(update={"glycol_by": "mass", "fluid": "ethylene"})
    mix = filled_mix(Job(plan.model_copy(update={"coolant": loop}), catalogue))
    assert mix.percent == pytest.approx(by_volume(catalogue.coolant_equipment, "ethylene", 40.0))
