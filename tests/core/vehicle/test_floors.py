"""Floors that differ: what stands on them, what passes below, and the map over all of them."""

from __future__ import annotations

import random

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check, checked
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.vehicle import FloorArea, Layer
from gale_nook.core.spot.checks import SPOT_CHECKS
from gale_nook.core.spot.floor_map import FloorMap
from gale_nook.core.spot.placement import body_corners, floor_stack_mm
from gale_nook.core.spot.search import at_place
from gale_nook.core.vehicle.bodies import floor_bodies
from gale_nook.core.vehicle.floor import edge_crossings, floor_at, underside_at_mm


def area(area_id: str, rect: tuple[float, float, float, float], top_mm: float) -> FloorArea:
    layers = (
        Layer(id="mat", material="plywood", thickness_mm=9.0),
        Layer(id="steel", material="steel", thickness_mm=1.5),
    )
    low_x, low_y, high_x, high_y = rect
    return FloorArea(
        id=area_id,
        name=f"the {area_id}",
        top_z_mm=top_mm,
        from_x_mm=low_x,
        to_x_mm=high_x,
        left_y_mm=low_y,
        right_y_mm=high_y,
        layers=layers,
    )


CAB = area("cab", (-600.0, -890.0, 120.0, 890.0), 85.0)
WELL = area("well", (900.0, 300.0, 1400.0, 890.0), -120.0)


def with_floors(plan: Plan, *floors: FloorArea) -> Plan:
    vehicle = plan.vehicle.model_copy(update={"floors": floors})
    return plan.model_copy(update={"vehicle": vehicle, "acceptances": ()})


@pytest.fixture
def job(heron: Plan, catalogue: Catalogue) -> Job:
    return Job(with_floors(heron, CAB, WELL), catalogue)


def test_each_place_has_its_floor(job: Job) -> None:
    assert floor_at(job, 0.0, 0.0).finish_z_mm == 94.0
    assert floor_at(job, 0.0, 0.0).underside_z_mm == 83.5
    assert floor_at(job, 1000.0, 500.0).underside_z_mm == -121.5
    assert floor_at(job, 2000.0, 0.0).area is None


def test_at_an_edge_the_lower_floor_counts(job: Job) -> None:
    """Within a pipe's radius of the well its underside counts; farther off the load floor's."""
    load = floor_at(job, 2000.0, 0.0).underside_z_mm
    assert underside_at_mm(job, 890.0, 600.0, 15.0) == -121.5
    assert underside_at_mm(job, 880.0, 600.0, 15.0) == load
    assert underside_at_mm(job, 110.0, 0.0, 15.0) == load  # the cab's is higher
    assert underside_at_mm(job, 0.0, 0.0, 15.0) == 83.5


def test_a_line_is_looked_at_where_it_passes_an_edge(job: Job) -> None:
    crossed = edge_crossings(job, [(800.0, 600.0, -100.0), (1000.0, 600.0, -200.0)])
    assert crossed == [(900.0, 600.0, -150.0)]
    assert edge_crossings(job, [(2000.0, 0.0, -100.0), (2500.0, 0.0, -100.0)]) == []


def test_the_floors_lie_beside_one_another(job: Job, heron: Plan, catalogue: Catalogue) -> None:
    """Together they cover what the load floor did, and no place twice."""
    steel = [body for body in floor_bodies(job) if body.kind == "floor"]
    assert [body.name for body in steel][1:] == ["the cab", "the well"]

    def covered(x: float, y: float) -> int:
        return sum(
            p.bounds[0] <= x <= p.bounds[3] and p.bounds[1] <= y <= p.bounds[4]
            for body in steel
            for p in body.shape.pieces
        )

    rng = random.Random(5)
    for _ in range(400):
        x, y = rng.uniform(-550, 4300), rng.uniform(-885, 885)
        assert covered(x, y) == 1


def test_a_heater_in_the_cab_stands_on_the_cabs_floor(job: Job, heron: Plan) -> None:
    assert heron.spot is not None
    spot = heron.spot.model_copy(update={"x_mm": -250.0, "y_mm": -400.0})
    there = at_place(job, spot)
    corners = body_corners(there)
    assert corners is not None
    assert corners[0][2] == pytest.approx(94.0)
    assert floor_stack_mm(there) == pytest.approx(10.5)
    found = checked(there).find("spot.floor", "floor")
    assert found is not None
    assert "the cab" in found.sentence


@pytest.mark.parametrize(
    ("x_mm", "y_mm", "said"),
    [
        (1400.0, 500.0, "over the edge of the well"),
        (1480.0, 500.0, "over the edge of the load floor"),
    ],
)
def test_over_the_edge_of_a_floor_is_over(
    x_mm: float, y_mm: float, said: str, job: Job, heron: Plan
) -> None:
    assert heron.spot is not None
    spot = heron.spot.model_copy(update={"x_mm": x_mm, "y_mm": y_mm})
    found = checked(at_place(job, spot)).find("spot.floor", "floor")
    assert found is not None
    assert found.verdict.value == "over"
    assert said in found.sentence


def test_where_no_floor_was_surveyed_nothing_stands(heron: Plan, catalogue: Catalogue) -> None:
    seat = area("podium", (-500.0, -800.0, -100.0, -200.0), 200.0)
    job = Job(with_floors(heron, seat), catalogue)
    assert heron.spot is not None
    spot = heron.spot.model_copy(update={"x_mm": -300.0, "y_mm": 400.0})
    found = checked(at_place(job, spot)).find("spot.floor", "floor")
    assert found is not None
    assert found.verdict.value == "over"
    assert "No floor was surveyed there" in found.sentence


@pytest.mark.parametrize("yaw_deg", [0, 90])
def test_the_map_is_clear_just_where_the_check_is(yaw_deg: int, job: Job, heron: Plan) -> None:
    """Over the load floor, the cab, the well and their edges, at places of the map."""
    floor = FloorMap(job)
    field, rng = floor.field(yaw_deg), random.Random(11)
    assert heron.spot is not None
    for _ in range(150):
        row, column = rng.randrange(len(floor.grid.y_mm)), rng.randrange(len(floor.grid.x_mm))
        x, y = float(floor.grid.x_mm[column]), float(floor.grid.y_mm[row])
        there = at_place(
            job, heron.spot.model_copy(update={"x_mm": x, "y_mm": y, "yaw_deg": yaw_deg})
        )
        over = [f.rule for f in findings_of(there, SPOT_CHECKS) if f.verdict.value == "over"]
        assert bool(over) == bool(field.margin_mm[row, column] < -1e-9), (x, y, over)


def test_the_cab_is_on_the_map(job: Job) -> None:
    floor = FloorMap(job)
    in_cab = floor.grid.x_mm < 100
    assert in_cab.any()
    assert (floor.field(0).margin_mm[:, in_cab] >= 0).any()


def test_a_pipe_into_a_lower_floor_is_over(heron: Plan, catalogue: Catalogue) -> None:
    """A well let down over Heron's exhaust: the pipe lies in it, and its floor says so."""
    exhaust = heron.pipes.exhaust
    assert exhaust is not None
    node = exhaust.nodes[0]
    x, y, low = node.x_mm, node.y_mm, node.z_mm - 20.0
    well = area("well", (x - 150.0, y - 150.0, x + 150.0, y + 150.0), low)
    before = check(with_floors(heron), catalogue).find("pipes.floor", "exhaust", "exhaust")
    after = check(with_floors(heron, well), catalogue).find("pipes.floor", "exhaust", "exhaust")
    assert before is not None
    assert before.verdict.value == "clear"
    assert after is not None
    assert after.verdict.value == "over"
