"""Heron with a tree of ducts of any make, and what is asked of it."""

from __future__ import annotations

from typing import Any

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.ducts.layout import Layout, layout
from gale_nook.core.job import Job
from gale_nook.core.plan.air import Air, Duct, DuctPart, Outlet, Zone
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.demo.load import demo_plan

BED = Zone(
    id="bed",
    name="bed",
    from_x_mm=2600,
    to_x_mm=4310,
    left_y_mm=-890,
    right_y_mm=890,
    low_z_mm=600,
    divider="curtain",
)

BATH = Zone(
    id="bath",
    name="bath",
    kind="bath",
    from_x_mm=2600,
    to_x_mm=3300,
    left_y_mm=100,
    right_y_mm=890,
    divider="door",
)


def bath(opening_cm2: float) -> Zone:
    """A bath behind a door with so much open under it."""
    return BATH.model_copy(update={"opening_cm2": opening_cm2})


def node(number: int, x: float, y: float, z: float, radius: float = 75.0) -> RouteNode:
    return RouteNode(id=f"n{number}", x_mm=x, y_mm=y, z_mm=z, radius_mm=radius)


def duct(
    name: str,
    *points: tuple[float, float, float],
    after: str | None = None,
    leg: Any = "straight",
    kind: str = "duct-75",
    outlet: str | None = None,
    zone: str = "living",
    splitter: str | None = None,
    parts: tuple[DuctPart, ...] = (),
    **how: Any,
) -> Duct:
    nodes = tuple(node(number, *point) for number, point in enumerate(points, 1))
    end = Outlet(name=name, kind=outlet, zone=zone, **how) if outlet is not None else None
    return Duct(
        id=name,
        kind=kind,
        comes_from=after,
        leg=leg,
        nodes=nodes,
        outlet=end,
        splitter=splitter,
        parts=parts,
    )


def two_outlets(**changes: Any) -> tuple[Duct, ...]:
    """A trunk, a splitter, one outlet straight on and one at the branch."""
    return (
        duct("trunk", (2400, -286, 117), (2400, -286, 450), splitter="t-bent"),
        duct(
            "up",
            (2400, -286, 700),
            (2900, -286, 700),
            after="trunk",
            outlet=changes.get("up", "closable-75"),
            zone=changes.get("zone", "living"),
        ),
        duct(
            "aside",
            (1900, -286, 450),
            (1500, -286, 450),
            after="trunk",
            leg="branch",
            outlet=changes.get("aside", "closable-75"),
        ),
    )


def ducted(*ducts: Duct, heat: dict[str, Any] | None = None, **air: Any) -> Job:
    plan = demo_plan("heron")
    changed = plan.model_copy(
        update={
            "air": Air(warm_end="duct", ducts=ducts or two_outlets(), **air),
            "heat": plan.heat.model_copy(update=heat or {}),
        }
    )
    return Job(changed, load_catalogue())


def layout_of(job: Job) -> Layout:
    found = layout(job)
    assert found is not None
    return found
