"""What sits on the pipes: supports, joints, silencer, filter, covers, and the loop
of a rising run.
"""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply, plan_of
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import PutFittings, SetEdges, StartRun
from gale_nook.core.pipes.covers import cover_segments
from gale_nook.core.pipes.joints import in_a_bend, joints_needed, pipe_needed_mm, proposed_joints
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.supports import free_lengths, hangs_from, proposed_supports
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.pipes import Fitting
from gale_nook.core.remedies import remedies_for
from gale_nook.demo.load import demo_plan


def _find(plan: Plan, rule: str, subject: str) -> Finding:
    finding = check(plan, load_catalogue(), ("pipes",)).find(rule, subject)
    assert finding is not None
    return finding


def _cured(plan: Plan, finding: Finding, catalogue: Catalogue) -> Plan:
    offered = remedies_for(Job(plan, catalogue), finding)
    assert offered, finding.rule
    after = apply(plan, offered[0].command, catalogue)
    assert _find(after, finding.rule, finding.subject).verdict in {"clear", "tight"}
    return after


def test_free_lengths_run_from_the_port_over_every_support_to_the_mouth(
    heron: Plan, catalogue: Catalogue
) -> None:
    job = Job(heron, catalogue)
    assert pipe_run(job, "exhaust") is not None
    holds = free_lengths(job, "exhaust")
    assert holds[0].from_mm == 0
    assert holds[-1].to_mm == pytest.approx(pipe_run(job, "exhaust").length_mm)
    assert sum(hold.length_mm for hold in holds) == pytest.approx(
        pipe_run(job, "exhaust").length_mm
    )


def test_without_supports_it_hangs_free_and_the_factory_thread_comes_first(
    heron: Plan, catalogue: Catalogue
) -> None:
    bare = apply(heron, PutFittings(tube="exhaust", kind="support", fittings=()), catalogue)
    finding = _find(bare, "pipes.support", "exhaust")
    assert (finding.verdict, finding.measured) == ("over", pytest.approx(1351.3, abs=0.1))
    after = _cured(bare, finding, catalogue)
    assert after.pipes.exhaust is not None
    supports = after.pipes.exhaust.of_kind("support")
    assert [support.feature for support in supports].count("feature-7") == 1
    job = Job(after, catalogue)
    assert pipe_run(job, "exhaust") is not None
    on_thread = next(support for support in supports if support.feature == "feature-7")
    assert hangs_from(job, on_thread, pipe_run(job, "exhaust").point_at(on_thread.at_mm))[:2] == (
        2325,
        -455,
    )


@settings(max_examples=30)
@given(st.floats(200, 900), st.sampled_from(["heron", "wren"]))
def test_proposed_supports_are_never_too_far_apart_and_not_in_the_silencer(
    spacing: float, name: str
) -> None:
    book, plan = load_catalogue(), demo_plan(name)
    plan = apply(plan, PutFittings(tube="exhaust", kind="support", fittings=()), book)
    supports = proposed_supports(Job(plan, book), "exhaust", spacing)
    held = apply(plan, PutFittings(tube="exhaust", kind="support", fittings=supports), book)
    assert max(hold.length_mm for hold in free_lengths(Job(held, book), "exhaust")) <= spacing
    assert held.pipes.exhaust is not None
    for silencer in held.pipes.exhaust.of_kind("silencer"):
        assert not any(silencer.at_mm < support.at_mm < silencer.end_mm for support in supports)


def test_joints_follow_from_the_kit(heron: Plan, catalogue: Catalogue) -> None:
    """1,300 mm in the kit, extension pieces of 1,000 mm: 1,261.3 needs none; 900 more needs one."""
    assert (
        pipe_needed_mm(Job(heron, catalogue)),
        joints_needed(Job(heron, catalogue)),
    ) == (1262, 0)
    longer = apply(heron, set_value("pipes.exhaust.nodes.n-3.y_mm", -1935), catalogue)
    assert joints_needed(Job(longer, catalogue)) == 1
    finding = _find(longer, "pipes.joints", "exhaust")
    assert finding.verdict == "over"
    joints = proposed_joints(Job(longer, catalogue))
    assert [joint.at_mm for joint in joints] == [1300]
    after = apply(longer, PutFittings(tube="exhaust", kind="joint", fittings=joints), catalogue)
    assert _find(after, "pipes.joints", "exhaust").verdict == "clear"


