"""A job's heater as another heater of the same vehicle sees it."""

from __future__ import annotations

from typing import Literal

from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.heater import OtherUnit
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.spot.placement import body_corners, heater_port

Heats = Literal["room", "cab", "water"]
MOST_POINTS = 60


def unit_of(job: Job, unit_id: str, heats: Heats) -> OtherUnit:
    """Return a job's heater as it stands, with its burner's pipes as they are laid.

    Raises:
        BadInput: it has no heater in its place.
    """
    sheet, corners = heater_sheet(job), body_corners(job)
    if sheet is None or corners is None:
        raise BadInput("job", job.plan.name, "No heater stands in its place there yet.")
    (x, y, z), (x1, y1, z1) = corners
    return OtherUnit(
        id=unit_id,
        name=f"{sheet.label} of {job.plan.name}"[:80],
        heats=heats,
        least_w=sheet.output.minimum_w,
        most_w=sheet.output.maximum_w,
        use_l_h=sheet.output.fuel_l_h_maximum,
        glow_a=sheet.electrical.glow_current_a,
        run_a=sheet.electrical.run_maximum_a,
        x_mm=x,
        y_mm=y,
        z_mm=z,
        length_mm=x1 - x,
        width_mm=y1 - y,
        height_mm=z1 - z,
        exhaust=_line(job, "exhaust"),
        exhaust_mm=heater_port(job, "exhaust").diameter_mm,
        intake=_line(job, "intake"),
        intake_mm=heater_port(job, "intake").diameter_mm,
    )


def _line(job: Job, tube: Tube) -> tuple[Vec3, ...]:
    """A pipe's centre line; of one with very many points its corners."""
    run = pipe_run(job, tube)
    if run is None:
        return ()
    points = run.centre_line if len(run.centre_line) <= MOST_POINTS else run.points
    return tuple(points[:MOST_POINTS])
