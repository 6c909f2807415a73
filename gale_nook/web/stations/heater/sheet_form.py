"""The form of a heater's limit sheet: every number with its source, by its path in the sheet."""

from __future__ import annotations

import copy
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ValidationError

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import BadInput
from gale_nook.core.heater.sheets import contradictions, numbers_of
from gale_nook.core.plan.document import places_of
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import parse_quantity, write_quantity
from gale_nook.web.forms import extra_text
from gale_nook.web.limit_ends import KINDS, PLAIN
from gale_nook.web.stations.heater.sheet_wiring import take_wiring

VALUE, SOURCE, YES = "value:", "source:", "yes:"
NO_SUCH_HEATER = "There is no heater of that name."
PINS = "wiring.pins."  # they have a table of their own
TITLES = {
    "output": "Burner",
    "body": "Body",
    "exhaust": "Exhaust port",
    "intake": "Combustion air port",
    "fuel": "Fuel port",
    "mounts": "Mount",
    "electrical": "Supply",
    "wiring": "Leads and plugs",
    "fan": "Warm-air fan",
    "loop": "Coolant loop",
    "noise_db": "Noise",
    "noise_at_m": "Noise",
    "joint_counts_mm": "Exhaust port",
    "limits": "Limits",
    "kit": "In its box",
}
WORDS = {
    "minimum_w": "least output",
    "maximum_w": "most output",
    "compensated_to_m": "holds its output up to",
    "efficiency": "efficiency, 0 to 1",
    "excess_air": "excess air, ratio",
    "fuel_l_h_minimum": "fuel at least output, l/h",
    "fuel_l_h_maximum": "fuel at most output, l/h",
    "dose_ml": "fuel a stroke, ml",
    "x_mm": "towards the warm end",
    "y_mm": "to its right",
    "drop_mm": "below the mount",
    "diameter_mm": "diameter",
    "length_mm": "length",
    "width_mm": "width",
    "height_mm": "height",
    "mass_kg": "mass, kg",
    "voltage_v": "supply, V",
    "glow_current_a": "current to start, A",
    "run_minimum_a": "current at least output, A",
    "run_maximum_a": "current at most output, A",
    "cut_out_v": "cuts out at, V",
    "after_run_s": "after-run, s",
    "second_glow_s": "second glow at each stop, s",
    "standby_w": "standby, W",
    "fuse_a": "fuse, A",
    "area_mm2": "conductor, mm²",
    "conductors": "conductors",
    "plug_width_mm": "plug, width",
    "plug_height_mm": "plug, height",
    "pin": "pin",
    "static_pressure_pa": "pressure without flow, Pa",
    "free_flow_m3_h": "flow without pressure, m³/h",
    "duct_mm": "bore of the warm end",
    "inlet_mm": "bore of the inlet",
    "speed_at_minimum": "fan's speed at least output, 0 to 1",
    "share_at_minimum": "heat into the air at least output, 0 to 1",
    "share_at_maximum": "heat into the air at most output, 0 to 1",
    "outlet_limit_c": "limit at the warm end",
    "bend_counts_mm": "a square bend of a duct counts as",
    "noise_db": "noise, dB",
    "noise_at_m": "told at, metres from it",
    "joint_counts_mm": "a joint of the exhaust counts as",
    "minimum": "least",
    "maximum": "most",
    "quantity": "quantity",
    "port_outside_mm": "hose ends, outside",
    "content_l": "holds, l",
    "loss_kpa": "loses at 10 l/min, kPa",
    "least_l_min": "least flow, l/min",
    "most_rise_k": "warmer between its ends at most, K",
    "half_w": "half load",
    "to_half_c": "to half load at, °C",
    "to_full_c": "to full load at, °C",
    "to_pause_c": "pauses at, °C",
    "restart_c": "starts again at, °C",
    "pump_w": "its pump draws",
}
YES_OR_NO = {
    "tee_allowed": "a tee in an unpressurised line of the vehicle may feed it",
    "pump_upright": "its pump is held upright while the line is filled",
}
POINT = 3  # of a curve: its list, its number, and which of its two values
AXES = ("rearward", "to the right", "up")


@dataclass(frozen=True, slots=True)
class SheetField:
    """One number of the sheet: its path, what it is called, its text and its source."""

    path: str
    label: str
    text: str
    source: str


@dataclass(frozen=True, slots=True)
class SheetGroup:
    """The numbers that belong together."""

    title: str
    fields: tuple[SheetField, ...]


def sheet_groups(sheet: HeaterSheet, book: Catalogue, system: UnitSystem) -> tuple[SheetGroup, ...]:
    """Return the whole sheet as fields, in its own order; limits that it does not have stand empty
    at the end.
    """
    results: dict[str, list[SheetField]] = {}
    for path, value in numbers_of(_data(sheet, book)):
        if path.startswith(PINS):
            continue
        kind = _kind(path, book)
        text = (
            ""
            if value is None
            else write_quantity(value, kind, system)
            if kind != "number"
            else f"{value:g}"
        )
        field = SheetField(
            path, _label(path, book), text.replace("−", "-"), sheet.sources.get(path, "")
        )
        results.setdefault(_group(path, sheet), []).append(field)
    return tuple(SheetGroup(title, tuple(fields)) for title, fields in results.items())


