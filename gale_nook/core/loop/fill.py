"""What is filled in: litres, glycol and water, freezing, expansion."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.job import Job, fact
from gale_nook.core.loop.graph import Branch, loop_graph
from gale_nook.core.loop.hoses import kind_of, loop_parts, loop_side
from gale_nook.core.loop.mix import filled_mix, mix_of

FILLED_C, HOT_C = 10.0, 90.0
FULL_SHARE = 0.5  # of the header, that stands in it cold
FLOOR_BORE_MM = 12.0
LITRE_M3, M_MM = 1000.0, 1000.0
STRENGTHS = range(10, 61)


@dataclass(frozen=True, slots=True)
class Filling:
    """What the loop takes.

    Attributes:
        content_l: of everything but an engine that is another circuit.
        glycol_l, water_l: to buy.
        freezes_c: of the mix; wanted_c: that it has to stand.
        least_percent: by volume, that stands it; None where none does.
        expands_l: from cold to hot; header_l: that the header has room for.
    """

    content_l: float
    glycol_l: float
    water_l: float
    freezes_c: float
    wanted_c: float
    least_percent: float | None
    expands_l: float
    header_l: float


def branch_content_l(job: Job, branch: Branch) -> float:
    """Return what stands in a branch."""
    if branch.run is not None:
        bore = branch.run.kind.bore_mm
        return math.pi * (bore / 2 / M_MM) ** 2 * branch.run.length_mm / M_MM * LITRE_M3
    if branch.kind == "heater":
        side = loop_side(job)
        return side.content_l if side is not None else 0.0
    if branch.part is None:
        return 0.0
    kind = kind_of(job, branch.part)
    if kind.kind == "floor":
        return math.pi * (FLOOR_BORE_MM / 2 / M_MM) ** 2 * branch.part.length_m * LITRE_M3
    ways = 2 if kind.kind in {"plate", "mixer", "diverter"} else 1
    return kind.content_l / ways


def circuit_content_l(job: Job, number: int) -> float:
    """Return what a circuit holds: its branches, and the parts that are one node."""
    graph = loop_graph(job)
    branches = graph.circuit(number)
    through = {branch.part.id for branch in branches if branch.part is not None}
    total = sum(branch_content_l(job, branch) for branch in branches)
    for part, kind in loop_parts(job):
        node = graph.node_of.get((part.id, next(iter(kind.ports))))
        if part.id not in through and node is not None and graph.circuit_of[node] == number:
            share = FULL_SHARE if kind.kind == "header" else 1.0
            total += share * kind.content_l
    return total


@fact
def filling(job: Job) -> Filling | None:
    """Return what the heater's circuit takes; None without one."""
    number = loop_graph(job).heater_circuit()
    if number is None or not job.plan.coolant.hoses:
        return None
    works, coolant, mix = job.catalogue.coolant_equipment, job.plan.coolant, filled_mix(job)
    content = circuit_content_l(job, number)
    wanted = coolant.frost_c if coolant.frost_c is not None else job.plan.heat.outside_c
    least = next(
        (p for p in STRENGTHS if mix_of(works, coolant.fluid, p).freezes_c <= wanted), None
    )
    cold, hot = mix.at(FILLED_C).density_kg_m3, mix.at(HOT_C).density_kg_m3
    headers = [kind for _, kind in loop_parts(job) if kind.kind == "header"]
    return Filling(
        content,
        content * mix.percent / 100,
        content * (1 - mix.percent / 100),
        mix.freezes_c,
        wanted,
        float(least) if least is not None else None,
        content * (cold / hot - 1),
        sum(kind.content_l for kind in headers) * (1 - FULL_SHARE),
    )
