"""The clear-spot map: the smallest margin over all spot rules at every place of the floor, and
which rule sets it.

The rules measure at all places at once; the exact check is one place of the same.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.spot import Spot
from gale_nook.core.plan.vehicle import FloorArea, Vehicle
from gale_nook.core.spot.checks import SPOT_CHECKS
from gale_nook.core.spot.field import CAP_MM, Field, Grid, grid_over, merged
from gale_nook.core.spot.looked_rules import looked_states
from gale_nook.core.spot.places import Measure, Places, SpotRule

STEPS_MM = (10.0, 20.0, 50.0, 100.0, 200.0, 500.0)
MOST_CELLS = 200_000  # of one turn: a bus of 8 m by 2.4 m still has the finest step
YAWS = (0, 90, 180, 270)
Progress = Callable[[int, int], None]  # how much is done, and of how much


def map_key(job: Job) -> str:
    """Return a name for all that the map depends on; where the heater stands is not part of it."""
    plan, spot = job.plan, job.plan.spot
    told = (
        plan.vehicle.shell,
        plan.vehicle.floor,
        plan.vehicle.floors,
        plan.vehicle.solids,
        plan.vehicle.openings,
        plan.vehicle.looked_at,
        heater_sheet(job),
        plan.heater.own_limits,
        plan.book.limits,
        plan.book.materials,
        [a.rule + a.subject for a in plan.acceptances if not a.is_bound],
        spot.model_copy(update={"x_mm": 0.0, "y_mm": 0.0, "yaw_deg": 0}) if spot else None,
        plan.vehicle.features if spot is not None and spot.adapter is not None else None,
    )
    return hashlib.sha256(repr(told).encode()).hexdigest()[:16]


def floor_grid(vehicle: Vehicle, step_mm: float | None = None, place: str = "inside") -> Grid:
    """Return the places of the map: multiples of the step over the load floor and the floors that
    differ from it, or over the engine bay.

    Args:
        step_mm: the finest that keeps the map to MOST_CELLS when left out.
    """
    low, high = _floor_bounds(vehicle, place)
    return grid_over(low, high, step_mm or map_step_mm(vehicle, place))


def map_step_mm(vehicle: Vehicle, place: str = "inside") -> float:
    """Return the step of the map of a floor: 10 mm, and coarser on a very large one."""
    low, high = _floor_bounds(vehicle, place)
    size = (high[0] - low[0], high[1] - low[1])
    fitting = (
        step for step in STEPS_MM if (size[0] / step + 1) * (size[1] / step + 1) <= MOST_CELLS
    )
    return next(fitting, STEPS_MM[-1])


def _floor_bounds(vehicle: Vehicle, place: str) -> tuple[tuple[float, float], tuple[float, float]]:
    shell = vehicle.shell
    half = shell.floor_width_mm / 2
    if place == "engine-bay":
        end = shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.bulkhead_x_mm
        return (shell.front_x_mm, -half), (end, half)
    front = min([shell.bulkhead_x_mm, *(area.from_x_mm for area in vehicle.floors)])
    return (max(front, shell.front_x_mm), -half), (shell.rear_x_mm, half)


@dataclass(frozen=True, slots=True)
class Region:
    """The places of the map that lie on one floor.

    Attributes:
        floor: id of a floor of its own; empty for the load floor.
        mask: (ny, nx), which places; None for all.
        at: one of them, in mm; None where any will do.
    """

    floor: str
    mask: Any
    at: tuple[float, float] | None


NO_FLOOR = ("spot.floor", "floor")


def _within(area: FloorArea, x_mm: Any, y_mm: Any) -> Any:
    along = (x_mm >= area.from_x_mm) & (x_mm <= area.to_x_mm)
    return along & (y_mm >= area.left_y_mm) & (y_mm <= area.right_y_mm)


class FloorMap:
    """The map of one plan: its heater with its mount, at each turn, over the load floor.

    Args:
        job: of a plan with a heater; its spot gives mount, rebate and packing, else the first
            mount is taken.
        step_mm: of the grid; as `map_step_mm` has it when left out.
        told: called with how many of the turns are done, and of how many.
    """

    def __init__(
        self, job: Job, step_mm: float | None = None, told: Progress | None = None
    ) -> None:
        self._told = told or (lambda _done, _of: None)
        sheet, shell = heater_sheet(job), job.plan.vehicle.shell
        if sheet is None:
            raise ValueError("the map needs a heater")
        self.sheet = sheet
        spot = job.plan.spot or Spot(x_mm=shell.rear_x_mm, y_mm=0.0, mount=sheet.mounts[0].id)
        # any place of the load space will do: what depends on the place is what the map is about
        spot = spot.model_copy(
            update={"x_mm": (shell.bulkhead_x_mm + shell.rear_x_mm) / 2, "y_mm": 0.0, "yaw_deg": 0}
        )
        if sheet.mount(spot.mount) is None:
            spot = spot.model_copy(update={"mount": sheet.mounts[0].id})
        self.job = job.with_parts(spot=spot)
        plan = job.plan
        # what was accepted where the heater stood does not hold elsewhere
        self._accepted = {(a.rule, a.subject) for a in plan.acceptances if not a.is_bound}
        mount = chosen_mount(self.job)
        self.grid = floor_grid(
            plan.vehicle, step_mm, mount.place if mount is not None else "inside"
        )
        self.mount_id = spot.mount
        self._alike: dict[Any, Any] = {}

    @cached_property
    def fields(self) -> dict[int, Field]:
        """The field of each quarter turn."""
        results = {}
        for number, yaw in enumerate(YAWS):
            self._told(number, len(YAWS))
            results[yaw] = self.field(yaw)
        return results

    def field(self, yaw_deg: int) -> Field:
        """Return the margins with the heater turned one way."""
        field = Field(self.grid)
        same_everywhere = []
        for region in self._regions:
            at = self._places(yaw_deg, region)
            for rule in SPOT_CHECKS:
                if not isinstance(rule, SpotRule) or rule.measures is None:
                    continue
                for measure in rule.measures(at, rule):
                    if measure.same_everywhere:
                        same_everywhere.append((rule.id, measure, region))
                    else:
                        self._lower(field, rule.id, measure, region)
        self._lower_where_no_floor_is(field)
        field.looked = looked_states(self._places(yaw_deg, self._regions[0]).job, self.grid)
        field.apart_mm = field.margin_mm.copy()
        for rule_id, measure, region in same_everywhere:
            self._lower(field, rule_id, measure, region)
        return field

    @cached_property
    def _regions(self) -> tuple[Region, ...]:
        """The floors that the map covers, each with its places; one without a mask where there is
        only the load floor.
        """
        vehicle, mount = self.job.plan.vehicle, chosen_mount(self.job)
        if not vehicle.floors or (mount is not None and mount.place == "engine-bay"):
            return (Region("", None, None),)
        x, y = self.grid.x_mm[None, :], self.grid.y_mm[:, None]
        free = np.ones(self.grid.shape, dtype=bool)
        regions = []
        for area in vehicle.floors:
            mask = free & _within(area, x, y)
            free &= ~mask
            regions.append(Region(area.id, mask, self._one_of(mask)))
        load = free & (x >= vehicle.shell.bulkhead_x_mm)
        regions.append(Region("", load, self._one_of(load)))
        return tuple(region for region in regions if region.at is not None)

    def _one_of(self, mask: Any) -> tuple[float, float] | None:
        """The place in the middle of those of a mask; None where it has none."""
        places = np.argwhere(mask)
        if not len(places):
            return None
        row, column = places[len(places) // 2]
        return (float(self.grid.x_mm[column]), float(self.grid.y_mm[row]))

    def _lower_where_no_floor_is(self, field: Field) -> None:
        """Where no floor was surveyed there is none to stand on."""
        masks = [region.mask for region in self._regions if region.mask is not None]
        if masks:
            covered = np.logical_or.reduce(masks)
            field.lower(NO_FLOOR, self.grid.everywhere, np.where(covered, CAP_MM, -1.0))

    def _places(self, yaw_deg: int, region: Region) -> Places:
        spot = self.job.plan.spot
        if spot is None:
            raise ValueError("the heater has no spot yet")
        x, y = region.at if region.at is not None else (spot.x_mm, spot.y_mm)
        turned = spot.model_copy(update={"yaw_deg": yaw_deg, "x_mm": x, "y_mm": y})
        return Places(self.job.with_parts(spot=turned), self.grid, CAP_MM)

    def _lower(self, field: Field, rule_id: str, measure: Measure, region: Region) -> None:
        """Lower the margins of a field to those of one measure, worked out where they can bind, on
        the floor that it is of.
        """
        if measure.measured is None:
            return
        key, window = (rule_id, measure.subject), measure.window
        accepted = key in self._accepted
        mask = region.mask[window.rows, window.columns] if region.mask is not None else None
        if measure.least is None:
            margins = self._margins(measure, region)
            binding = margins if mask is None else np.where(mask, margins, CAP_MM)
            field.lower(key, window, binding, accepted)
            return
        kept = field.margin_mm[window.rows, window.columns]
        binds = measure.margins(measure.least) < kept
        rows, columns = np.nonzero(binds if mask is None else binds & mask)
        if len(rows):
            x, y = window.places(self.grid)
            margin = measure.margins(measure.measured(x[0, columns], y[rows, 0]))
            rows, columns = rows + window.rows.start, columns + window.columns.start
            field.lower_at(key, rows, columns, margin, accepted)

    def _margins(self, measure: Measure, region: Region) -> Any:
        if measure.measured is None:
            return CAP_MM
        places = measure.window.places(self.grid)
        if measure.alike is None:
            return measure.margins(measure.measured(*places))
        alike = (region.floor, *measure.alike)
        if alike not in self._alike:
            self._alike[alike] = measure.margins(measure.measured(*places))
        return self._alike[alike]

    def shown(self, yaw_deg: int | None) -> tuple[Any, Any, list[Field], Any]:
        """Return what a picture needs: margins to shade by, reasons, the fields that these number
        through, and what is known of each place.

        Args:
            yaw_deg: one turn; None takes the best of the four at each place.
        """
        if yaw_deg is not None:
            field = self.field(yaw_deg)
            return (
                np.where(field.margin_mm < 0, field.margin_mm, field.apart_mm),
                field.reason,
                [field],
                field.looked,
            )
        fields = [self.fields[yaw] for yaw in YAWS]
        margin, best = merged(fields)
        apart = np.take_along_axis(np.stack([f.apart_mm for f in fields]), best[None], axis=0)[0]
        starts = np.cumsum([0, *(len(f.reasons) for f in fields[:-1])])
        numbered = np.stack(
            [
                np.where(f.reason >= 0, f.reason + start, -1)
                for f, start in zip(fields, starts, strict=True)
            ]
        )
        reason = np.take_along_axis(numbered, best[None], axis=0)[0]
        looked = np.take_along_axis(np.stack([f.looked for f in fields]), best[None], axis=0)[0]
        return np.where(margin < 0, margin, apart), reason, fields, looked
