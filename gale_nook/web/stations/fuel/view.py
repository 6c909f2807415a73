"""What the fuel station shows: sources, level, heads, dip-stick, priming, nights."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.findings.finding import Finding
from gale_nook.core.fuel.adapters import adapters
from gale_nook.core.fuel.drop import Drop, tank_drop
from gale_nook.core.fuel.hydraulics import FuelHeads, heads
from gale_nook.core.fuel.line import FuelRun, Supply, fuel_run, supply
from gale_nook.core.fuel.priming import Prime, prime
from gale_nook.core.fuel.second import Together, together
from gale_nook.core.fuel.sources import Offer, night_fuel_l, offers
from gale_nook.core.fuel.tank import DipRow, dip_stick
from gale_nook.core.job import Job
from gale_nook.core.plan.fuel import OwnTank

DIP_STEP_MM = 20.0
SAME = 1e-6
PART_WORDS = {
    "filter": "filter",
    "pump": "pump",
    "joint": "joint",
    "clip": "clip",
    "flex": "flexible stretch",
    "valve": "shut-off valve",
    "check": "check valve",
}
HEAD_RULES = {
    "fuel.suction",
    "fuel.pressure",
    "fuel.level_pump",
    "fuel.heater_pump",
    "fuel.siphon",
    "fuel.suction_pressure",
    "fuel.delivery_pressure",
}


def nearness(finding: Finding) -> float:
    """Return a margin as a share of the limit that it is to, so that mm and Pa can be told against
    each other.
    """
    margin, measured = finding.margin or 0.0, finding.measured or 0.0
    for end in (finding.band.minimum, finding.band.maximum):
        if end is not None and abs(abs(measured - end) - abs(margin)) < SAME:
            return margin / max(abs(end), 1.0)
    return margin


@dataclass(frozen=True)
class FuelView:
    """Everything the station's figures are made of.

    Attributes:
        litres, usable_l: in the tank at the chosen level, and what of it the heater can have.
        nights, cost: that it lasts at the coldest night's use, and what such a night costs.
    """

    offers: tuple[Offer, ...]
    supply: Supply | None
    run: FuelRun | None
    heads: FuelHeads | None
    prime: Prime | None
    dip: tuple[DipRow, ...]
    litres: float | None
    usable_l: float | None
    height_mm: float | None
    night_l: float | None
    nights: float | None
    cost: float | None
    adapter: str
    second: Together | None
    drop: Drop | None
    job: Job
    tank: OwnTank | None

    @property
    def next_parts(self) -> list[tuple[str, dict[str, Any]]]:
        """What can be put into the line, each in its middle, with the command that does it."""
        if self.run is None:
            return []
        result, middle = [], float(round(self.run.length_mm / 2))
        for kind, words in PART_WORDS.items():
            item = {"id": fresh_id(self.run.line.parts, kind), "kind": kind, "at_mm": middle}
            if kind == "flex":
                item |= {"at_mm": max(middle - 100.0, 0.0), "length_mm": 200.0, "hose_mm": 400.0}
            elif (kind == "pump" and self.run.pump_mm is not None) or (
                kind == "filter" and self.run.filter_mm is not None
            ):
                continue
            if kind in {"valve", "check"}:
                item |= {"at_mm": 80.0}
            result.append((words, {"op": "add", "collection": "fuel.line.parts", "item": item}))
        return result

    @property
    def next_holds(self) -> list[tuple[str, dict[str, Any]]]:
        """What of the vehicle tank's fastenings can be noted, with the command that does it."""
        holds, at = self.job.plan.fuel.drop.holds, self.supply
        x, y = (at.start[0], at.start[1]) if at is not None else (0.0, 0.0)
        results = []
        for kind in ("strap", "bolt", "hose", "cable"):
            item = {
                "id": fresh_id(holds, kind),
                "name": f"{kind} {sum(each.kind == kind for each in holds) + 1}",
                "kind": kind,
                "x_mm": round(x),
                "y_mm": round(y),
            }
            results.append((kind, {"op": "add", "collection": "fuel.drop.holds", "item": item}))
        return results

    @property
    def profile_begun(self) -> dict[str, Any]:
        """The command that gives the tank a profile as large as it is, one edge cut off."""
        tank = self.tank
        if tank is None:
            return {}
        length, width, high = tank.size_mm
        wide = width if tank.lying == "along" else length
        corners = [
            (0, 0),
            (wide, 0),
            (wide, round(0.6 * high)),
            (round(0.7 * wide), high),
            (0, high),
        ]
        return {"op": "tank-profile", "corners": corners}

    def profile_with(self, index: int) -> dict[str, Any]:
        """The command that puts a corner halfway between one of the profile's and the next."""
        corners = list(self.tank.profile) if self.tank is not None else []
        here, after = corners[index], corners[(index + 1) % len(corners)]
        corners.insert(
            index + 1, (round((here[0] + after[0]) / 2), round((here[1] + after[1]) / 2))
        )
        return {"op": "tank-profile", "corners": corners}

    def profile_without(self, index: int) -> dict[str, Any]:
        corners = self.tank.profile if self.tank is not None else ()
        return {"op": "tank-profile", "corners": [*corners[:index], *corners[index + 1 :]]}


def fuel_view(job: Job) -> FuelView:
    """Return what there is to show; every figure that cannot be told yet is None."""
    fuel, source, run = job.plan.fuel, supply(job), fuel_run(job)
    per_night = night_fuel_l(job)
    litres = usable = height = None
    if source is not None and source.vessel is not None:
        vessel = source.vessel
        litres = vessel.full_l * fuel.level_percent / 100
        kept = source.unusable_l if source.own else max(source.unusable_l, fuel.reserve_l)
        usable, height = max(litres - kept, 0.0), vessel.level_mm(litres) - vessel.bottom_mm
    return FuelView(
        offers=offers(job, per_night),
        supply=source,
        run=run,
        heads=heads(job, run, fuel.level_percent) if run is not None else None,
        prime=prime(job, run) if run is not None else None,
        dip=dip_stick(source.vessel, DIP_STEP_MM)
        if source is not None and source.vessel is not None
        else (),
        litres=litres,
        usable_l=usable,
        height_mm=height,
        night_l=per_night,
        nights=usable / per_night if usable is not None and per_night else None,
        cost=per_night * fuel.price_per_l if per_night is not None else None,
        adapter=", ".join(each.words for each in adapters(job, run)) if run is not None else "",
        second=together(job),
        drop=tank_drop(job),
        job=job,
        tank=fuel.tank,
    )
