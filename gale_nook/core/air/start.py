"""First ducts: from the heater's warm end, or a free leg of a splitter, to an outlet."""

from __future__ import annotations

import math

from gale_nook.core.air.fitting_out import fitted_out
from gale_nook.core.base.models import Point3
from gale_nook.core.catalogue.air import AirEquipment, DuctKind, OutletKind
from gale_nook.core.ducts.ends import cold_end, warm_end
from gale_nook.core.ducts.layout import fan_of
from gale_nook.core.ducts.tree import run_of
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.frames import Vec3, add, norm, scale, sub
from gale_nook.core.heater.limits import least_of
from gale_nook.core.job import Job
from gale_nook.core.plan.air import Duct, Leg, Outlet
from gale_nook.core.plan.pipes import RouteNode

FIRST_MM, ON_MM = 350.0, 900.0
SAME_MM = 20.0
RATED_C = 120.0
DUCTS_FIRST = (
    "Ducts begin at the heater, or at a fan convector that is on: choose one and a place first."
)


def starting_duct(job: Job, comes_from: str | None, leg: Leg, to: Point3 | None, zone: str) -> Duct:
    """Return a duct that runs straight first, then square to the vehicle, to a place; without one,
    straight on for ON_MM.

    Raises:
        BadInput: there is no heater yet, or no free leg there.
    """
    end = warm_end(job)
    if end is None or fan_of(job) is None:
        raise BadInput("duct", None, DUCTS_FIRST)
    ducts = job.plan.air.ducts
    if comes_from is None and any(d.comes_from is None for d in ducts):
        raise BadInput("duct", None, "A duct leads from the heater already: put a splitter in it.")
    run = run_of(job, comes_from) if comes_from is not None else None
    if comes_from is not None and (run is None or run.duct.outlet is not None):
        raise BadInput("duct", comes_from, "No duct can go on from there.")
    start, leaving = end if run is None else (run.geometry.mouth, run.geometry.mouth_direction)
    if run is not None and leg == "branch":
        leaving = (-leaving[1], leaving[0], 0.0) if abs(leaving[2]) < 0.9 else (1.0, 0.0, 0.0)
    kind = kind_for(job, main=run is None)
    first = least_of(job, "duct_first_straight_mm", FIRST_MM) if run is None else 150.0
    target = to if to is not None else add(start, scale(leaving, max(ON_MM, first)))
    nodes = nodes_to(start, leaving, target, first, kind.least_radius_mm)
    outlet = outlet_for(job.catalogue.air_equipment, kind, closable=bool(ducts))
    duct = Duct(
        id=fresh_id(ducts, "duct"),
        kind=kind.id,
        comes_from=comes_from,
        leg=leg,
        nodes=nodes,
        outlet=Outlet(name=f"outlet {len(ducts) + 1}", kind=outlet.id, zone=zone),
    )
    return fitted_out(job, duct)


def kind_for(job: Job, *, main: bool) -> DuctKind:
    """Return the folded duct whose bore is nearest to that of what blows, not under what its sheet
    allows; after a splitter the smallest that the sheet allows there and 60 mm fits.
    """
    fan = fan_of(job)
    bore = fan.bore_mm if fan is not None else 75.0
    least = least_of(job, "duct_bore_mm", 0.0) if main else least_of(job, "duct_branch_mm", 0.0)
    wanted = bore if main else max(least, 60.0)
    kinds = usual_ducts(job.catalogue.air_equipment)
    fitting = [k for k in kinds if k.bore_mm >= least] or kinds
    return min(fitting, key=lambda kind: (abs(kind.bore_mm - wanted), kind.id))


def usual_ducts(works: AirEquipment) -> list[DuctKind]:
    """Return the ducts that are bent as they are laid and bear what usual heaters blow."""
    return [kind for kind in works.ducts if kind.flexible and kind.rating_c >= RATED_C]


def outlet_for(works: AirEquipment, kind: DuctKind, *, closable: bool) -> OutletKind:
    """Return an outlet of a duct's bore, or the next smaller one."""
    fitting = [o for o in works.outlets if o.bore_mm <= kind.bore_mm + 0.5]
    return max(fitting or works.outlets, key=lambda o: (o.bore_mm, o.closable == closable, o.id))


def nodes_to(
    start: Vec3, leaving: Vec3, target: Point3, first_mm: float, radius_mm: float
) -> tuple[RouteNode, ...]:
    """Return the corners of a way that leaves straight, then goes along the vehicle's directions,
    the longest stretch first.
    """
    points = [start]
    ahead = sum((t - s) * d for t, s, d in zip(target, start, leaving, strict=True))
    if ahead > 0 and norm(sub(target, add(start, scale(leaving, ahead)))) < SAME_MM:
        points.append(target)
    else:
        points.append(add(start, scale(leaving, max(first_mm, radius_mm + SAME_MM))))
        left = sub(target, points[-1])
        for axis in sorted(range(3), key=lambda i: -abs(left[i])):
            if abs(left[axis]) < 1.0:
                continue
            after = list(points[-1])
            after[axis] = target[axis]
            points.append((after[0], after[1], after[2]))
    nodes = []
    for number, point in enumerate(points[1:], 1):
        x, y, z = (round(value, 1) for value in point)
        nodes.append(RouteNode(id=f"n{number}", x_mm=x, y_mm=y, z_mm=z, radius_mm=radius_mm))
    return tuple(nodes)


def starting_return(job: Job) -> Duct:
    """Return a duct that brings air to the inlet, straight out of it.

    Raises:
        BadInput: there is no heater yet.
    """
    end, fan = cold_end(job), fan_of(job)
    if end is None or fan is None:
        raise BadInput("duct", None, DUCTS_FIRST)
    kinds = [k for k in job.catalogue.air_equipment.ducts if k.flexible]
    kind = min(kinds, key=lambda k: (abs(k.bore_mm - fan.inlet_mm), k.id))
    x, y, z = add(end[0], scale(end[1], math.ceil(2 * kind.bore_mm)))
    node = RouteNode(id="n1", x_mm=x, y_mm=y, z_mm=z, radius_mm=kind.least_radius_mm)
    return Duct(id="return-duct", kind=kind.id, nodes=(node,))
