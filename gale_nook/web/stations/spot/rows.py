"""Best spots and kept candidates, ready to print."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any
from urllib.parse import urlencode

from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.spot import Spot
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.core.quantities.sentences import say
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.core.spot.costs import Costs
from gale_nook.core.spot.search import BestSpot, LookedAt


@dataclass(frozen=True, slots=True)
class SpotRow:
    """A place with what it costs, as texts; `command` puts the heater there."""

    name: str
    x_mm: float
    y_mm: float
    where: str
    mount: str
    margin: str
    exhaust: str
    fuel: str
    duct: str
    sleeper: str
    room: str
    command: dict[str, Any]
    id: str = ""
    verdict: str = ""
    worst: str = ""
    note: str = ""
    here: bool = False
    to_measure: bool = False

    @property
    def way_query(self) -> str:
        """Of the address that tells whether the exhaust has a way from there."""
        command = self.command
        return urlencode(
            {
                "x": command["x_mm"],
                "y": command["y_mm"],
                "yaw": command["yaw_deg"],
                "mount": command["mount"],
            }
        )


def best_rows(job: Job, found: Sequence[BestSpot], system: UnitSystem) -> list[SpotRow]:
    """Return the best spots as rows."""
    return [
        replace(
            _row(job, s.letter, s.spot, s.costs, f"{s.margin_mm:.0f}", system),
            note=s.uses,
            to_measure=s.to_measure,
        )
        for s in found
    ]


def candidate_rows(job: Job, looked_at: Sequence[LookedAt], system: UnitSystem) -> list[SpotRow]:
    """Return the kept candidates as rows, each as it was looked at."""
    by_id = {result.id: result for result in looked_at}
    rows = []
    for kept in job.plan.candidates:
        result = by_id[kept.id]
        row = _row(job, kept.name, kept.spot, result.costs, "", system)
        unknown = "to measure" if result.to_measure else "nothing over"
        verdict = f"{result.over} over" if result.over else unknown
        worst = say(result.worst, system)
        rows.append(
            replace(
                row,
                id=kept.id,
                verdict=verdict,
                worst=worst,
                note=kept.note,
                here=kept.spot == job.plan.spot,
            )
        )
    return rows


def _row(job: Job, name: str, spot: Spot, costs: Costs, margin: str, system: UnitSystem) -> SpotRow:
    sheet = heater_sheet(job)

    def length(value: float | None) -> str:
        return "–" if value is None else format_quantity(round(value, -1), "mm", system)

    side = "right" if spot.y_mm >= 0 else "left"
    at = (
        f"{format_quantity(spot.x_mm, 'mm', system)} behind, "
        f"{format_quantity(abs(spot.y_mm), 'mm', system)} {side}, {spot.yaw_deg}°"
    )
    mount = sheet.mount(spot.mount) if sheet is not None else None
    command = PlaceHeater(x_mm=spot.x_mm, y_mm=spot.y_mm, yaw_deg=spot.yaw_deg, mount=spot.mount)
    holes = f"{costs.holes} {'hole' if costs.holes == 1 else 'holes'}"
    if costs.ribs is not None:
        holes += f", {costs.ribs} {'rib' if costs.ribs == 1 else 'ribs'} under the flange"
    return SpotRow(
        name,
        spot.x_mm,
        spot.y_mm,
        at,
        f"{mount.label if mount is not None else spot.mount}; {holes}",
        f"{margin} mm" if margin else "",
        length(costs.exhaust_mm),
        length(costs.fuel_mm),
        length(costs.duct_mm),
        length(costs.sleeper_mm),
        f"{costs.litres:.0f} l",
        command.model_dump(mode="json"),
    )
