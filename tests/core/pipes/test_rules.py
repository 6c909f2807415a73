"""The exhaust's checks on runs that can be worked out on paper."""

from __future__ import annotations

import math
from typing import Any

import pytest

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply, plan_of
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.document import Plan
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.demo.load import demo_plan
from tests.plans import example


def _plan(*nodes: tuple[float, float, float], **extra: Any) -> Plan:
    """The shell-only van with the Bothy 40 at x 1500: exhaust port at (1478, -24, -95)."""
    book, plan = load_catalogue(), demo_plan("blank")
    for command in (ChooseHeater(sheet="bothy-40"), PlaceHeater(x_mm=1500, y_mm=0)):
        plan = apply(plan, command, book)
    data = plan.model_dump(mode="json")
    data["pipes"]["exhaust"] = {
        "nodes": [
            {"id": f"n-{i}", "x_mm": x, "y_mm": y, "z_mm": z, "radius_mm": 60, **extra}
            for i, (x, y, z) in enumerate(nodes, 1)
        ]
    }
    return plan_of(data, book)


def _find(rule: str, subject: str, plan: Plan) -> Finding:
    finding = check(plan, load_catalogue(), ("pipes",)).find(rule, subject)
    assert finding is not None
    return finding


GOOD = ((1478, -24, -200), (1478, -1000, -250))


def test_length_and_bends() -> None:
    """147 down, then hypot(976, 50); one fillet near 90°."""
    long = math.hypot(976, 50)
    turn = math.radians(90 - math.degrees(math.atan2(50, 976)))
    wanted = 147 + long - 2 * 60 * math.tan(turn / 2) + 60 * turn
    assert _find("pipes.length", "exhaust", _plan(*GOOD)).measured == pytest.approx(wanted)
    assert _find("pipes.bends", "exhaust", _plan(*GOOD)).measured == pytest.approx(
        math.degrees(turn)
    )


def test_fall() -> None:
    finding = _find("pipes.fall", "n-2", _plan(*GOOD))
    assert finding.measured == pytest.approx(math.degrees(math.atan2(50, 976)))
    assert finding.verdict == "clear"
    level = _find("pipes.fall", "n-2", _plan((1478, -24, -200), (1478, -1000, -200)))
    assert (level.measured, level.verdict) == (pytest.approx(0), "over")


def test_low_point_and_its_drain() -> None:
    rising = ((1478, -24, -250), (1478, -500, -200), (1478, -1000, -260))
    assert _find("pipes.low_point", "n-1", _plan(*rising)).verdict == "over"
    assert _find("pipes.low_point", "n-1", _plan(*rising, drain=True)).verdict == "clear"


def test_radius_and_room() -> None:
    tight = _find("pipes.radius", "n-1", _plan(*GOOD, radius_mm=50))
    assert (tight.measured, tight.margin, tight.verdict) == (50, pytest.approx(-5), "over")
    short = _find(
        "pipes.bend_room", "n-2", _plan((1478, -24, -200), (1478, -100, -210), (1478, -100, -500))
    )
    assert short.verdict == "over"


def test_mouth_at_the_edge() -> None:
    """The van is 1960 wide: y = -1000 is 20 past its edge, y = -900 is 80 inside."""
    assert _find("pipes.mouth_edge", "mouth", _plan(*GOOD)).measured == pytest.approx(-20)
    inside = _find("pipes.mouth_edge", "mouth", _plan((1478, -24, -200), (1478, -900, -250)))
    assert (inside.measured, inside.verdict, inside.hazard) == (pytest.approx(80), "over", "fumes")


def test_mouth_direction() -> None:
    forward = _plan((1478, -24, -200), (1478, -900, -250), (1200, -1000, -260))
    angle = math.degrees(math.atan2(math.hypot(100, 10), 278))
    assert _find("pipes.mouth_forward", "mouth", forward).measured == pytest.approx(angle)
    assert _find("pipes.mouth_forward", "mouth", forward).verdict == "over"
    up = _plan((1478, -24, -300), (1478, -1000, -200))
    assert _find("pipes.mouth_down", "mouth", up).verdict == "over"


def test_mouth_to_a_door_by_pythagoras() -> None:
    """The sliding door's near lower corner on the right is at (1180, 980, -140)."""
    plan = _plan((1478, 24, -200), (1478, 1000, -250))
    finding = _find("pipes.mouth_opening", "sliding-door", plan)
    assert finding.measured == pytest.approx(math.sqrt(298**2 + 20**2 + 110**2), abs=0.01)


def test_mouth_above_ground() -> None:
    assert _find("pipes.mouth_ground", "mouth", _plan(*GOOD)).measured == pytest.approx(350)


def test_a_run_above_the_floor_is_over() -> None:
    finding = _find("pipes.floor", "exhaust", _plan((1478, -24, 100), (1478, -1000, 50)))
    assert finding.verdict == "over"
    assert "cabin" in finding.sentence


def test_clearance_names_the_neighbour_and_its_reason(wren: Plan) -> None:
    finding = _find("pipes.clearance", "liner", wren)
    assert finding.measured is not None
    assert finding.measured < 0
    assert finding.hazard == "fire"


def test_no_run_is_to_measure() -> None:
    found = check(example("quarto-bare"), load_catalogue(), ("pipes",)).findings
    assert [(f.rule, f.run, f.verdict.value) for f in found] == [
        ("pipes.run", "exhaust", "unknown"),
        ("pipes.run", "intake", "unknown"),
    ]


def test_what_stands_out_beside_the_vehicle_is_measured_and_drawn_in(
    heron: Plan, catalogue: Catalogue
) -> None:
    half = heron.vehicle.shell.outer_width_mm / 2
    plan = apply(heron, set_value("pipes.exhaust.nodes.n-3.y_mm", -half - 210), catalogue)
    done = check(plan, catalogue, ("pipes",))
    (finding,) = [f for f in done.findings if f.rule == "pipes.overhang"]
    assert finding.verdict is Verdict.OVER
    run, radius = pipe_run(done.job, "exhaust"), 13.0  # the skin at the mouth's lip
    assert run is not None
    aside = abs(run.mouth_direction[1])
    assert finding.measured == pytest.approx(210 + radius * math.sqrt(1 - aside**2), abs=0.2)
    remedy = remedies_for(done.job, finding)[0]
    after = check(apply(plan, remedy.command, catalogue), catalogue, ("pipes",))
    assert [f.measured for f in after.findings if f.rule == "pipes.overhang"] == [
        pytest.approx(150, abs=0.5)
    ]
