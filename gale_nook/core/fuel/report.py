"""The fuel in figures, for the command line and other programs."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

from gale_nook.core.fuel.adapters import adapters
from gale_nook.core.fuel.flex import crossings
from gale_nook.core.fuel.hydraulics import fuel_heads
from gale_nook.core.fuel.line import fuel_run, supply
from gale_nook.core.fuel.priming import prime
from gale_nook.core.fuel.second import together
from gale_nook.core.fuel.sources import night_fuel_l, offers
from gale_nook.core.fuel.tank import dip_stick
from gale_nook.core.job import Job

DIP_STEP_MM = 10.0


def fuel_report(job: Job) -> dict[str, Any]:
    """Return sources, tank, line, heads, priming and nights as plain data; what is not known yet is
    None.
    """
    fuel, source, run = job.plan.fuel, supply(job), fuel_run(job)
    vessel = source.vessel if source is not None else None
    primed = prime(job, run) if run is not None else None
    per_night, shared = night_fuel_l(job), together(job)
    return {
        "plan": job.plan.name,
        "source": fuel.source,
        "sources": [asdict(offer) for offer in offers(job, per_night)],
        "tank": {
            "full_l": vessel.full_l,
            "unusable_l": source.unusable_l if source is not None else None,
            "dip_stick": [asdict(row) for row in dip_stick(vessel, DIP_STEP_MM)],
        }
        if vessel is not None
        else None,
        "line": {
            "length_mm": run.length_mm,
            "suction_mm": run.suction_mm,
            "pressure_mm": run.pressure_mm,
            "suction": run.suction.id,
            "pressure": run.pressure.id,
            "filter_mm": run.filter_mm,
            "pump_mm": run.pump_mm,
            "air_traps": [asdict(hump) for hump in run.air_traps],
        }
        if run is not None
        else None,
        "flex": [
            {
                "at_mm": crossing.at_mm,
                "hose_mm": crossing.flex.hose_mm if crossing.flex is not None else None,
                "longest_mm": crossing.longest_mm,
                "slack_mm": crossing.slack_mm,
            }
            for crossing in crossings(job, run)
        ]
        if run is not None
        else [],
        "heads": [{"when": when, **asdict(there)} for when, there in fuel_heads(job)],
        "prime": asdict(primed) if primed is not None else None,
        "adapters": [asdict(each) for each in adapters(job, run)] if run is not None else [],
        "second": asdict(shared) if shared is not None else None,
        "night_l": per_night,
    }


def fuel_words(report: dict[str, Any]) -> Iterator[str]:
    """Yield the report as lines of text."""
    for offer in report["sources"]:
        told = f"not here: {offer['against']}" if offer["against"] else offer["needs"]
        yield f"{'*' if offer['source'] == report['source'] else ' '} {offer['words']}: {told}"
    if report["tank"] is not None:
        yield (
            f"tank {report['tank']['full_l']:.1f} l, {report['tank']['unusable_l']:.1f} l of it "
            "below the pick-up"
        )
    if report["line"] is not None:
        yield (
            f"line {report['line']['suction_mm']:.0f} mm to the pump, "
            f"{report['line']['pressure_mm']:.0f} mm to the heater"
        )
    for head in report["heads"]:
        yield (
            f"{head['when']}: {head['over_pump_mm']:.0f} mm over the pump, "
            f"{head['suction_pa']:.0f} Pa of suction"
        )
    if report["prime"] is not None:
        yield (
            f"priming {report['prime']['volume_ml']:.1f} ml, "
            f"{report['prime']['least_minutes']:.1f} to {report['prime']['most_minutes']:.1f} min "
            f"by {report['prime']['by']}"
        )
