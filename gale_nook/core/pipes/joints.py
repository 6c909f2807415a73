"""The exhaust in pieces: what the kit holds, how many joints an extension needs, and
where they go.
"""

from __future__ import annotations

import math

from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Fitting
from gale_nook.core.vehicle.floor import underside_at_mm

CUT_ALLOWANCE_MM = 30.0  # pushed over the port and into the silencer, and trimmed square
STEP_MM = 10.0


def pipe_needed_mm(job: Job) -> float:
    """Return the length of exhaust pipe to have at hand, allowance included and silencer left out;
    0 without a run.
    """
    run, route = pipe_run(job, "exhaust"), job.plan.pipes.exhaust
    if run is None or route is None:
        return 0.0
    silencers = sum(fitting.length_mm for fitting in route.of_kind("silencer"))
    return float(math.ceil(max(run.length_mm - silencers, 0.0) + CUT_ALLOWANCE_MM))


def kit_pipe_mm(job: Job) -> float:
    """Return the length of exhaust pipe in the heater's box."""
    sheet = heater_sheet(job)
    kit = sheet.kit if sheet is not None else ()
    return sum(item.quantity for item in kit if item.part == "exhaust-pipe")


def extension_mm(job: Job) -> float:
    """Return the length of an extension piece as it is sold."""
    return job.catalogue.parts["exhaust-pipe"].stock_mm or math.inf


def joints_needed(job: Job) -> int:
    """Return how many joints the run needs with the kit's pipe first and extension pieces after."""
    missing = pipe_needed_mm(job) - kit_pipe_mm(job)
    if missing <= 0:
        return 0
    pieces = math.ceil(missing / extension_mm(job))
    return pieces if kit_pipe_mm(job) > 0 else pieces - 1


def proposed_joints(job: Job) -> tuple[Fitting, ...]:
    """Return joints where the pieces end, moved back towards the port until they sit on a straight
    and below the floor.
    """
    run = pipe_run(job, "exhaust")
    if run is None:
        return ()
    end, result = kit_pipe_mm(job) or extension_mm(job), []
    for number in range(1, joints_needed(job) + 1):
        at = min(end, run.length_mm - CUT_ALLOWANCE_MM)
        while at > STEP_MM and not _joint_can_sit(job, at):
            at -= STEP_MM
        result.append(Fitting(id=f"joint-{number}", kind="joint", at_mm=round(at)))
        end = at + extension_mm(job)
    return tuple(result)


def _joint_can_sit(job: Job, at_mm: float) -> bool:
    run, route = pipe_run(job, "exhaust"), job.plan.pipes.exhaust
    if run is None or route is None:
        return False
    x, y, z = run.point_at(at_mm)
    taken = any(f.at_mm - STEP_MM <= at_mm <= f.end_mm + STEP_MM for f in route.of_kind("silencer"))
    return not taken and not in_a_bend(job, at_mm) and z < underside_at_mm(job, x, y)


def in_a_bend(job: Job, at_mm: float) -> bool:
    """Return whether a distance from the port lies in a bend of the exhaust."""
    run = pipe_run(job, "exhaust")
    return run is not None and any(start < at_mm < end for start, end in bend_spans(job))


def bend_spans(job: Job) -> tuple[tuple[float, float], ...]:
    """Return where each bend of the exhaust begins and ends, along the centre line."""
    run = pipe_run(job, "exhaust")
    if run is None:
        return ()
    spans = run.straight_spans_mm
    return tuple(
        (spans[bend.corner - 1][1], spans[bend.corner - 1][1] + bend.arc_mm) for bend in run.bends
    )
