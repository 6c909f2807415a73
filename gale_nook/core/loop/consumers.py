"""What each branch gives its surroundings: q = C·φ·(inlet − surroundings)."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.catalogue.coolant import CoolantEquipment, HoseKind, LoopPartKind
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.exchangers import counterflow, crossflow, one_side_constant
from gale_nook.core.loop.flows import Setting
from gale_nook.core.loop.graph import Branch
from gale_nook.core.loop.hoses import hose_runs, kind_of
from gale_nook.core.physics.air import HEAT_CAPACITY_J_KGK
from gale_nook.core.plan.coolant import LoopPart
from gale_nook.core.vehicle.inside import is_inside

RATED_KG_S, RATED_AIR_M3_H = 10.0 / 60.0, 200.0  # at which conductances are told
COOLANT_POWER, AIR_POWER = 0.25, 0.55  # of the flow, that a conductance grows with
STILL_SHARE = 0.04  # of a convector's conductance with its fan off
AIR_KG_M3 = 1.2
LEAST_C = 1e-3  # W/K; below it nothing is carried that counts
LEAST_KG_S = 1e-5  # below it nothing flows that counts

# where heat goes: the outside, a zone ("zone:living"), a tank, a block, or another branch
OUTSIDE = "outside"


@dataclass(frozen=True, slots=True)
class Giving:
    """What a branch gives.

    Attributes:
        share: φ, of what it could give at the most to the sink.
        sink: where it goes: OUTSIDE, "zone:…", "tank:…", "block:…", or "branch:…".
        carried_w_k: C, by the coolant in the branch.
    """

    share: float
    sink: str
    carried_w_k: float


def giving_of(
    job: Job, branch: Branch, flow_kg_s: float, heat_capacity: float, how: Setting
) -> Giving:
    """Return what a branch gives with a flow through it."""
    if abs(flow_kg_s) < LEAST_KG_S:
        return Giving(0.0, OUTSIDE, 0.0)
    carried = abs(flow_kg_s) * heat_capacity
    if branch.run is not None:
        conductance, sink = hose_losses(job)[branch.id]
        return Giving(one_side_constant(conductance / carried), sink, carried)
    if branch.part is None:
        return Giving(0.0, OUTSIDE, carried)
    return _of_part(job, branch, branch.part, carried, abs(flow_kg_s), how)


@fact
def hose_losses(job: Job) -> dict[str, tuple[float, str]]:
    """Return what each hose loses for each kelvin, W/K, and where to: as its middle lies."""
    works, results = job.catalogue.coolant_equipment, {}
    for run in hose_runs(job):
        inside = is_inside(job, run.geometry.point_at(run.length_mm / 2))
        per_metre = tube_w_mk(works, run.kind, run.hose.lagging_mm, inside=inside)
        sink = "zone:living" if inside else OUTSIDE
        results[run.hose.id] = (per_metre * run.length_mm / 1000, sink)
    return results


def _of_part(
    job: Job, branch: Branch, part: LoopPart, carried: float, flow_kg_s: float, how: Setting
) -> Giving:
    kind = kind_of(job, part)
    zone = f"zone:{part.zone}"
    by_flow = (flow_kg_s / RATED_KG_S) ** COOLANT_POWER
    if kind.kind == "matrix":
        return Giving(_convector(kind, part, carried, by_flow, how), zone, carried)
    if kind.kind == "floor":
        return Giving(one_side_constant(kind.area_w_mk * part.length_m / carried), zone, carried)
    if kind.kind == "coil":
        return Giving(one_side_constant(kind.ua_w_k / carried), zone, carried)
    if kind.kind == "calorifier":
        units = kind.coil_w_k * by_flow / carried
        return Giving(one_side_constant(units), f"tank:{part.id}", carried)
    if kind.kind == "engine":
        units = kind.block_w_k * by_flow / carried
        return Giving(one_side_constant(units), f"block:{part.id}", carried)
    if kind.kind == "plate":
        other = "engine-in-engine-out" if branch.id.endswith(":in-out") else "in-out"
        return Giving(0.0, f"branch:{part.id}:{other}", carried)
    return Giving(0.0, OUTSIDE, carried)


def _convector(
    kind: LoopPartKind, part: LoopPart, carried: float, by_flow: float, how: Setting
) -> float:
    """φ of a fan convector; with its fan off a little rises by itself."""
    step = min(how.fans.get(part.id, part.fan), len(kind.fans) - 1)
    blown = kind.fans[step].air_m3_h if kind.fans else 0.0
    if blown <= 0:
        return one_side_constant(STILL_SHARE * kind.ua_w_k / carried)
    air = blown / 3600 * AIR_KG_M3 * HEAT_CAPACITY_J_KGK
    conductance = kind.ua_w_k * by_flow * (blown / RATED_AIR_M3_H) ** AIR_POWER
    least, most = min(air, carried), max(air, carried)
    return crossflow(conductance / least, least / most) * least / carried


def plate_share(kind: LoopPartKind, own: float, other: float) -> float:
    """Return φ of one side of a plate exchanger, by what both sides carry."""
    if min(own, other) < LEAST_C:
        return 0.0
    least, most = min(own, other), max(own, other)
    return counterflow(kind.plate_w_k / least, least / most) * least / own


def tube_w_mk(works: CoolantEquipment, kind: HoseKind, lagging_mm: float, *, inside: bool) -> float:
    """Return the conductance of a metre of hose, from the coolant to the air around: its wall, its
    lagging, and the film outside (ISO 12241). The film inside counts for nothing.
    """
    wall = math.log(kind.outside_mm / kind.bore_mm) / (2 * math.pi * kind.wall_w_mk)
    skin = kind.outside_mm + 2 * lagging_mm
    lagging = math.log(skin / kind.outside_mm) / (2 * math.pi * works.lagging_w_mk)
    film = works.still_w_m2k if inside else works.under_w_m2k
    return 1.0 / (wall + lagging + 1.0 / (film * math.pi * skin / 1000))
