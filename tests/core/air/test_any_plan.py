"""Any ducts that can be typed are answered: with findings and figures, never with a failure."""

from __future__ import annotations

import random
from typing import Any

import pytest

from gale_nook.core.air.report import air_report
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.demo.load import demo_plan

pytestmark = pytest.mark.slow


def _changed(
    duct: dict[str, Any], zones: list[str], book: Catalogue, chance: random.Random
) -> None:
    works = book.air_equipment
    if chance.random() < 0.4:
        duct["kind"] = chance.choice([kind.id for kind in works.ducts])
    for node in duct["nodes"]:
        far = chance.choice([0.0, 0.0, 300.0, 2000.0])
        for leaf in ("x_mm", "y_mm", "z_mm"):
            node[leaf] += chance.uniform(-far, far)
    outlet = duct.get("outlet")
    if outlet:
        outlet["open_percent"] = chance.choice([5, 20, 50, 100])
        outlet["shut"] = chance.random() < 0.2
        outlet["zone"] = chance.choice(["living", *zones])
        outlet["share_percent"] = chance.choice([None, 0, 33.3, 100])
        outlet["kind"] = chance.choice([kind.id for kind in works.outlets])


@pytest.mark.parametrize("seed", range(30))
def test_any_ducts_are_answered(seed: int, catalogue: Catalogue) -> None:
    chance = random.Random(seed)
    data = demo_plan(chance.choice(["heron", "wren"])).model_dump(mode="json")
    air = data["air"]
    for duct in air["ducts"]:
        _changed(duct, [zone["id"] for zone in air["zones"]], catalogue, chance)
    for zone in air["zones"]:
        zone["opening_cm2"] = chance.choice([0, 0.1, 10, 1000])
        zone["divider"] = chance.choice(["open", "curtain", "door", "panel"])
        zone["set_c"] = chance.choice([-5, 20, 60, None])
    air["warm_end"] = chance.choice(["free", "panel", "duct", "duct"])
    air["cold_end"] = chance.choice(["free", "opening", "duct"])
    data["heat"]["altitude_m"] = chance.choice([0, 1500, 4500])
    plan = Plan.model_validate(data)
    found = check(plan, catalogue, ("air",))
    report = air_report(Job(plan, catalogue))
    assert found.findings
    if report["usable_w"] is not None:
        assert 0 <= report["usable_w"] <= report["most_w"]
