"""Checks of what is near the pipes: gaps by kind, heat, the floor above and the ground below, the
two pipes themselves.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from functools import partial
from itertools import pairwise

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import Candidate, nearest_first, worst_and_nearest
from gale_nook.core.findings.rule import Rule, rule, tolerance_of
from gale_nook.core.geometry.frames import Vec3, sub, unit
from gale_nook.core.geometry.shapes import Shape, least_separations_mm, separation
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.covers import CoverSegment, cover_segments
from gale_nook.core.pipes.gas import AlongPipe, GasRun, exhaust_gas
from gale_nook.core.pipes.inside import inside_stretches, is_allowed
from gale_nook.core.pipes.panels import passed, ring_mm
from gale_nook.core.pipes.runs import pipe_run, pipe_shape
from gale_nook.core.pipes.tubes import BOTH, tube_of
from gale_nook.core.pipes.warmth import neighbour_c, shielded_c
from gale_nook.core.plan.pipes import Fitting, Tube
from gale_nook.core.plan.solids import Solid
from gale_nook.core.plan.vehicle import Shell
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.floor import edge_crossings, underside_at_mm
from gale_nook.core.vehicle.inside import within_shell
from gale_nook.core.vehicle.parts import surveyed_where

WARMED_MM = 400.0  # what is farther from the skin is not looked at for heat
TITLES: dict[Tube, str] = {"exhaust": "Exhaust", "intake": "Combustion air"}
Part = tuple[Solid, SolidKind, Shape]


def outside_parts(job: Job) -> list[Part]:
    """Return the surveyed parts that the burner's pipes can meet."""
    return [
        part for where in ("below", "outside", "engine-bay") for part in surveyed_where(job, where)
    ]


@rule("pipes.clearance", "Exhaust to its neighbours", "mm", run="exhaust")
def neighbours(job: Job, this: Rule) -> Iterator[Finding]:
    """Distance from the exhaust's skin to each surveyed part, through the suspension's travel."""
    through = passed(job, "exhaust")
    parts = [
        part
        for part in outside_parts(job)
        if part[1].exhaust_mm is not None and part[0].id not in through
    ]
    looks = []
    for stretch in cover_segments(job):
        least = least_separations_mm(stretch.shape, [part[2] for part in parts])
        looks += [
            Candidate(gap - gap_mm(part[1], stretch), partial(_neighbour, job, this, stretch, part))
            for gap, part in zip(least, parts, strict=True)
        ]
    yield from _worst_of_each(nearest_first(looks, tolerance_of(job, "mm"), 3))
    yield from _passages(job, this, "exhaust", through)


def _passages(job: Job, this: Rule, tube: Tube, through: dict[str, Fitting]) -> Iterator[Finding]:
    """What a bulkhead fitting keeps between the pipe and the edge of the panel that it passes."""
    ring, run = ring_mm(job, tube), pipe_run(job, tube)
    for solid, kind, _ in outside_parts(job):
        fitting = through.get(solid.id)
        if fitting is None or run is None:
            continue
        wanted = _passed_gap_mm(kind) if tube == "exhaust" else kind.intake_mm
        limit = "covered_mm" if tube == "exhaust" else "intake_mm"
        at, title = run.point_at(fitting.at_mm + fitting.length_mm / 2), TITLES[tube]
        yield this.finding(
            job,
            subject=solid.id,
            subject_name=solid.name,
            measured=ring,
            hazard=kind.hazard,
            title=f"{title} to {solid.name}",
            band=Band(wanted, None, Whose.WORKSHOP, limit, f"{kind.label}: {kind.source}"),
            tolerance=0.0,
            sentence=(
                f"It passes through {solid.name} in a bulkhead fitting that keeps {q(ring)} "
                "to the edge."
            ),
            marks=(Mark(at, at),),
        )


def _passed_gap_mm(kind: SolidKind) -> float:
    return kind.covered_mm if kind.covered_mm is not None else kind.exhaust_mm or 0.0


def gap_mm(kind: SolidKind, stretch: CoverSegment) -> float:
    """Return the gap to be kept between a kind of part and a stretch of exhaust under its cover."""
    return _passed_gap_mm(kind) if stretch.is_covered else kind.exhaust_mm or 0.0


def _worst_of_each(findings: Iterator[Finding]) -> Iterator[Finding]:
    """Yield the finding with the least margin for each subject: a part is near several stretches at
    once.
    """
    worst: dict[str, Finding] = {}
    for finding in findings:
        known = worst.get(finding.subject)
        if known is None or (finding.margin or 0.0) < (known.margin or 0.0):
            worst[finding.subject] = finding
    yield from worst.values()


