"""The desk: one job as one user sees it at one station. Templates print from it and
decide nothing.
"""

from __future__ import annotations

from functools import cached_property
from typing import Any

from markupsafe import Markup

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.mount import Mount
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.catalogue.items import Caution
from gale_nook.core.checking import check
from gale_nook.core.edits.address import find
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.heat.cab import guessed_cab_w_k
from gale_nook.core.heat.dew import ColdSpot, cold_spots, dew_point_c
from gale_nook.core.heat.envelope import FACE_NAMES, hoops, rib_length_m
from gale_nook.core.heat.loss import HeatLoss, design_loss, mild_night_loss
from gale_nook.core.heat.season import design_temperature_c, season
from gale_nook.core.heater.choice import Judgement, judgements
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import with_own_heaters
from gale_nook.core.plan.words import field_words
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity, quantity_of
from gale_nook.core.quantities.said import say
from gale_nook.core.spot.floor_map import map_step_mm
from gale_nook.core.spot.placement import FaceHole, PlacedHole, face_holes, floor_holes
from gale_nook.core.spot.transfer import (
    Matched,
    Transfer,
    advice,
    nearest_hole,
    next_pilot_mm,
    transfer_of,
)
from gale_nook.core.station import Station
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.drawing.bars import heater_ranges, loss_bars
from gale_nook.drawing.board import board
from gale_nook.drawing.section import section
from gale_nook.drawing.svg import svg
from gale_nook.exchange.cards import VERDICT_MARKS, VERDICT_WORDS, Card, cards
from gale_nook.exchange.sheet import Sheet, sheet
from gale_nook.store.jobs import Head
from gale_nook.web.fuel_view import HEAD_RULES, FuelView, fuel_view, nearness
from gale_nook.web.kept import kept_checks
from gale_nook.web.look import Look
from gale_nook.web.nights import NightShown, night_shown
from gale_nook.web.pipes_view import PipesView
from gale_nook.web.stationline import LineNode, station_line


