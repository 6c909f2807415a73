"""The electrics in figures, for the command line and other programs."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.power.choice import cable_offers, smallest_cable
from gale_nook.core.power.leads import lead_runs
from gale_nook.core.power.nights import nights
from gale_nook.core.power.sensor_bias import sensor_bias
from gale_nook.core.power.supply import STATE_WORDS, battery_now, ladders


def power_report(job: Job) -> dict[str, Any]:
    """Return ladder, cable, fuse, leads and nights as plain data; what is not known yet is None."""
    found, household, sheet = ladders(job), nights(job), heater_sheet(job)
    battery, best, bias = battery_now(job), smallest_cable(job), sensor_bias(job)
    runs = {run.lead.id: run for run in lead_runs(job)}
    supply = runs.get("supply")
    fuses = supply.lead.of_kind("fuse") if supply is not None else ()
    return {
        "plan": job.plan.name,
        "battery": {
            "open_v": battery.open_v,
            "charge_percent": battery.charge_percent,
            "resistance_ohm": battery.resistance_ohm,
            "capacity_ah": battery.capacity_ah,
            "usable_ah": battery.usable_ah,
        }
        if battery is not None
        else None,
        "cut_out_v": sheet.electrical.cut_out_v if sheet is not None else None,
        "states": {
            state: {
                "current_a": ladder.current_a,
                "heater_v": ladder.heater_v,
                "collapses": ladder.collapses,
                "nodes": [
                    {
                        "after": rung.name,
                        "resistance_ohm": rung.resistance_ohm,
                        "drop_v": rung.drop_v,
                        "voltage_v": rung.left_v,
                    }
                    for rung in ladder.rungs
                ],
            }
            for state, ladder in found.items()
        },
        "cable": {
            "area_mm2": supply.lead.area_mm2,
            "one_way_mm": supply.length_mm,
            "drawn_mm": supply.drawn_mm,
            "typed": supply.lead.one_way_mm is not None,
            "smallest_mm2": best.cable.area_mm2 if best is not None else None,
            "smallest_awg": best.awg if best is not None else None,
        }
        if supply is not None
        else None,
        "cables": [
            {
                "area_mm2": offer.cable.area_mm2,
                "awg": offer.awg,
                "drop_v": offer.drop_v,
                "glow_v": offer.glow_v,
                "stop_v": offer.stop_v,
                "ampacity_a": offer.ampacity_a,
                "why_not": offer.why_not,
            }
            for offer in cable_offers(job)
        ],
        "fuse": {"rating_a": fuses[0].rating_a, "at_mm": fuses[0].at_mm} if fuses else None,
        "leads": [
            {
                "lead": run.lead.id,
                "length_mm": run.length_mm,
                "kit_mm": run.kit.length_mm if run.kit is not None else None,
                "missing_mm": run.missing_mm if run.lead.id != "supply" else None,
            }
            for run in runs.values()
        ],
        "charge_ah": household.heater_ah if household is not None else None,
        "energy_wh": household.heater_ah * sheet.electrical.voltage_v
        if household is not None and sheet is not None
        else None,
        "night_ah": household.night_ah if household is not None else None,
        "usable_ah": household.usable_ah if household is not None else None,
        "nights": _finite(household.nights) if household is not None else None,
        "lasts_for_good": household is not None and math.isinf(household.nights),
        "sensor_bias_k": bias.kelvin if bias is not None else None,
    }


def _finite(value: float) -> float | None:
    return None if math.isinf(value) else value


def power_words(report: dict[str, Any]) -> Iterator[str]:
    """Yield the report as lines of text."""
    battery = report["battery"]
    if battery is not None:
        yield (
            f"battery {battery['open_v']:.2f} V at rest, {battery['charge_percent']:.0f} %, "
            f"{1000 * battery['resistance_ohm']:.1f} milliohm"
        )
    for state, ladder in report["states"].items():
        words = STATE_WORDS[state]
        if ladder["collapses"]:
            yield f"{words}: the voltage collapses"
            continue
        yield (
            f"{words}: {ladder['heater_v']:.2f} V at the heater, {ladder['current_a']:.1f} A "
            f"(cut-out {report['cut_out_v']:g} V)"
        )
        for node in ladder["nodes"]:
            yield f"    {node['voltage_v']:6.2f} V after {node['after']}"
    cable = report["cable"]
    if cable is not None:
        length = "typed" if cable["typed"] else "drawn, with its allowance"
        yield f"cable {cable['area_mm2']:g} mm², {cable['one_way_mm']:.0f} mm one way ({length})"
        if cable["smallest_mm2"] is not None:
            yield f"smallest that does: {cable['smallest_mm2']:g} mm² ({cable['smallest_awg']})"
    if report["fuse"] is not None:
        yield f"fuse {report['fuse']['rating_a']:g} A, {report['fuse']['at_mm']:.0f} mm from it"
    if report["charge_ah"] is not None:
        lasts = "for good" if report["lasts_for_good"] else f"{report['nights'] or 0:.1f} nights"
        yield (
            f"the coldest night takes {report['charge_ah']:.1f} Ah ({report['energy_wh']:.0f} Wh); "
            f"{report['usable_ah']:.0f} Ah may be drawn: {lasts}"
        )
