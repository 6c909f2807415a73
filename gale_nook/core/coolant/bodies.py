"""What the loop takes room for: its hoses and its parts."""

from __future__ import annotations

from gale_nook.core.geometry.shapes import box_shape, tube_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, body_of
from gale_nook.core.loop.hoses import hose_runs, loop_parts

IN_THE_BAY = {"engine"}  # surveyed where it stands


@fact
def coolant_bodies(job: Job) -> tuple[Body, ...]:
    """Return the bodies of all hoses and parts."""
    results = []
    for run in hose_runs(job):
        shape = tube_shape(run.geometry.centre_line, run.outside_mm)
        thing_id = f"coolant.{run.hose.id}"
        results.append(
            body_of(job, "hose", shape, thing_id=thing_id, name=f"the {run.name}", owner=thing_id)
        )
    for part, kind in loop_parts(job):
        if kind.kind in IN_THE_BAY:
            continue
        size = (
            kind.size_mm
            if part.yaw_deg % 180 == 0
            else (kind.size_mm[1], kind.size_mm[0], kind.size_mm[2])
        )
        low = (part.x_mm - size[0] / 2, part.y_mm - size[1] / 2, part.z_mm - size[2] / 2)
        thing_id = f"coolant.{part.id}"
        results.append(
            body_of(
                job,
                "loop-part",
                box_shape(low, size),
                thing_id=thing_id,
                name=f"the {part.name}",
                owner=thing_id,
            )
        )
    return tuple(results)
