"""Fan convectors: what their fans blow, into the room or through ducts, and what they take from the
coolant for it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from gale_nook.core.catalogue.coolant import LoopPartKind
from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.convector import ducted_convector
from gale_nook.core.ducts.ends import cold_end
from gale_nook.core.ducts.layout import layout
from gale_nook.core.ducts.places import CAB, OUTSIDE, place_of
from gale_nook.core.ducts.state import air_state
from gale_nook.core.ducts.throttles import open_ducts, throttles_of
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.exchangers import crossflow, one_side_constant
from gale_nook.core.loop.hoses import loop_side
from gale_nook.core.physics.air import HEAT_CAPACITY_J_KGK
from gale_nook.core.plan.coolant import LoopPart

RATED_AIR_M3_H, AIR_POWER = 200.0, 0.55  # at which conductances are told; how they grow with it
STILL_SHARE = 0.04  # of a convector's conductance with its fan off
AIR_KG_M3 = 1.2
USUAL_W_K = 600.0  # what usual coolant flows carry; what is blown hardly depends on it
SETTLED_M3_H, MOST_ROUNDS = 0.05, 30


def convector_share(
    kind: LoopPartKind, blown_m3_h: float, carried_w_k: float, by_flow: float
) -> float:
    """Return φ of a fan convector, of what the coolant could give; with its fan off a little rises
    by itself.

    Args:
        by_flow: factor of its conductance by the coolant's flow.
    """
    if blown_m3_h <= 0:
        return one_side_constant(STILL_SHARE * kind.ua_w_k / carried_w_k)
    air = blown_m3_h / 3600 * AIR_KG_M3 * HEAT_CAPACITY_J_KGK
    conductance = kind.ua_w_k * by_flow * (blown_m3_h / RATED_AIR_M3_H) ** AIR_POWER
    least, most = min(air, carried_w_k), max(air, carried_w_k)
    return crossflow(conductance / least, least / most) * least / carried_w_k


@dataclass(frozen=True)
class Blown:
    """What a convector blows.

    Attributes:
        m3_h: of air of 1.2 kg/m³.
        shares: of its heat that each place gets, by ducts and outlets; empty where it blows free.
        flow_w_k: what the air into each zone carries for each kelvin.
    """

    m3_h: float
    shares: Mapping[str, float]
    flow_w_k: Mapping[str, float]


@fact
def blown(job: Job, part_id: str, step: int) -> Blown:
    """Return what a convector blows at a step of its fan: its own flow where it stands free, what
    gets through where ducts begin at it.
    """
    part = job.plan.coolant.part(part_id)
    if part is None:
        return Blown(0.0, {}, {})
    fans = job.catalogue.coolant_equipment.part(part.kind).fans
    free = fans[min(step, len(fans) - 1)].air_m3_h if fans else 0.0
    ducted = ducted_convector(job)
    if free <= 0 or ducted is None or ducted[0].id != part_id:
        return Blown(free, {}, {})
    return _through_ducts(_at_step(job, part, step), ducted[1], free)


def _at_step(job: Job, part: LoopPart, step: int) -> Job:
    if part.fan == step:
        return job
    coolant = job.plan.coolant
    turned = part.model_copy(update={"fan": step})
    parts = tuple(turned if each.id == part.id else each for each in coolant.parts)
    update = {"coolant": coolant.model_copy(update={"parts": parts})}
    return job.with_parts(**update)


def _through_ducts(job: Job, kind: LoopPartKind, free_m3_h: float) -> Blown:
    """With coolant as warm as the heater keeps it: warmer air takes more room, but changes what is
    blown by a few hundredths at the most.
    """
    plan_layout, side = layout(job), loop_side(job)
    if plan_layout is None or side is None:
        return Blown(free_m3_h, {}, {})
    if not open_ducts(plan_layout, throttles_of(plan_layout).shut):
        return Blown(0.0, {}, {})
    over = (side.to_pause_c + side.restart_c) / 2 - plan_layout.back.inlet_c
    now, state = free_m3_h, None
    for _ in range(MOST_ROUNDS):
        watts = convector_share(kind, now, USUAL_W_K, 1.0) * USUAL_W_K * over
        state = air_state(plan_layout, watts, near=state)
        if state is None:
            return Blown(0.0, {}, {})
        before, now = now, state.total_kg_s / AIR_KG_M3 * 3600
        if abs(now - before) < SETTLED_M3_H:
            break
    return _told(state, now) if state is not None else Blown(now, {}, {})


def _told(state: AirState, m3_h: float) -> Blown:
    given = state.delivered_w
    whole = sum(given.values())
    flows: dict[str, float] = {}
    for outlet in state.outlets:
        carried = outlet.flow_kg_s * HEAT_CAPACITY_J_KGK
        flows[outlet.zone] = flows.get(outlet.zone, 0.0) + carried
    return Blown(m3_h, {place: watts / whole for place, watts in given.items()}, flows)


def drawn_from(job: Job, part: LoopPart) -> str:
    """Return the zone whose air a convector draws in."""
    ducted, end = ducted_convector(job), cold_end(job)
    if ducted is None or ducted[0].id != part.id or end is None:
        return part.zone
    place = place_of(job, end[0])
    return part.zone if place in {OUTSIDE, CAB} else place