def test_the_sheet_may_count_a_joint_as_length(heron: Plan, catalogue: Catalogue) -> None:
    longer = apply(heron, set_value("pipes.exhaust.nodes.n-3.y_mm", -1735), catalogue)
    plain = _find(longer, "pipes.length", "exhaust")
    sheet = catalogue.heaters["bothy-40"].model_copy(
        update={"id": "mine", "joint_counts_mm": 120.0}
    )
    data = longer.model_dump(mode="json")
    data["heater"]["own_sheets"], data["heater"]["sheet"] = [sheet.model_dump(mode="json")], "mine"
    counted = _find(plan_of(data, catalogue), "pipes.length", "exhaust")
    assert plain.measured is not None
    assert counted.measured == pytest.approx(plain.measured + 120)
    assert "1 joint" in counted.sentence


@pytest.mark.parametrize("at", [1090, 1480, 620])
def test_a_proposed_joint_sits_on_a_straight(heron: Plan, catalogue: Catalogue, at: float) -> None:
    data = heron.model_dump(mode="json")
    data["pipes"]["exhaust"]["nodes"][-1]["y_mm"] = -2200.0
    sheet = catalogue.heaters["bothy-40"].model_dump(mode="json")
    sheet["id"], sheet["kit"] = "mine", [{"part": "exhaust-pipe", "quantity": at}]
    data["heater"]["own_sheets"], data["heater"]["sheet"] = [sheet], "mine"
    job = Job(plan_of(data, catalogue), catalogue)
    for joint in proposed_joints(job):
        assert not in_a_bend(job, joint.at_mm)
        assert joint.at_mm <= at + 2000


def test_silencer_rules_and_their_cures(wren: Plan, catalogue: Catalogue) -> None:
    # fuel line and combustion air lie where the silencer has to go: without them
    wren = wren.model_copy(
        update={
            "fuel": wren.fuel.model_copy(update={"line": None}),
            "pipes": wren.pipes.model_copy(update={"intake": None}),
        }
    )
    turned = _cured(wren, _find(wren, "pipes.silencer_drain", "silencer"), catalogue)
    moved = _cured(turned, _find(turned, "pipes.silencer_room", "silencer"), catalogue)
    without = apply(
        moved, RemoveItem(collection="pipes.exhaust.fittings", item_id="silencer"), catalogue
    )
    missing = _find(without, "pipes.silencer", "silencer")
    assert missing.verdict == "over"
    _cured(without, missing, catalogue)
    taste = apply(without, set_value("pipes.silencer", "optional"), catalogue)
    assert _find(taste, "pipes.silencer", "silencer").verdict == "tight"


def test_a_joint_above_the_floor_is_a_matter_of_fumes(heron: Plan, catalogue: Catalogue) -> None:
    joint = Fitting(id="joint-1", kind="joint", at_mm=560)
    raised = apply(heron, PutFittings(tube="exhaust", kind="joint", fittings=(joint,)), catalogue)
    assert _find(raised, "pipes.joint_inside", "port").verdict == "clear"
    lifted = apply(raised, set_value("pipes.exhaust.nodes.n-2.z_mm", 40), catalogue)
    inside = _find(lifted, "pipes.joint_inside", "joint-1")
    assert (inside.verdict, inside.hazard) == ("over", "fumes")
    assert "above the floor" in inside.sentence