class Desk:
    """A job's head with the user's units and look; everything else is derived when asked for.

    Args:
        alone: check this station only, for what changes while something is dragged.
    """

    def __init__(
        self,
        head: Head,
        catalogue: Catalogue,
        system: UnitSystem,
        station: Station,
        look: Look,
        *,
        alone: bool = False,
    ) -> None:
        self.head = head
        self.job_id = head.job_id
        self.plan = head.plan
        self.catalogue = with_own_heaters(head.plan, catalogue)
        self.system = system
        self.station = station
        self.look = look
        self.check = (
            check(head.plan, catalogue, {station.word})
            if alone
            else kept_checks.of(head.plan, catalogue)
        )
        self.job = self.check.job

    @property
    def url(self) -> str:
        """Address of this station of this job."""
        return f"/jobs/{self.job_id}/{self.station.word}"

    def looking(self, **changes: str) -> str:
        """Address of this station with the look changed."""
        query = self.look.with_(**changes)
        return f"{self.url}?{query}" if query else self.url

    # --- values and words ---

    @cached_property
    def _data(self) -> dict[str, Any]:
        return self.plan.model_dump(mode="json")

    def value(self, address: str) -> Any:
        """The plain value at an address; None where there is nothing."""
        try:
            return find(self._data, address)
        except BadInput:
            return None

    @property
    def length_unit(self) -> str:
        return "in" if self.system is UnitSystem.IMPERIAL else "mm"

    def text(self, address: str, unit: bool = True) -> str:
        """The value at an address as its field shows it; without the unit in tables that name it in
        their head.
        """
        value, kind = self.value(address), quantity_of(address)
        if value is None:
            return ""
        if kind == "text" or isinstance(value, str | bool):
            return str(value)
        return format_quantity(float(value), kind, self.system, unit).replace("−", "-")

    def words(self, address: str) -> str:
        return field_words(address)

    def amount(self, value: float, kind: str) -> str:
        return format_quantity(value, kind, self.system)

    def in_other_units(self, power_w: float) -> str:
        """A power in the unit system that is not the user's."""
        metric = self.system is UnitSystem.METRIC
        return format_quantity(power_w, "w", UnitSystem.IMPERIAL if metric else UnitSystem.METRIC)

    def bare(self, length_mm: float) -> str:
        """A length without its unit."""
        return format_quantity(length_mm, "mm", self.system, unit=False)

    def say(self, sentence: str) -> str:
        return say(sentence, self.system)

    # --- what every page shows ---

    @cached_property
    def line(self) -> list[LineNode]:
        return station_line(self.check)

    @property
    def not_started(self) -> str:
        """The stations to come, in words."""
        *first, last = (node.station.label.lower() for node in self.line if node.station.to_come)
        return f"{', '.join(first)} and {last}"

    @property
    def tally(self) -> list[tuple[str, str, str, int]]:
        """(verdict, word, mark, count) of the whole plan; what does not occur is left out, clear
        excepted.
        """
        counts = self.check.tally()
        return [
            (v.value, VERDICT_WORDS[v], VERDICT_MARKS[v], counts[v.value])
            for v in Verdict
            if counts[v.value] or v is Verdict.CLEAR
        ]

    @cached_property
    def cards(self) -> list[Card]:
        return cards(self.check.of(self.station.word), self.system, self.catalogue.limit_bands)

    @property
    def cautions(self) -> list[Caution]:
        return [
            caution for caution in self.catalogue.cautions if self.station.word in caution.stations
        ]

    @property
    def has_board(self) -> bool:
        return self.station.word in {"vehicle", "heat", "spot", "pipes", "fuel"}

    @cached_property
    def board(self) -> Markup:
        return Markup(
            svg(board(self.check, self.look.options(self.check, self.station.word, self.system)))
        )

    # --- facts that templates print ---

    @property
    def heater_sheet(self) -> HeaterSheet | None:
        return heater_sheet(self.job)

    @property
    def mount(self) -> Mount | None:
        return chosen_mount(self.job)

    @property
    def loss(self) -> HeatLoss:
        return design_loss(self.job)

    @property
    def mild_loss(self) -> HeatLoss:
        return mild_night_loss(self.job)

    @property
    def floor_holes(self) -> tuple[PlacedHole, ...]:
        return floor_holes(self.job)

    @property
    def face_holes(self) -> tuple[FaceHole, ...]:
        return face_holes(self.job)

    # --- what single stations show ---

    @property
    def map_step_mm(self) -> float:
        """How far apart the places of the floor's map lie."""
        mount = chosen_mount(self.job)
        place = mount.place if mount is not None else "inside"
        return map_step_mm(self.plan.vehicle.shell, place)

    @property
    def section(self) -> Markup:
        scene = section(self.job, self.system)
        return Markup(svg(scene)) if scene is not None else Markup("")

    @property
    def loss_bars(self) -> Markup:
        return Markup(svg(loss_bars(design_loss(self.job), self.system)))

    @property
    def judged(self) -> tuple[Judgement, ...]:
        return judgements(self.job)

    @property
    def heater_ranges(self) -> Markup:
        job = self.job
        need, mild = design_loss(job).need_w, mild_night_loss(job).design_loss_w
        bins = season(self.plan, self.catalogue)
        return Markup(
            svg(heater_ranges(self.judged, need, mild, self.plan.heater.sheet, self.system, bins))
        )

    @property
    def night_shown(self) -> NightShown | None:
        return night_shown(self.plan, self.catalogue, self.system)

    @property
    def recommended(self) -> Judgement | None:
        return next((judged for judged in self.judged if judged.recommended), None)

    @property
    def own_heaters(self) -> set[str]:
        return {sheet.id for sheet in self.plan.heater.own_sheets}

    @property
    def overruled(self) -> str:
        """Label of the heater that was recommended when another was chosen over it."""
        over = self.plan.heater.instead_of
        if over is None:
            return ""
        return self.catalogue.heaters[over].label if over in self.catalogue.heaters else over

    @property
    def next_timer(self) -> dict[str, Any]:
        """A timer to begin with: off from midnight to the end of the set-back."""
        night = self.plan.heat.night
        return {
            "id": fresh_id(night.timers, "timer"),
            "from_h": 0.0,
            "to_h": night.night_to_h,
            "set_c": None,
        }

    @cached_property
    def sheet(self) -> Sheet:
        return sheet(self.check, self.system)

    @cached_property
    def _faces(self) -> dict[str, Any]:
        return {element.id: element for element in design_loss(self.job).elements}

    @property
    def stacks(self) -> list[tuple[str, str, str, Any]]:
        """(face, title, address of its layers, layers) of every face of the load space."""
        surfaces = [
            (s.id, FACE_NAMES[s.id], f"heat.surfaces.{s.id}.layers", s.layers)
            for s in self.plan.heat.surfaces
            if s.id in self._faces
        ]
        return [
            *surfaces,
            ("floor", FACE_NAMES["floor"], "vehicle.floor.layers", self.plan.vehicle.floor.layers),
        ]

    def u_words(self, face: str) -> str:
        """U-value and area of a face."""
        return f"U {self.u_of(face):.2f} W/m²K, {float(self._faces[face].area_m2):.2f} m²"

    @property
    def ribs_hint(self) -> str:
        """What follows from the pitch."""
        length, count = (
            rib_length_m(self.plan.vehicle, self.plan.heat),
            hoops(self.plan.vehicle, self.plan.heat),
        )
        return f"{count} hoops; {length:.1f} m counted" if count else f"{length:.1f} m counted"

    @property
    def cab_hint(self) -> str:
        """What the cab's loss is taken for, and what follows from it."""
        guessed = (
            "usual for its size: "
            f"{guessed_cab_w_k(self.plan.vehicle.shell, self.catalogue.cab):.0f} W/K"
        )
        if self.plan.heat.cab == "inside":
            return guessed
        return (
            f"given: the cab by balance, {self.amount(design_loss(self.job).cab_c, 'c')}; {guessed}"
        )

    @property
    def usual_pop_top(self) -> dict[str, Any]:
        """A pop-top to begin with, in the middle of the roof."""
        shell = self.plan.vehicle.shell
        length = shell.rear_x_mm - shell.bulkhead_x_mm
        return {
            "start_mm": round(shell.bulkhead_x_mm + 0.2 * length),
            "length_mm": round(0.6 * length),
            "width_mm": round(0.75 * shell.floor_width_mm),
            "rise_mm": 500,
        }

    @property
    def usual_slide(self) -> dict[str, Any]:
        """A slide-out to begin with, in the middle of the left side."""
        shell = self.plan.vehicle.shell
        middle = (shell.bulkhead_x_mm + shell.rear_x_mm) / 2
        return {
            "side": "left",
            "from_mm": round(middle - 600),
            "to_mm": round(middle + 600),
            "inner_mm": 500,
            "travel_mm": 450,
        }

    def u_of(self, face: str) -> float:
        return float(self._faces[face].u_w_m2k)

    def rows_of(self, face: str) -> Any:
        return self._faces[face].build_up.rows

    @property
    def leakage_classes(self) -> list[tuple[str, str]]:
        return [(entry.id, entry.label) for entry in self.catalogue.leakage.values()]

    @property
    def design_choices(self) -> list[tuple[str, float]]:
        """What the weather offers as the coldest night: (words, °C)."""
        climate = self.plan.heat.climate
        if climate is None:
            return []
        shares = (("99 %", 0.99), ("99.6 %", 0.996), ("the coldest hour", 1.0))
        found = [(words, design_temperature_c(climate, share)) for words, share in shares]
        return [(words, round(celsius, 1)) for words, celsius in found if celsius is not None]

    @property
    def dew_point_c(self) -> float:
        return dew_point_c(self.plan.heat.inside_c, self.plan.heat.humidity_percent)

    @property
    def cold_spots(self) -> tuple[ColdSpot, ...]:
        return cold_spots(
            design_loss(self.job), self.plan.heat.inside_c, self.plan.heat.humidity_percent
        )

    @cached_property
    def pipes(self) -> PipesView:
        return PipesView(self.check, self.look.tube)

    # --- fuel ---

    @cached_property
    def fuel(self) -> FuelView:
        return fuel_view(self.job)

    @cached_property
    def nearest_head(self) -> Finding | None:
        """Of the limits on lengths, heights and pressures of the fuel, the one that is the nearest
        for its size.
        """
        found = [
            (f, nearness(f))
            for f in self.check.of("fuel")
            if f.rule in HEAD_RULES and f.margin is not None
        ]
        return min(found, key=lambda pair: pair[1], default=(None, 0.0))[0]

    @property
    def fuel_tanks(self) -> list[tuple[str, str]]:
        """The surveyed tanks that the vehicle's own fuel can be in."""
        return [
            (solid.id, solid.name)
            for solid, kind, _ in surveyed_parts(self.job)
            if kind.id == "fuel-tank"
        ]

    @property
    def fuel_lines(self) -> list[tuple[str, str]]:
        return [(line.id, line.label) for line in self.catalogue.fuel_works.lines]

    @property
    def fuel_grades(self) -> list[tuple[str, str]]:
        return [
            (grade.id, f"{grade.label}, for {grade.burnt_in}")
            for grade in self.catalogue.fuel_works.grades
        ]

    # --- through the floor ---

    @cached_property
    def transfer(self) -> Transfer | None:
        return transfer_of(self.plan)

    def feature_off(self, feature_id: str) -> Matched | None:
        """How far a feature is off after the match; None where it is not measured on both sides."""
        matched = self.transfer.matched if self.transfer is not None else ()
        return next((item for item in matched if item.id == feature_id), None)

    @property
    def transfer_advice(self) -> str:
        return (
            advice(self.transfer, nearest_hole(self.check.of("spot")))
            if self.transfer is not None
            else ""
        )

    def shift_words(self, shift_mm: tuple[float, float]) -> str:
        """A shift in plan in words."""
        rearward, right = (round(value) for value in shift_mm)
        parts = (
            [f"{self.amount(abs(rearward), 'mm')} {'rearward' if rearward > 0 else 'forward'}"]
            if rearward
            else []
        )
        parts += (
            [f"{self.amount(abs(right), 'mm')} to the {'right' if right > 0 else 'left'}"]
            if right
            else []
        )
        return " and ".join(parts) or "nowhere off"

    @property
    def correction(self) -> dict[str, Any] | None:
        """The command that moves the survey below under the one inside; None where that is under a
        millimetre.
        """
        if self.transfer is None or self.transfer.here is None:
            return None
        rearward, right = (-float(round(value)) for value in self.transfer.off_mm)
        if rearward == 0 and right == 0:
            return None
        return {"op": "shift-below", "rearward_mm": rearward + 0.0, "right_mm": right + 0.0}

    @property
    def next_pilots(self) -> list[dict[str, Any]]:
        """A pilot to log at each hole of the mount, where the hole is now."""
        new = fresh_id(self.plan.pilots, "pilot")
        return [
            {
                "id": new,
                "hole": h.name,
                "x_mm": h.x_mm,
                "y_mm": h.y_mm,
                "rearward_mm": 0.0,
                "right_mm": 0.0,
            }
            for h in floor_holes(self.job)
        ]

    @property
    def next_pilot_words(self) -> str:
        """Where the next pilot goes, from the last one."""
        shift = next_pilot_mm(self.plan, self.plan.pilots[-1])
        words = self.shift_words(shift)
        return (
            "The last pilot is where it should be."
            if words == "nowhere off"
            else f"Drill the next {words} of the last."
        )

    @property
    def turns(self) -> list[tuple[int, str]]:
        """The quarter turns, by where the warm end points; a coolant heater has none."""
        sheet = heater_sheet(self.job)
        ways = ((0, "rearward"), (90, "to the right"), (180, "forward"), (270, "to the left"))
        air = sheet is not None and sheet.medium == "air"
        return [(yaw, f"warm end {way}" if air else f"front {way}") for yaw, way in ways]

    @property
    def mounts(self) -> list[tuple[str, str]]:
        sheet = heater_sheet(self.job)
        return [(mount.id, mount.label) for mount in sheet.mounts] if sheet is not None else []

    @property
    def chosen_solid(self) -> Any:
        return next(
            (solid for solid in self.plan.vehicle.solids if solid.id == self.look.item), None
        )
