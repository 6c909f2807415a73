"""What the power station shows."""

from __future__ import annotations

import math
from functools import cached_property
from typing import Any

from markupsafe import Markup

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import least_of
from gale_nook.core.power.alarm_places import AlarmArea, alarm_area
from gale_nook.core.power.batteries import BatteryState
from gale_nook.core.power.choice import (
    MARGIN_V,
    CableOffer,
    cable_offers,
    fitting_fuses,
    smallest_cable,
)
from gale_nook.core.power.circuit import Ladder
from gale_nook.core.power.leads import LEAD_WORDS, LeadRun, lead_runs, leads_to_lay
from gale_nook.core.power.nights import Nights, nights
from gale_nook.core.power.remedies import starting_disconnect
from gale_nook.core.power.sensor_bias import Bias, sensor_bias
from gale_nook.core.power.start import FUSE_AT_MM, starting_alarm
from gale_nook.core.power.supply import STATE_WORDS, STATES, battery_now, ladders
from gale_nook.core.power.what_helps import Gain, what_helps
from gale_nook.core.power.work import WireRow, wiring_table
from gale_nook.drawing.ladder import ladder_drawing
from gale_nook.drawing.schematic import schematic
from gale_nook.drawing.svg import svg
from gale_nook.web.page import COORDINATES, StationPage

PART_WORDS = {
    "fuse": "fuse",
    "joint": "joint",
    "hole": "hole with grommet",
    "guard": "sleeve",
    "loop": "loop",
    "clip": "clip",
}


class PowerPage(StationPage):
    """What the power station shows."""

    has_style = True
    has_board = True
    board_hint = "drag battery, controller, alarm or a bend"
    opens_close = False

    @property
    def exact_addresses(self) -> list[str]:
        """Values that a grip of the board is moved from."""
        power, places = self.plan.power, []
        if power.battery is not None:
            places.append("power.battery")
        if power.controller is not None:
            places.append("power.controller")
        places += [f"power.alarms.{alarm.id}" for alarm in power.alarms]
        for lead in power.leads:
            places += [f"power.leads.{lead.id}.nodes.{node.id}" for node in lead.nodes]
        result = [f"{place}.{leaf}" for place in places for leaf in COORDINATES]
        for lead in power.leads:
            result += [f"power.leads.{lead.id}.parts.{part.id}.at_mm" for part in lead.parts]
        return [*super().exact_addresses, *result]

    @property
    def focus_points(self) -> tuple[Vec3, ...]:
        points = tuple(point for run in lead_runs(self.job) for point in run.geometry.points)
        return points or super().focus_points

    @cached_property
    def ladders(self) -> dict[Any, Ladder]:
        return dict(ladders(self.job))

    @property
    def states(self) -> list[tuple[str, Ladder]]:
        """Each state in words, with its ladder."""
        return [(STATE_WORDS[s], self.ladders[s]) for s in STATES if s in self.ladders]

    @property
    def cut_out_v(self) -> float:
        sheet = heater_sheet(self.job)
        return sheet.electrical.cut_out_v if sheet is not None else 0.0

    @property
    def ladder(self) -> Markup:
        least = self.cut_out_v + least_of(self.job, "cut_out_margin_v", MARGIN_V)
        scene = ladder_drawing(self.ladders, self.cut_out_v, least)
        return Markup(svg(scene)) if scene is not None else Markup("")

    @property
    def schematic(self) -> Markup:
        scene = schematic(self.job)
        return Markup(svg(scene)) if scene is not None else Markup("")

    @property
    def battery(self) -> BatteryState | None:
        return battery_now(self.job)

    @cached_property
    def offers(self) -> tuple[CableOffer, ...]:
        return cable_offers(self.job)

    @property
    def smallest(self) -> CableOffer | None:
        return smallest_cable(self.job)

    @property
    def gains(self) -> tuple[Gain, ...]:
        """What would raise the voltage at glow the most."""
        return what_helps(self.job)[:5]

    @property
    def household(self) -> Nights | None:
        return nights(self.job)

    @property
    def lasts(self) -> str:
        """How many nights, in words."""
        found = self.household
        if found is None:
            return ""
        return "for good" if math.isinf(found.nights) else f"{found.nights:.1f} nights"

    @property
    def bias(self) -> Bias | None:
        return sensor_bias(self.job)

    @cached_property
    def runs(self) -> list[LeadRun]:
        return list(lead_runs(self.job))

    @property
    def to_lay(self) -> list[tuple[str, str]]:
        """Leads that can be laid, and are not: kind and name."""
        return [(kind, LEAD_WORDS[kind]) for kind in leads_to_lay(self.job)]

    @property
    def alarm_area(self) -> AlarmArea | None:
        """Where a CO alarm is clear."""
        return alarm_area(self.job)

    @property
    def fuses(self) -> tuple[float, ...]:
        return fitting_fuses(self.job)

    @property
    def wires(self) -> tuple[WireRow, ...]:
        return wiring_table(self.job)

    @property
    def chemistries(self) -> list[tuple[str, str]]:
        return [(c.id, c.label) for c in self.catalogue.power_equipment.chemistries]

    @property
    def feeds(self) -> list[tuple[str, str]]:
        return [(feed.id, feed.label) for feed in self.catalogue.power_equipment.feeds]

    @property
    def feed(self) -> Any:
        return self.catalogue.power_equipment.feed(self.plan.power.feed)

    def next_parts(self, run: LeadRun) -> list[tuple[str, dict[str, Any]]]:
        """What can be put on a lead, each in its middle, with the command that does it."""
        result, middle = [], float(round(run.drawn_mm / 2))
        for kind, words in PART_WORDS.items():
            if kind == "fuse" and run.lead.id != "supply":
                continue
            item = {"id": fresh_id(run.lead.parts, kind), "kind": kind, "at_mm": middle}
            if kind == "fuse":
                item |= {"at_mm": FUSE_AT_MM, "rating_a": self.fuses[0] if self.fuses else 20.0}
            if kind in {"guard", "loop"}:
                item |= {"length_mm": 200.0}
            collection = f"power.leads.{run.lead.id}.parts"
            result.append((words, {"op": "add", "collection": collection, "item": item}))
        return result

    def adding(self, what: str) -> dict[str, Any]:
        """The command that adds an alarm, another load or a source of charge."""
        power = self.plan.power
        if what in {"co", "smoke"}:
            alarm = starting_alarm(self.job)
            item = alarm.model_dump(mode="json") | {
                "id": fresh_id(power.alarms, what),
                "kind": what,
            }
            return {"op": "add", "collection": "power.alarms", "item": item}
        if what == "load":
            item = {"id": fresh_id(power.loads, "load"), "name": "fridge", "charge_ah": 15}
            return {"op": "add", "collection": "power.loads", "item": item}
        words = {"drive": "driving", "sun": "sun on the roof", "typed": "mains or other"}[what]
        item = {"id": fresh_id(power.charging, what), "name": words, "kind": what}
        item |= {"charge_ah": 20} if what == "typed" else {}
        return {"op": "add", "collection": "power.charging", "item": item}

    @property
    def disconnect_begun(self) -> dict[str, Any]:
        """The command that puts a disconnect in."""
        battery = self.plan.power.battery
        if battery is None:
            return {}
        device = starting_disconnect(self.job, battery)
        return {"op": "disconnect", "disconnect": device.model_dump(mode="json")}
