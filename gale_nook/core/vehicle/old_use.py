"""What goes through an opening that was there before: which of several ways does, and the room that
it has in it.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Remedy, Rule
from gale_nook.core.geometry.frames import Vec3, sub, unit
from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.old import OldOpening, OldUse
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.vehicle.old_openings import AXES, OVERLAP_MM, middle_of, room_mm

STEP_MM = 4.0
LEAST_ACROSS = 0.05  # a way flatter than so to the opening's plane counts as this
NOWHERE = -1e9


@dataclass(frozen=True, slots=True)
class Way:
    """A pipe, line, duct, hose or lead that may go through an opening.

    Attributes:
        outside_mm: its diameter, with its lagging.
        hangs_mm: so far from the opening's plane its start still counts as hanging in it.
    """

    name: str
    geometry: RouteGeometry
    outside_mm: float
    hangs_mm: float = 0.0


def passage(job: Job, opening: OldOpening, way: Way) -> tuple[float, float]:
    """Return where along a way it passes the plane of an opening with most room, and that room; of
    a way that never does the nearest place, and how far beside it (negative).

    A way that goes through askew is as much wider there as its cut by the plane is.
    """
    geometry, across = way.geometry, AXES[opening.face][2]
    plane = middle_of(job, opening)[across]
    best, before = (0.0, NOWHERE), geometry.point_at(0.0)
    if abs(before[across] - plane) <= way.hangs_mm:
        best = (0.0, room_mm(opening, before, way.outside_mm))
    count = max(int(geometry.length_mm / STEP_MM), 1)
    for n in range(1, count + 1):
        at_mm = geometry.length_mm * n / count
        point = geometry.point_at(at_mm)
        if (before[across] - plane) * (point[across] - plane) <= 0 and before != point:
            room = _room_between(opening, before, point, plane, way.outside_mm)
            best = max(best, (at_mm, room), key=lambda each: each[1])
        before = point
    if best[1] > NOWHERE:
        return best
    middle = middle_of(job, opening)
    near = geometry.distance_of(middle)
    away = max(abs(a) for a in sub(geometry.point_at(near), middle))
    return near, -away


def _room_between(
    opening: OldOpening, before: Vec3, point: Vec3, plane: float, outside_mm: float
) -> float:
    across = AXES[opening.face][2]
    step = sub(point, before)
    if step[across] == 0:  # it runs along the plane
        return room_mm(opening, point, outside_mm / LEAST_ACROSS)
    share = (plane - before[across]) / step[across]
    at = (before[0] + share * step[0], before[1] + share * step[1], before[2] + share * step[2])
    return room_mm(opening, at, outside_mm / max(abs(unit(step)[across]), LEAST_ACROSS))


def uses_of(
    job: Job, this: Rule, use: OldUse, ways: Iterable[Way], band: Band
) -> Iterator[Finding]:
    """Yield a finding for every opening that is said to be used so: the way with most room in it
    goes through, with room for its sleeve or grommet. Nothing while nothing of the kind is laid.
    """
    laid = tuple(ways)
    for opening in job.plan.vehicle.old_openings:
        if opening.use != use or not laid:
            continue
        way = max(laid, key=lambda each: passage(job, opening, each)[1])
        room = passage(job, opening, way)[1]
        words = (
            f"{q(round(room))} between {way.name} and its edge"
            if room >= 0
            else f"{way.name} passes {q(round(-room))} beside it"
        )
        at = middle_of(job, opening)
        yield this.finding(
            job,
            subject=opening.id,
            subject_name=opening.name,
            measured=room,
            band=band,
            tolerance=0.0,
            title=f"{capital(opening.name)}, used again",
            sentence=f"{capital(opening.name)}: {words}.",
            marks=(Mark(at, at),),
        )


def grommet_band(job: Job) -> Band:
    """Return the room that a grommet or a sleeve takes round what goes through."""
    return limit_band(job, "old_opening_room_mm") or Band(0.0, None, Whose.GEOMETRY)


def not_used(finding: Finding) -> Iterator[Remedy]:
    """Yield the remedy of an opening that what is laid goes past: it is closed."""
    if finding.measured is not None and finding.measured < -OVERLAP_MM:
        words = "Do not use it: close it with a plate, bedded in sealant and riveted."
        yield Remedy(words, set_value(f"vehicle.old_openings.{finding.subject}.use", "closed"))
