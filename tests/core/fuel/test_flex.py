"""Lines that flex: crossings of a slide-out's edge, slack through the travel, how low a slack hose
hangs.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.apply import apply
from gale_nook.core.build.lists import parts_list
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.fuel.flex import Crossing, crossings
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.fuel import LinePart
from gale_nook.core.plan.moves import SlideOut
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.placement import heater_port, port_point
from gale_nook.core.vehicle.commands import SetSlide
from gale_nook.core.vehicle.slide import moves, way_out


def _with_slide(plan: Plan, catalogue: Catalogue) -> Plan:
    """A slide-out on the left round the heater: the line's last part goes along, its tank stays."""
    job = Job(plan, catalogue)
    end = port_point(job, heater_port(job, "fuel"))
    half = plan.vehicle.shell.outer_width_mm / 2
    slide = SlideOut(
        side="left",
        from_mm=end[0] - 150,
        to_mm=end[0] + 400,
        inner_mm=half + end[1] + 200,
        travel_mm=450,
        base_mm=-400,
    )
    return apply(plan, SetSlide(slide=slide), catalogue)


def test_what_moves_lies_within_its_edges_and_comes_out_outward(heron: Plan) -> None:
    shell = heron.vehicle.shell
    half = shell.outer_width_mm / 2
    left = SlideOut(
        side="left", from_mm=1000, to_mm=2000, inner_mm=500, travel_mm=300, base_mm=-100
    )
    assert moves(left, shell, (1500, -half + 400, 0))
    assert not moves(left, shell, (1500, -half + 600, 0))
    assert not moves(left, shell, (2100, -half + 400, 0))
    assert not moves(left, shell, (1500, -half + 400, -200))
    assert way_out(left) == (0, -300, 0)
    rear = SlideOut(side="rear", from_mm=-400, to_mm=400, inner_mm=600, travel_mm=500)
    assert moves(rear, shell, (shell.rear_x_mm - 100, 0, 0))
    assert way_out(rear) == (500, 0, 0)


def test_without_a_slide_out_nothing_flexes(heron: Plan, catalogue: Catalogue) -> None:
    run = fuel_run(Job(heron, catalogue))
    assert run is not None
    assert crossings(Job(heron, catalogue), run) == ()
    assert not [
        f for f in check(heron, catalogue, ("fuel",)).findings if f.rule.startswith("fuel.flex")
    ]


def test_a_line_that_is_pulled_gets_a_stretch_that_is_long_enough(
    heron: Plan, catalogue: Catalogue
) -> None:
    slid = _with_slide(heron, catalogue)
    done = check(slid, catalogue, ("fuel",))
    finding = done.find("fuel.flex", "crossing-1")
    assert finding is not None
    assert (finding.verdict, finding.hazard) == (Verdict.OVER, "fire")
    cures = remedies_for(done.job, finding)
    after = apply(slid, cures[0].command, catalogue)
    there = check(after, catalogue, ("fuel",))
    slack = there.find("fuel.flex", "crossing-1")
    assert slack is not None
    assert slack.verdict is not Verdict.OVER
    run = fuel_run(there.job)
    assert run is not None
    (crossing,) = crossings(there.job, run)
    assert crossing.flex is not None
    # the ends are farthest with the slide out: one end stays, the other goes 450 mm to the left
    a, b = crossing.ends
    assert crossing.longest_mm == pytest.approx(
        max(math.dist(a, b), math.dist(a, (b[0], b[1] - 450, b[2])))
    )
    assert "fuel-flex" in [line.part for line in parts_list(there.job)]
    short = apply(
        after,
        set_value(f"fuel.line.parts.{crossing.flex.id}.hose_mm", crossing.longest_mm - 20),
        catalogue,
    )
    finding = check(short, catalogue, ("fuel",)).find("fuel.flex", "crossing-1")
    assert finding is not None
    assert finding.measured == pytest.approx(-20, abs=0.2)
    assert remedies_for(Job(short, catalogue), finding)


POINT = st.tuples(*[st.floats(-400, 400).map(lambda value: round(value, 1))] * 3)


@given(POINT, POINT, st.floats(1.0, 2.5))
def test_no_point_of_the_hose_hangs_lower_than_told(a: tuple, b: tuple, longer: float) -> None:
    """The lowest point from which both ends are reached with the hose's length, found by trying
    many.
    """
    span = math.dist(a, b)
    hose = max(span * longer, 10.0)
    crossing = Crossing(0.0, LinePart(id="f", kind="flex", hose_mm=hose), (a, b), span, span)
    lowest = crossing.lowest_mm()
    # in the upright plane through both ends: along it, and down
    level = math.hypot(b[0] - a[0], b[1] - a[1])
    along, up = np.meshgrid(
        np.linspace(-hose, level + hose, 401),
        np.linspace(min(a[2], b[2]) - hose, max(a[2], b[2]), 401),
    )
    reached = np.hypot(along, up - a[2]) + np.hypot(along - level, up - b[2]) <= hose
    if reached.any():
        found = float(up[reached].min())
        assert lowest <= found + 1e-6
        assert found - lowest < 0.02 * hose + 2


def test_a_slide_without_a_width_is_refused(heron: Plan, catalogue: Catalogue) -> None:
    slid = _with_slide(heron, catalogue)
    with pytest.raises(BadInput, match="first edge"):
        apply(slid, set_value("vehicle.slide.to_mm", -5000.0), catalogue)
