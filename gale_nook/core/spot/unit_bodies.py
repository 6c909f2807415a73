"""Other heaters in the same vehicle: the room that they take."""

from __future__ import annotations

from gale_nook.core.geometry.shapes import box_shape, tube_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, body_of


@fact
def unit_bodies(job: Job) -> tuple[Body, ...]:
    """Return the bodies of every other heater, with its burner's pipes."""
    results = []
    for unit in job.plan.heater.others:
        owner = f"unit.{unit.id}"
        body = box_shape(
            (unit.x_mm, unit.y_mm, unit.z_mm), (unit.length_mm, unit.width_mm, unit.height_mm)
        )
        results.append(body_of(job, "unit", body, thing_id=owner, name=unit.name, owner=owner))
        for kind, points, thick, words in (
            ("unit-exhaust", unit.exhaust, unit.exhaust_mm, "exhaust"),
            ("unit-intake", unit.intake, unit.intake_mm, "combustion air"),
        ):
            if points:
                results.append(
                    body_of(
                        job,
                        kind,
                        tube_shape(points, thick),
                        thing_id=f"{owner}.{kind}",
                        name=f"the {words} of {unit.name}",
                        owner=owner,
                    )
                )
    return tuple(results)
