"""The duct tree as it lies: every duct with its line, and the pieces that flow and heat are worked
out in.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from fluids.fittings import bend_rounded, contraction_sharp, diffuser_sharp
from fluids.friction import ft_Crane

from gale_nook.core.catalogue.air import DuctKind
from gale_nook.core.ducts.ends import cold_end, warm_end
from gale_nook.core.ducts.places import place_of
from gale_nook.core.geometry.frames import Vec3, norm, sub, unit
from gale_nook.core.geometry.route import RouteGeometry, route_geometry
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.air import Duct

PIECE_MM = 500.0  # pieces are no longer than this
ALONG_MM = 100.0  # where a duct passes from one zone into another is looked for in such steps
TURNS_DEG = 1.0  # less is no bend
FULL_TURN_DEG = 179.0


@dataclass(frozen=True)
class DuctRun:
    """A duct as it lies.

    Attributes:
        geometry: from where it begins to its outlet or splitter.
    """

    duct: Duct
    kind: DuctKind
    geometry: RouteGeometry

    @property
    def length_mm(self) -> float:
        return self.geometry.length_mm


@dataclass(frozen=True, slots=True)
class Piece:
    """A piece of a duct: how long it is, what its bend or fitting costs in velocity heads, in whose
    air it lies, and how many layers of lagging it has.
    """

    from_mm: float
    length_mm: float
    loss_k: float
    place: str
    layers: int


@fact
def duct_runs(job: Job) -> tuple[DuctRun, ...]:
    """Return the ducts of the tree, each after the one that it comes from; none without a place for
    the heater.
    """
    start = warm_end(job)
    if start is None:
        return ()
    runs: dict[str, DuctRun] = {}
    waiting = list(job.plan.air.ducts)
    while waiting:
        ready = [d for d in waiting if d.comes_from is None or d.comes_from in runs]
        for duct in ready:
            runs[duct.id] = _run(job, duct, _begins(runs, duct, start))
            waiting.remove(duct)
    return tuple(runs.values())


@fact
def return_run(job: Job) -> DuctRun | None:
    """Return the duct that brings air to the inlet, drawn from the heater outwards; None without
    one.
    """
    start, duct = cold_end(job), job.plan.air.return_duct
    if start is None or duct is None or job.plan.air.cold_end != "duct":
        return None
    return _run(job, duct, start)


def run_of(job: Job, duct_id: str) -> DuctRun | None:
    """Return a duct's run by its id."""
    return next((run for run in duct_runs(job) if run.duct.id == duct_id), None)


def _begins(
    runs: dict[str, DuctRun], duct: Duct, heater: tuple[Vec3, Vec3]
) -> tuple[Vec3, Vec3 | None]:
    """Where a duct begins and which way; a branch is turned the way that its duct goes."""
    if duct.comes_from is None:
        return heater
    before = runs[duct.comes_from]
    branches = before.duct.splitter is not None and duct.leg == "branch"
    return before.geometry.mouth, None if branches else before.geometry.mouth_direction


def _run(job: Job, duct: Duct, begins: tuple[Vec3, Vec3 | None]) -> DuctRun:
    start, leaving = begins
    nodes = [((n.x_mm, n.y_mm, n.z_mm), n.radius_mm) for n in duct.nodes]
    away = sub(nodes[0][0], start)
    ahead = unit(away) if norm(away) > 1e-6 else (1.0, 0.0, 0.0)
    geometry = route_geometry(start, leaving if leaving is not None else ahead, nodes)
    return DuctRun(duct, job.catalogue.air_equipment.duct(duct.kind), geometry)


def pieces_of(job: Job, run: DuctRun) -> Iterator[Piece]:
    """Yield a duct's pieces from its start on: cut where lagging begins or ends, where it passes
    from one zone into another, and no longer than PIECE_MM. Bends cost where they lie.
    """
    edges = _edges(job, run)
    bends = list(bend_losses(run))
    for start, end in itertools.pairwise(edges):
        middle = (start + end) / 2
        layers = sum(
            part.layers
            for part in run.duct.of_kind("lagging")
            if part.at_mm <= middle < part.end_mm
        )
        last = end == edges[-1]
        cost = sum(k for at, k in bends if start <= at < end or (last and at >= end))
        place = place_of(job, run.geometry.point_at(middle))
        yield Piece(start, end - start, cost, place, layers)


