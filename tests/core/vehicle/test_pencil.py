"""Pencilled values: inked by typing, and named by every verdict that rests on one."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import checked
from gale_nook.core.edits.address import leaves
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.heat.commands import SetLayers
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.vehicle.commands import AddSolid, Ink, SetPoints
from gale_nook.core.vehicle.pencil import body_addresses, heat_addresses, part_addresses
from gale_nook.core.vehicle.starts import starting_part
from gale_nook.demo.load import demo_plan, new_plan

STEPS_MM = (9.0, -70.0)
Key = tuple[str, str, str]


def pencilled(plan: Plan, addresses: tuple[str, ...]) -> Plan:
    """The plan with these values not measured."""
    vehicle = plan.vehicle.model_copy(update={"pencilled": tuple(sorted(addresses))})
    return plan.model_copy(update={"vehicle": vehicle})


def of(plan: Plan, catalogue: Catalogue) -> dict[Key, Finding]:
    return {finding.key: finding for finding in checked(Job(plan, catalogue)).findings}


def moved(before: dict[Key, Finding], after: dict[Key, Finding]) -> set[Key]:
    """What both checks find, with another result."""
    return {
        key
        for key in before.keys() & after.keys()
        if (before[key].measured, before[key].answer) != (after[key].measured, after[key].answer)
        and before[key].verdict is not Verdict.UNKNOWN
    }


def silent(plan: Plan, addresses: list[str], catalogue: Catalogue) -> set[tuple[str, str, str]]:
    """(rule, subject, address) of findings that change with a pencilled value and do not say so."""
    found, measured = set(), of(plan, catalogue)
    values = leaves(plan.model_dump(mode="json"))
    for address in addresses:
        changed: set[Key] = set()
        for step in STEPS_MM:
            try:
                other = apply(plan, set_value(address, values[address] + step), catalogue)
            except BadInput:
                continue
            changed |= moved(measured, of(other, catalogue))
        if changed:
            base = of(pencilled(plan, (address,)), catalogue)
            found |= {(key[0], key[2], address) for key in changed if not base[key].assumed}
    return found


@pytest.mark.parametrize("name", ["heron", "quarto", "wren"])
def test_no_verdict_rests_on_the_body_silently(name: str, catalogue: Catalogue) -> None:
    """Every dimension of the body is moved; what changes said that it rests on it."""
    plan = demo_plan(name)
    numbers = [
        address
        for address in body_addresses(plan.vehicle)
        if isinstance(leaves(plan.model_dump(mode="json"))[address], float)
    ]
    assert silent(plan, numbers, catalogue) == set()


def test_no_verdict_rests_on_the_walls_or_the_weather_silently(
    heron: Plan, catalogue: Catalogue
) -> None:
    """Thicker insulation, another leak, a colder night: what changes said that it rests on it."""
    values = leaves(heron.model_dump(mode="json"))
    quiet = set()
    for address in heat_addresses(heron.heat):
        if not isinstance(values[address], float):
            continue
        base = of(pencilled(heron, (address,)), catalogue)
        other = apply(heron, set_value(address, values[address] * 1.2), catalogue)
        changed = moved(base, of(other, catalogue))
        assert changed, address
        quiet |= {(key[0], address) for key in changed if not base[key].assumed}
    assert quiet == set()


def test_a_build_up_that_is_chosen_is_inked(catalogue: Catalogue) -> None:
    plan = new_plan("new", catalogue.bodies["mid-van"])
    layers = plan.heat.surfaces[0].layers
    chosen = apply(plan, SetLayers(faces=("roof",), layers=layers), catalogue)
    assert not any(".roof." in address for address in chosen.vehicle.pencilled)
    assert any(".left." in address for address in chosen.vehicle.pencilled)


@pytest.mark.parametrize("name", ["heron", "wren"])
def test_no_verdict_rests_on_a_part_silently(name: str, catalogue: Catalogue) -> None:
    plan = demo_plan(name)
    addresses = [
        address
        for solid in plan.vehicle.solids
        for address in part_addresses(solid)
        if address.rsplit(".", 1)[-1] in {"x_mm", "y_mm", "z_mm", "diameter_mm"}
    ]
    # a part below that is lifted through the floor stands beside the heater: that is told itself
    through = {f"spot.{name}" for name in ("inlet", "outlet", "sides")}
    below = {s.id for s in plan.vehicle.solids if catalogue.solid_kinds[s.kind].where == "below"}
    quiet = {
        (rule, subject, address)
        for rule, subject, address in silent(plan, addresses, catalogue)
        if not (rule in through and address.split(".")[2] in below and address.endswith(".z_mm"))
    }
    assert quiet == set()


def test_what_is_typed_is_inked_though_it_stays_the_same(heron: Plan, catalogue: Catalogue) -> None:
    """A tape that says the same is a measurement all the same."""
    sill, ground = "vehicle.shell.sill_z_mm", "vehicle.shell.ground_z_mm"
    plan = pencilled(heron, (sill, ground))
    typed = apply(plan, set_value(sill, heron.vehicle.shell.sill_z_mm), catalogue)
    assert typed.vehicle.pencilled == (ground,)
    assert typed.vehicle.shell == heron.vehicle.shell
    assert apply(plan, Ink(addresses=(sill, ground)), catalogue).vehicle.pencilled == ()


def test_a_part_is_in_pencil_until_each_of_its_sizes_was_measured(
    heron: Plan, catalogue: Catalogue
) -> None:
    solid = starting_part(Job(heron, catalogue), catalogue.solid_kinds["brake-pipe"])
    plan = apply(heron, AddSolid(item=solid, pencilled=part_addresses(solid)), catalogue)
    before = set(plan.vehicle.pencilled)
    assert f"vehicle.solids.{solid.id}.diameter_mm" in before
    assert len([a for a in before if ".points." in a]) == 9
    one = apply(plan, set_value(f"vehicle.solids.{solid.id}.points.0.2", -150.0), catalogue)
    assert before - set(one.vehicle.pencilled) == {f"vehicle.solids.{solid.id}.points.0.2"}
    # a point put in between two that nobody has measured is no measurement
    points = [*solid.points[:1], (1.0, 2.0, -150.0), *solid.points[1:]]
    more = apply(one, SetPoints(item_id=solid.id, points=tuple(points)), catalogue)
    assert len([a for a in more.vehicle.pencilled if ".points." in a]) == 12
    gone = apply(plan, RemoveItem(collection="vehicle.solids", item_id=solid.id), catalogue)
    assert gone.vehicle.pencilled == ()


def test_a_hole_beside_a_part_in_pencil_says_so(heron: Plan, catalogue: Catalogue) -> None:
    plan = pencilled(heron, ("vehicle.solids.brake-left.diameter_mm",))
    beside = [f for f in of(plan, catalogue).values() if "brake-left" in f.subject]
    assert beside
    assert all("brake pipe to the rear axle" in f.assumed for f in beside)
    assert not any(f.assumed for f in of(heron, catalogue).values())


def test_a_new_job_is_in_pencil_and_a_surveyed_one_is_not(catalogue: Catalogue) -> None:
    for body in (None, *catalogue.bodies.values()):
        plan = new_plan("new", body)
        expected = {*body_addresses(plan.vehicle), *heat_addresses(plan.heat)}
        assert set(plan.vehicle.pencilled) == expected
        assert "vehicle.shell.sill_z_mm" in plan.vehicle.pencilled
        assert "heat.surfaces.roof.layers.l1.thickness_mm" in plan.vehicle.pencilled
    assert demo_plan("heron").vehicle.pencilled == ()
