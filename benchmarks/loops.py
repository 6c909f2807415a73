"""Coolant loops for comparison with a pipe-network library, and mixes with a property library: a
supply and a return with rungs between them, as consumers hang in a loop.
"""

from __future__ import annotations

import json
import random
import subprocess
from collections.abc import Sequence
from typing import Any

from benchmarks.duct_trees import LIBRARY, SCRIPT
from gale_nook.core.ducts.network import GROUND, Bore, Network

KELVIN = 333.15
MIXES = SCRIPT.with_name("fluid_mixes.py")


def loop_case(rungs: int, seed: int, source_pa: float) -> dict[str, Any]:
    """Return a loop of some rungs, 3·rungs − 2 branches, with made-up lengths."""
    chance = random.Random(seed)
    branches = []
    supply, back = [0], [-1]
    for number in range(1, rungs):
        supply.append(2 * number - 1)
        back.append(2 * number)
        for line, ends in ((supply, (number - 1, number)), (back, (number, number - 1))):
            branches.append(_branch(line[ends[0]], line[ends[1]], chance, 0.02, 1.0))
    for number in range(rungs):
        branches.append(_branch(supply[number], back[number], chance, 0.016, 8.0))
    return {
        "kelvin": KELVIN,
        "fluid": "water",
        "source_pa": source_pa,
        "nodes": 2 * rungs - 1,
        "branches": branches,
    }


def _branch(start: int, end: int, chance: random.Random, bore_m: float, loss_k: float) -> Any:
    return {
        "start": start,
        "end": end,
        "length_m": chance.uniform(0.6, 2.5),
        "bore_m": bore_m,
        "roughness_m": 1e-5,
        "loss_k": loss_k * chance.uniform(0.7, 1.4),
    }


def network_of_loop(case: dict[str, Any], density: float, viscosity: float) -> Network:
    """Return the same for our solver."""
    pieces = [
        Bore.of(b["length_m"], b["bore_m"], b["roughness_m"]).resistance(
            number, b["loss_k"], density, viscosity
        )
        for number, b in enumerate(case["branches"])
    ]
    starts = tuple(b["start"] for b in case["branches"])
    ends = tuple(b["end"] if b["end"] >= 0 else GROUND for b in case["branches"])
    pressure = case["source_pa"]
    return Network(starts, ends, case["nodes"], pieces, (), lambda _: (pressure, 0.0))


def mixes_by_library(cases: Sequence[tuple[str, float, float]]) -> list[list[float]]:
    """Return density, heat capacity, viscosity, conductivity and freezing point of mixes: (fluid,
    percent by volume, °C), as the property library has them.
    """
    done = subprocess.run(
        [str(LIBRARY), str(MIXES)],
        input=json.dumps(list(cases)),
        capture_output=True,
        text=True,
        check=True,
    )
    answers: list[list[float]] = json.loads(done.stdout)
    return answers