def _edges(job: Job, run: DuctRun) -> list[float]:
    length = run.length_mm
    marks = {0.0, length}
    for part in run.duct.of_kind("lagging"):
        marks |= {min(part.at_mm, length), min(part.end_mm, length)}
    if job.plan.air.zones or any(point[2] < 0 for point in run.geometry.points):
        marks |= set(_crossings(job, run))
    ordered = sorted(marks)
    edges = [ordered[0]]
    for start, end in itertools.pairwise(ordered):
        count = max(1, math.ceil((end - start) / PIECE_MM))
        edges += [start + (end - start) * step / count for step in range(1, count + 1)]
    return edges


def _crossings(job: Job, run: DuctRun) -> Iterator[float]:
    """Yield where a duct passes into another zone, to within ALONG_MM / 8."""
    count = max(1, math.ceil(run.length_mm / ALONG_MM))
    at = [run.length_mm * step / count for step in range(count + 1)]
    places = [place_of(job, run.geometry.point_at(mm)) for mm in at]
    for index in range(count):
        low, high = at[index], at[index + 1]
        if places[index] == places[index + 1]:
            continue
        for _ in range(3):
            middle = (low + high) / 2
            same = place_of(job, run.geometry.point_at(middle)) == places[index]
            low, high = (middle, high) if same else (low, middle)
        yield (low + high) / 2


def bend_losses(run: DuctRun) -> Iterator[tuple[float, float]]:
    """Yield (distance from the start, loss in velocity heads) of every bend; a turn right at the
    start counts as one of the least radius.
    """
    at_start, kind = run.geometry.port_angle_deg, run.kind
    if at_start > TURNS_DEG:
        yield 0.0, bend_k(kind.bore_mm, at_start, kind.least_radius_mm, kind.roughness_mm)
    places = dict(run.geometry.stations_mm)
    for bend in run.geometry.bends:
        if bend.angle_deg > TURNS_DEG:
            k = bend_k(kind.bore_mm, bend.angle_deg, bend.radius_mm, kind.roughness_mm)
            yield places[f"bend {bend.corner}"], k


@lru_cache(maxsize=4096)
def bend_k(bore_mm: float, angle_deg: float, radius_mm: float, roughness_mm: float) -> float:
    """Return the loss of a bend over and above the length of its arc's wall, in velocity heads.

    Rennels' law with the friction factor of fully rough flow, so that it does not depend on the
    flow; less the friction of the arc, which counts as duct. Never less than nothing.

    Source: D. C. Rennels, Pipe Flow, chapter 15, by the library `fluids`.
    """
    angle = min(angle_deg, FULL_TURN_DEG)
    ratio = max(radius_mm, 0.5 * bore_mm) / bore_mm
    factor = (
        4 * float(ft_Crane(bore_mm / 1000))
        if roughness_mm <= 0
        else rough_factor(roughness_mm / bore_mm)
    )
    whole = bend_rounded(
        Di=bore_mm / 1000, angle=angle, fd=factor, bend_diameters=ratio, method="Rennels"
    )
    return max(float(whole) - factor * math.radians(angle) * ratio, 0.0)


def rough_factor(relative_roughness: float) -> float:
    """Return the friction factor of fully rough flow. Source: J. Nikuradse, VDI-Forschungsheft 361,
    1933.

    >>> round(rough_factor(0.01), 4)
    0.0379
    """
    return (2 * math.log10(3.7 / relative_roughness)) ** -2


@lru_cache(maxsize=1024)
def reducer_k(from_mm: float, to_mm: float) -> float:
    """Return the loss of a step from one bore to another, in velocity heads of the bore after it.

    Sharp-edged, which a short adapter is about. Source: D. C. Rennels, Pipe Flow, chapters 10 and
    11, by the library `fluids`.
    """
    if abs(from_mm - to_mm) < 0.5:
        return 0.0
    if to_mm < from_mm:
        return float(contraction_sharp(from_mm / 1000, to_mm / 1000))
    return float(diffuser_sharp(from_mm / 1000, to_mm / 1000)) * (to_mm / from_mm) ** 4
