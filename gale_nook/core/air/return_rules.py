"""Checks of the way back: how large the openings are, where their air comes from, and whether warm
air is drawn straight in again.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from gale_nook.core.air.hot import jets
from gale_nook.core.ducts.convector import ducted_convector
from gale_nook.core.ducts.ends import cold_end
from gale_nook.core.ducts.layout import TIGHT_DIVIDERS, free_area_m2, layout
from gale_nook.core.ducts.passes import all_runs
from gale_nook.core.ducts.returns import return_openings
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import YES_NO, Remedy, Rule, remedy_for, rule
from gale_nook.core.fitted.usable import usable
from gale_nook.core.geometry.shapes import Shape, box_shape, separation, solid_shape
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.air import ReturnOpening
from gale_nook.core.plan.solids import BoxSolid, PanelOpening
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.spot.placement import body_corners
from gale_nook.core.vehicle.commands import AddPanelOpening
from gale_nook.core.vehicle.floor import floor_finish_z_mm
from gale_nook.core.vehicle.kept_free import NOT_BREATHED, space_at
from gale_nook.core.vehicle.parts import surveyed_parts

NEVER = {
    "outside": "from outside",
    "engine-bay": "from the engine bay",
    "battery": "from a space with a battery",
    "gas": "from a space with gas",
    "fuel": "from a space with fuel",
}
HARMFUL_KINDS = {
    "fuel-tank": "fuel",
    "battery": "a battery",
    "traction-battery": "a battery",
    "gas-bottle": "gas",
    "gas-pipe-inside": "gas",
}
SLOTS_MM, SLOTS_UP_MM = (300.0, 120.0), 60.0
AT_WALL_MM = 100.0  # a face so near to floor or wall lets no air in
SAME_SPACE_MM = 300.0  # where nothing is said of furniture, what is so near shares the air
ZONE_PA = 5.0  # that the air of a zone may need to get out of it
DISCHARGE = 0.6
SHARP_K = 2.8
BREATHED = "workshop rule 43: what the heater draws in, people breathe"


@rule("air.return_area", "Opening that the air comes back by", "cm²")
def large_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """What is open of it is not less than the heater's inlet."""
    air, plan_layout = job.plan.air, layout(job)
    if plan_layout is None or air.cold_end == "free":
        return
    inlet = math.pi * (plan_layout.fan.inlet_mm / 20) ** 2
    band = Band(inlet, None, Whose.SHEET, "inlet_mm", "bore of its inlet")
    openings = return_openings(job)
    end = cold_end(job)
    marks = tuple(Mark(_point(o), _point(o)) for o in openings)
    if not openings and air.cold_end == "opening":
        at = end[0] if end is not None else (0.0, 0.0, 0.0)
        yield this.finding(
            job,
            measured=None,
            band=band,
            sentence="It draws its air through an opening, and none is entered.",
            marks=(Mark(at, at),),
        )
        return
    if not openings:
        return
    free = sum(free_area_m2(job, opening) for opening in openings) * 1e4
    whole = sum(o.width_mm * o.height_mm for o in openings) / 100
    yield this.finding(
        job,
        measured=free,
        band=band,
        tolerance=0.05 * inlet,
        sentence=(
            f"{q(free, 'cm2')} of {q(whole, 'cm2')} are open, grilles and what covers them taken "
            f"off; the inlet has {q(inlet, 'cm2')}."
        ),
        marks=marks,
    )


def _point(opening: ReturnOpening) -> tuple[float, float, float]:
    return (opening.x_mm, opening.y_mm, opening.z_mm)


@rule("air.return_space", "Where the air comes back from", YES_NO, hazard="fumes")
def from_the_room(job: Job, this: Rule) -> Iterator[Finding]:
    """Never from a space with fuel, a battery, gas or the engine, and never from outside where the
    exhaust is.
    """
    if layout(job) is None:
        return
    for opening in return_openings(job):
        space = space_at(job, _point(opening))
        bad = NEVER.get(opening.space) or (NOT_BREATHED[space.kind] if space else None)
        yield this.yes_no(
            job,
            subject=opening.id,
            subject_name=opening.name,
            answer=bad is None,
            wanted=True,
            source=BREATHED,
            title=f"{capital(opening.name)}: where its air comes from",
            sentence=f"It takes its air {bad}." if bad else "It takes its air from the room.",
            marks=(Mark(_point(opening), _point(opening)),),
        )
    yield from _beside_inlet(job, this)
    yield from _inlet_in_a_space(job, this)


