"""Ways for the combustion air: short runs from its port, of which the shortest that every check lets pass are shown.

It ends at no edge of the vehicle, so there is nothing to search a grid for: every short run in sixteen directions is tried.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.checking import check
from gale_nook.core.derived import Derived
from gale_nook.core.edits.apply import apply
from gale_nook.core.edits.commands import TakeRun
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.registry import sheet_band
from gale_nook.core.geometry.frames import Vec3, add, angle_deg, norm, scale, sub
from gale_nook.core.geometry.route import route_geometry
from gale_nook.core.pipes.mouth_rules import FORWARD
from gale_nook.core.pipes.start import FILTER_MM
from gale_nook.core.pipes.supports import proposed_supports
from gale_nook.core.pipes.tubes import tube_of
from gale_nook.core.pipes.ways import Proposal, told
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.pipes import Fitting, Route, RouteNode

REACHES_MM = (160.0, 240.0, 340.0, 460.0, 620.0)
DROPS_MM = (0.0, 40.0, 90.0)  # more than the bend needs
FALLS_DEG = (5.0, 15.0)
DIRECTIONS = 16
DROP_COSTS = 2.0  # a millimetre down brings it nearer to spray and stones
PART = 48  # runs that are tried at a time
APART_MM = 250.0  # nearer mouths are one way
ROOM_FOR_FILTER_MM = 30.0
SHARED = ("pipes.tubes_apart", "pipes.mouths_apart", "pipes.mouths_facing")


@dataclass(frozen=True, slots=True)
class Run:
    """A run that may be tried: its corners after the port, and what it costs."""

    points: tuple[Vec3, ...]
    costs: float


def air_runs(derived: Derived) -> tuple[Run, ...]:
    """Return every run that may be tried, the cheapest first. Needs a heater in its place."""
    port, leaving = derived.port_point(derived.port("intake")), derived.leaving("intake")
    first_mm = _radius_mm(derived) + _least(derived, "first_straight_mm", 0.0) + derived.plan.settings.tolerance_mm + 5
    found = [
        Run((corner, add(corner, scale(way, reach))), first_mm + DROP_COSTS * more + reach)
        for more in DROPS_MM
        for corner in (add(port, scale(leaving, first_mm + more)),)
        for reach in REACHES_MM
        for way in _ways()
        if angle_deg(leaving, way) < 120 and _may_end(derived, add(corner, scale(way, reach)), way)
    ]
    return tuple(sorted(found, key=lambda run: run.costs))


def _ways() -> Iterator[Vec3]:
    for number in range(DIRECTIONS):
        turn = 2 * math.pi * number / DIRECTIONS
        for fall in FALLS_DEG:
            slope = math.radians(fall)
            yield (math.cos(turn) * math.cos(slope), math.sin(turn) * math.cos(slope), -math.sin(slope))


def _may_end(derived: Derived, mouth: Vec3, way: Vec3) -> bool:
    """What can be said of a mouth before the checks are asked."""
    if angle_deg(way, FORWARD) < _least(derived, "intake_forward_deg", 0.0):
        return False
    exhaust = derived.exhaust
    if exhaust is None:
        return True
    apart = _least(derived, "mouths_apart_mm", 0.0) <= norm(sub(mouth, exhaust.mouth))
    turned = angle_deg(exhaust.mouth_direction, sub(mouth, exhaust.mouth)) >= _least(derived, "mouths_facing_deg", 0.0)
    return apart and turned


def air_parts(runs: tuple[Run, ...]) -> int:
    """Return how many parts the runs are tried in."""
    return math.ceil(len(runs) / PART)


def air_way(derived: Derived, runs: tuple[Run, ...], part: int, avoid: tuple[Vec3, ...] = ()) -> Proposal | None:
    """Return the cheapest run of one part that every check lets pass, away from mouths that were found before."""
    for run in runs[part * PART : (part + 1) * PART]:
        if any(norm(sub(run.points[-1], other)) < APART_MM for other in avoid):
            continue
        plan = _fitted(derived, run)
        if plan is not None and not _over(plan, derived):
            return told(plan, derived, "intake", _where(derived, run.points[-1]))
    return None


def air_ways(derived: Derived) -> Iterator[Proposal]:
    """Yield up to three ways, of which no two end near one another."""
    runs = air_runs(derived)
    mouths: tuple[Vec3, ...] = ()
    for part in range(air_parts(runs)):
        while len(mouths) < 3:
            way = air_way(derived, runs, part, mouths)
            if way is None:
                break
            mouths = (*mouths, way.mouth)
            yield way


def what_stops_air(derived: Derived, runs: tuple[Run, ...]) -> str:
    """Return what is over on the run that breaks the fewest limits, of a sample of all that were tried."""
    if not runs:
        return "Every direction from the combustion air's port points forward or at the exhaust's mouth: move that mouth first."
    tried = (_fitted(derived, run) for run in runs[:: max(len(runs) // PART, 1)])
    over = [_over(plan, derived) for plan in tried if plan is not None]
    least = min(over, key=lambda findings: (len(findings), -min(f.margin or 0.0 for f in findings)), default=[])
    words = " ".join(finding.sentence for finding in least[:3])
    count = f"{len(least)} limit{'' if len(least) == 1 else 's'}"
    return f"No short run from the combustion air's port keeps to every limit; the best one breaks {count}. {words}"


def _fitted(derived: Derived, run: Run) -> Plan | None:
    """The plan with a run that has its filter and supports; None where the filter finds no room on it."""
    radius = _radius_mm(derived)
    nodes = tuple(
        RouteNode(id=f"n-{number}", x_mm=round(x), y_mm=round(y), z_mm=math.floor(z), radius_mm=radius)
        for number, (x, y, z) in enumerate(run.points, 1)
    )
    fittings: tuple[Fitting, ...] = ()
    if derived.plan.pipes.filter == "expected":
        port = derived.port_point(derived.port("intake"))
        geometry = route_geometry(port, derived.leaving("intake"), [(p, radius) for p in run.points])
        at = geometry.length_mm - FILTER_MM - ROOM_FOR_FILTER_MM
        if geometry.straights[-1].room_mm < FILTER_MM + ROOM_FOR_FILTER_MM:
            return None
        fittings = (Fitting(id="filter", kind="filter", at_mm=float(math.floor(at)), length_mm=FILTER_MM),)
    plan = _taken(derived, Route(nodes=nodes, fittings=fittings))
    spacing = sheet_band(derived, "support_spacing_mm")
    if spacing is None or spacing.maximum is None:
        return plan
    supports = proposed_supports(Derived(plan, derived.catalogue, derived), "intake", spacing.maximum)
    return _taken(derived, Route(nodes=nodes, fittings=(*fittings, *supports))) if supports else plan


def _taken(derived: Derived, route: Route) -> Plan:
    return apply(derived.plan, TakeRun(tube="intake", route=route), derived.catalogue)


def _over(plan: Plan, derived: Derived) -> list[Finding]:
    found = check(plan, derived.catalogue, ("pipes",), derived).findings
    return [f for f in found if f.verdict is Verdict.OVER and (tube_of(f.rule) == "intake" or f.rule in SHARED)]


def _where(derived: Derived, mouth: Vec3) -> str:
    """Which way a mouth lies from the port, in words."""
    x, y, _ = derived.port_point(derived.port("intake"))
    dx, dy = mouth[0] - x, mouth[1] - y
    parts = [word for word, value in (("rearward", dx), ("forward", -dx), ("to the right", dy), ("to the left", -dy))
             if value > 0.38 * math.hypot(dx, dy)]  # fmt: skip
    return " and ".join(parts)


def _radius_mm(derived: Derived) -> float:
    return _least(derived, "intake_radius_mm", 40.0) + 5.0


def _least(derived: Derived, name: str, otherwise: float) -> float:
    band = sheet_band(derived, name)
    return band.minimum if band is not None and band.minimum is not None else otherwise