def sheet_of(
    form: BaseModel, base: HeaterSheet, book: Catalogue, system: UnitSystem
) -> HeaterSheet:
    """Return the sheet that a form describes, on the frame of another.

    Raises:
        BadInput: a value that cannot be read, or a sheet that contradicts itself; names the value.
    """
    data, sources = _data(base, book), {}
    for path, _ in list(numbers_of(data)):
        if path.startswith(PINS):
            continue
        text = extra_text(form, VALUE + path, 60)
        _put(data, path, _number(text, path, book, system))
        source = extra_text(form, SOURCE + path, 80).strip()
        if source:
            sources[path] = source
    take_wiring(form, data)
    if extra_text(form, "yes-or-no", 1):
        data |= {name: bool(extra_text(form, YES + name, 4)) for name in YES_OR_NO}
        data["noise_how"] = extra_text(form, "noise_how", 200)
    data["limits"] = {
        name: limit
        for name, limit in data["limits"].items()
        if (limit["minimum"], limit["maximum"]) != (None, None)
    }
    kept = {path: note for path, note in sources.items() if not _is_dropped(path, data)}
    told = {name: extra_text(form, name, 200) for name in ("label", "source", "summary")}
    try:
        sheet = HeaterSheet.model_validate({**data, **told, "sources": kept})
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(_label(place, book), None, problem) from None
    for path, value, problem in contradictions(sheet, book.limit_bands, book.parts):
        raise BadInput(_label(path, book), value, problem)
    return sheet


def _data(sheet: HeaterSheet, book: Catalogue) -> dict[str, Any]:
    """Return the sheet as plain data, with every limit that is known here."""
    data: dict[str, Any] = copy.deepcopy(sheet.model_dump(mode="json", exclude={"sources"}))
    for name in book.limit_bands:
        data["limits"].setdefault(name, {"minimum": None, "maximum": None, "source": sheet.source})
    return data


def _is_dropped(path: str, data: dict[str, Any]) -> bool:
    parts = path.split(".")
    return parts[0] == "limits" and parts[1] not in data["limits"]


def _number(text: str, path: str, book: Catalogue, system: UnitSystem) -> float | None:
    if not text.strip():
        return None
    return parse_quantity(text, _kind(path, book), system, _label(path, book))


def _kind(path: str, book: Catalogue) -> str:
    parts = path.split(".")
    if parts[0] == "limits":
        unit = book.limit_bands[parts[1]].unit if parts[1] in book.limit_bands else "count"
        return KINDS.get(unit, PLAIN)
    leaf = parts[-1]
    if leaf in {"minimum", "maximum"} or leaf.endswith("_mm"):
        return "mm"  # a mount's floor stack
    if leaf == "outlet_limit_c":
        return "c"
    return "w" if leaf.endswith("_w") else "m" if leaf == "compensated_to_m" else "number"


def _label(path: str, book: Catalogue) -> str:
    path = path.replace("[", ".").replace("]", "")
    parts = path.split(".")
    end = WORDS.get(parts[-1], parts[-1].replace("_", " "))
    if parts[0] == "limits" and len(parts) > 1 and parts[1] in book.limit_bands:
        return f"{book.limit_bands[parts[1]].label}, {end}"
    if "direction" in parts and parts[-1].isdigit():
        return f"points {AXES[min(int(parts[-1]), 2)]}"
    if "stack" in parts:
        return f"floor stack, {end}"
    if parts[:2] == ["loop", "pump"] and parts[-1].isdigit() and len(parts) > POINT:
        what = ("flow, l/min", "head, kPa")[min(int(parts[-1]), 1)]
        return f"its pump, point {int(parts[2]) + 1}, {what}"
    if "holes" in parts and parts[parts.index("holes") + 1].isdigit():
        return f"hole {int(parts[parts.index('holes') + 1]) + 1}, {end}"
    if parts[0] == "kit" and len(parts) > 1 and parts[1].isdigit():
        return f"part {int(parts[1]) + 1}, {end}"
    return end


def _group(path: str, sheet: HeaterSheet) -> str:
    parts = path.split(".")
    title = TITLES.get(parts[0], parts[0])
    return f"{title}: {sheet.mounts[int(parts[1])].label}" if parts[0] == "mounts" else title


def _put(data: Any, path: str, value: float | None) -> None:
    *folders, leaf = path.split(".")
    for part in folders:
        data = data[int(part)] if isinstance(data, list) else data[part]
    data[int(leaf) if isinstance(data, list) else leaf] = value
