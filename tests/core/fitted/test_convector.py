"""Ducts that begin at a fan convector of the loop: one flow of air, one heat, on both sides."""

from __future__ import annotations

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.coolant.remedies import begin_ducts
from gale_nook.core.ducts.convector import ducted_convector
from gale_nook.core.ducts.ends import heater_inlet, warm_end
from gale_nook.core.ducts.layout import layout
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.fitted.heating import warm_minutes
from gale_nook.core.fitted.usable import usable
from gale_nook.core.fitted.zone_supply import zone_supply
from gale_nook.core.job import Job
from gale_nook.core.loop.convectors import blown
from gale_nook.core.loop.night import warm_up
from gale_nook.core.loop.state import loop_state
from gale_nook.core.plan.air import Zone
from gale_nook.demo.load import demo_plan
from tests.core.coolant.loops import loop_plan
from tests.core.ducts.ducted import duct

CONVECTOR = "convector-1"
BED = Zone(id="bed", name="bed", from_x_mm=3400, to_x_mm=4800, left_y_mm=-890, right_y_mm=890)


def _job(catalogue: Catalogue, *ducts_to: tuple[str, str], fan: int = 2, zones: bool = True) -> Job:
    """A loop whose convector blows through one duct to outlets in zones, by their kinds."""
    plan = loop_plan(
        catalogue,
        "convector",
        set_value(f"coolant.parts.{CONVECTOR}.kind", "matrix-5-duct"),
        set_value(f"coolant.parts.{CONVECTOR}.fan", fan),
        set_value("air.convector", CONVECTOR),
    )
    part = plan.coolant.part(CONVECTOR)
    assert part is not None
    ends = [
        duct(
            f"to-{zone}",
            (part.x_mm + 700, part.y_mm, part.z_mm),
            kind="duct-90",
            outlet=kind,
            zone=zone,
        )
        for zone, kind in ducts_to
    ]
    air = plan.air.model_copy(update={"ducts": tuple(ends), "zones": (BED,) if zones else ()})
    return Job(plan.model_copy(update={"air": air}), catalogue)


def _given_w(job: Job) -> float:
    state = loop_state(job)
    assert state is not None
    return state.branches[CONVECTOR].given_w


def test_loop_and_ducts_tell_one_air_and_one_heat(catalogue: Catalogue) -> None:
    job = _job(catalogue, ("bed", "fixed-90"))
    found, flow = usable(job), blown(job, CONVECTOR, 2)
    assert found is not None
    assert found.at is not None
    assert found.usable_w == pytest.approx(_given_w(job), rel=1e-9)
    assert sum(found.at.delivered_w.values()) == pytest.approx(found.usable_w, rel=1e-6)
    assert found.at.total_kg_s / 1.2 * 3600 == pytest.approx(flow.m3_h, rel=0.01)
    assert found.at.heater_c < found.limit_c


def test_a_duct_takes_air_and_heat_off_it(catalogue: Catalogue) -> None:
    """Against the same convector free in the room; a narrow outlet takes more."""
    free = Job(apply(_job(catalogue).plan, set_value("air.convector", None), catalogue), catalogue)
    wide, narrow = (_job(catalogue, ("living", kind)) for kind in ("fixed-90", "fixed-60"))
    flows = [blown(each, CONVECTOR, 2).m3_h for each in (free, wide, narrow)]
    assert flows == sorted(flows, reverse=True)
    assert flows[0] == 260.0
    assert flows[2] < 0.9 * flows[0]
    heats = [_given_w(each) for each in (free, wide, narrow)]
    assert heats == sorted(heats, reverse=True)
    steps = [blown(wide, CONVECTOR, step).m3_h for step in range(4)]
    assert steps[0] == 0.0
    assert steps == sorted(steps)


def test_heat_goes_where_the_outlet_is(catalogue: Catalogue) -> None:
    """The bed gets what its outlet brings, and is warmed from cold by it."""
    there, here = _job(catalogue, ("bed", "fixed-90")), _job(catalogue, ("living", "fixed-90"))
    gets = [{zone.id: zone.gets_w for zone in zone_supply(job)} for job in (there, here)]
    assert gets[0]["bed"] > 0.8 * _given_w(there)
    assert gets[1]["bed"] < 0.2 * _given_w(here)
    whole = [sum(each.values()) for each in gets]
    assert whole[0] == pytest.approx(whole[1], rel=0.02)
    warm = [warm_minutes(job)["bed"] for job in (there, here)]
    assert warm[0] is not None
    assert warm[1] is None or warm[0] < warm[1]


