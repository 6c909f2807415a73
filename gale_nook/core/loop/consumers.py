"""What each branch gives its surroundings: q = C·φ·(inlet − surroundings)."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.catalogue.coolant import CoolantEquipment, HoseKind, LoopPartKind
from gale_nook.core.ducts.places import CAB, place_of
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.convectors import blown, convector_share, drawn_from
from gale_nook.core.loop.exchangers import counterflow, one_side_constant
from gale_nook.core.loop.flows import Setting
from gale_nook.core.loop.graph import Branch
from gale_nook.core.loop.hoses import HoseRun, hose_runs, kind_of
from gale_nook.core.loop.passes import hose_stretches
from gale_nook.core.plan.coolant import LoopPart

RATED_KG_S = 10.0 / 60.0  # at which conductances are told
COOLANT_POWER = 0.25  # of the flow, that a conductance grows with
ALONG_MM = 100.0  # a hose is looked at in such pieces
LEAST_C = 1e-3  # W/K; below it nothing is carried that counts
LEAST_KG_S = 1e-5  # below it nothing flows that counts

# where heat goes: the outside, the cab, a zone ("zone:living"), a tank, a block, or another branch
OUTSIDE = "outside"


@dataclass(frozen=True, slots=True)
class Giving:
    """What a branch gives.

    Attributes:
        share: φ, of what it could give at the most to the sink.
        sink: where most of it goes: OUTSIDE, CAB, "zone:…", "tank:…", "block:…", or "branch:…".
        carried_w_k: C, by the coolant in the branch.
        beside: of a hose through several surroundings each with its share of the conductance; the
            coolant hardly cools along one hose, so that it gives to all of them side by side.
    """

    share: float
    sink: str
    carried_w_k: float
    beside: tuple[tuple[str, float], ...] = ()

    @property
    def sinks(self) -> tuple[tuple[str, float], ...]:
        """Every sink with its share; all of them together are 1."""
        return self.beside or ((self.sink, 1.0),)


def giving_of(
    job: Job, branch: Branch, flow_kg_s: float, heat_capacity: float, how: Setting
) -> Giving:
    """Return what a branch gives with a flow through it."""
    if abs(flow_kg_s) < LEAST_KG_S:
        return Giving(0.0, OUTSIDE, 0.0)
    carried = abs(flow_kg_s) * heat_capacity
    if branch.run is not None:
        conductance, beside = hose_losses(job)[branch.id]
        most = max(beside, key=lambda each: each[1])[0]
        return Giving(one_side_constant(conductance / carried), most, carried, beside)
    if branch.part is None:
        return Giving(0.0, OUTSIDE, carried)
    return _of_part(job, branch, branch.part, carried, abs(flow_kg_s), how)


@fact
def hose_losses(job: Job) -> dict[str, tuple[float, tuple[tuple[str, float], ...]]]:
    """Return what each hose loses for each kelvin, W/K, and where to, each with its share."""
    return {run.hose.id: _loss(job, run) for run in hose_runs(job)}


def _loss(job: Job, run: HoseRun) -> tuple[float, tuple[tuple[str, float], ...]]:
    works = job.catalogue.coolant_equipment
    by_sink: dict[str, float] = {}
    for stretch in hose_stretches(job)[run.hose.id]:
        count = math.ceil((stretch.to_mm - stretch.from_mm) / ALONG_MM) or 1
        length = (stretch.to_mm - stretch.from_mm) / count
        for n in range(count):
            middle = stretch.from_mm + (n + 0.5) * length
            place = place_of(job, run.geometry.point_at(middle)) if stretch.inside else OUTSIDE
            sink = place if place in {OUTSIDE, CAB} else f"zone:{place}"
            per_metre = tube_w_mk(works, run.kind, run.hose.lagging_mm, inside=stretch.inside)
            by_sink[sink] = by_sink.get(sink, 0.0) + per_metre * length / 1000
    whole = sum(by_sink.values())
    if whole <= 0:
        return 0.0, ((OUTSIDE, 1.0),)
    return whole, tuple((sink, w_k / whole) for sink, w_k in by_sink.items())


def _of_part(
    job: Job, branch: Branch, part: LoopPart, carried: float, flow_kg_s: float, how: Setting
) -> Giving:
    kind = kind_of(job, part)
    zone = f"zone:{part.zone}"
    by_flow = (flow_kg_s / RATED_KG_S) ** COOLANT_POWER
    if kind.kind == "matrix":
        step = min(how.fans.get(part.id, part.fan), max(len(kind.fans) - 1, 0))
        share = convector_share(kind, blown(job, part.id, step).m3_h, carried, by_flow)
        return Giving(share, f"zone:{drawn_from(job, part)}", carried)
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
