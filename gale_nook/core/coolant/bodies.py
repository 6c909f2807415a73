"""What the loop takes room for: its hoses and its parts."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.ducts.convector import ducted_convector
from gale_nook.core.geometry.shapes import box_shape, tube_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, body_of
from gale_nook.core.loop.hoses import HoseRun, hose_runs, loop_parts

IN_THE_BAY = {"engine"}  # surveyed where it stands


@fact
def coolant_bodies(job: Job) -> tuple[Body, ...]:
    """Return the bodies of all hoses and parts."""
    return (*(hose_body(job, run) for run in hose_runs(job)), *part_bodies(job))


def hose_body(job: Job, run: HoseRun) -> Body:
    """Return the body of a hose with its lagging."""
    shape, thing_id = tube_shape(run.geometry.centre_line, run.outside_mm), f"coolant.{run.hose.id}"
    return body_of(job, "hose", shape, thing_id=thing_id, name=f"the {run.name}", owner=thing_id)


def part_bodies(job: Job) -> Iterator[Body]:
    """Yield the bodies of all parts; not of an engine."""
    ducted = ducted_convector(job)
    blows = ducted[0].id if ducted is not None else None
    for part, kind in loop_parts(job):
        if kind.kind in IN_THE_BAY:
            continue
        x, y, z = kind.size_mm
        size = (x, y, z) if part.yaw_deg % 180 == 0 else (y, x, z)
        low = (part.x_mm - size[0] / 2, part.y_mm - size[1] / 2, part.z_mm - size[2] / 2)
        thing_id = f"coolant.{part.id}"
        yield body_of(
            job,
            "loop-part" if part.id != blows else "convector",
            box_shape(low, size),
            thing_id=thing_id,
            name=f"the {part.name}",
            owner=thing_id,
        )