def _inlet_in_a_space(job: Job, this: Rule) -> Iterator[Finding]:
    end = cold_end(job)
    if end is None or job.plan.air.cold_end == "duct":
        return
    space = space_at(job, end[0])
    if space is not None:
        yield this.yes_no(
            job,
            subject=f"space.{space.id}",
            subject_name=space.name,
            answer=False,
            wanted=True,
            source=BREATHED,
            title=f"{capital(space.name)}: its air",
            sentence=f"The {_who(job)} draws its air {NOT_BREATHED[space.kind]}.",
            marks=(Mark(end[0], end[0]),),
        )


def _beside_inlet(job: Job, this: Rule) -> Iterator[Finding]:
    """What shares the heater's own space, from which it draws too."""
    end = cold_end(job)
    if end is None or job.plan.air.cold_end == "duct":
        return
    room = _furniture_round(job)
    for solid, _, shape in surveyed_parts(job):
        what = HARMFUL_KINDS.get(solid.kind)
        if what is None:
            continue
        if room is not None:
            shares = separation(room, shape).distance_mm < 0
        else:
            point = box_shape(end[0], (1.0, 1.0, 1.0))
            near = separation(point, shape).distance_mm <= SAME_SPACE_MM
            shares = near and shape.high_z_mm > 0
        if shares:
            yield this.yes_no(
                job,
                subject=solid.id,
                subject_name=solid.name,
                answer=False,
                wanted=True,
                source=BREATHED,
                title=f"{capital(solid.name)} in the space that it draws from",
                sentence=f"{capital(solid.name)} is in the space from which the "
                f"{_who(job)} draws its air: {what}.",
                marks=(Mark(end[0], end[0]),),
            )


@rule("air.enclosed", "Air into the furniture round it", "cm²")
def not_shut_in(job: Job, this: Rule) -> Iterator[Finding]:
    """A heater in a shut bench or cupboard starves: what is open of that is not less than its
    inlet, though no opening was said to bring its air back.
    """
    plan_layout, solid = layout(job), _furniture(job)
    if plan_layout is None or solid is None or job.plan.air.cold_end != "free":
        return
    inlet = math.pi * (plan_layout.fan.inlet_mm / 20) ** 2
    free = _open_cm2(job, solid)
    low = (solid.x_mm, solid.y_mm, solid.z_mm)
    yield this.finding(
        job,
        subject=solid.id,
        subject_name=solid.name,
        measured=free,
        band=Band(inlet, None, Whose.SHEET, "inlet_mm", "bore of its inlet"),
        tolerance=0.05 * inlet,
        title=f"Air into {solid.name}",
        sentence=f"{capital(solid.name)} round the {_who(job)} has {q(round(free), 'cm2')} open to "
        f"the room; the inlet has {q(round(inlet), 'cm2')}.",
        marks=(Mark(low, low),),
    )


def _open_cm2(job: Job, solid: BoxSolid) -> float:
    """What of hollow furniture is open to the room: its openings, and faces without a panel that do
    not stand at floor or wall.
    """
    hollow, shell = solid.hollow, job.plan.vehicle.shell
    if hollow is None:
        return 0.0
    works = job.catalogue.air_equipment
    free = sum(
        opening.width_mm
        * opening.height_mm
        * works.grille(opening.grille).open_share
        * (1 - opening.covered_percent / 100)
        for opening in hollow.openings
    )
    half = shell.floor_width_mm / 2
    b = solid_shape(solid).bounds
    sides = {
        "front": (b[0] - shell.bulkhead_x_mm, solid.width_mm * solid.height_mm),
        "rear": (shell.rear_x_mm - b[3], solid.width_mm * solid.height_mm),
        "left": (b[1] + half, solid.length_mm * solid.height_mm),
        "right": (half - b[4], solid.length_mm * solid.height_mm),
        "up": (shell.inside_height_mm - b[5], solid.length_mm * solid.width_mm),
        "down": (b[2] - floor_finish_z_mm(job), solid.length_mm * solid.width_mm),
    }
    free += sum(
        area
        for face, (away, area) in sides.items()
        if face not in hollow.panels and away > AT_WALL_MM
    )
    return float(free / 100)


def _furniture(job: Job) -> BoxSolid | None:
    """The hollow furniture that the heater, or the convector that ducts begin at, stands in."""
    ducted, corners = ducted_convector(job), body_corners(job)
    if ducted is not None:
        part, _ = ducted
        middle = [part.x_mm, part.y_mm, part.z_mm]
    elif corners is not None:
        middle = [(corners[0][i] + corners[1][i]) / 2 for i in range(3)]
    else:
        return None
    for solid in job.plan.vehicle.solids:
        if not isinstance(solid, BoxSolid) or solid.hollow is None:
            continue
        low = (solid.x_mm, solid.y_mm, solid.z_mm)
        size = (solid.length_mm, solid.width_mm, solid.height_mm)
        if all(low[i] <= middle[i] <= low[i] + size[i] for i in range(3)):
            return solid
    return None


