"""The loop in figures, for the command line and other programs."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from gale_nook.core.coolant.loop_rules import worst_flow
from gale_nook.core.fitted.zone_supply import zone_supply
from gale_nook.core.job import Job
from gale_nook.core.loop.fill import filling
from gale_nook.core.loop.night import loop_night, warm_up, warm_up_orders
from gale_nook.core.loop.state import loop_state


def coolant_report(job: Job) -> dict[str, Any]:
    """Return flows, temperatures, heat, warm-up, night and filling as plain data; what is not known
    yet is None.
    """
    state, found, warm = loop_state(job), filling(job), warm_up(job)
    night, worst = loop_night(job), worst_flow(job)
    least = worst[0].heater if worst is not None else None
    return {
        "plan": job.plan.name,
        "output_w": state.output_w if state is not None else None,
        "most_w": state.most_w if state is not None else None,
        "limited": state.limited if state is not None else None,
        "branches": [
            {
                "id": name,
                "kind": each.branch.kind,
                "name": each.branch.name,
                "flow_l_min": each.flow_l_min,
                "in_c": each.in_c,
                "out_c": each.out_c,
                "given_w": each.given_w,
                "to": each.sink,
            }
            for name, each in (state.branches.items() if state is not None else ())
        ],
        "least_flow_l_min": least.flow_l_min if least is not None else None,
        "least_flow_with_shut": [part.id for part in worst[1]] if worst is not None else [],
        "zones": [
            {"zone": zone.id, "needs_w": zone.needs_w, "gets_w": zone.gets_w}
            for zone in zone_supply(job)
        ],
        "warm_up": {
            "block_60_c_s": warm.block_s,
            "water_45_c_s": warm.shower_s,
            "room_s": warm.room_s,
        }
        if warm is not None
        else None,
        "orders": [
            {
                "first": first or "all",
                "block_60_c_s": each.block_s,
                "water_45_c_s": each.shower_s,
                "room_s": each.room_s,
            }
            for first, each in warm_up_orders(job)
        ],
        "night": {
            "fuel_l": night.fuel_l,
            "electricity_wh": night.electricity_wh,
            "starts": night.starts,
        }
        if night is not None
        else None,
        "filling": {
            "content_l": found.content_l,
            "glycol_l": found.glycol_l,
            "water_l": found.water_l,
            "freezes_c": found.freezes_c,
            "expands_l": found.expands_l,
            "header_l": found.header_l,
        }
        if found is not None
        else None,
    }


def coolant_words(report: dict[str, Any]) -> Iterator[str]:
    """Yield the report as lines of text."""
    if report["output_w"] is None:
        yield "no loop yet"
        return
    held = ", held by its coolant" if report["limited"] else ""
    yield f"heater {report['output_w']:.0f} W of {report['most_w']:.0f} W{held}"
    for branch in report["branches"]:
        if branch["kind"] != "hose":
            yield (
                f"    {branch['name']}: {branch['flow_l_min']:.1f} l/min, "
                f"{branch['in_c']:.1f} to {branch['out_c']:.1f} °C, {branch['given_w']:.0f} W"
            )
    if report["least_flow_l_min"] is not None:
        shut = ", ".join(report["least_flow_with_shut"]) or "nothing"
        yield f"least flow {report['least_flow_l_min']:.1f} l/min, with {shut} shut"
    for zone in report["zones"]:
        yield f"{zone['zone']}: gets {zone['gets_w']:.0f} W, needs {zone['needs_w']:.0f} W"
    warm = report["warm_up"]
    for name, words in (
        ("block_60_c_s", "engine at 60 °C"),
        ("water_45_c_s", "water at 45 °C"),
        ("room_s", "room warm"),
    ):
        if warm is not None and warm[name] is not None:
            yield f"{words} after {warm[name] / 60:.0f} min"
    night, filled = report["night"], report["filling"]
    if night is not None:
        yield (
            f"coldest night: {night['fuel_l']:.1f} l of fuel, {night['electricity_wh']:.0f} Wh, "
            f"{night['starts']} starts"
        )
    if filled is not None:
        yield (
            f"filling {filled['content_l']:.1f} l: {filled['glycol_l']:.1f} l of glycol, "
            f"{filled['water_l']:.1f} l of water; freezes at {filled['freezes_c']:.0f} °C"
        )
