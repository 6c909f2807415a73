"""The air of a heater without ducts: free, or through a panel."""

from __future__ import annotations

import math

from gale_nook.core.ducts.air_state import WHOLE, AirState, outlet_state
from gale_nook.core.ducts.layout import Layout
from gale_nook.core.ducts.network import GROUND, Network, solve
from gale_nook.core.ducts.source import Source, heat_into_air
from gale_nook.core.errors import NotConverged
from gale_nook.core.physics.air import HEAT_CAPACITY_J_KGK, HOTTEST_C, density_kg_m3

SETTLED_K = 1e-4
MOST_ROUNDS = 80
HALVINGS = 30
WARM_AIR = "temperature of the warm air"


def state_without_ducts(plan_layout: Layout, output_w: float) -> AirState:
    """A heater that blows free or through a panel: one flow, found where fan and way out agree."""
    speed, heat_w = heat_into_air(plan_layout, output_w)
    source = Source(plan_layout, speed)
    inlet = plan_layout.back.inlet_c
    celsius, total = inlet + 60.0, 0.0
    for _ in range(MOST_ROUNDS):
        told = min(celsius, HOTTEST_C)
        density = float(density_kg_m3(plan_layout.air_pa, told))
        way_out = (plan_layout.panel_loss / density,)
        flows = solve(Network((0,), (GROUND,), 1, (), way_out, source.pressure_pa))
        total = max(flows.total_kg_s, 1e-6)
        before, celsius = celsius, inlet + heat_w / (total * HEAT_CAPACITY_J_KGK)
        if abs(celsius - before) < SETTLED_K:
            break
    else:
        raise NotConverged(WARM_AIR, MOST_ROUNDS, abs(celsius - before))
    area = plan_layout.panel_area_m2 or math.pi * (plan_layout.fan.bore_mm / 2000) ** 2
    who = (WHOLE, "warm end", plan_layout.place)
    outlet = outlet_state(plan_layout, who, total, celsius, area)
    fan_pa = source.fan_pa(total)
    casing = output_w - heat_w
    return AirState(
        plan_layout,
        output_w,
        speed,
        total,
        fan_pa,
        inlet,
        celsius,
        (outlet,),
        (),
        None,
        {},
        casing,
    )


def free_state_at_limit(plan_layout: Layout, limit_c: float) -> AirState:
    """Return the air at the most output that keeps under a limit; at the least where none does."""
    full = state_without_ducts(plan_layout, plan_layout.most_w)
    if full.heater_c <= limit_c:
        return full
    low, high = plan_layout.least_w, plan_layout.most_w
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        over = state_without_ducts(plan_layout, middle).heater_c > limit_c
        low, high = (low, middle) if over else (middle, high)
    return state_without_ducts(plan_layout, low)
