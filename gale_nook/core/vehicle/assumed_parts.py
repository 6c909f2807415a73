"""The parts that a vehicle of a body type usually has, where they usually are: drawn in pencil
until somebody measures them.
"""

from __future__ import annotations

import math
from collections.abc import Mapping

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.catalogue.survey import LengthSum, UsualPart
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid, Solid, TubeSolid
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.core.vehicle.pencil import part_addresses

STEP_MM = 5.0  # nobody knows them more exactly
LEAST_MM = 10.0


def with_assumed_parts(plan: Plan, catalogue: Catalogue) -> Plan:
    """Return a plan with the parts that a vehicle like its own usually has, all pencilled."""
    vehicle = plan.vehicle
    parts = assumed_parts(Job(plan, catalogue))
    there = {solid.id for solid in vehicle.solids}
    added = tuple(part for part in parts if part.id not in there)
    pencilled = (address for part in added for address in assumed_addresses(part))
    after = vehicle.model_copy(
        update={
            "solids": (*vehicle.solids, *added),
            "pencilled": (*vehicle.pencilled, *pencilled),
        }
    )
    return Plan.model_validate(plan.model_copy(update={"vehicle": after}).model_dump(mode="json"))


def assumed_addresses(part: Solid) -> tuple[str, ...]:
    """Return the addresses of all that is assumed of a part: that there is one at all, too."""
    return (f"vehicle.solids.{part.id}.kind", *part_addresses(part))


def assumed_parts(job: Job) -> tuple[Solid, ...]:
    """Return the parts that a vehicle with such a shell, run on such a fuel, usually has."""
    vehicle, anchors = job.plan.vehicle, _anchors_mm(job)
    if vehicle.afloat:
        return ()  # there is no chassis
    return tuple(
        _solid(part, anchors)
        for part in job.catalogue.body_parts.values()
        if vehicle.fuel.value in part.of and part.kind not in vehicle.has_none
    )


def _anchors_mm(job: Job) -> dict[str, float]:
    shell = job.plan.vehicle.shell
    return {
        "front": shell.front_x_mm,
        "bulkhead": shell.bulkhead_x_mm,
        "rear": shell.rear_x_mm,
        "front_axle": shell.front_axle_x_mm,
        "rear_axle": shell.rear_axle_x_mm,
        "half_width": shell.outer_width_mm / 2,
        "half_floor": shell.floor_width_mm / 2,
        "underside": floor_underside_z_mm(job),
        "ground": shell.ground_z_mm,
        "wheel": shell.wheel_diameter_mm,
        "load": shell.rear_x_mm - shell.bulkhead_x_mm,
        "mm": 1.0,
    }


def _sum_mm(terms: LengthSum, anchors: Mapping[str, float]) -> float:
    whole = sum(anchors[name] * factor for name, factor in terms.items())
    return math.floor(whole / STEP_MM) * STEP_MM  # downwards: clear of the floor


def _solid(part: UsualPart, anchors: Mapping[str, float]) -> Solid:
    common = {"id": part.id, "name": part.label, "kind": part.kind, "material": part.material}
    if part.points:
        points = tuple(
            (_sum_mm(x, anchors), _sum_mm(y, anchors), _sum_mm(z, anchors))
            for x, y, z in part.points
        )
        return TubeSolid(**common, points=points, diameter_mm=part.diameter_mm)
    x, y, z = (_sum_mm(terms, anchors) for terms in part.at)
    length, width, height = (max(_sum_mm(terms, anchors), LEAST_MM) for terms in part.size)
    return BoxSolid(
        **common, x_mm=x, y_mm=y, z_mm=z, length_mm=length, width_mm=width, height_mm=height
    )