def _who(job: Job) -> str:
    ducted = ducted_convector(job)
    return ducted[0].name if ducted is not None else "heater"


def _furniture_round(job: Job) -> Shape | None:
    """The room inside the hollow furniture round it; None where it stands free."""
    solid = _furniture(job)
    if solid is None:
        return None
    low = (solid.x_mm, solid.y_mm, solid.z_mm)
    return box_shape(low, (solid.length_mm, solid.width_mm, solid.height_mm), solid.yaw_deg)


@rule("air.short_circuit", "Outlets away from the opening that air comes back by", "mm")
def not_drawn_back(job: Job, this: Rule) -> Iterator[Finding]:
    """Warm air that is drawn straight in again heats the heater, not the room."""
    band, end = limit_band(job, "outlet_return_mm"), cold_end(job)
    if band is None or end is None:
        return
    openings = [(o.name, _point(o)) for o in return_openings(job) if o.space == "room"]
    if not openings:
        run = next((r for r in all_runs(job) if r.duct is job.plan.air.return_duct), None)
        openings = [("the inlet", run.geometry.mouth if run is not None else end[0])]
    for jet in jets(job):
        worst = None
        for name, point in openings:
            away = np.array(point) - np.array(jet.at)
            distance = float(np.linalg.norm(away))
            along = float(away @ np.array(jet.along))
            beside = math.sqrt(max(distance**2 - along**2, 0.0))
            # in the jet itself only what is left of its warmth counts: three times as far
            blown = along > 0 and beside <= jet.radius_at(along)
            counted = distance / 3 if blown else distance
            if worst is None or counted < worst[0]:
                worst = (counted, distance, blown, name, point)
        if worst is None:
            continue
        counted, distance, blown, name, point = worst
        into = ", blown straight at it: that counts as a third" if blown else ""
        yield this.finding(
            job,
            subject=jet.duct,
            subject_name=name,
            measured=counted,
            band=band,
            title=f"{capital(jet.name)} to {name}",
            sentence=f"{q(round(distance))} from {jet.name} to {name}{into}.",
            marks=(Mark(jet.at, point),),
        )


@rule("air.zone_out", "Opening by which a zone's air gets out", "cm²")
def air_gets_out(job: Job, this: Rule) -> Iterator[Finding]:
    """What is blown into a zone behind a door has to come out again."""
    found = usable(job)
    if found is None or found.at is None:
        return
    drawn = set(found.at.layout.back.zones)
    for zone in job.plan.air.zones:
        flow = sum(o.flow_kg_s for o in found.at.outlets if o.zone == zone.id)
        if flow <= 0 or zone.divider not in TIGHT_DIVIDERS or zone.id in drawn:
            continue
        density = found.at.layout.density_kg_m3(found.at.layout.zone_c[zone.id])
        wanted = flow / (DISCHARGE * math.sqrt(2 * density * ZONE_PA)) * 1e4
        # an opening that is too small holds the flow back: what it takes is told too
        area = max(zone.opening_cm2 / 1e4, 1e-6)
        pressure = SHARP_K / (2 * density * area**2) * flow**2
        yield this.finding(
            job,
            subject=zone.id,
            subject_name=zone.name,
            measured=zone.opening_cm2,
            band=Band(wanted, None, Whose.WORKSHOP, "zone_out", "workshop rule 44: at most 5 Pa"),
            tolerance=0.05 * wanted,
            title=f"Way out of: {zone.name}",
            sentence=(
                f"{q(zone.opening_cm2, 'cm2')} are open for {flow * 3600 / density:.0f} m³/h; that "
                f"takes {pressure:.1f} Pa. {q(round(wanted), 'cm2')} take 5 Pa."
            ),
        )


@remedy_for("air.enclosed")
def cut_slots(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """Slots in a panel that does not stand at a wall."""
    solid = _furniture(job)
    if solid is None or solid.hollow is None:
        return
    for face in solid.hollow.panels:
        if face in {"up", "down"}:
            continue
        wide = solid.length_mm if face in {"left", "right"} else solid.width_mm
        slots = PanelOpening(
            id=fresh_id(solid.hollow.openings, "slots"),
            name="slots",
            face=face,
            along_mm=max((wide - SLOTS_MM[0]) / 2, 0.0),
            up_mm=SLOTS_UP_MM,
            width_mm=min(SLOTS_MM[0], wide),
            height_mm=min(SLOTS_MM[1], solid.height_mm - SLOTS_UP_MM),
        )
        yield Remedy(
            f"Cut slots of {q(slots.width_mm)} by {q(slots.height_mm)} in its {face} panel.",
            AddPanelOpening(collection=f"vehicle.solids.{solid.id}.hollow.openings", item=slots),
        )
