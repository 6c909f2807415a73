"""Candidate cures for the tank's filler; they are tried before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.fuel.filler import fills_from
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q


@remedy_for("fuel.filler")
@remedy_for("fuel.filler_reach")
@remedy_for("fuel.filler_fall")
def fill_otherwise(job: Job, finding: Finding) -> Iterator[Remedy]:
    """From another side, at another angle, with a nozzle instead of a can."""
    tank, works = job.plan.fuel.tank, job.catalogue.fuel_equipment
    if tank is None:
        return
    steep = [
        angle
        for angle in (30.0, 20.0, 45.0, 60.0)
        if angle >= works.fill(tank.filled_with).least_deg
    ]
    own, other = fills_from(tank), "left" if fills_from(tank) == "right" else "right"
    for side in (own, other, "rear", "front", "top"):
        for angle in steep:
            if (side, angle) == (tank.filler, tank.filler_deg):
                continue
            words = (
                "Fill it from above."
                if side == "top"
                else f"Fill it from the {side}, at {q(angle, 'deg')}."
            )
            pairs = (("fuel.tank.filler", side), ("fuel.tank.filler_deg", angle))
            yield Remedy(
                words, SetValues(changes=tuple(Change(address=a, value=v) for a, v in pairs))
            )
    if tank.filled_with == "can":
        yield Remedy("Fill it with a pump's nozzle.", set_value("fuel.tank.filled_with", "nozzle"))
    if finding.rule == "fuel.filler_reach" and finding.margin is not None:
        by = float(math.ceil(-finding.margin) + 1) * (1 if own == "right" else -1)
        yield Remedy(
            f"Move the tank {q(abs(by))} to the {own}.", set_value("fuel.tank.y_mm", tank.y_mm + by)
        )