def _neighbour(job: Job, this: Rule, stretch: CoverSegment, part: Part) -> Finding:
    solid, kind, other = part
    near = separation(stretch.shape, other)
    skin = "the exhaust's skin" if not stretch.is_covered else f"the exhaust, {stretch.words} here,"
    words = f"{q(near.distance_mm)} from {skin} to {solid.name}."
    if near.distance_mm < 0:
        words = f"The exhaust runs {q(-near.distance_mm)} into {solid.name}."
    return this.finding(
        job,
        subject=solid.id,
        subject_name=solid.name,
        measured=near.distance_mm,
        hazard=kind.hazard,
        band=Band(
            gap_mm(kind, stretch),
            None,
            Whose.WORKSHOP,
            "exhaust_mm",
            f"{kind.label}: {kind.source}",
        ),
        title=f"Exhaust to {solid.name}",
        sentence=words,
        marks=(Mark(near.start, near.end),),
    )


@rule("pipes.heat", "Heat of the exhaust on its neighbours", "C", hazard="fire", run="exhaust")
def heat_on_neighbours(job: Job, this: Rule) -> Iterator[Finding]:
    """How warm the exhaust makes what heat harms, at most output on a warm day in still air."""
    gas = exhaust_gas(job, job.catalogue.pipe_physics.warm_day_c)
    if gas is None:
        return
    through = passed(job, "exhaust")
    parts = [
        part
        for part in outside_parts(job)
        if part[1].heat_c is not None and part[0].id not in through
    ]
    looks = []
    for stretch in cover_segments(job):
        hottest = max(place.skin_c for place in _along(gas, stretch))
        for gap, part in zip(
            least_separations_mm(stretch.shape, [p[2] for p in parts]), parts, strict=True
        ):
            if gap <= WARMED_MM:
                at_most = _warm_c(job, stretch, hottest, gap)
                look = partial(_warmed, job, this, stretch, part)
                looks.append(Candidate((part[1].heat_c or 0.0) - at_most, look))
    # a part is near several stretches at once: two of each kept, so that two parts are left
    yield from worst_and_nearest(_worst_of_each(nearest_first(looks, tolerance_of(job, "C"), 4)), 2)
    yield from _warmed_edges(job, this, gas, through)


def _warmed_edges(
    job: Job, this: Rule, gas: GasRun, through: dict[str, Fitting]
) -> Iterator[Finding]:
    """The edge of a panel round a bulkhead fitting: its bright sleeve stands between."""
    works = job.catalogue.pipe_physics
    ring = ring_mm(job, "exhaust")
    run = pipe_run(job, "exhaust")
    for solid, kind, _ in outside_parts(job):
        fitting = through.get(solid.id)
        if fitting is None or kind.heat_c is None or run is None:
            continue
        middle = fitting.at_mm + fitting.length_mm / 2
        skin, at = gas.at(middle).skin_c, run.point_at(middle)
        celsius = shielded_c(
            skin, heater_port(job, "exhaust").diameter_mm, ring, works.warm_day_c, works
        )
        yield this.finding(
            job,
            subject=solid.id,
            subject_name=solid.name,
            measured=celsius,
            title=f"Heat on {solid.name}",
            marks=(Mark(at, at),),
            band=_stands(kind),
            sentence=(
                f"{solid.name} gets up to {q(celsius, 'c')} round its bulkhead fitting, "
                f"{q(ring)} from a skin of {q(skin, 'c')}."
            ),
        )


def _stands(kind: SolidKind) -> Band:
    source = f"{kind.label}: what it stands for good, {kind.source}"
    return Band(None, kind.heat_c, Whose.WORKSHOP, "heat_c", source)


def _warmed(job: Job, this: Rule, stretch: CoverSegment, part: Part) -> Finding:
    solid, kind, other = part
    near = separation(stretch.shape, other)
    skin, celsius = warmed_c(job, stretch, near.distance_mm, near.start)
    gap = q(max(near.distance_mm, 0.0))
    return this.finding(
        job,
        subject=solid.id,
        subject_name=solid.name,
        measured=celsius,
        title=f"Heat on {solid.name}",
        band=_stands(kind),
        sentence=(
            f"{solid.name} gets up to {q(celsius, 'c')}, {gap} from a {stretch.words} "
            "skin of "
            f"{q(skin, 'c')}."
        ),
        marks=(Mark(near.start, near.end),),
    )


def warmed_c(
    job: Job, stretch: CoverSegment, gap: float, at: tuple[float, float, float]
) -> tuple[float, float]:
    """Return the skin's temperature next to a point, and what a neighbour at a gap from it gets to,
    on a warm day.
    """
    works, run = job.catalogue.pipe_physics, pipe_run(job, "exhaust")
    gas = exhaust_gas(job, works.warm_day_c)
    if gas is None or run is None:
        return works.warm_day_c, works.warm_day_c
    where = min(max(run.distance_of(at), stretch.from_mm), stretch.to_mm)
    skin = min(_along(gas, stretch), key=lambda place: abs(place.distance_mm - where)).skin_c
    return skin, _warm_c(job, stretch, skin, gap)


