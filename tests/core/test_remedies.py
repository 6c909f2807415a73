"""A remedy that is offered clears its finding: on the demo plans, and on generated vehicles."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, check
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import StartRun
from gale_nook.core.plan.air import Air
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.core.spot.search import nearest_clear
from gale_nook.core.vehicle.commands import AddSolid
from gale_nook.demo.load import demo_plan

OPEN = {Verdict.OVER, Verdict.UNKNOWN}


def _assert_cures(done: Check, finding: Finding) -> int:
    offered = remedies_for(done.job, finding)
    over = {f.key for f in done.findings if f.verdict is Verdict.OVER}
    for remedy in offered:
        after = check(apply(done.job.plan, remedy.command, done.job.catalogue), done.job.catalogue)
        same = after.find(finding.rule, finding.subject, finding.run)
        assert same is None or same.verdict not in OPEN
        if finding.verdict is Verdict.OVER:
            assert {f.key for f in after.findings if f.verdict is Verdict.OVER} < over
        assert "\ue000" in remedy.sentence or len(remedy.sentence) > 15
    return len(offered)


@pytest.mark.slow
def test_every_remedy_of_the_demo_cures(any_demo: Plan, catalogue: Catalogue) -> None:
    done = check(any_demo, catalogue)
    for finding in done.findings:
        if finding.verdict in OPEN:
            _assert_cures(done, finding)


@st.composite
def crowded_vans(draw: st.DrawFn) -> Plan:
    """A mid-size van with members, boxes and an exhaust of which something is usually over."""
    book, plan = load_catalogue(), demo_plan("blank")
    for number in range(draw(st.integers(1, 5))):
        kind = draw(
            st.sampled_from(["member", "fuel-tank", "wiring", "liner", "furniture", "suspension"])
        )
        inside = book.solid_kinds[kind].where == "inside"
        solid = BoxSolid(
            id=f"s-{number}",
            name=f"part {number}",
            kind=kind,
            x_mm=draw(st.integers(200, 2600)),
            y_mm=draw(st.integers(-700, 500)),
            z_mm=10 if inside else draw(st.integers(-300, -100)),
            length_mm=draw(st.integers(30, 500)),
            width_mm=draw(st.integers(30, 400)),
            height_mm=draw(st.integers(30, 90)),
        )
        plan = apply(plan, AddSolid(item=solid), book)
    plan = apply(
        plan, ChooseHeater(sheet=draw(st.sampled_from(["bothy-22", "bothy-40", "byre-50"]))), book
    )
    place = PlaceHeater(
        x_mm=draw(st.integers(300, 2700)),
        y_mm=draw(st.integers(-600, 600)),
        yaw_deg=draw(st.sampled_from([0, 90, 180, 270])),
    )
    plan = apply(apply(plan, place, book), StartRun(tube="exhaust"), book)
    plan = apply(
        plan, set_value("vehicle.floor.layers.l1.thickness_mm", draw(st.integers(3, 90))), book
    )
    for node, leaf, low, high in (
        ("n-1", "radius_mm", 20, 90),
        ("n-1", "z_mm", -300, -60),
        ("n-2", "z_mm", -420, -60),
        ("n-2", "y_mm", -1100, 1100),
    ):
        plan = apply(
            plan,
            set_value(f"pipes.exhaust.nodes.{node}.{leaf}", draw(st.integers(low, high))),
            book,
        )
    return plan


@pytest.mark.slow
@settings(max_examples=25)
@given(crowded_vans())
def test_every_remedy_cures_in_generated_vans(plan: Plan) -> None:
    done = check(plan, load_catalogue())
    for finding in done.findings:
        if finding.verdict in OPEN:
            _assert_cures(done, finding)


@pytest.mark.parametrize(
    ("address", "value", "rule", "subject", "sentence"),
    [
        (
            "pipes.exhaust.nodes.n-1.radius_mm",
            40,
            "pipes.radius",
            "n-1",
            "Open bend 1 to a radius of \ue00055.0 mm\ue001.",
        ),
        (
            "pipes.exhaust.nodes.n-3.z_mm",
            -226,
            "pipes.fall",
            "n-3",
            "Lower the far end of straight 3, and all after it, by \ue00026.0 mm\ue001.",
        ),
        (
            "vehicle.floor.layers.l3.thickness_mm",
            40,
            "spot.stack",
            "turret",
            "Fit the long turret, one 127 mm hole instead.",
        ),
        (
            "pipes.exhaust.nodes.n-3.y_mm",
            -950,
            "pipes.mouth_edge",
            "mouth",
            "Lead the mouth \ue00035.0 mm\ue001 farther out.",
        ),
        ("heater.sheet", "byre-50", "heater.minimum", "byre-50", "Take the Bothy 40 instead."),
        (
            "vehicle.solids.galley.y_mm",
            -950,
            "vehicle.inside_shell",
            "galley",
            "Enter galley \ue00060 mm\ue001 farther to the right, if the tape says so.",
        ),
        (
            "vehicle.solids.spare.z_mm",
            -600,
            "vehicle.ground",
            "spare",
            "Enter spare wheel \ue00060 mm\ue001 higher, if the tape says so.",
        ),
        ("spot.mount", "hook", "spot.place", "-", "Fit the turret, one 127 mm hole."),
        ("heater.sheet", None, "heater.chosen", "-", "Take the Bothy 40."),
    ],
)
def test_a_slip_in_heron_is_mended_by_its_size(  # noqa: PLR0917
    heron: Plan,
    catalogue: Catalogue,
    address: str,
    value: float | str | None,
    rule: str,
    subject: str,
    sentence: str,
) -> None:
    done = check(apply(heron, set_value(address, value), catalogue), catalogue)
    finding = done.find(rule, subject)
    assert finding is not None
    assert sentence in [remedy.sentence for remedy in remedies_for(done.job, finding)]


@pytest.mark.slow
def test_wren_offers_a_remedy_for_several_kinds_of_mistake(
    wren: Plan, catalogue: Catalogue
) -> None:
    done = check(wren.model_copy(update={"air": Air()}), catalogue)
    cured = {f.rule for f in done.findings if f.verdict is Verdict.OVER and _assert_cures(done, f)}
    assert {
        "heater.minimum",
        "spot.stack",
        "pipes.radius",
        "pipes.fall",
        "pipes.low_point",
        "pipes.mouth_edge",
        "pipes.clearance",
    } <= cured


@pytest.mark.slow
@settings(max_examples=25)
@given(crowded_vans())
def test_the_nearest_clear_place_is_clear_in_generated_vans(plan: Plan) -> None:
    book = load_catalogue()
    found = nearest_clear(Job(plan, book))
    if found is not None:
        assert check(apply(plan, found.command, book), book, ("spot",)).tally()["over"] == 0
