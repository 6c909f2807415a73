"""The check of the whole Heron plan against the bare distance calls that it makes."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import fcl

from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.checking import check
from gale_nook.core.geometry import shapes
from gale_nook.demo.load import demo_plan


def recorded_pairs(plan_name: str) -> list[tuple[Any, Any]]:
    """Return every pair of bodies whose distance a check of the plan asks the collision library for."""
    pairs: list[tuple[Any, Any]] = []
    original = fcl.distance

    def recording(a: Any, b: Any, request: Any, result: Any) -> float:
        pairs.append((a, b))
        return float(original(a, b, request, result))

    shapes.fcl.distance = recording
    try:
        check(demo_plan(plan_name), load_catalogue())
    finally:
        shapes.fcl.distance = original
    return pairs


def figures() -> Iterator[tuple[Figure, str]]:
    book = load_catalogue()
    plan = demo_plan("heron")
    pairs = recorded_pairs("heron")
    request = fcl.DistanceRequest(enable_nearest_points=True, enable_signed_distance=True)

    def bare() -> None:
        for a, b in pairs:
            fcl.distance(a, b, request, fcl.DistanceResult())

    name = f"the check's {len(pairs)} bare distance calls"
    yield compare("check of the whole Heron plan", lambda: check(plan, book), name, bare), "under 15 ms, under 3 ×"
