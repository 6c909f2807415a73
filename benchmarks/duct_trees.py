"""Made-up duct trees of any number of outlets, for tests and benchmarks: the same one for our
solver and for a general pipe-network library.
"""

from __future__ import annotations

import json
import random
import subprocess
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from gale_nook.core.ducts.network import GROUND, Bore, Network

KELVIN = 353.15
LIBRARY = Path(".venv-network/bin/python")
SCRIPT = Path("benchmarks/pipe_network.py")


def tree_case(
    outlets: int, seed: int, source_pa: float = 110.0, *, even: bool = False
) -> dict[str, Any]:
    """Return a case of that many outlets: from one duct on, an outlet at random becomes a splitter
    with two, until there are as many; or, in an even tree, the one nearest to the source.
    """
    chance = random.Random(seed)
    branches = [_branch(chance, 0, GROUND)]
    nodes = 1
    for _ in range(outlets - 1):
        ends = [branch for branch in branches if branch["end"] == GROUND]
        split = ends[0] if even else chance.choice(ends)
        split.update(_branch(chance, split["start"], nodes))
        branches += [_branch(chance, nodes, GROUND), _branch(chance, nodes, GROUND)]
        nodes += 1
    return {"kelvin": KELVIN, "source_pa": source_pa, "nodes": nodes, "branches": branches}


def _branch(chance: random.Random, start: int, end: int) -> dict[str, Any]:
    ends = end == GROUND
    return {
        "start": start,
        "end": end,
        "length_m": chance.uniform(0.3, 3.0),
        "bore_m": chance.choice([0.05, 0.06, 0.075] if ends else [0.075, 0.09]),
        "roughness_m": chance.choice([2e-5, 5e-4, 1e-3]),
        "loss_k": chance.uniform(0.2, 1.5) + (1.5 if ends else 0.0),
    }


def network_of(case: dict[str, Any], density_kg_m3: float, viscosity_pa_s: float) -> Network:
    """Return a case for our solver; the source holds its pressure."""
    branches = case["branches"]
    pieces = [
        Bore.of(branch["length_m"], branch["bore_m"], branch["roughness_m"]).resistance(
            number, branch["loss_k"], density_kg_m3, viscosity_pa_s
        )
        for number, branch in enumerate(branches)
    ]
    pressure = case["source_pa"]
    starts = tuple(branch["start"] for branch in branches)
    ends = tuple(branch["end"] for branch in branches)
    return Network(starts, ends, case["nodes"], pieces, (), lambda _: (pressure, 0.0))


def by_library(cases: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return what the pipe-network library makes of some cases."""
    done = subprocess.run(
        [str(LIBRARY), str(SCRIPT)],
        input=json.dumps(list(cases)),
        capture_output=True,
        text=True,
        check=True,
    )
    answers: list[dict[str, Any]] = json.loads(done.stdout)
    return answers
