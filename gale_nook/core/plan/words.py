"""The plan's fields in the words of the trade, for labels, summaries and messages."""

from __future__ import annotations

from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.fuel import FuelSource

FIELD_WORDS = {
    "x_mm": "behind the datum",
    "y_mm": "right of centre",
    "z_mm": "above the load floor",
    "yaw_deg": "turned",
    "length_mm": "length",
    "width_mm": "width",
    "height_mm": "height",
    "diameter_mm": "diameter",
    "travel_up_mm": "travel up",
    "travel_down_mm": "travel down",
    "front_x_mm": "nose",
    "bulkhead_x_mm": "bulkhead",
    "rear_x_mm": "rear doors",
    "outer_width_mm": "width outside",
    "floor_width_mm": "width of the load floor",
    "inside_height_mm": "height inside",
    "sill_z_mm": "lower edge of the sill",
    "ground_z_mm": "ground",
    "bonnet_z_mm": "bonnet",
    "front_axle_x_mm": "front axle",
    "rear_axle_x_mm": "rear axle",
    "wheel_diameter_mm": "wheel diameter",
    "corrugation_mm": "depth of the floor's ribs",
    "thickness_mm": "thickness",
    "material": "material",
    "kind": "kind",
    "name": "name",
    "note": "note",
    "axis": "axis",
    "fuel": "vehicle's fuel",
    "datum": "datum",
    "start_mm": "near edge",
    "base_mm": "lower edge",
    "glazing": "build",
    "face": "face",
    "covered": "cover on",
    "opens": "opens",
    "inside_c": "inside temperature",
    "outside_c": "coldest night",
    "mild_outside_c": "mild night",
    "cab_c": "cab temperature",
    "wind_m_s": "wind",
    "altitude_m": "altitude",
    "air_changes_per_h": "air changes",
    "leakage": "leaks",
    "sleepers": "sleepers",
    "cab_loss_w_k": "loss of the cab",
    "open_cm2": "left open",
    "margin_percent": "margin",
    "humidity_percent": "humidity inside",
    "length_m": "length of ribs",
    "pitch_mm": "pitch of the ribs",
    "stringers": "ribs lengthwise",
    "cab": "between it and the cab",
    "rise_mm": "rise",
    "raised": "raised at night",
    "sheet": "heater",
    "medium": "heated by",
    "reason": "reason",
    "mount": "mount",
    "rebate_mm": "rebate",
    "stands_on": "stands on",
    "chemistry": "kind",
    "nominal_v": "nominal voltage",
    "capacity_ah": "capacity",
    "age_years": "age",
    "charge_percent": "charge",
    "open_v": "voltage at rest",
    "resistance_mohm": "inner resistance",
    "temperature_c": "temperature",
    "feed": "fed at",
    "one_way_mm": "length, one way",
    "area_mm2": "conductor",
    "rating_a": "fuse",
    "allowance_percent": "for ends and slack",
    "bundle": "cables together",
    "surroundings_c": "warmest round the cable",
    "insulation_c": "insulation takes",
    "start_load_a": "others draw at the start",
    "idle_days": "days switched on, unused",
    "body_return": "back through the body",
    "body_return_reason": "reason",
    "mounted": "hangs on",
    "sensor": "regulates by",
    "acts_v": "acts at",
    "stops": "stops",
    "charge_ah": "charge",
    "current_a": "current",
    "switch": "a switch in the feed",
    "adapter": "adapter plate",
    "packing_mm": "packing",
    "packing": "packing is of",
    "level_percent": "level",
    "reserve_l": "reserve",
    "price_per_l": "price of a litre",
    "currency": "currency",
    "tilt_deg": "tilt",
    "side": "side",
    "from_mm": "from",
    "to_mm": "to",
    "inner_mm": "reaches in",
    "travel_mm": "comes out",
    "hose_mm": "length of the hose",
    "lift_pump": "vehicle's lift pump",
    "filler_deg": "filler above level",
    "filled_with": "filled with",
    "grade": "diesel",
    "stand_pipe_mm": "pick-up above the bottom",
    "firewall_x_mm": "engine bay ends",
    "firewall_mm": "its bulkhead, thick",
    "radius_mm": "bend radius",
    "drain": "drain hole",
    "at_mm": "from the port",
    "layers": "layers",
    "drain_down": "drain down",
    "feature": "hangs on",
    "silencer": "silencer",
    "filter": "filter",
    "seal": "sealed with",
    "firing_c": "air at the first firing",
    "long_run_min": "first long run",
    "edges": "may end at",
    "mouth_from_mm": "mouth from",
    "mouth_to_mm": "mouth to",
    "start_h": "switched on at",
    "hours_h": "for",
    "start_c": "inside at the start",
    "night_c": "set back to",
    "night_from_h": "set back from",
    "night_to_h": "until",
    "furnishing_kj_k": "furniture, water and stores",
    "warm_up_h": "warm within",
    "idle_percent": "idling allowed when mild",
    "from_h": "from",
    "to_h": "until",
    "set_c": "set to",
    "rearward_mm": "rearward",
    "mark_x_mm": "mark below, behind the datum",
    "mark_y_mm": "mark below, right of centre",
    "right_mm": "to the right",
    "phase_mm": "phase of the ribs",
    "tolerance_mm": "tolerance of lengths",
    "top_z_mm": "its steel over the load floor's",
    "uncertainty_mm": "place known to ±",
    "shown": "shown under the plan",
    "parked_tilt_deg": "parked askew",
    "tolerance_deg": "tolerance of angles",
    "heights_below": "heights below are measured",
    "from_x_mm": "from, behind the datum",
    "to_x_mm": "to, behind the datum",
    "left_y_mm": "left side, right of centre",
    "right_y_mm": "right side, right of centre",
    "how": "how it was looked at",
    "on": "date",
    "where": "where",
    "warm_end": "the warm end blows",
    "cold_end": "it draws its air",
    "open_percent": "open",
    "shut": "closed",
    "share_percent": "share of the air",
    "zone": "zone",
    "aim_deg": "turned to the side by",
    "splitter": "splitter",
    "covered_percent": "covered",
    "grille": "covered with",
    "faces": "looks",
    "blows": "blows",
    "wanted": "wanted outlets",
    "space": "its air is from",
    "divider": "behind",
    "opening_cm2": "open for air",
    "low_z_mm": "from height",
    "high_z_mm": "to height",
    "wet_l": "water in wet gear",
    "sensor_zone": "the thermostat's sensor is in",
    "first_straight": "first straight",
    "panel_grille": "grille in the panel",
    "panel_width_mm": "width of the panel's grille",
    "panel_height_mm": "height of the panel's grille",
    "panel_mm": "panels, thick",
    "along_mm": "from its edge",
    "up_mm": "up",
    "hole_mm": "hole",
    "ring": "edge ring",
    "stuff": "kind of clip",
    "slack_mm": "slack",
    "returns": "air comes back by it",
    "glycol_percent": "glycol",
    "glycol_by": "told by",
    "frost_c": "has to stand",
    "fluid": "kind of glycol",
    "mix_c": "set to",
    "fan": "fan",
    "lagging_mm": "lagging",
    "floor_limit_c": "surface of the floor, at most",
    "water_start_c": "water when it is switched on",
    "engine": "the engine",
    "rest_v": "battery at rest, just before",
    "began_s": "began",
    "voltage_v": "voltage",
    "pump_hz": "ticks of the pump",
    "outlet_c": "warm end",
    "smoke": "smoke",
    "after_5_c": "after 5 minutes",
    "after_20_c": "after 20 minutes",
    "after_min": "after",
    "co_ppm": "CO",
    "code": "code",
    "code_means": "what the manual says of it",
    "by": "fired by",
    "people": "people",
    "hours_a_day": "hours a day",
    "begins_on": "begins on",
}