def _along(gas: GasRun, stretch: CoverSegment) -> Sequence[AlongPipe]:
    """The places of the gas along a stretch."""
    within = [place for place in gas.along if stretch.from_mm < place.distance_mm <= stretch.to_mm]
    return within or gas.along


def _warm_c(job: Job, stretch: CoverSegment, skin: float, gap: float) -> float:
    """What a neighbour at a gap from a skin gets to behind a stretch's cover, on a warm day."""
    works = job.catalogue.pipe_physics
    warm = shielded_c if stretch.shielded else neighbour_c
    return warm(skin, stretch.diameter_mm, gap, works.warm_day_c, works)


@rule("pipes.clearance", "Combustion air to its neighbours", "mm", run="intake")
def air_neighbours(job: Job, this: Rule) -> Iterator[Finding]:
    """The combustion air's pipe does not chafe, and keeps from what moves and from what is hot."""
    shape = pipe_shape(job, "intake")
    if shape is None:
        return
    through = passed(job, "intake")
    parts = [part for part in outside_parts(job) if part[0].id not in through]
    least = least_separations_mm(shape, [part[2] for part in parts])
    looks = (
        Candidate(gap - part[1].intake_mm, partial(_air_neighbour, job, this, shape, part))
        for gap, part in zip(least, parts, strict=True)
    )
    yield from nearest_first(looks, tolerance_of(job, "mm"), 1)
    yield from _passages(job, this, "intake", through)


def _air_neighbour(job: Job, this: Rule, shape: Shape, part: Part) -> Finding:
    solid, kind, other = part
    near = separation(shape, other)
    words = f"{q(near.distance_mm)} from the combustion air's pipe to {solid.name}."
    if near.distance_mm < 0:
        words = f"The combustion air's pipe runs {q(-near.distance_mm)} into {solid.name}."
    return this.finding(
        job,
        subject=solid.id,
        subject_name=solid.name,
        measured=near.distance_mm,
        band=Band(
            kind.intake_mm, None, Whose.WORKSHOP, "intake_mm", f"{kind.label}: {kind.source}"
        ),
        title=f"Combustion air to {solid.name}",
        sentence=words,
        marks=(Mark(near.start, near.end),),
    )


@rule("pipes.tubes_apart", "Exhaust to the combustion air's pipe", "mm", hazard="fire", run=BOTH)
def pipes_apart(job: Job, this: Rule) -> Iterator[Finding]:
    """The hot pipe does not lie on the cool one."""
    cool, band = pipe_shape(job, "intake"), limit_band(job, "tubes_apart_mm")
    if cool is None or band is None or pipe_run(job, "exhaust") is None:
        return
    near = min(
        (separation(stretch.shape, cool) for stretch in cover_segments(job)),
        key=lambda found: found.distance_mm,
    )
    yield this.finding(
        job,
        subject="intake",
        subject_name="combustion air",
        measured=near.distance_mm,
        band=band,
        sentence=f"{q(near.distance_mm)} between the exhaust and the combustion air's pipe."
        if near.distance_mm >= 0
        else f"Exhaust and combustion air run {q(-near.distance_mm)} into each other.",
        marks=(Mark(near.start, near.end),),
    )


@rule("pipes.ground", "Above the ground", "mm", run="exhaust")
def above_ground(job: Job, this: Rule) -> Iterator[Finding]:
    """Nothing of the exhaust hangs so low that a kerb takes it off."""
    if job.plan.vehicle.afloat:
        return  # there is no ground: `pipes.water` looks at the water
    run = pipe_run(job, "exhaust")
    shape = pipe_shape(job, "exhaust")
    band = limit_band(job, "exhaust_ground_mm")
    if run is None or shape is None or band is None:
        return
    ground = job.plan.vehicle.shell.ground_z_mm
    lowest = min(run.points, key=lambda point: point[2])
    gap = shape.low_z_mm - ground
    yield this.finding(
        job,
        subject="exhaust",
        subject_name="the ground",
        measured=gap,
        band=band,
        title="Exhaust above the ground",
        sentence=f"The lowest part of the exhaust is {q(gap)} above the ground.",
        marks=(Mark(lowest, (lowest[0], lowest[1], ground)),),
    )


