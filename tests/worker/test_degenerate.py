"""Plans that can be kept though they make little sense: every page and every kind of work takes
them.
"""

from __future__ import annotations

from collections.abc import Iterable
from contextlib import suppress
from typing import Any

import pytest

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import BadInput
from gale_nook.core.fuel.commands import SetProfile
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import ReverseRun, StartRun
from gale_nook.core.plan.document import Plan, compact, kept_plan
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, OutlineSolid, Solid, TubeSolid
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.spot.placement import heater_port, port_point
from gale_nook.demo.load import demo_plan
from gale_nook.store.jobs import JobHead
from gale_nook.web.context import environment
from gale_nook.web.stations.every import WEB_STATIONS
from gale_nook.web.view_state import ViewState
from gale_nook.worker.kinds import KINDS

HERON, WREN = demo_plan("heron"), demo_plan("wren")
NAMED: Any = {"id": "odd", "name": "odd", "kind": "member"}
NODES = HERON.pipes.exhaust.nodes if HERON.pipes.exhaust is not None else ()


def _with(solid: Solid) -> Plan:
    return HERON.model_copy(
        update={
            "vehicle": HERON.vehicle.model_copy(update={"solids": (*HERON.vehicle.solids, solid)})
        }
    )


def _outline(*corners: tuple[float, float]) -> Plan:
    return _with(OutlineSolid(**NAMED, outline=corners, z_mm=-100, height_mm=20))


def _exhaust(nodes: Iterable[RouteNode]) -> Plan:
    run = HERON.pipes.exhaust
    assert run is not None
    return HERON.model_copy(
        update={
            "pipes": HERON.pipes.model_copy(
                update={"exhaust": run.model_copy(update={"nodes": tuple(nodes)})}
            )
        }
    )


def _fuel(nodes: Iterable[RouteNode]) -> Plan:
    line = HERON.fuel.line
    assert line is not None
    return HERON.model_copy(
        update={
            "fuel": HERON.fuel.model_copy(
                update={"line": line.model_copy(update={"nodes": tuple(nodes)})}
            )
        }
    )


def _at(node: RouteNode, x: float, y: float, z: float) -> RouteNode:
    return node.model_copy(update={"x_mm": x, "y_mm": y, "z_mm": z})


def _at_the_port(catalogue: Catalogue) -> Plan:
    job = Job(HERON, catalogue)
    return _exhaust([_at(NODES[0], *port_point(job, heater_port(job, "exhaust")))])


ODD: dict[str, Any] = {
    "a tube whose points are one": lambda _: _with(
        TubeSolid(**NAMED, points=((1000, 0, -100),) * 3, diameter_mm=6)
    ),
    "an outline whose corners lie on a line": lambda _: _outline((0, 0), (100, 0), (200, 0)),
    "an outline whose corners are one": lambda _: _outline(*[(50.0, 50.0)] * 4),
    "an outline with corners twice": lambda _: _outline(
        (0, 0), (0, 0), (100, 0), (100, 50), (100, 50)
    ),
    "an outline that crosses itself": lambda _: _outline((0, 0), (100, 100), (100, 0), (0, 100)),
    "the smallest box": lambda _: _with(
        BoxSolid(
            **NAMED, x_mm=2700, y_mm=-300, z_mm=-5, length_mm=0.01, width_mm=0.01, height_mm=0.01
        )
    ),
    "the longest and thinnest tank": lambda _: _with(
        CylinderSolid(
            **{**NAMED, "kind": "fuel-tank"},
            axis="x",
            x_mm=2000,
            y_mm=0,
            z_mm=-300,
            diameter_mm=0.01,
            length_mm=30_000,
        )
    ),
    "an exhaust whose corners are one": lambda _: _exhaust(
        _at(node, 2000, 0, -200) for node in NODES
    ),
    "an exhaust that ends where it begins": _at_the_port,
    "an exhaust that comes back": lambda _: _exhaust(
        (*NODES[:2], NODES[0].model_copy(update={"id": "again"}))
    ),
    "bends of 30 m": lambda _: _exhaust(
        node.model_copy(update={"radius_mm": 30_000.0}) for node in NODES
    ),
    "a fuel line whose corners are one": lambda _: _fuel(
        _at(node, 2000, 0, -200) for node in NODES
    ),
    "a fuel line without corners": lambda _: _fuel(()),
    "a tank's profile with a corner twice": lambda book: apply(
        WREN, SetProfile(corners=((0, 0), (300, 0), (300, 0), (300, 200), (0, 200))), book
    ),
}


@pytest.mark.parametrize("name", ODD)
def test_it_is_shown_printed_and_worked_on(name: str, catalogue: Catalogue) -> None:
    plan = kept_plan(compact(ODD[name](catalogue)))
    head, view = JobHead(1, 1, plan, None, None), ViewState(frame="close")
    for station in WEB_STATIONS:
        page = station.page(head, Job(plan, catalogue), UnitSystem.METRIC, station.station, view)
        assert environment.get_template("page.html").render(page=page)
    for kind, arguments in (
        ("print", {"system": "metric"}),
        ("floor", {"turn": "best", "plan": "above"}),
    ):
        assert KINDS[kind].run(plan, catalogue, arguments, lambda *_: None)
    with suppress(BadInput):  # where there is no tank to begin at
        assert KINDS["lines"].run(plan, catalogue, {}, lambda *_: None)
    apply(plan, StartRun(tube="exhaust"), catalogue)
    if plan.pipes.exhaust is not None:
        apply(plan, ReverseRun(tube="exhaust"), catalogue)
