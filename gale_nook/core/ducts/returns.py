"""The openings through which air comes back: those of the warm air's plan, and those of hollow
furniture that were marked for it.
"""

from __future__ import annotations

from gale_nook.core.geometry.hollow import opening_box
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.air import ReturnOpening
from gale_nook.core.plan.solids import BoxSolid, Direction


@fact
def return_openings(job: Job) -> tuple[ReturnOpening, ...]:
    """Return every opening that air comes back through, as one of the plan; of furniture's with the
    id `solid.opening`.
    """
    if job.plan.air.cold_end == "free":
        return ()
    return (*job.plan.air.returns, *_of_furniture(job))


def _of_furniture(job: Job) -> list[ReturnOpening]:
    results = []
    for solid in job.plan.vehicle.solids:
        if not isinstance(solid, BoxSolid) or solid.hollow is None:
            continue
        for opening in solid.hollow.openings:
            box = opening_box(solid, opening.id)
            if not opening.returns or box is None:
                continue
            low, size = box
            x, y, z = (low[axis] + size[axis] / 2 for axis in range(3))
            results.append(
                ReturnOpening.model_construct(
                    id=f"{solid.id}.{opening.id}",
                    name=f"{opening.name} of {solid.name}",
                    x_mm=x,
                    y_mm=y,
                    z_mm=z,
                    width_mm=opening.width_mm,
                    height_mm=opening.height_mm,
                    faces=_faces(opening.face, solid.yaw_deg),
                    grille=opening.grille,
                    covered_percent=opening.covered_percent,
                    zone="living",
                    space="room",
                )
            )
    return results


ROUND: tuple[Direction, ...] = ("rear", "right", "front", "left")


def _faces(face: Direction, yaw_deg: float) -> Direction:
    """The face as it looks with the furniture turned, to the nearest quarter."""
    if face not in ROUND:
        return face
    return ROUND[(ROUND.index(face) + round(yaw_deg / 90)) % 4]
