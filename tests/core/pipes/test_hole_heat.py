"""The edge of the hole that the hot pipe leads through: every layer of it is a neighbour."""

from __future__ import annotations

import math

import pytest
import scipy
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import checked
from gale_nook.core.edits.values import SetValues, set_value
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.job import Job
from gale_nook.core.physics.air import conductivity_w_mk
from gale_nook.core.pipes.edge_heat import EdgeLayer, collar_c, disc_w_m2k, edge_c
from gale_nook.core.pipes.hole_heat_rules import hot_hole, port_skin_c
from gale_nook.core.plan.document import Plan
from gale_nook.core.remedies import remedies_for

WORKS = load_catalogue().pipe_physics
PLY, FOAM = EdgeLayer(12.0, 0.13), EdgeLayer(25.0, 0.034)
SIGMA = 5.670374419e-8


def edges(plan: Plan, catalogue: Catalogue) -> dict[str, Finding]:
    found = checked(Job(plan, catalogue)).findings
    return {f.subject: f for f in found if f.rule == "pipes.hole_heat"}


def test_a_26_mm_exhaust_through_38_mm_of_ply_and_foam_is_over(
    heron: Plan, catalogue: Catalogue
) -> None:
    """The plate over three holes leaves 6 mm of air: wood and foam char. It used to be silent."""
    plate = apply(heron, set_value("spot.mount", "plate"), catalogue)
    hole = hot_hole(Job(plate, catalogue))
    assert hole is not None
    assert (hole.name, hole.gap_mm) == ("exhaust hole", pytest.approx(6.0))
    found = edges(plate, catalogue)
    assert {found[layer].verdict for layer in ("l1", "l2", "l3")} == {Verdict.OVER}
    assert (found["l2"].measured or 0.0) > 150
    assert found["l2"].hazard == "fire"
    offered = remedies_for(Job(plate, catalogue), found["l3"])
    assert any("collar" in remedy.sentence for remedy in offered)
    assert not any(f.verdict is Verdict.OVER for f in edges(heron, catalogue).values())


def test_a_floor_of_bare_steel_has_no_edge_to_char(heron: Plan, catalogue: Catalogue) -> None:
    floor = heron.vehicle.floor
    bare = floor.model_copy(update={"layers": floor.layers[-1:]})
    vehicle = heron.vehicle.model_copy(update={"floor": bare})
    plan = apply(
        heron.model_copy(update={"vehicle": vehicle}), set_value("spot.mount", "plate"), catalogue
    )
    assert edges(plan, catalogue) == {}


def test_the_packing_is_asked_for_and_judged(heron: Plan, catalogue: Catalogue) -> None:
    """A ring of timber under a plate is as near as the floor; one of metal is not harmed."""
    plan = apply(heron, set_value("spot.mount", "plate"), catalogue)
    plan = apply(plan, set_value("spot.packing_mm", 10.0), catalogue)
    asked = edges(plan, catalogue)["packing"]
    assert asked.verdict is Verdict.UNKNOWN
    offered = remedies_for(Job(plan, catalogue), asked)
    metal = [r.command for r in offered if isinstance(r.command, SetValues)]
    assert metal[0].changes[0].value == "aluminium"
    timber = apply(plan, set_value("spot.packing", "softwood"), catalogue)
    assert edges(timber, catalogue)["packing"].verdict is Verdict.OVER
    assert "packing" not in edges(apply(plan, metal[0], catalogue), catalogue)


def test_the_edge_takes_what_it_carries_off() -> None:
    """The balance by hand: radiation between two cylinders, conduction through the air between, and
    the disc fin with Bessel functions.
    """
    edge = edge_c(320.0, 26.0, 6.0, PLY, 25.0, WORKS)
    inner, outer = 0.013, 0.019
    between = inner / outer / (1 / 0.9 + inner / outer * (1 / 0.9 - 1))
    taken = between * SIGMA * ((320 + 273.15) ** 4 - (edge + 273.15) ** 4)
    taken += conductivity_w_mk((320 + edge) / 2) / (outer * math.log(outer / inner)) * (320 - edge)
    wave = math.sqrt(6 / (0.13 * 0.012))
    ratio = scipy.special.k1(wave * outer) / scipy.special.k0(wave * outer)
    assert 0.13 * wave * ratio * (edge - 25) == pytest.approx(taken, rel=1e-5)


@given(st.floats(100, 450), st.floats(0.5, 80), st.sampled_from([PLY, FOAM]))
def test_more_room_never_makes_the_edge_hotter(skin: float, gap: float, layer: EdgeLayer) -> None:
    near = edge_c(skin, 26.0, gap, layer, 25.0, WORKS)
    far = edge_c(skin, 26.0, gap * 1.3, layer, 25.0, WORKS)
    assert 25.0 <= far <= near + 1e-3
    assert near <= skin + 1e-6
    assert edge_c(skin + 30, 26.0, gap, layer, 25.0, WORKS) > near
    assert edge_c(skin, 26.0, 0.0, layer, 25.0, WORKS) == skin


def test_a_disc_against_a_finite_difference_one() -> None:
    """The heat that a disc carries off, against a disc of 600 rings out to half a metre."""
    radius, rings, far = 0.019, 6000, 0.5
    step = (far - radius) / rings
    centres = [radius + (n + 0.5) * step for n in range(rings)]
    # rings in series with a leak each: solved from the rim inwards, as a continued fraction
    admittance = 0.0
    for r in reversed(centres):
        leak = 6.0 * 2 * math.pi * r * step
        series = 0.13 * 2 * math.pi * r * 0.012 / step
        admittance = leak / 2 + 1 / (1 / series + 1 / (admittance + leak / 2))
    per_area = admittance / (2 * math.pi * radius * 0.012)
    assert disc_w_m2k(radius, PLY, 6.0) == pytest.approx(per_area, rel=2e-3)


def test_a_collar_keeps_the_heat_off_only_with_room_round_the_pipe() -> None:
    bare = edge_c(320.0, 26.0, 16.4, PLY, 25.0, WORKS)
    behind = collar_c(320.0, 26.0, 124.0, 16.4, (PLY, FOAM), WORKS)
    assert behind < 75 < bare
    assert collar_c(320.0, 26.0, 124.0, 4.9, (PLY, FOAM), WORKS) == 320.0
    assert collar_c(320.0, 26.0, 124.0, 16.4, (), WORKS) > behind  # nothing carries heat off behind


def test_the_skin_at_the_port_is_the_runs_own(heron: Plan, catalogue: Catalogue) -> None:
    """Before a run is laid it is known already; with one it is the same."""
    job = Job(heron, catalogue)
    skin = port_skin_c(job)
    assert skin is not None
    assert 250 < skin < 400
    pipes = heron.pipes.model_copy(update={"exhaust": None})
    assert port_skin_c(Job(heron.model_copy(update={"pipes": pipes}), catalogue)) == skin
