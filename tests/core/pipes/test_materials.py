"""What a part is made of: wood burns where steel does not, and the stricter of kind and material
counts.
"""

from __future__ import annotations

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.commands import AddSolid
from gale_nook.core.vehicle.materials import made_of


def test_the_stricter_of_kind_and_material_counts(catalogue: Catalogue) -> None:
    kinds, materials = catalogue.solid_kinds, catalogue.solid_materials
    member = made_of(kinds["member"], materials["wood"])
    assert (member.heat_c, member.exhaust_mm, member.covered_mm) == (85, 60, 30)
    assert member.label == "cross-member of wood"
    tank = made_of(kinds["fuel-tank"], materials["plastic"])
    assert (tank.heat_c, tank.exhaust_mm, tank.covered_mm) == (60, 100, 60)
    assert made_of(kinds["member"], materials["steel"]) is kinds["member"]
    assert made_of(kinds["member"], None) is kinds["member"]
    assert made_of(kinds["furniture"], materials["wood"]) is kinds["furniture"]


def test_no_demand_is_ever_loosened(catalogue: Catalogue) -> None:
    for kind in catalogue.solid_kinds.values():
        for material in catalogue.solid_materials.values():
            made = made_of(kind, material)
            assert (made.exhaust_mm or 0) >= (kind.exhaust_mm or 0)
            assert (made.heat_c or 1e9) <= (kind.heat_c or 1e9)
            if kind.covered_mm is not None:
                assert (made.covered_mm or 0) >= kind.covered_mm


def _bearer(plan: Plan, catalogue: Catalogue, material: str) -> Plan:
    """A bearer 36 mm beside the middle of the exhaust's last straight, of some material."""
    run = pipe_run(Job(plan, catalogue), "exhaust")
    assert run is not None
    x, y, z = run.point_at(run.length_mm - 200)
    radius = heater_port(Job(plan, catalogue), "exhaust").diameter_mm / 2
    bearer = BoxSolid(
        id="bearer",
        name="bearer",
        kind="member",
        material=material,
        x_mm=x + radius + 36,
        y_mm=y - 40,
        z_mm=z - 30,
        length_mm=40,
        width_mm=80,
        height_mm=60,
    )
    return apply(plan, AddSolid(item=bearer), catalogue)


def test_a_bearer_of_wood_is_too_near_where_one_of_steel_is_not(
    heron: Plan, catalogue: Catalogue
) -> None:
    steel = check(_bearer(heron, catalogue, "steel"), catalogue, ("pipes",))
    assert steel.find("pipes.heat", "bearer") is None
    near = steel.find("pipes.clearance", "bearer")
    assert near is None or near.verdict is not Verdict.OVER
    wood = check(_bearer(heron, catalogue, "wood"), catalogue, ("pipes",))
    gap, heat = wood.find("pipes.clearance", "bearer"), wood.find("pipes.heat", "bearer")
    assert gap is not None
    assert heat is not None
    assert gap.verdict is Verdict.OVER
    assert "cross-member of wood" in gap.band.source
    assert remedies_for(wood.job, gap)


def test_a_material_that_is_not_listed_asks_nothing(heron: Plan, catalogue: Catalogue) -> None:
    odd = apply(
        _bearer(heron, catalogue, "steel"),
        set_value("vehicle.solids.bearer.material", "basalt"),
        catalogue,
    )
    assert check(odd, catalogue, ("pipes",)).find("pipes.heat", "bearer") is None
