"""The warm air's figures as plain data, and as lines of text."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from gale_nook.core.ducts.throttles import throttles_of
from gale_nook.core.fitted.closing import closed_sets
from gale_nook.core.fitted.drying import drying
from gale_nook.core.fitted.heating import warm_minutes
from gale_nook.core.fitted.usable import usable
from gale_nook.core.fitted.zone_supply import zones_supplied
from gale_nook.core.job import Job


def air_report(job: Job) -> dict[str, Any]:
    """Return what comes out of each outlet at the usable output, what each zone gets, and which
    outlets may be closed together.
    """
    found = usable(job)
    if found is None:
        return {"usable_w": None, "outlets": [], "zones": [], "may_close": []}
    state = found.at
    warm = warm_minutes(job)
    open_share = throttles_of(state.layout).open_share if state is not None else None
    return {
        "usable_w": found.usable_w,
        "most_w": found.most_w,
        "throttles": found.throttles,
        "outlet_limit_c": found.limit_c,
        "heater_outlet_c": state.heater_c if state is not None else None,
        "total_flow_m3_h": state.total_m3_h if state is not None else 0.0,
        "fan_pressure_pa": state.fan_pa if state is not None else 0.0,
        "fan_speed_percent": 100 * state.speed if state is not None else 0.0,
        "inlet_c": state.inlet_c if state is not None else None,
        "outlets": [
            {
                "id": outlet.id,
                "name": outlet.name,
                "zone": outlet.zone,
                "flow_m3_h": outlet.flow_m3_h,
                "flow_kg_s": outlet.flow_kg_s,
                "temperature_c": outlet.temperature_c,
                "velocity_m_s": outlet.velocity_m_s,
                "heat_w": outlet.heat_w,
                "open_percent": 100 * (open_share or {}).get(outlet.id, 1.0),
            }
            for outlet in (state.outlets if state is not None else ())
        ],
        "zones": [
            {
                "id": zone.zone,
                "name": zone.name,
                "set_c": zone.set_c,
                "need_w": zone.need_w,
                "gets_w": zone.gets_w,
                "ends_c": zone.ends_c,
                "warm_minutes": warm.get(zone.zone),
            }
            for zone in zones_supplied(job)
        ],
        "may_close": [
            {"outlets": list(each.names), "usable_w": each.usable.usable_w, "keeps": each.keeps}
            for each in closed_sets(job)
        ],
        "drying": [
            {
                "zone": each.zone,
                "litres_h": each.litres_h,
                "hours": each.hours,
                "vent_cm2": each.vent_cm2,
            }
            for each in drying(job)
        ],
    }


def air_lines(report: dict[str, Any]) -> Iterator[str]:
    """Yield the report as lines of text."""
    if report["usable_w"] is None:
        yield "no warm air yet: it needs an air heater in its place, and ducts where it has some"
        return
    yield (
        f"usable through this ducting: {report['usable_w']:.0f} W of {report['most_w']:.0f} W; "
        f"draws in {report['total_flow_m3_h']:.0f} m³/h at {report['fan_pressure_pa']:.0f} Pa"
    )
    if report["heater_outlet_c"] is not None:
        yield (
            f"warm end {report['heater_outlet_c']:.0f} °C, its limit "
            f"{report['outlet_limit_c']:.0f} °C"
        )
    for outlet in report["outlets"]:
        yield (
            f"{outlet['name']}: {outlet['flow_m3_h']:.0f} m³/h, {outlet['temperature_c']:.0f} °C, "
            f"{outlet['velocity_m_s']:.1f} m/s, {outlet['heat_w']:.0f} W to {outlet['zone']}"
        )
    for zone in report["zones"]:
        minutes = zone["warm_minutes"]
        warm = f"warm after {minutes:.0f} min" if minutes is not None else "not warm within hours"
        gets = f"{zone['gets_w']:.0f}" if zone["gets_w"] is not None else "?"
        yield f"{zone['name']}: needs {zone['need_w']:.0f} W, gets {gets} W, {warm}"
    for each in report["may_close"]:
        word = "may" if each["keeps"] else "may not"
        names = ", ".join(each["outlets"])
        yield f"{names} {word} be closed: {each['usable_w']:.0f} W"
    for each in report["drying"]:
        hours = f"{each['hours']:.1f} h" if each["hours"] is not None else "never"
        yield f"drying in {each['zone']}: {each['litres_h']:.2f} l/h, dry after {hours}"
