"""What the air station shows: the usable output, zones, outlets, ducts, ways back, balance."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from markupsafe import Markup

from gale_nook.core.air.run_rules import counted_mm, ways
from gale_nook.core.ducts.air_state import OutletState, told_c
from gale_nook.core.ducts.convector import ducted_convector, ducts_wanted
from gale_nook.core.ducts.ends import warm_end
from gale_nook.core.ducts.layout import fan_of, free_area_m2, layout
from gale_nook.core.ducts.passes import all_runs
from gale_nook.core.ducts.returns import return_openings
from gale_nook.core.ducts.tree import DuctRun
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput
from gale_nook.core.fitted.balance import OutletBalance, asked_shares, balanced, shares_by_need
from gale_nook.core.fitted.closing import ClosedSet, closed_sets, needed_w
from gale_nook.core.fitted.drying import Drying, drying
from gale_nook.core.fitted.heating import ZoneHeat, warm_minutes
from gale_nook.core.fitted.usable import Usable, usable
from gale_nook.core.fitted.zone_supply import zones_supplied
from gale_nook.core.job import Job
from gale_nook.core.plan.air import Duct, Outlet
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.air_bars import usable_gauge, zone_bars
from gale_nook.drawing.svg import svg
from gale_nook.web.room_zones import RoomZones

PART_WORDS = {
    "clip": "clip",
    "lagging": "lagged stretch",
    "panel": "hole",
    "guard": "guard",
    "flex": "flexible stretch",
}
FACES = (
    ("front", "forward"),
    ("rear", "rearward"),
    ("left", "left"),
    ("right", "right"),
    ("up", "up"),
    ("down", "down"),
)
WITH_LENGTH = ("lagging", "guard", "flex")


@dataclass(frozen=True, slots=True)
class OutletRow:
    """One outlet, ready to print; figures are empty while it is shut."""

    duct: str
    name: str
    zone: str
    shut: bool
    closable: bool
    throttle: bool
    flow: str
    celsius: str
    speed: str
    heat: str


@dataclass(frozen=True, slots=True)
class FreeEnd:
    """Where a duct can be begun: at the heater, or at a splitter's leg."""

    words: str
    command: dict[str, Any]


