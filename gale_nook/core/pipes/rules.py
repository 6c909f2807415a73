"""Checks of the exhaust run: length, bends, falls, low points, and distances."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from gale_nook.core.catalogue import SolidKind
from gale_nook.core.derived import Derived
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import Candidate, nearest_first, worst_and_nearest
from gale_nook.core.findings.registry import Rule, rule, sheet_band
from gale_nook.core.geometry.route import Straight
from gale_nook.core.geometry.shapes import Shape, least_separations_mm, separation
from gale_nook.core.pipes import mouth_rules, remedies  # noqa: F401 - they register themselves
from gale_nook.core.pipes.tilt import WorstFall, worst_falls
from gale_nook.core.plan.vehicle import Solid
from gale_nook.core.quantities.said import q

STEEP_DEG = 45.0  # steeper straights drain whatever their limit says


@rule("pipes.run", "An exhaust run", "mm", hazard="fumes")
def run_drawn(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Without a run there is nothing to check."""
    if derived.exhaust is not None:
        return
    ready = derived.plan.spot is not None and derived.mount is not None
    yield this.finding(
        derived, measured=None, band=Band(None, None, Whose.GEOMETRY, source="the plan"),
        sentence="The exhaust has no run yet. Start one at the port and lead it to the vehicle's edge." if ready
        else "The exhaust starts at the heater's port: choose a heater and a spot first.",
    )  # fmt: skip


