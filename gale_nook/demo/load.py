"""The demo workshop's plans, and the plans that a new job starts from."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Any

from gale_nook.core.book.document import BookVehicle, OwnBook, read_book, vehicle_of
from gale_nook.core.catalogue.survey import BodyType
from gale_nook.core.log.entries import LogEntry
from gale_nook.core.plan.document import Plan, read_plan
from gale_nook.core.plan.heat import HeatNeed
from gale_nook.core.plan.vehicle import Vehicle
from gale_nook.core.vehicle.pencil import body_addresses, heat_addresses

PLANS = Path(__file__).with_name("plans")
LOGS = Path(__file__).with_name("logs")
BOOK = Path(__file__).with_name("book.json")
DEMO_NAMES = ("heron", "quarto", "wren", "teal", "dunlin", "plover", "coot", "blank")


@cache
def demo_plan(name: str) -> Plan:
    """Return one of the demo plans by its file name."""
    return read_plan((PLANS / f"{name}.json").read_bytes())


@cache
def demo_book() -> OwnBook:
    """Return the book of the demo's workshop, as it would like it to be."""
    return read_book(BOOK.read_bytes())


@cache
def demo_log(name: str) -> tuple[LogEntry, ...]:
    """Return the log of one of the demo's jobs; none where it has none."""
    path = LOGS / f"{name}.jsonl"
    if not path.exists():
        return ()
    lines = path.read_text("utf-8").splitlines()
    return tuple(LogEntry.model_validate_json(line) for line in lines if line)


def new_plan(name: str, body: BodyType | None = None) -> Plan:
    """Return a fresh plan for a job of that name, with the shell only: of a body type, or the
    mid-size van's.
    """
    data = demo_plan("blank").model_dump(mode="json")
    if body is not None:
        data["vehicle"] = _vehicle(body)
        data["heat"]["ribs"] = {
            "kind": "bare",
            "pitch_mm": body.rib_pitch_mm,
            "stringers": 2 if body.rib_pitch_mm else 0,
        }
    vehicle, heat = data["vehicle"], data["heat"]
    vehicle["pencilled"] = (
        *body_addresses(Vehicle.model_validate(vehicle)),
        *heat_addresses(HeatNeed.model_validate(heat)),
    )
    return Plan.model_validate({**data, "name": name, "note": ""})


def like(name: str, other: Plan) -> Plan:
    """Return a fresh plan with the surveyed vehicle of another job: its shell, parts, features and
    build-ups. Nobody has looked at this one yet, so what was looked at there is assumed here; the
    photos are of the other.
    """
    heat = other.heat
    return on_vehicle(name, vehicle_of("other", other.name, other.name, heat, other.vehicle))


def on_vehicle(name: str, kept: BookVehicle) -> Plan:
    """Return a fresh plan on a vehicle of the workshop's book, as nobody has looked at it yet."""
    data, given = demo_plan("blank").model_dump(mode="json"), kept.model_dump(mode="json")
    heat = {**data["heat"], **{part: given[part] for part in ("surfaces", "ribs", "cab")}}
    areas = [
        {**area, "how": "assumed", "note": f"as {kept.label[:60]}"}
        for area in given["vehicle"]["looked_at"]
    ]
    weather = ["heat.air_changes_per_h", "heat.outside_c"]
    pencilled = [*given["vehicle"]["pencilled"], *weather]
    vehicle = {**given["vehicle"], "looked_at": areas, "pencilled": pencilled}
    return Plan.model_validate({**data, "name": name, "note": "", "vehicle": vehicle, "heat": heat})


def _vehicle(body: BodyType) -> dict[str, Any]:
    depth, pitch = body.corrugation
    names = ("kind", "name", "face", "start_mm", "base_mm", "length_mm", "height_mm", "glazing")
    openings = [
        {"id": f"opening-{n}", **dict(zip(names, row, strict=True))}
        for n, row in enumerate(body.openings, 1)
    ]
    layers = [
        {"id": f"l{n}", "material": material, "thickness_mm": mm}
        for n, (material, mm) in enumerate(body.floor, 1)
    ]
    top = (
        dict(zip(("start_mm", "length_mm", "width_mm", "rise_mm"), body.pop_top, strict=True))
        if body.pop_top
        else None
    )
    return {
        "name": body.label,
        "fuel": body.fuel,
        "datum": body.datum,
        "shell": body.shell,
        "openings": openings,
        "has_none": body.has_none,
        "floor": {"layers": layers, "corrugation_mm": depth, "pitch_mm": pitch},
        "pop_top": top,
        "moves": body.moves,
        "hull": body.hull,
    }
