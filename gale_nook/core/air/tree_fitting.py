"""Making a plan's ducts of a tree that was found: kinds, splitters, outlets, lagging, holes and
clips; and throttles by what each zone needs.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from gale_nook.core.air.fitting_out import clips_for, holes_for
from gale_nook.core.air.tree_search import Tree, TreeLeg, TreeOptions
from gale_nook.core.catalogue.air import DuctKind, OutletKind
from gale_nook.core.ducts.tree import run_of
from gale_nook.core.fitted.balance import balanced, shares_by_need
from gale_nook.core.job import Job
from gale_nook.core.plan.air import LIVING, Duct, DuctPart, Outlet, WantedOutlet
from gale_nook.core.plan.pipes import RouteNode

LEAST_OPEN_PERCENT = 5.0
SAME_BORE_MM = 0.5


def with_ducts(job: Job, ducts: Sequence[Duct]) -> Job:
    """Return the job with some ducts in the place of those that there are."""
    air = job.plan.air.model_copy(update={"ducts": tuple(ducts), "warm_end": "duct", "wanted": ()})
    return job.with_parts(air=air)


def duct_id_of(outlet: WantedOutlet, wanted: Sequence[WantedOutlet]) -> str:
    """Return the id of the duct that ends in one of some wanted outlets, in any tree to them."""
    return f"to-{[each.id for each in wanted].index(outlet.id) + 1}"


def ducts_of(
    job: Job, tree: Tree, options: TreeOptions, wanted: Sequence[WantedOutlet]
) -> tuple[Duct, ...]:
    """Return a tree's ducts, fitted out with outlets, lagging, holes and clips."""
    names = _names(tree, wanted)
    fixed = _stays_open([leg.outlet for leg in tree.legs if leg.outlet is not None])
    bare = tuple(_bare(job, tree, leg, names, options, fixed) for leg in tree.legs)
    laid = with_ducts(job, bare)
    lagged = tuple(_lagged(laid, duct, options.layers) for duct in bare)
    thick = with_ducts(job, lagged)
    return tuple(_held(thick, duct) for duct in lagged)


def _names(tree: Tree, wanted: Sequence[WantedOutlet]) -> Mapping[int, str]:
    """An id for each leg, by its place."""
    names: dict[int, str] = {}
    for number, leg in enumerate(tree.legs):
        if leg.outlet is None:
            names[number] = "trunk" if number == 0 else f"on-{number}"
        else:
            names[number] = duct_id_of(leg.outlet, wanted)
    return names


def _stays_open(wanted: Sequence[WantedOutlet]) -> str:
    """The outlet that cannot be closed: the living space's first."""
    living = [outlet for outlet in wanted if outlet.zone == LIVING]
    return (living or list(wanted))[0].id


def _bare(
    job: Job,
    tree: Tree,
    leg: TreeLeg,
    names: Mapping[int, str],
    options: TreeOptions,
    fixed: str,
) -> Duct:
    works = job.catalogue.air_equipment
    wanted, outlet = leg.outlet, None
    carries = leg.before is None or tree.outlets_after(leg) > 1
    kind = options.main if carries and leg.wide else options.branch
    if wanted is not None:
        fitting = _outlet_kind(job, wanted, kind, fixed)
        if fitting.bore_mm > kind.bore_mm + SAME_BORE_MM:
            kind = options.main
        outlet = Outlet(name=wanted.name, kind=fitting.id, zone=wanted.zone)
    nodes = tuple(
        RouteNode(id=f"n{number}", x_mm=x, y_mm=y, z_mm=z, radius_mm=kind.least_radius_mm)
        for number, (x, y, z) in enumerate(leg.points[1:], 1)
    )
    splitter = min(works.splitters, key=lambda s: (s.straight_k + s.branch_k, s.id))
    before = leg.before
    return Duct(
        id=names[tree.legs.index(leg)],
        kind=kind.id,
        comes_from=names[tree.legs.index(before)] if before is not None else None,
        leg="branch" if leg.branch else "straight",
        nodes=nodes,
        outlet=outlet,
        splitter=splitter.id if wanted is None else None,
    )


def _outlet_kind(job: Job, wanted: WantedOutlet, kind: DuctKind, fixed: str) -> OutletKind:
    """The outlet that is asked for; else as wide as its duct, and such as nobody closes by hand:
    one that always stands open, the others with a throttle that is set once.
    """
    works = job.catalogue.air_equipment
    if wanted.kind is not None:
        return works.outlet(wanted.kind)
    fitting = [o for o in works.outlets if o.bore_mm <= kind.bore_mm + SAME_BORE_MM]
    throttle = wanted.id != fixed
    return max(
        fitting or works.outlets,
        key=lambda o: (not o.closable, o.throttle is throttle, o.bore_mm, -o.open_k),
    )


def _lagged(job: Job, duct: Duct, layers: int) -> Duct:
    run = run_of(job, duct.id)
    if run is None or layers == 0:
        return duct
    length = math.ceil(run.length_mm)
    lagging = DuctPart(id="lagging-1", kind="lagging", length_mm=length, layers=layers)
    return duct.model_copy(update={"parts": (lagging,)})


def _held(job: Job, duct: Duct) -> Duct:
    run = run_of(job, duct.id)
    if run is None:
        return duct
    holed = duct.model_copy(update={"parts": (*duct.parts, *holes_for(job, run))})
    return holed.model_copy(update={"parts": (*holed.parts, *clips_for(job, run, holed))})


def throttled(job: Job, ducts: Sequence[Duct]) -> tuple[Duct, ...]:
    """Return the ducts with their throttles set by what each zone needs."""
    there = with_ducts(job, ducts)
    shares = shares_by_need(there)
    if not shares:
        return tuple(ducts)
    rows = {row.duct: row for row in balanced(there, shares)}
    results = []
    for duct in ducts:
        row = rows.get(duct.id)
        if duct.outlet is None or row is None or row.open_percent is None:
            results.append(duct)
            continue
        percent = round(max(row.open_percent, LEAST_OPEN_PERCENT), 1)
        outlet = duct.outlet.model_copy(update={"open_percent": percent})
        results.append(duct.model_copy(update={"outlet": outlet}))
    return tuple(results)
