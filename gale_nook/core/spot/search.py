"""Looking for clear places on the map: the nearest one, and the best few that are
really different.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.judging import findings_of, newly_over, nothing_over, over_findings
from gale_nook.core.findings.rule import Remedy, Rule
from gale_nook.core.geometry.frames import turn_xy
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.spot import Spot
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.checks import SPOT_CHECKS
from gale_nook.core.spot.commands import PlaceHeater
from gale_nook.core.spot.costs import Costs, Weights, cost_fields, costs_at, score
from gale_nook.core.spot.field import Grid
from gale_nook.core.spot.floor_map import YAWS, FloorMap, Progress
from gale_nook.core.spot.looked_rules import TO_MEASURE, looked_states
from gale_nook.core.spot.placement import suits_floor
from gale_nook.core.spot.together import SPOT_TOGETHER

MAX_TRIALS = 60  # places of the map that are looked at exactly before giving up
NOT_LOOKED = 1000.0  # what a place costs that nobody has looked at: it comes after all others
TURN_COSTS_MM = 60.0  # turning the heater is as much trouble as moving it that far
APART_MM = 450.0  # best spots nearer than this to each other are one spot
UNSEEN_MM = 100_000.0  # farther than any place that was looked at
LETTERS = "ABCDE"


def at_place(job: Job, spot: Spot) -> Job:
    """Return the job with the heater somewhere else."""
    return job.with_parts(spot=spot)


def without_runs(job: Job) -> Job:
    """Return the job without the runs that end at the heater: they are laid anew when it moves."""
    pipes = job.plan.pipes.model_copy(update={"exhaust": None, "intake": None})
    fuel = job.plan.fuel.model_copy(update={"line": None})
    air = job.plan.air.model_copy(update={"ducts": (), "return_duct": None})
    power = job.plan.power.model_copy(update={"leads": ()})
    changes = {"pipes": pipes, "fuel": fuel, "air": air, "power": power}
    return job.with_parts(**changes)


def is_clear_at(job: Job, spot: Spot, beside: tuple[Rule, ...]) -> bool:
    """Return whether nothing of the spot is over at a place, and nothing else is over there that
    was not before.

    Args:
        beside: checks of all else.
    """
    return first_over(job, spot, beside) is None


def first_over(job: Job, spot: Spot, beside: tuple[Rule, ...]) -> Finding | None:
    """Return the first of what is over of the spot at a place, or of all else that was not over
    before; None where nothing is.

    Args:
        beside: checks of all else.
    """
    own = next(over_findings(at_place(job, spot), SPOT_CHECKS), None)
    if own is not None:
        return own
    bare = without_runs(job)
    return next(newly_over(bare, at_place(bare, spot), beside), None)


def nearest_clear(job: Job, beside: tuple[Rule, ...] = (SPOT_TOGETHER,)) -> Remedy | None:
    """Return the nearest place at which no spot check is over, or None when the floor has none.

    From the map of every mount of the sheet whose floor stack fits; a turn counts as some way of
    its own. Each place is looked at with the exact checks before it is offered.
    """
    spot, sheet = job.plan.spot, heater_sheet(job)
    if spot is None or sheet is None:
        return None
    if nothing_over(job, SPOT_CHECKS):
        return Remedy("Nothing of the spot is over where it stands.", _command(spot))
    results = sorted(_clear_places(job, spot), key=lambda place: place[0])
    for _, place in results[:MAX_TRIALS]:
        if is_clear_at(job, place, beside):
            return Remedy(_sentence(job, spot, place), _command(place))
    return None


def _clear_places(job: Job, spot: Spot) -> Iterator[tuple[float, Spot]]:
    """Yield the nearest few clear places of each map with how far they are."""
    for mount in _mounts(job, spot):
        there = spot.model_copy(update={"mount": mount})
        floor = FloorMap(at_place(job, there))
        for yaw in YAWS:
            turn = min((yaw - spot.yaw_deg) % 360, (spot.yaw_deg - yaw) % 360) / 90
            field = floor.fields[yaw]
            rows, columns = np.nonzero(field.margin_mm >= 0)
            far = (
                np.hypot(floor.grid.x_mm[columns] - spot.x_mm, floor.grid.y_mm[rows] - spot.y_mm)
                + turn * TURN_COSTS_MM
                + UNSEEN_MM * (field.looked[rows, columns] == TO_MEASURE)
            )
            for at in np.argsort(far, kind="stable")[: MAX_TRIALS // 2]:
                x, y = float(floor.grid.x_mm[columns[at]]), float(floor.grid.y_mm[rows[at]])
                yield (
                    float(far[at]),
                    there.model_copy(update={"x_mm": x, "y_mm": y, "yaw_deg": yaw}),
                )


def _mounts(job: Job, spot: Spot) -> list[str]:
    """The mount in hand where the floor suits it, else every mount of the sheet that the floor
    suits.
    """
    sheet, mount = heater_sheet(job), chosen_mount(job)
    place = mount.place if mount is not None else "inside"
    fitting = (
        [m.id for m in sheet.mounts if suits_floor(job, m) and m.place == place]
        if sheet is not None
        else []
    )
    return [spot.mount] if spot.mount in fitting else fitting or [spot.mount]


def _command(spot: Spot) -> PlaceHeater:
    return PlaceHeater(x_mm=spot.x_mm, y_mm=spot.y_mm, yaw_deg=spot.yaw_deg, mount=spot.mount)


def _sentence(job: Job, spot: Spot, place: Spot) -> str:
    dx = place.x_mm - spot.x_mm
    dy = place.y_mm - spot.y_mm
    turn = (place.yaw_deg - spot.yaw_deg) % 360
    parts = []
    if dx:
        parts.append(f"{q(abs(dx))} {'rearward' if dx > 0 else 'forward'}")
    if dy:
        parts.append(f"{q(abs(dy))} to the {'right' if dy > 0 else 'left'}")
    words = f"Shift it {' and '.join(parts)}" if parts else "Leave it there"
    if turn:
        words += f", turned {q(float(turn), 'deg')}"
    if place.mount != spot.mount:
        words += f", on the mount '{place.mount}'"
    looked = looked_states(at_place(job, place), _one_place(place))
    if looked[0, 0] == TO_MEASURE:
        return words + ": nothing that was entered is in the way there, but nobody has looked."
    return words + ": nothing of the spot is over there."


def _one_place(spot: Spot) -> Grid:
    return Grid(np.array([spot.x_mm]), np.array([spot.y_mm]))


@dataclass(frozen=True, slots=True)
class BestSpot:
    """One of the best places.

    Attributes:
        margin_mm: on the map.
        score: less is better.
        uses: name of the existing hole that a hole of the mount would use; empty for none.
        to_measure: nobody has looked there yet.
    """

    letter: str
    spot: Spot
    margin_mm: float
    costs: Costs
    score: float
    uses: str = ""
    to_measure: bool = False


@dataclass(frozen=True, slots=True)
class LookedAt:
    """A spot that was kept, as it would stand now.

    Attributes:
        over: number of its checks that are over.
        worst: what the worst of these says; empty for none.
        to_measure: nobody has looked there yet.
    """

    id: str
    over: int
    worst: str
    costs: Costs
    to_measure: bool = False


def look_at_kept(job: Job) -> tuple[LookedAt, ...]:
    """Return every kept spot as it would stand now, with the exact checks."""
    results = []
    for kept in job.plan.candidates:
        there = at_place(job, kept.spot)
        findings = findings_of(there, SPOT_CHECKS)
        over = sum(1 for finding in findings if finding.verdict is Verdict.OVER)
        worst = findings[0].sentence if over else ""
        to_measure = any(finding.verdict is Verdict.UNKNOWN for finding in findings)
        costs = costs_at(there, kept.spot)
        results.append(LookedAt(kept.id, over, worst, costs, to_measure))
    return tuple(results)


def best_spots(
    job: Job,
    weights: Weights,
    told: Progress | None = None,
    beside: tuple[Rule, ...] = (SPOT_TOGETHER,),
) -> tuple[BestSpot, ...]:
    """Return up to five clear places that are not neighbours, the best first; each was looked at
    exactly.

    Places on an existing hole come first: a hole that need not be cut is worth a longer pipe.

    The score is the weighted sum of exhaust, fuel and duct runs in metres, nearness to the sleeper,
    and want of margin.

    Args:
        beside: checks of all else, of which a place may put nothing over that was not; the runs
            that end at the heater are laid anew and left out.
    """
    if heater_sheet(job) is None:
        return ()
    # what was accepted was accepted where it stands, not elsewhere
    job = job.with_parts(acceptances=())
    floor = FloorMap(job, told=told)
    base = job.plan.spot or floor.job.plan.spot
    if base is None:
        return ()
    if job.plan.spot is None or base.mount != floor.mount_id:
        base = base.model_copy(update={"mount": floor.mount_id})
    values, turns = _scores(floor, weights)
    result = list(_on_existing_holes(job, floor, base, beside))[:2]
    x, y = floor.grid.x_mm[None, :], floor.grid.y_mm[:, None]
    for existing in result:
        away = np.hypot(x - existing.spot.x_mm, y - existing.spot.y_mm)
        values = np.where(away < APART_MM, np.inf, values)
    for _ in range(MAX_TRIALS):
        row, column = np.unravel_index(int(values.argmin()), values.shape)
        if not np.isfinite(values[row, column]) or len(result) == len(LETTERS):
            break
        yaw = YAWS[int(turns[row, column])]
        at_x, at_y = float(floor.grid.x_mm[column]), float(floor.grid.y_mm[row])
        spot = base.model_copy(update={"x_mm": at_x, "y_mm": at_y, "yaw_deg": yaw})
        if is_clear_at(job, spot, beside):
            costs = costs_at(floor.job, spot)
            field = floor.fields[yaw]
            result.append(
                BestSpot(
                    LETTERS[len(result)],
                    spot,
                    float(field.margin_mm[row, column]),
                    costs,
                    float(values[row, column]),
                    to_measure=bool(field.looked[row, column] == TO_MEASURE),
                )
            )
            values = np.where(np.hypot(x - at_x, y - at_y) < APART_MM, np.inf, values)
        else:
            values[row, column] = np.inf
    return tuple(result)


def _existing_holes(job: Job) -> Iterator[tuple[str, tuple[float, float], float]]:
    """Every hole in the floor that is known, with its place and diameter: surveyed features, and
    old openings that are not closed; of one with straight sides the circle round it.
    """
    vehicle = job.plan.vehicle
    for feature in vehicle.features:
        at = feature.inside or feature.below
        if at is not None and feature.diameter_mm is not None:
            yield feature.name, at, feature.diameter_mm
    for old in vehicle.old_openings:
        if old.face == "floor" and old.use != "closed":
            round_mm = old.length_mm if old.is_round else math.hypot(old.length_mm, old.height_mm)
            yield old.name, (old.along_mm, old.up_mm), round_mm


def _on_existing_holes(
    job: Job, floor: FloorMap, base: Spot, beside: tuple[Rule, ...]
) -> Iterator[BestSpot]:
    """Yield clear places at which the mount's largest hole lies on an existing one
    that it covers.
    """
    mount = chosen_mount(floor.job)
    if mount is None or not mount.holes:
        return
    largest = max(mount.holes, key=lambda hole: hole.diameter_mm)
    letters = iter(LETTERS)
    for name, at, diameter_mm in _existing_holes(job):
        if diameter_mm > largest.diameter_mm:
            continue
        for yaw in YAWS:
            dx, dy = turn_xy(largest.x_mm, largest.y_mm, yaw)
            spot = base.model_copy(update={"x_mm": at[0] - dx, "y_mm": at[1] - dy, "yaw_deg": yaw})
            if is_clear_at(job, spot, beside):
                findings = findings_of(at_place(job, spot), SPOT_CHECKS)
                margins = [f.margin for f in findings if f.margin is not None]
                yield BestSpot(
                    next(letters),
                    spot,
                    min(margins, default=0.0),
                    costs_at(floor.job, spot),
                    0.0,
                    name,
                    to_measure=any(f.verdict is Verdict.UNKNOWN for f in findings),
                )
                break


def _scores(floor: FloorMap, weights: Weights) -> tuple[Any, Any]:
    """Return the best score over the turns at each place (infinite where it is not clear), and
    which turn has it.
    """
    stacked = []
    for yaw in YAWS:
        margin = floor.fields[yaw].margin_mm
        value = score(cost_fields(floor.job, floor.grid, yaw), margin, weights)
        value = value + NOT_LOOKED * (floor.fields[yaw].looked == TO_MEASURE)
        stacked.append(np.where(margin >= 0, value, np.inf))
    every = np.stack(stacked)
    best = every.argmin(axis=0)
    return np.take_along_axis(every, best[None], axis=0)[0], best