TUBE_WORDS = {"exhaust": "exhaust", "intake": "combustion air"}
SOURCE_WORDS: dict[FuelSource, str] = {
    "take-off": "the vehicle tank's spare take-off",
    "stand-pipe": "a stand-pipe into the vehicle tank",
    "tee-feed": "a tee in the feed ahead of the lift pump",
    "tee-return": "a tee in the return line",
    "tee-auxiliary": "a tee in an auxiliary heater's line",
    "tank-outside": "a tank of its own outside",
    "tank-inside": "a tank of its own inside",
}
FITTING_WORDS = {
    "silencer": ("silencer", "silencers"),
    "filter": ("filter", "filters"),
    "joint": ("joint", "joints"),
    "support": ("support", "supports"),
    "lagging": ("lagged stretch", "lagging"),
    "shield": ("shield", "shields"),
    "cap": ("cap", "caps"),
    "clamp": ("clamp", "clamps"),
    "bulkhead": ("bulkhead fitting", "bulkhead fittings"),
    "box": ("boxed stretch", "boxes"),
    "hatch": ("hatch to look at it", "hatches"),
}


def field_words(address: str) -> str:
    """Return what a value is called.

    >>> field_words("vehicle.shell.rear_x_mm")
    'rear doors'
    """
    parts = address.split(".")
    if parts[-1].isdigit() and "profile" in parts:
        return ("across", "up")[min(int(parts[-1]), 1)]
    if parts[-1].isdigit() and len(parts) > 2:
        return ("behind the datum", "right of centre", "above the load floor")[
            min(int(parts[-1]), 2)
        ]
    return FIELD_WORDS.get(parts[-1], parts[-1].replace("_", " "))


