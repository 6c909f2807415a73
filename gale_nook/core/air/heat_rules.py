"""Checks of what gets warm: things beside ducts and in jets, skins that are touched, outlets that
blow at something.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace

from gale_nook.core.air.bodies import duct_name, skin_mm
from gale_nook.core.air.hot import Jet, Warm, beside_c, hottest, jets, shapes_of_runs
from gale_nook.core.catalogue.air import HeatBearing
from gale_nook.core.ducts.passes import passed_bodies, passes
from gale_nook.core.ducts.places import OUTSIDE, set_c
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.geometry.shapes import Separation, Shape, separation, tube_shape
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.solids import BoxSolid, Solid
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.spot.obstacles import walls
from gale_nook.core.vehicle.parts import surveyed_parts, surveyed_where

NEAR_MM = 250.0  # beyond it the share of the view is small
JET_FAR_MM = 2500.0
INSIDE, BELOW, MARGIN_MM = "inside", "below", 1.0
LEAST_PIECE_MM = 1.0
AT_HOLE_MM = 60.0  # so far an outlet is in the hole of the panel that it sits in


@fact
def bearing_parts(job: Job, where: str) -> list[tuple[Solid, Shape, HeatBearing]]:
    """Return the surveyed parts that a known temperature harms, of those inside or below: the floor
    lies between.
    """
    works = job.catalogue.air_equipment
    results = []
    for solid, kind, shape in surveyed_parts(job):
        bears = works.bears(solid.kind, solid.material)
        if bears is not None and kind.where == where:
            results.append((solid, shape, bears))
    return results


@rule("air.heat", "Heat of the ducts on what is beside them", "C", hazard="fire")
def beside_ducts(job: Job, this: Rule) -> Iterator[Finding]:
    """Every part within reach of a duct, at the warmest that any duct makes it."""
    if not hottest(job):
        return
    found = beside_parts(job)
    for solid, bears, best in found:
        yield _beside(job, this, (solid, bears), best)
    if not found:
        yield this.yes_no(
            job,
            answer=False,
            wanted=False,
            whose=Whose.GEOMETRY,
            source="surveyed parts inside and below",
            sentence=f"Nothing that heat harms is within {q(NEAR_MM)} of a duct.",
        )


Beside = tuple[float, Warm, Separation]


@fact
def beside_parts(job: Job) -> tuple[tuple[Solid, HeatBearing, Beside], ...]:
    """Return every part within reach of a duct that heat harms, with how warm it gets at the most,
    by which piece, and how near that is.
    """
    pieces = [(warm, _piece_shape(job, warm)) for warm in hottest(job)]
    parts = [(INSIDE, part) for part in bearing_parts(job, INSIDE)]
    parts += [(BELOW, part) for part in bearing_parts(job, BELOW)]
    results = []
    for where, (solid, shape, bears) in parts:
        same_side = [
            (warm, tube)
            for warm, tube in pieces
            if (warm.place == OUTSIDE) == (where == BELOW) and _bounds_apart(tube, shape) <= NEAR_MM
        ]
        warmed = [
            each
            for warm, tube in _beside_holes(job, same_side, solid.id)
            if (each := _warmed(job, warm, tube, shape)) is not None
        ]
        if warmed:
            results.append((solid, bears, max(warmed, key=lambda each: each[0])))
    return tuple(results)


def _warmed(job: Job, warm: Warm, tube: Shape, shape: Shape) -> Beside | None:
    """How warm a part gets beside a piece of duct; None where it is out of reach."""
    if _bounds_apart(tube, shape) > NEAR_MM:
        return None
    near = separation(tube, shape)
    if near.distance_mm > NEAR_MM:
        return None
    contact = job.catalogue.air_equipment.physics.contact_mm
    outer = skin_mm(job, shapes_of_runs(job)[warm.duct], (warm.from_mm + warm.to_mm) / 2)
    celsius = beside_c(warm.skin_c, set_c(job, warm.place), near.distance_mm, outer, contact)
    return celsius, warm, near


def _beside_holes(
    job: Job, pieces: list[tuple[Warm, Shape]], body: str
) -> Iterator[tuple[Warm, Shape]]:
    """Yield the pieces without what lies in a hole that is made for its duct in a body: there the
    ring touches it, not the duct. Elsewhere the same body is a thing like any other.
    """
    for warm, tube in pieces:
        holes = [
            (each.from_mm - AT_HOLE_MM, each.to_mm + AT_HOLE_MM)
            for each in passes(job)
            if each.part is not None and (each.duct, each.body) == (warm.duct, body)
        ]
        left = outside_of((warm.from_mm, warm.to_mm), holes)
        if left == [(warm.from_mm, warm.to_mm)]:
            yield warm, tube
            continue
        for start, end in left:
            part = replace(warm, from_mm=start, to_mm=end)
            yield part, _piece_shape(job, part)


def outside_of(
    stretch: tuple[float, float], holes: Iterable[tuple[float, float]]
) -> list[tuple[float, float]]:
    """Return what is left of a stretch outside of some others, at least LEAST_PIECE_MM long.

    >>> outside_of((0.0, 300.0), [(100.0, 150.0), (250.0, 400.0)])
    [(0.0, 100.0), (150.0, 250.0)]
    """
    left, (at, end) = [], stretch
    for low, high in sorted(holes):
        if high <= at or low >= end:
            continue
        left.append((at, low))
        at = high
    left.append((at, end))
    return [(a, b) for a, b in left if b - a >= LEAST_PIECE_MM]


def _beside(
    job: Job,
    this: Rule,
    part: tuple[Solid, HeatBearing],
    best: Beside,
) -> Finding:
    (solid, bears), (celsius, warm, near) = part, best
    run = shapes_of_runs(job)[warm.duct]
    lagged = "lagged" if warm.layers else "bare"
    return this.finding(
        job,
        subject=solid.id,
        subject_name=solid.name,
        measured=celsius,
        band=Band(None, bears.rating_c, Whose.WORKSHOP, bears.id, bears.source),
        title=f"Duct to {solid.name}",
        sentence=(
            f"{capital(duct_name(run))} is {lagged} there, up to "
            f"{q(round(warm.skin_c), 'c')} on its skin, {q(max(round(near.distance_mm), 0))} from "
            f"{solid.name}, which gets up to {q(round(celsius), 'c')}; {bears.label} bears "
            f"{q(bears.rating_c, 'c')}."
        ),
        marks=(Mark(near.start, near.end),),
    )


def _piece_shape(job: Job, warm: Warm) -> Shape:
    run = shapes_of_runs(job)[warm.duct]
    outer = skin_mm(job, run, (warm.from_mm + warm.to_mm) / 2)
    return tube_shape(run.geometry.stretch(warm.from_mm, warm.to_mm), outer)


def _bounds_apart(one: Shape, other: Shape) -> float:
    a, b = one.bounds, other.bounds
    return max(max(a[i] - b[i + 3], b[i] - a[i + 3]) for i in range(3))


@rule("air.touch", "Skin of a duct that can be touched", "C", hazard="burns")
def touched(job: Job, this: Rule) -> Iterator[Finding]:
    """In the room, a duct that is neither lagged nor behind a guard or panel is touched."""
    band = limit_band(job, "duct_touch_c")
    if band is None:
        return
    hollow = [
        solid
        for solid in job.plan.vehicle.solids
        if isinstance(solid, BoxSolid) and solid.hollow is not None
    ]
    worst: dict[str, Warm] = {}
    for warm in hottest(job):
        run = shapes_of_runs(job)[warm.duct]
        middle = (warm.from_mm + warm.to_mm) / 2
        at = run.geometry.point_at(middle)
        guarded = any(p.at_mm <= middle <= p.end_mm for p in run.duct.of_kind("guard"))
        if warm.place == OUTSIDE or guarded or any(_holds(solid, at) for solid in hollow):
            continue
        known = worst.get(warm.duct)
        if known is None or warm.skin_c > known.skin_c:
            worst[warm.duct] = warm
    for duct, warm in worst.items():
        run = shapes_of_runs(job)[duct]
        at = run.geometry.point_at((warm.from_mm + warm.to_mm) / 2)
        yield this.finding(
            job,
            subject=duct,
            subject_name=duct_name(run),
            measured=warm.skin_c,
            band=band,
            title=f"Skin of {duct_name(run)}",
            sentence=f"Its skin gets up to {q(round(warm.skin_c), 'c')} where it lies in the room.",
            marks=(Mark(at, at),),
        )


def _holds(solid: BoxSolid, point: tuple[float, float, float]) -> bool:
    """Whether a point lies inside furniture; turned furniture counts with the box round it."""
    low = (solid.x_mm, solid.y_mm, solid.z_mm)
    size = (solid.length_mm, solid.width_mm, solid.height_mm)
    return all(low[i] <= point[i] <= low[i] + size[i] for i in range(3))


@rule("air.jet", "What an outlet blows at", "C", hazard="fire")
def blown_at(job: Job, this: Rule) -> Iterator[Finding]:
    """Bedding, cloth or plastic in the way of the air gets as warm as the air that reaches it."""
    for jet in jets(job):
        hits = harmed_by(job, jet)
        if not hits:
            yield this.yes_no(
                job,
                subject=jet.duct,
                subject_name=jet.name,
                answer=False,
                wanted=False,
                whose=Whose.GEOMETRY,
                source="surveyed parts inside",
                title=f"In the way of {jet.name}",
                sentence=f"{capital(jet.name)} blows at nothing that heat harms.",
            )
            continue
        _, celsius, at, solid, bears = min(hits, key=lambda hit: hit[0])
        yield this.finding(
            job,
            subject=jet.duct,
            subject_name=solid.name,
            measured=celsius,
            band=Band(None, bears.rating_c, Whose.WORKSHOP, bears.id, bears.source),
            title=f"{capital(jet.name)} blows at {solid.name}",
            sentence=(
                f"Air of up to {q(round(jet.air_c), 'c')} meets {solid.name} after {q(round(at))}, "
                f"there still {q(round(celsius), 'c')}; {bears.label} bears "
                f"{q(bears.rating_c, 'c')}."
            ),
            marks=(Mark(jet.at, jet.point(max(at, MARGIN_MM))),),
        )


@fact
def harmed_by(job: Job, jet: Jet) -> list[tuple[float, float, float, Solid, HeatBearing]]:
    """Return what heat harms in the way of a jet: how much it is spared, how warm the air is there,
    and how far on.
    """
    passed = passed_bodies(job).get(jet.duct, frozenset())
    hits = []
    for solid, shape, bears in bearing_parts(job, INSIDE):
        at = jet.meets(shape, JET_FAR_MM, AT_HOLE_MM if solid.id in passed else 0.0)
        if at is not None:
            celsius = jet.celsius_at(at)
            hits.append((bears.rating_c - celsius, celsius, at, solid, bears))
    return hits


@fact
def in_front_of(job: Job, jet: Jet) -> tuple[float, str]:
    """Return how far on something is in the way of a jet, mm, and what it is called."""
    passed = passed_bodies(job).get(jet.duct, frozenset())
    straight = _narrow(jet)
    hits: list[tuple[float, str]] = []
    for solid, _, shape in surveyed_where(job, INSIDE):
        at = straight.meets(shape, JET_FAR_MM, AT_HOLE_MM if solid.id in passed else 0.0)
        if at is not None:
            hits.append((at, solid.name))
    for wall in walls(job):
        at = straight.meets(wall.shape, JET_FAR_MM)
        if at is not None:
            hits.append((at, wall.name))
    return min(hits, default=(JET_FAR_MM, f"nothing within {q(JET_FAR_MM)}"))


@rule("air.outlet_free", "Free way in front of an outlet", "mm")
def not_blocked(job: Job, this: Rule) -> Iterator[Finding]:
    """An outlet that blows at a panel, a bed or a wall close by is throttled by it."""
    band = limit_band(job, "outlet_free_mm")
    if band is None:
        return
    for jet in jets(job):
        free, name = in_front_of(job, jet)
        yield this.finding(
            job,
            subject=jet.duct,
            subject_name=name,
            measured=free,
            band=band,
            title=f"In front of {jet.name}",
            sentence=f"{q(round(free))} from {jet.name} to {name}.",
            marks=(Mark(jet.at, jet.point(max(free, MARGIN_MM))),),
        )


def _narrow(jet: Jet) -> Jet:
    """The same, as narrow as the outlet: what stands beside the jet does not block it."""
    half = jet.bore_mm / 2
    return Jet(
        jet.duct, jet.name, jet.at, jet.along, half, jet.air_c, jet.room_c, 2 * jet.core, 0.0
    )