def test_covers_cut_the_run_into_stretches(heron: Plan, catalogue: Catalogue) -> None:
    covers = (
        Fitting(id="lagging-1", kind="lagging", at_mm=200, length_mm=300),
        Fitting(id="lagging-2", kind="lagging", at_mm=400, length_mm=300, layers=2),
    )
    plan = apply(heron, PutFittings(tube="exhaust", kind="lagging", fittings=covers), catalogue)
    shield = Fitting(id="shield-1", kind="shield", at_mm=650, length_mm=100)
    plan = apply(plan, PutFittings(tube="exhaust", kind="shield", fittings=(shield,)), catalogue)
    found = cover_segments(Job(plan, catalogue))
    assert [(s.from_mm, s.layers, s.shielded) for s in found] == [
        (0, 0, False),
        (200, 1, False),
        (400, 3, False),
        (500, 2, False),
        (650, 2, True),
        (700, 0, True),
        (750, 0, False),
    ]
    assert found[2].diameter_mm == 26 + 2 * 3 * catalogue.pipe_physics.lagging_mm
    assert [s.words for s in found[2:6]] == [
        "3 times lagged",
        "twice lagged",
        "twice lagged and shielded",
        "shielded",
    ]


def test_a_rising_run_drains_back_and_climbs_over_its_mouth(catalogue: Catalogue) -> None:
    """Down to a drained corner, up outside the body over its own mouth: it drains; without the
    climb it is over.
    """
    data = demo_plan("heron").model_dump(mode="json")

    def exit_at(crest: float, mouth: float) -> Plan:
        nodes = [
            (2782, -262, -170),
            (2300, -300, -205),
            (2290, -1050, -255),
            (2288, -1050, crest),
            (2286, -1160, mouth),
        ]
        data["pipes"]["exhaust"]["nodes"] = [
            {"id": f"n-{i}", "x_mm": x, "y_mm": y, "z_mm": z, "radius_mm": 55, "drain": i == 3}
            for i, (x, y, z) in enumerate(nodes, 1)
        ]
        return plan_of(data, catalogue)

    high = exit_at(300.0, 200.0)
    assert _find(high, "pipes.fall", "n-4").verdict == "clear"
    assert "drains back" in _find(high, "pipes.fall", "n-4").sentence
    assert _find(high, "pipes.loop", "exhaust").measured == pytest.approx(100)
    assert _find(exit_at(230.0, 200.0), "pipes.loop", "exhaust").verdict == "over"


def test_the_combustion_air_of_wren_has_each_kind_of_mistake_and_heron_none(
    wren: Plan, heron: Plan, catalogue: Catalogue
) -> None:
    done = check(wren, catalogue, ("pipes",))
    over = {f.rule for f in done.findings if f.verdict == "over" and "intake" in f.runs}
    assert {
        "pipes.low_point",
        "pipes.parked",
        "pipes.mouth_down",
        "pipes.filter",
        "pipes.support",
        "pipes.mouths_apart",
        "pipes.tubes_apart",
    } <= over
    clean = check(heron, catalogue, ("pipes",)).findings
    assert {f.verdict.value for f in clean} == {"clear"}
    assert {
        "pipes.length",
        "pipes.clearance",
        "pipes.pressure_loss",
        "pipes.mouth_ground",
        "pipes.mouth_forward",
    } <= {f.rule for f in clean if f.run == "intake"}


def test_a_started_combustion_air_breathes_away_from_the_exhaust(
    heron: Plan, catalogue: Catalogue
) -> None:
    plan = apply(heron, StartRun(tube="intake"), catalogue)
    assert _find(plan, "pipes.mouths_facing", "mouth").verdict == "clear"
    done = check(plan, catalogue, ("pipes",))
    assert {(f.rule, f.run) for f in done.findings if f.verdict == "over"} <= {
        ("pipes.clearance", "intake"),
        ("pipes.together", ""),
    }


def test_edges_are_kept_in_order_and_never_none(heron: Plan, catalogue: Catalogue) -> None:
    assert apply(heron, SetEdges(edges=("rear", "left")), catalogue).pipes.edges == ("left", "rear")