def test_energy_closes_from_cold_with_ducts(catalogue: Catalogue) -> None:
    run = warm_up(_job(catalogue, ("bed", "fixed-90")))
    assert run is not None
    assert run.heat_j == pytest.approx(run.lost_j + run.stored_j, rel=1e-9)


def test_an_outlet_that_is_shut_stops_it(catalogue: Catalogue) -> None:
    job = _job(catalogue, ("living", "closable-75"))
    shut = apply(job.plan, set_value("air.ducts.to-living.outlet.shut", value=True), catalogue)
    assert blown(Job(shut, catalogue), CONVECTOR, 2).m3_h == 0.0
    assert _given_w(Job(shut, catalogue)) < 0.2 * _given_w(job)


def test_ducts_begin_at_its_air_end_and_the_heater_keeps_its_plug(catalogue: Catalogue) -> None:
    job = _job(catalogue, ("living", "fixed-90"))
    part, end = job.plan.coolant.part(CONVECTOR), warm_end(job)
    assert part is not None
    assert end is not None
    assert end[0] == (part.x_mm + 180, part.y_mm, part.z_mm + 10)
    assert end[1] == (1.0, 0.0, 0.0)
    turned = apply(job.plan, set_value(f"coolant.parts.{CONVECTOR}.yaw_deg", 90), catalogue)
    other = warm_end(Job(turned, catalogue))
    assert other is not None
    assert other[1] == pytest.approx((0.0, 1.0, 0.0))
    assert heater_inlet(Job(turned, catalogue)) == heater_inlet(job)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (set_value("air.convector", None), "no convector is chosen"),
        (set_value("air.convector", "no-such"), "no convector is chosen"),
        (set_value(f"coolant.parts.{CONVECTOR}.fan", 0), "whose fan is off"),
        (set_value(f"coolant.parts.{CONVECTOR}.kind", "matrix-5"), "cannot blow into ducts"),
        (RemoveItem(collection="coolant.parts", item_id=CONVECTOR), "no convector is chosen"),
    ],
)
def test_ducts_that_begin_nowhere_are_told(
    catalogue: Catalogue, change: Command, words: str
) -> None:
    good = _job(catalogue, ("living", "fixed-90"))
    assert (
        check(good.plan, catalogue, ("coolant",)).find("coolant.ducts", "-").verdict
        is Verdict.CLEAR
    )  # type: ignore[union-attr]
    plan = apply(good.plan, change, catalogue)
    finding = check(plan, catalogue, ("coolant",)).find("coolant.ducts", "-")
    assert finding is not None
    assert finding.verdict is Verdict.OVER
    assert words in finding.sentence
    if isinstance(change, RemoveItem):
        assert layout(Job(plan, catalogue)) is None
        return
    remedy = next(begin_ducts(Job(plan, catalogue), finding))
    cured = apply(plan, remedy.command, catalogue)
    after = check(cured, catalogue, ("coolant",)).find("coolant.ducts", "-")
    assert after is not None
    assert after.verdict is Verdict.CLEAR
    assert ducted_convector(Job(cured, catalogue)) is not None


def test_ducts_of_an_air_heater_are_not_asked_for_a_convector(catalogue: Catalogue) -> None:
    assert check(demo_plan("heron"), catalogue).find("coolant.ducts", "-") is None


def test_its_checks_are_those_of_ducts_and_none_of_a_heater(catalogue: Catalogue) -> None:
    done = check(_job(catalogue, ("living", "closable-75")).plan, catalogue, ("air",))
    rules = {finding.rule for finding in done.findings}
    assert {"air.rating", "air.clips", "air.jet", "air.together", "air.bore"} <= rules
    assert not rules & {"air.usable", "air.closable", "air.never_closable", "air.zone"}
    rating = next(f for f in done.findings if f.rule == "air.rating")
    assert rating.measured == pytest.approx(
        80.0, abs=25.0
    )  # where the coolant pauses, or an engine