@rule("pipes.overhang", "Beyond the vehicle's side", "mm", run="exhaust")
def overhang(job: Job, this: Rule) -> Iterator[Finding]:
    """What stands out beside the vehicle is torn off in a gateway, or burns a leg."""
    run = pipe_run(job, "exhaust")
    band = limit_band(job, "exhaust_overhang_mm")
    shell = job.plan.vehicle.shell
    if run is None or band is None:
        return
    radius = heater_port(job, "exhaust").diameter_mm / 2
    edges = [
        _skin(start, end, at, radius) for start, end in pairwise(run.points) for at in (start, end)
    ]
    past = {
        point: max(abs(point[1]) - shell.outer_width_mm / 2, point[0] - shell.rear_x_mm)
        for skin in edges
        for point in skin
    }
    farthest = max(past, key=lambda point: past[point])
    gap = max(past[farthest], 0.0)
    yield this.finding(
        job,
        subject="exhaust",
        subject_name="the vehicle's side",
        measured=gap,
        band=band,
        marks=(Mark(farthest, farthest),),
        sentence=f"The exhaust stands out {q(gap)} beside the vehicle."
        if gap
        else "The exhaust does not stand out beside the vehicle.",
    )


def _skin(start: Vec3, end: Vec3, at: Vec3, radius_mm: float) -> tuple[Vec3, ...]:
    """The points of a pipe's skin round one of its ends that are farthest rearward, left and
    right.
    """
    along = unit(sub(end, start)) if start != end else (0.0, 0.0, -1.0)
    back, aside = (radius_mm * math.sqrt(max(1 - along[i] ** 2, 0.0)) for i in (0, 1))
    x, y, z = at
    return ((x + back, y, z), (x, y + aside, z), (x, y - aside, z))


def _floor_band(job: Job, tube: Tube) -> Band | None:
    if tube == "exhaust":
        return limit_band(job, "exhaust_floor_mm")
    return Band(0.0, None, Whose.GEOMETRY, "air_floor", "it breathes from outside")


@rule("pipes.floor", "Below the floor", "mm", hazard="fumes", run="exhaust")
@rule("pipes.floor", "Combustion air below the floor", "mm", run="intake")
def below_floor(job: Job, this: Rule) -> Iterator[Finding]:
    """The run stays under the floor, clear of it: gas never comes inside nor hot pipe to timber,
    and the burner breathes outside air.
    """
    tube, mount = tube_of(this), chosen_mount(job)
    run, band = pipe_run(job, tube), _floor_band(job, tube)
    if run is None or band is None or (is_allowed(job) and inside_stretches(job, tube)):
        return  # what runs inside by the job's own rule is looked at as that
    what = "exhaust" if tube == "exhaust" else "combustion air's pipe"
    points = [*run.points[1:], *edge_crossings(job, run.points)]
    under = [p for p in points if within_shell(job, p)]
    spared = mount is not None and mount.through != "floor"
    if spared and not under:
        yield _beside_floor(job, this, tube, band)
        return
    radius = heater_port(job, tube).diameter_mm / 2

    def underside_mm(point: Vec3) -> float:
        return underside_at_mm(job, point[0], point[1], radius)

    highest = max(under or points, key=lambda point: point[2] - underside_mm(point))
    underside = underside_mm(highest)
    gap = underside - highest[2] - radius
    inside = (
        "fumes would get into the cabin"
        if tube == "exhaust"
        else "it would breathe the cabin's air"
    )
    yield this.finding(
        job,
        subject=tube,
        subject_name="the floor",
        measured=gap,
        band=band,
        title=f"{what[0].upper()}{what[1:]} below the floor",
        sentence=f"{q(gap)} between the floor's underside and the {what} where it is highest."
        if gap >= 0
        else f"The {what} rises {q(-gap)} into or above the floor: {inside}.",
        marks=(Mark((highest[0], highest[1], underside), highest),),
    )


def _beside_floor(job: Job, this: Rule, tube: Tube, band: Band) -> Finding:
    """A run that never comes under the floor: from a wall or the engine bay it stays outside."""
    run, shell = pipe_run(job, tube), job.plan.vehicle.shell
    points = run.points if run is not None else ()
    away = {point: _outside_mm(shell, point) for point in points}
    nearest = min(points, key=lambda point: away[point])
    what = "exhaust" if tube == "exhaust" else "combustion air's pipe"
    return this.finding(
        job,
        subject=tube,
        subject_name="the cabin",
        measured=away[nearest],
        band=band,
        title=f"{what[0].upper()}{what[1:]} outside the cabin",
        sentence=(
            f"All of the {what} stays outside the cabin, {q(away[nearest])} from its outline "
            "or more."
        ),
        marks=(Mark(nearest, nearest),),
    )


def _outside_mm(shell: Shell, point: Vec3) -> float:
    """How far a point lies outside the cabin's outline in plan."""
    front = shell.firewall_x_mm if shell.firewall_x_mm is not None else shell.front_x_mm
    return max(
        abs(point[1]) - shell.outer_width_mm / 2, front - point[0], point[0] - shell.rear_x_mm
    )