class AirView:
    """The warm air of a job, as its page shows it."""

    def __init__(self, job: Job, system: UnitSystem) -> None:
        self.job, self._system = job, system
        self.air = job.plan.air

    def warmth(self, celsius: float) -> str:
        """Return a temperature of the air in words."""
        more, shown = told_c(celsius)
        return more + self._say(shown, "c")

    def _say(self, value: float, kind: str) -> str:
        return format_quantity(value, kind, self._system)

    @cached_property
    def usable(self) -> Usable | None:
        return usable(self.job)

    @property
    def convector(self) -> str:
        """The convector that ducts begin at; empty for the heater."""
        ducted = ducted_convector(self.job)
        return ducted[0].name if ducted is not None else ""

    @property
    def ready(self) -> bool:
        """Whether there is something for a duct to begin at."""
        return warm_end(self.job) is not None and fan_of(self.job) is not None

    @property
    def in_ducts(self) -> bool:
        """Whether warm air is to go into ducts."""
        return ducts_wanted(self.job)

    @property
    def typical(self) -> tuple[str, ...]:
        """What of the fan the sheet does not say."""
        plan_layout = layout(self.job)
        return plan_layout.fan.typical if plan_layout is not None else ()

    @property
    def gauge(self) -> Markup:
        """The one gauge: usable output through this ducting."""
        found, plan_layout = self.usable, layout(self.job)
        if found is None or plan_layout is None:
            return Markup("")
        need = needed_w(self.job)
        return Markup(svg(usable_gauge(found, plan_layout.least_w, need, self._system)))

    @cached_property
    def zones(self) -> tuple[ZoneHeat, ...]:
        return zones_supplied(self.job)

    @property
    def zone_bars(self) -> Markup:
        return Markup(svg(zone_bars(self.zones, self._system)))

    @property
    def zone_lines(self) -> list[str]:
        """Where each zone ends."""
        return [
            f"{zone.name}: ends at {self._say(round(zone.ends_c), 'c')}"
            for zone in self.zones
            if zone.ends_c is not None and self.air.zones
        ]

    @property
    def warm_lines(self) -> list[str]:
        """How long each zone takes from cold."""
        warm, lines = warm_minutes(self.job), []
        for zone in self.zones:
            minutes = warm.get(zone.zone)
            after = f"warm after {minutes:.0f} min" if minutes is not None else "not warm in 4 h"
            lines.append(f"{zone.name}: {after}")
        return lines

    @property
    def outlet_rows(self) -> list[OutletRow]:
        found = self.usable
        state = found.at if found is not None else None
        rows = []
        for duct in self.air.ducts:
            if duct.outlet is None:
                continue
            kind = self.job.catalogue.air_equipment.outlet(duct.outlet.kind)
            now = state.outlet(duct.id) if state is not None else None
            rows.append(self._row(duct, duct.outlet, (kind.closable, kind.throttle), now))
        return rows

    def _row(
        self, duct: Duct, outlet: Outlet, can: tuple[bool, bool], now: OutletState | None
    ) -> OutletRow:
        blows = now is not None and not outlet.shut
        return OutletRow(
            duct.id,
            outlet.name,
            self.air.zone_name(outlet.zone),
            outlet.shut,
            can[0],
            can[1],
            f"{now.flow_m3_h:.0f} m³/h" if now is not None and blows else "",
            self.warmth(now.temperature_c) if now is not None and blows else "",
            self._say(round(now.velocity_m_s, 1), "m_s") if now is not None and blows else "",
            self._say(round(now.heat_w), "w") if now is not None and blows else "",
        )

    @property
    def closed_sets(self) -> tuple[ClosedSet, ...]:
        return closed_sets(self.job)

    @property
    def drying(self) -> tuple[Drying, ...]:
        return drying(self.job)

    @property
    def runs(self) -> tuple[DuctRun, ...]:
        return all_runs(self.job)

    @property
    def longest(self) -> str:
        """The longest way as the sheet counts it."""
        lengths = [counted_mm(self.job, way) for way in ways(self.job)]
        return self._say(round(max(lengths)), "mm") if lengths else ""

    def address(self, run: DuctRun) -> str:
        back = self.air.return_duct
        return "air.return_duct" if run.duct is back else f"air.ducts.{run.duct.id}"

    def heading(self, run: DuctRun) -> str:
        """What a duct is called in the panel."""
        if run.duct is self.air.return_duct:
            return "Return duct"
        if run.duct.outlet is not None:
            return f"To {run.duct.outlet.name}"
        return "To a splitter" if run.duct.splitter is not None else "Goes on"

    @property
    def free_ends(self) -> list[FreeEnd]:
        """Where a duct can be begun."""
        if not self.air.ducts:
            words = f"Begin a duct at the {self.convector or 'heater'}"
            return [FreeEnd(words, {"op": "start-duct"})]
        results = []
        for run in self.runs:
            taken = {d.leg for d in self.air.ducts if d.comes_from == run.duct.id}
            legs = ("straight", "branch") if run.duct.splitter is not None else ()
            for leg in legs:
                if leg not in taken:
                    command = {"op": "start-duct", "comes_from": run.duct.id, "leg": leg}
                    where = "straight on from" if leg == "straight" else "at the branch of"
                    words = f"Begin a duct {where} the splitter of {run.duct.id}"
                    results.append(FreeEnd(words, command))
        return results

    def end_choices(self, run: DuctRun) -> list[FreeEnd]:
        """What a duct could end in instead."""
        duct, works = run.duct, self.job.catalogue.air_equipment
        if duct is self.air.return_duct:
            return []
        goes_on = any(d.comes_from == duct.id for d in self.air.ducts)
        results = []
        if duct.outlet is not None:
            split = {"op": "duct-end", "duct": duct.id, "splitter": works.splitters[0].id}
            results.append(FreeEnd("split it here", split))
        elif not goes_on:
            outlet = Outlet(name=f"outlet {len(self.air.ducts)}", kind=self._outlet_for(run))
            end = {"op": "duct-end", "duct": duct.id, "outlet": outlet.model_dump(mode="json")}
            results.append(FreeEnd("end it in an outlet", end))
        return results

    def _outlet_for(self, run: DuctRun) -> str:
        works = self.job.catalogue.air_equipment
        fitting = [o for o in works.outlets if o.bore_mm <= run.kind.bore_mm + 0.5]
        return max(fitting or works.outlets, key=lambda o: (o.bore_mm, not o.closable)).id

    def next_parts(self, run: DuctRun) -> list[FreeEnd]:
        """What can be put on a duct, each in its middle."""
        middle = float(round(run.length_mm / 2))
        results = []
        for kind, words in PART_WORDS.items():
            item: dict[str, Any] = {
                "id": fresh_id(run.duct.parts, kind),
                "kind": kind,
                "at_mm": middle,
            }
            if kind in WITH_LENGTH:
                length = float(round(min(300.0, run.length_mm)))
                item |= {"at_mm": max(middle - length / 2, 0.0), "length_mm": length}
            if kind == "flex":
                item |= {"slack_mm": 200.0}
            collection = f"{self.address(run)}.parts"
            results.append(FreeEnd(words, {"op": "add", "collection": collection, "item": item}))
        return results

    @property
    def openings(self) -> list[tuple[str, str, str]]:
        """(id, name, free area) of every opening that the air comes back by."""
        return [
            (o.id, o.name, self._say(free_area_m2(self.job, o) * 1e4, "cm2"))
            for o in return_openings(self.job)
        ]

    @property
    def balance_trouble(self) -> str:
        """What is wrong with the shares that are asked for; empty for nothing."""
        try:
            asked_shares(self.job)
        except BadInput as error:
            return error.problem
        return ""

    @cached_property
    def balance(self) -> tuple[OutletBalance, ...]:
        """What gives the shares that are asked for."""
        if self.balance_trouble:
            return ()
        shares = asked_shares(self.job)
        return balanced(self.job, shares) if shares is not None else ()

    @property
    def set_throttles(self) -> dict[str, Any]:
        """The command that sets every throttle to what the balance says."""
        changes = [
            {
                "address": f"air.ducts.{row.duct}.outlet.open_percent",
                "value": round(max(row.open_percent, 5.0), 1),
            }
            for row in self.balance
            if row.open_percent is not None
        ]
        return {"op": "set", "changes": changes}

    @property
    def shares_by_need(self) -> dict[str, Any]:
        """The command that asks of each outlet a share by what its zone needs."""
        weights = shares_by_need(self.job)
        shares = [round(100 * weight) for weight in weights.values()]
        if shares:
            shares[shares.index(max(shares))] += 100 - sum(shares)
        changes = [
            {"address": f"air.ducts.{duct}.outlet.share_percent", "value": float(share)}
            for duct, share in zip(weights, shares, strict=True)
        ]
        return {"op": "set", "changes": changes}

    @property
    def new_return(self) -> dict[str, Any]:
        """The command that adds an opening at the heater's inlet."""
        spot = self.job.plan.spot
        x, y = (spot.x_mm, spot.y_mm) if spot is not None else (0.0, 0.0)
        item = {
            "id": fresh_id(self.air.returns, "opening"),
            "name": "opening",
            "x_mm": x,
            "y_mm": y,
            "z_mm": 120.0,
        }
        return {"op": "add", "collection": "air.returns", "item": item}

    @property
    def zone_choices(self) -> list[tuple[str, str]]:
        return RoomZones(self.job).choices

    @property
    def duct_kinds(self) -> list[tuple[str, str]]:
        return [(kind.id, kind.label) for kind in self.job.catalogue.air_equipment.ducts]

    @property
    def outlet_kinds(self) -> list[tuple[str, str]]:
        return [(kind.id, kind.label) for kind in self.job.catalogue.air_equipment.outlets]

    @property
    def splitter_kinds(self) -> list[tuple[str, str]]:
        return [(kind.id, kind.label) for kind in self.job.catalogue.air_equipment.splitters]

    @property
    def wanted_kinds(self) -> list[tuple[str, str]]:
        return [("", "one that suits"), *self.outlet_kinds]

    @property
    def blows_choices(self) -> list[tuple[str, str]]:
        return [("", "any way"), *FACES]

    @property
    def grille_kinds(self) -> list[tuple[str, str]]:
        return [
            (kind.id, f"{kind.label}, {100 * kind.open_share:.0f} % open")
            for kind in self.job.catalogue.air_equipment.grilles
        ]

    @property
    def clip_kinds(self) -> list[tuple[str, str]]:
        return [(kind.id, kind.label) for kind in self.job.catalogue.air_equipment.clips]

    def part_words(self, kind: str) -> str:
        return PART_WORDS[kind]