def item_id(address: str) -> str:
    """Return the id of the list item that an address lies in, or an empty text.

    >>> item_id("vehicle.solids.tank.x_mm")
    'tank'
    """
    parts = address.split(".")
    for collection in (
        "solids",
        "openings",
        "nodes",
        "layers",
        "features",
        "looked_at",
        "pilots",
        "candidates",
        "timers",
        "fittings",
        "returns",
        "wanted",
        "zones",
        "ducts",
        "alarms",
        "own_sheets",
        "own_limits",
        "limits",
        "materials",
        "prices",
        "loads",
        "charging",
        "parts",
        "hoses",
        "readings",
        "places",
        "co",
    ):
        if collection in parts and parts.index(collection) + 1 < len(parts):
            return parts[parts.index(collection) + 1]
    return ""


def item_name(plan: Plan, item: str, given: str = "") -> str:
    """Return what an item of the plan's lists is called; `given` where that is known already."""
    if given:
        return given
    on_a_pipe = _on_a_pipe(plan, item)
    if on_a_pipe:
        return on_a_pipe
    named = [
        *plan.vehicle.solids,
        *plan.vehicle.openings,
        *plan.vehicle.features,
        *plan.vehicle.photos,
        *plan.vehicle.floors,
        *plan.coolant.parts,
    ]
    for alarm in plan.power.alarms:
        if alarm.id == item:
            return f"the {'CO' if alarm.kind == 'co' else 'smoke'} alarm"
    if plan.coolant.hose(item) is not None:
        return "a hose"
    result = next((thing.name for thing in named if thing.id == item), None)
    if any(area.id == item for area in plan.vehicle.looked_at):
        return "a looked-at area"
    return result or ("a layer" if item.startswith("l") else item)


def _on_a_pipe(plan: Plan, item: str) -> str:
    """What a bend or a fitting of the burner's pipes is called; empty for anything else."""
    for route in (plan.pipes.exhaust, plan.pipes.intake):
        for number, node in enumerate(route.nodes if route is not None else (), 1):
            if node.id == item:
                last = route is not None and number == len(route.nodes)
                return "the mouth" if last else f"bend {number}"
        for fitting in route.fittings if route is not None else ():
            if fitting.id == item:
                return f"a {FITTING_WORDS[fitting.kind][0]}"
    return ""