@rule("pipes.length", "Length of the exhaust", "mm")
def length_in_band(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Too long or too short: the burner's air is wrong either way."""
    run, band = derived.exhaust, sheet_band(derived, "exhaust_length_mm")
    if run is not None and band is not None:
        yield this.finding(
            derived, measured=run.length_mm, band=band, subject="exhaust", subject_name="exhaust",
            sentence=f"{q(run.length_mm)} along the centre line, from the port to the mouth.",
        )  # fmt: skip


@rule("pipes.bends", "Sum of the bends", "deg")
def bend_sum(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Every bend adds back-pressure."""
    run, band = derived.exhaust, sheet_band(derived, "exhaust_bend_sum_deg")
    if run is not None and band is not None:
        count = len(run.bends) + (1 if run.port_angle_deg > 1e-6 else 0)
        yield this.finding(
            derived, measured=run.bend_sum_deg, band=band, subject="exhaust", subject_name="exhaust",
            sentence=f"{q(run.bend_sum_deg, 'deg')} in {count} bends, the turn at the port included.",
        )  # fmt: skip


@rule("pipes.radius", "Bend radius", "mm")
def bend_radii(derived: Derived, this: Rule) -> Iterator[Finding]:
    """A tighter bend kinks the pipe."""
    run, band, route = derived.exhaust, sheet_band(derived, "exhaust_radius_mm"), derived.plan.pipes.exhaust
    if run is None or band is None or route is None:
        return
    for bend in run.bends:
        node = route.nodes[bend.corner - 1]
        yield this.finding(
            derived, subject=node.id, subject_name=f"bend {bend.corner}", measured=bend.radius_mm, band=band,
            title=f"Radius of bend {bend.corner}", tolerance=0.0,
            sentence=f"Bend {bend.corner} turns {q(bend.angle_deg, 'deg')} at a radius of {q(bend.radius_mm)}.",
            marks=(Mark(run.points[bend.corner], run.points[bend.corner]),),
        )  # fmt: skip


@rule("pipes.bend_room", "Room for the bends", "mm")
def bends_fit(derived: Derived, this: Rule) -> Iterator[Finding]:
    """The bends at both ends of a straight must fit into it."""
    run, band = derived.exhaust, sheet_band(derived, "bend_room_mm")
    if run is None or band is None:
        return
    own = Band(band.minimum, band.maximum, Whose.GEOMETRY, band.name, band.source)
    found = [
        this.finding(
            derived, subject=_straight_id(derived, straight), subject_name=_straight_name(straight), measured=straight.room_mm,
            band=own, title=f"Room on {_straight_name(straight)}", sentence=_room_words(straight),
            marks=(Mark(straight.start, straight.end),),
        )
        for straight in run.straights
    ]  # fmt: skip
    yield from worst_and_nearest(found, 1)


def _room_words(straight: Straight) -> str:
    name = _straight_name(straight)
    if straight.room_mm < 0:
        return f"The bends on {name} need {q(-straight.room_mm)} more than it has."
    return f"{q(straight.room_mm)} of {name} is left straight between its bends."


@rule("pipes.fall", "Fall", "deg")
def falls(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Every straight falls towards the mouth, so that condensate runs out."""
    run, band = derived.exhaust, sheet_band(derived, "exhaust_fall_deg")
    if run is None or band is None:
        return
    for straight in run.straights:
        way = "falls" if straight.fall_deg >= 0 else "rises"
        tolerance = 0.0 if straight.fall_deg > STEEP_DEG else None
        yield this.finding(
            derived, subject=_straight_id(derived, straight), subject_name=_straight_name(straight),
            measured=straight.fall_deg, band=band, title=f"Fall of {_straight_name(straight)}", tolerance=tolerance,
            sentence=f"It {way} {q(abs(straight.drop_mm))} over {q(straight.length_mm)}, {q(abs(straight.fall_deg), 'deg')}.",
            marks=(Mark(straight.start, straight.end),),
        )  # fmt: skip


@rule("pipes.back_pressure", "Back-pressure of the exhaust", "Pa")
def back_pressure(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Too much and the burner runs rich and soots: friction, bends, silencer and mouth at the gas's own density."""
    band = sheet_band(derived, "exhaust_back_pressure_pa")
    gas = derived.gas if band is not None else None
    if band is None or gas is None:
        return
    worst = max(gas.pieces, key=lambda piece: piece.drop_pa)
    yield this.finding(
        derived, subject="exhaust", subject_name="exhaust", measured=gas.back_pressure_pa, band=band,
        tolerance=0.05 * (band.maximum or 0.0),
        sentence=f"{gas.back_pressure_pa:.0f} Pa at most output; the {worst.name} costs the most of it, {worst.drop_pa:.0f} Pa.",
    )  # fmt: skip


@rule("pipes.parked", "Fall as parked", "deg")
def falls_as_parked(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Few places are level: every straight still drains with the vehicle askew, or into a drain hole."""
    run, route, tilt = derived.exhaust, derived.plan.pipes.exhaust, derived.plan.settings.parked_tilt_deg
    if run is None or route is None:
        return
    band = Band(0.0, None, Whose.WORKSHOP, "parked", f"workshop rule 13: it drains when parked {tilt:g}° askew")
    found = []
    for worst in worst_falls(run, tilt):  # what rises even level is dimensioned by `pipes.fall`
        straight, at = worst.straight, worst.straight.index
        drained = worst.fall_deg < 0 and at > 0 and route.nodes[at - 1].drain
        found.append(this.finding(
            derived, subject=_straight_id(derived, straight), subject_name=_straight_name(straight),
            measured=0.0 if drained else worst.fall_deg, band=band, tolerance=0.0, title=f"Fall of {_straight_name(straight)} as parked",
            sentence=_parked_words(worst, tilt, drained), marks=(Mark(straight.start, straight.end),) if straight.fall_deg >= 0 else (),
        ))  # fmt: skip
    yield from worst_and_nearest(found, 1)


def _parked_words(worst: WorstFall, tilt_deg: float, drained: bool) -> str:
    askew = f"Parked {q(tilt_deg, 'deg')} {worst.parked.name}, it"
    if worst.fall_deg >= 0:
        return f"{askew} still falls {q(worst.fall_deg, 'deg')}."
    after = "what gathers leaves by the drain hole before it" if drained else "water stands before it"
    return f"{askew} rises {q(-worst.fall_deg, 'deg')}: {after}."


@rule("pipes.low_point", "Low point", "count")
def low_points(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Where the run rises again water stands; it needs a drain there."""
    run, route = derived.exhaust, derived.plan.pipes.exhaust
    if run is None or route is None:
        return
    for corner in run.low_corners:
        node = route.nodes[corner - 1]
        yield this.finding(
            derived, subject=node.id, subject_name=f"bend {corner}", measured=0.0 if node.drain else 1.0, tolerance=0.0,
            band=Band(None, 0.0, Whose.WORKSHOP, "low_point", "workshop rule 12: no undrained low point"),
            title=f"Low point at bend {corner}",
            sentence=f"Water stands at bend {corner}; " + ("a drain hole is planned there." if node.drain else "there is no drain."),
            marks=(Mark(run.points[corner], run.points[corner]),),
        )  # fmt: skip


@rule("pipes.clearance", "Exhaust to its neighbours", "mm")
def neighbours(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Distance from the exhaust's skin to each surveyed part, through the suspension's travel."""
    shape = derived.exhaust_shape
    if shape is None:
        return
    parts = [
        (solid, kind, other) for solid, kind, other in derived.solids_where("below") if kind.exhaust_mm is not None
    ]
    least = least_separations_mm(shape, [other for _, _, other in parts])
    looks = (
        Candidate(gap - (part[1].exhaust_mm or 0.0), partial(_neighbour, derived, this, shape, part))
        for gap, part in zip(least, parts, strict=True)
    )
    yield from nearest_first(looks, derived.tolerance("mm"), 3)


def _neighbour(derived: Derived, this: Rule, exhaust: Shape, part: tuple[Solid, SolidKind, Shape]) -> Finding:
    solid, kind, other = part
    near = separation(exhaust, other)
    words = f"{q(near.distance_mm)} from the exhaust's skin to {solid.name}."
    if near.distance_mm < 0:
        words = f"The exhaust runs {q(-near.distance_mm)} into {solid.name}."
    return this.finding(
        derived, subject=solid.id, subject_name=solid.name, measured=near.distance_mm, hazard=kind.hazard,
        band=Band(kind.exhaust_mm, None, Whose.WORKSHOP, "exhaust_mm", f"{kind.label}: {kind.source}"),
        title=f"Exhaust to {solid.name}", sentence=words, marks=(Mark(near.start, near.end),),
    )  # fmt: skip


@rule("pipes.ground", "Above the ground", "mm")
def above_ground(derived: Derived, this: Rule) -> Iterator[Finding]:
    """Nothing of the exhaust hangs so low that a kerb takes it off."""
    run, shape, band = derived.exhaust, derived.exhaust_shape, sheet_band(derived, "exhaust_ground_mm")
    if run is None or shape is None or band is None:
        return
    ground = derived.plan.vehicle.shell.ground_z_mm
    lowest = min(run.points, key=lambda point: point[2])
    gap = shape.low_z_mm - ground
    yield this.finding(
        derived, subject="exhaust", subject_name="the ground", measured=gap, band=band, title="Exhaust above the ground",
        sentence=f"The lowest part of the exhaust is {q(gap)} above the ground.",
        marks=(Mark(lowest, (lowest[0], lowest[1], ground)),),
    )  # fmt: skip


@rule("pipes.floor", "Below the floor", "mm", hazard="fumes")
def below_floor(derived: Derived, this: Rule) -> Iterator[Finding]:
    """The run stays under the floor, clear of it: never inside, never touching timber."""
    run, band, sheet = derived.exhaust, sheet_band(derived, "exhaust_floor_mm"), derived.sheet
    if run is None or band is None or sheet is None:
        return
    shell = derived.plan.vehicle.shell
    half = shell.outer_width_mm / 2
    under = [p for p in run.points[1:] if shell.front_x_mm <= p[0] <= shell.rear_x_mm and abs(p[1]) <= half]
    highest = max(under or run.points[1:], key=lambda point: point[2])
    gap = derived.underside_z_mm - highest[2] - sheet.exhaust.diameter_mm / 2
    yield this.finding(
        derived, subject="exhaust", subject_name="the floor", measured=gap, band=band, title="Exhaust below the floor",
        sentence=f"{q(gap)} between the floor's underside and the exhaust where it is highest." if gap >= 0
        else f"The exhaust rises {q(-gap)} into or above the floor: fumes would get into the cabin.",
        marks=(Mark((highest[0], highest[1], derived.underside_z_mm), highest),),
    )  # fmt: skip


def _straight_id(derived: Derived, straight: Straight) -> str:
    route = derived.plan.pipes.exhaust
    return route.nodes[straight.index].id if route is not None else str(straight.index)


def _straight_name(straight: Straight) -> str:
    return f"straight {straight.index + 1}"
