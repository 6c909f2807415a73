"""The circuit as a small schematic: battery, fuse, cable, plugs, heater, and what hangs on it."""

from __future__ import annotations

from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.power.leads import lead_run
from gale_nook.drawing.scene import Line, Node, Rect, Scene, Text

WIDTH, HEIGHT = 360.0, 190.0
TOP, BOTTOM, LEFT, HEATER = 40.0, 128.0, 34.0, 220.0


def schematic(job: Job) -> Scene | None:
    """Return the schematic; None while heater, battery or supply are missing."""
    sheet, run, battery = heater_sheet(job), lead_run(job, "supply"), job.plan.power.battery
    if sheet is None or run is None or battery is None:
        return None
    fuse = next(iter(run.lead.of_kind("fuse")), None)
    feed = job.catalogue.power_equipment.feed(job.plan.power.feed)
    glow = f"{sheet.electrical.glow_current_a:g} A glow"
    area = f"{run.lead.area_mm2:g} mm²"
    nodes: list[Node] = [
        *_battery(f"{battery.nominal_v} V", f"{battery.capacity_ah:g} Ah"),
        Line([(LEFT, 66), (LEFT, TOP), (70, TOP)], "schema-wire"),
        *(_fuse(f"{fuse.rating_a:g} A") if fuse is not None else [_gap()]),
        Line([(104, TOP), (HEATER, TOP)], "schema-wire"),
        Text((160, TOP - 6), f"{area}, {feed.label}", "schema-text", "middle"),
        _back(job.plan.power.body_return),
        Text(
            (130, BOTTOM + 14),
            "through the body" if job.plan.power.body_return else f"{area}, back",
            "schema-text",
            "middle",
        ),
        Rect((HEATER, TOP - 14), (64, BOTTOM - TOP + 28), "schema-box", 3.0),
        Text((HEATER + 32, 80), sheet.label, "schema-text strong", "middle"),
        Text((HEATER + 32, 94), glow, "schema-text", "middle"),
    ]
    for number, (kind, name) in enumerate(
        (("pump", "pump"), ("controller", "controller"), ("sensor", "sensor"))
    ):
        lead = lead_run(job, kind)
        if lead is None:
            continue
        y = TOP + 6 + number * 34
        nodes += [
            Line([(HEATER + 64, y), (HEATER + 88, y)], "schema-wire"),
            Rect((HEATER + 88, y - 11), (50, 22), "schema-box", 2.0),
            Text((HEATER + 113, y + 4), name, "schema-text", "middle"),
        ]
    label = "Schematic of the supply, the pump and the controller"
    return Scene(label, (WIDTH, HEIGHT - 30), nodes, {"class": "drawing schema", "role": "img"})


def _battery(volts: str, capacity: str) -> list[Node]:
    return [
        Line([(LEFT - 12, 66), (LEFT + 12, 66)], "schema-plate"),
        Line([(LEFT - 6, 74), (LEFT + 6, 74)], "schema-plate thick"),
        Line([(LEFT - 12, 82), (LEFT + 12, 82)], "schema-plate"),
        Line([(LEFT - 6, 90), (LEFT + 6, 90)], "schema-plate thick"),
        Text((LEFT + 18, 76), volts, "schema-text"),
        Text((LEFT + 18, 90), capacity, "schema-text"),
        Text((LEFT - 24, 64), "+", "schema-text strong"),
        Text((LEFT - 24, 98), "−", "schema-text strong"),
    ]


def _fuse(rating: str) -> list[Node]:
    return [
        Rect((70, TOP - 7), (34, 14), "schema-box", 2.0),
        Line([(70, TOP), (104, TOP)], "schema-wire"),
        Text((87, TOP + 20), rating, "schema-text", "middle"),
    ]


def _gap() -> Node:
    return Text((87, TOP + 4), "no fuse", "schema-text over", "middle")


def _back(through_body: bool) -> Node:
    cls = "schema-wire dashed" if through_body else "schema-wire"
    return Line([(HEATER, BOTTOM), (LEFT, BOTTOM), (LEFT, 90)], cls)
