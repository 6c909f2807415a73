"""What a place costs: the runs that follow from it, the sleeper's rest, and the room it takes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.geometry.frames import turn_xy
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.spot import Spot
from gale_nook.core.spot.convex_pieces import piece_bounds, pieces_of_solid
from gale_nook.core.spot.field import CAP_MM, Grid
from gale_nook.core.spot.placement import heater_body, heater_port
from gale_nook.core.spot.ribs import rib_packing

BEDS = {"bed"}
TANKS = {"fuel-tank"}
QUIET_MM = 2000.0  # farther from the sleeper than this nothing more is gained; workshop assumption


@dataclass(frozen=True, slots=True)
class Weights:
    """How much each cost counts, 0 to 10."""

    exhaust: float = 5.0
    fuel: float = 3.0
    duct: float = 3.0
    quiet: float = 4.0
    margin: float = 2.0


@dataclass(frozen=True, slots=True)
class Costs:
    """Estimates at one place; straight runs in plan, not routes.

    Attributes:
        exhaust_mm: from the exhaust port to the nearest side of the vehicle or its rear.
        fuel_mm: to the nearest fuel tank surveyed, None where there is none.
        duct_mm: from the warm end to the middle of the load space; None for a coolant heater.
        sleeper_mm: from the body's middle to the nearest bed; None without a bed.
        litres: room taken, the body with the clear air that its sheet asks for.
        holes: to be cut.
        ribs: of the floor that run under the mount's flanges; None where their pitch was not
            measured.
    """

    exhaust_mm: float
    fuel_mm: float | None
    duct_mm: float | None
    sleeper_mm: float | None
    litres: float
    holes: int
    ribs: int | None = None


def costs_at(job: Job, spot: Spot) -> Costs:
    """Return what a place costs."""
    grid = Grid(np.array([spot.x_mm]), np.array([spot.y_mm]))
    fields = cost_fields(job, grid, spot.yaw_deg)
    one = {
        name: float(np.asarray(field).ravel()[0]) if field is not None else None
        for name, field in fields.items()
    }
    sheet = heater_sheet(job)
    mount = sheet.mount(spot.mount) if sheet is not None else None
    packing = rib_packing(job, spot)
    return Costs(
        one["exhaust"] or 0.0,
        one["fuel"],
        one["duct"],
        one["sleeper"],
        heater_litres(job),
        len(mount.holes) if mount is not None else 0,
        packing.ribs if packing is not None else None,
    )


def cost_fields(job: Job, grid: Grid, yaw_deg: int) -> dict[str, Any]:
    """Return exhaust, fuel, duct and sleeper distances over a grid, each (ny, nx) in mm or None."""
    sheet, shell = heater_sheet(job), job.plan.vehicle.shell
    if sheet is None:
        raise ValueError("costs need a heater")
    x, y = grid.x_mm[None, :], grid.y_mm[:, None]
    half = shell.outer_width_mm / 2

    def moved(ahead: float, right: float) -> tuple[Any, Any]:
        dx, dy = turn_xy(ahead, right, yaw_deg)
        return x + dx, y + dy

    port, fuel = heater_port(job, "exhaust"), heater_port(job, "fuel")
    port_x, port_y = moved(port.x_mm, port.y_mm)
    exhaust = np.minimum(np.minimum(half - port_y, port_y + half), shell.rear_x_mm - port_x)
    body = heater_body(job)
    middle = moved(body.x_mm, body.y_mm)
    duct = None
    if sheet.medium == "air":
        end_x, end_y = moved(body.x_mm + body.length_mm / 2, body.y_mm)
        duct = np.hypot(end_x - (shell.bulkhead_x_mm + shell.rear_x_mm) / 2, end_y)
    return {
        "exhaust": np.broadcast_to(exhaust, (len(grid.y_mm), len(grid.x_mm))),
        "fuel": _nearest(job, TANKS, moved(fuel.x_mm, fuel.y_mm)),
        "duct": duct,
        "sleeper": _nearest(job, BEDS, middle),
    }


def score(fields: dict[str, Any], margin_mm: Any, weights: Weights) -> Any:
    """Return the weighted cost (less is better): runs in metres, nearness to the sleeper and want
    of margin from 0 to 1.
    """
    total = weights.exhaust * fields["exhaust"] / 1000
    if fields["fuel"] is not None:
        total = total + weights.fuel * fields["fuel"] / 1000
    if fields["duct"] is not None:
        total = total + weights.duct * fields["duct"] / 1000
    if fields["sleeper"] is not None:
        total = total + weights.quiet * (1 - np.minimum(fields["sleeper"], QUIET_MM) / QUIET_MM)
    return total + weights.margin * (1 - np.clip(margin_mm, 0.0, CAP_MM) / CAP_MM)


def _nearest(job: Job, kinds: set[str], at: tuple[Any, Any]) -> Any:
    """Distance in plan to the nearest solid of some kinds, None where none is surveyed."""
    result = None
    for solid in job.plan.vehicle.solids:
        if solid.kind in kinds:
            for part in pieces_of_solid(solid):
                b = piece_bounds(part)
                dx = np.maximum(np.maximum(b[0] - at[0], at[0] - b[2]), 0.0)
                dy = np.maximum(np.maximum(b[1] - at[1], at[1] - b[3]), 0.0)
                away = np.hypot(dx, dy)
                result = away if result is None else np.minimum(result, away)
    return result


def heater_litres(job: Job) -> float:
    """Return the litres that the heater takes with the clear air that its sheet asks for."""
    sheet = heater_sheet(job)
    if sheet is None:
        return 0.0
    gaps = {}
    for name in ("inlet_gap_mm", "outlet_gap_mm", "side_gap_mm", "top_gap_mm"):
        band = limit_band(job, name)
        gaps[name] = band.minimum or 0.0 if band is not None else 0.0
    body = heater_body(job)
    length = body.length_mm + gaps["inlet_gap_mm"] + gaps["outlet_gap_mm"]
    return (
        length
        * (body.width_mm + 2 * gaps["side_gap_mm"])
        * (body.height_mm + gaps["top_gap_mm"])
        / 1e6
    )
