"""What the ways from the heater to each outlet lose, at flows that are asked for."""

from __future__ import annotations

from collections.abc import Sequence

from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.layout import SHARP_EDGED_K, Layout
from gale_nook.core.ducts.network import duct_losses_pa
from gale_nook.core.ducts.pieces import pieces_of_ducts, resistances_of
from gale_nook.core.physics.air import density_kg_m3


def path_losses(
    plan_layout: Layout, state: AirState, flow_kg_s: Sequence[float]
) -> dict[str, float]:
    """Return what each outlet's whole way from the heater loses with its throttle open, Pa, by its
    duct, at flows that need not be the solution's.

    Args:
        state: whose temperatures count, and which ducts are open.
        flow_kg_s: in each open duct, (n,).
    """
    names = {duct.id for duct in state.ducts}
    numbers = tuple(i for i, run in enumerate(plan_layout.runs) if run.duct.id in names)
    runs = [plan_layout.runs[number] for number in numbers]
    if state.pieces is None:
        return {}
    pieces = pieces_of_ducts(plan_layout.pieces, numbers)
    ends = [run.duct.id for run in runs if state.outlet(run.duct.id) is not None]
    last = {piece.duct: i for i, piece in enumerate(pieces)}
    loss_k = [piece.loss_k for piece in pieces]
    for duct, i in last.items():
        if runs[duct].duct.id in ends:
            loss_k[i] += plan_layout.own_k[runs[duct].duct.id]
    resistances = resistances_of(pieces, loss_k, state.pieces.air_c, plan_layout.air_pa)
    losses, _ = duct_losses_pa(resistances, flow_kg_s, len(runs))
    index = {run.duct.id: i for i, run in enumerate(runs)}
    zone_flow: dict[str, float] = {}
    zones = {name: outlet.zone for name in ends if (outlet := state.outlet(name)) is not None}
    for name, zone in zones.items():
        zone_flow[zone] = zone_flow.get(zone, 0.0) + flow_kg_s[index[name]]
    results = {}
    for name in ends:
        total, at = 0.0, name
        while at in index:
            total += losses[index[at]]
            at = runs[index[at]].duct.comes_from or ""
        gap = plan_layout.gaps_m2.get(zones[name])
        if gap is not None:
            room = float(density_kg_m3(plan_layout.air_pa, plan_layout.back.inlet_c))
            total += SHARP_EDGED_K / (2 * room * gap**2) * zone_flow[zones[name]] ** 2
        results[name] = total
    return results
