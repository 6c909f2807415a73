"""Parts that came with the body type: where such a vehicle has them, and in pencil."""

from __future__ import annotations

import pytest

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.vehicle.assumed_parts import assumed_addresses, with_assumed_parts
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.demo.load import new_plan

BODIES = tuple(load_catalogue().bodies)


def _begun(body: str, catalogue: Catalogue) -> Plan:
    return with_assumed_parts(new_plan("Teal", catalogue.bodies[body]), catalogue)


@pytest.mark.parametrize("body", BODIES)
def test_assumed_parts_fit_their_vehicle(body: str, catalogue: Catalogue) -> None:
    """None in another's place, none over the ground or out of the shell; below is below."""
    plan = _begun(body, catalogue)
    done = check(plan, catalogue, ("vehicle",))
    assert [f.sentence for f in done.findings if f.verdict is Verdict.OVER] == []
    job, shell = Job(plan, catalogue), plan.vehicle.shell
    under = floor_underside_z_mm(job)
    for solid, kind, shape in surveyed_parts(job):
        low, high = shape.bounds[:3], shape.bounds[3:]
        assert shell.front_x_mm <= low[0] < high[0] <= shell.rear_x_mm + 1e-6, solid.name
        assert max(-low[1], high[1]) <= shell.outer_width_mm / 2, solid.name
        if kind.where == "below":
            assert shell.ground_z_mm < low[2] < high[2] <= under + 1e-6, solid.name


@pytest.mark.parametrize("body", BODIES)
def test_every_value_of_theirs_is_pencilled(body: str, catalogue: Catalogue) -> None:
    plan = _begun(body, catalogue)
    for solid in plan.vehicle.solids:
        assert set(assumed_addresses(solid)) <= set(plan.vehicle.pencilled), solid.name


def test_a_body_type_goes_without_what_it_does_not_have(catalogue: Catalogue) -> None:
    kinds = {b: {s.kind for s in _begun(b, catalogue).vehicle.solids} for b in BODIES}
    assert "fuel-tank" in kinds["mid-van"]
    assert not {"fuel-tank", "vehicle-exhaust", "seat"} & kinds["trailer"]
    assert not {"suspension", "brake-pipe"} & kinds["demountable"]


def test_a_part_that_is_only_assumed_is_still_asked_for_until_something_is_measured(
    catalogue: Catalogue,
) -> None:
    """Drawn is not looked at: the brake pipe stays to be measured."""
    plan = _begun("mid-van", catalogue)

    def asked(of: Plan) -> set[str]:
        done = check(of, catalogue, ("vehicle",))
        return {f.subject for f in done.findings if f.rule == "vehicle.asked_for"}

    assert {"brake-pipe", "fuel-tank"} <= asked(plan)
    moved = apply(plan, set_value("vehicle.solids.fuel-tank.x_mm", 400.0), catalogue)
    assert "fuel-tank" not in asked(moved)
    assert "brake-pipe" in asked(moved)
