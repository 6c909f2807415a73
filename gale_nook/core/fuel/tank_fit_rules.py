"""Checks of how a tank of one's own is fitted: its bracket on a thin sheet, an outlet that is cut
in, a filler under a lid.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import YES_NO, Remedy, Rule, remedy_for, rule
from gale_nook.core.fuel.filler import neck_of
from gale_nook.core.fuel.line import supply
from gale_nook.core.fuel.tank import vessel_of
from gale_nook.core.fuel.tank_rules import own_tank
from gale_nook.core.job import Job
from gale_nook.core.plan.fuel import OwnTank
from gale_nook.core.quantities.sentences import q

GRAVITY_M_S2 = 9.80665
SHELL_KG_L = 0.12  # a tank's own weight over what it holds
PLATE_STEP_MM = 10.0
UNDER = {"floor": "a lid in the floor", "furniture": "a lid in the furniture"}


def tank_weight_kg(job: Job, tank: OwnTank) -> float:
    """Return what a tank weighs full, itself with it."""
    grade = job.catalogue.fuel_equipment.grade(job.plan.fuel.grade)
    return vessel_of(tank).full_l * (grade.density_kg_m3 / 1000 + SHELL_KG_L)


def needed_plate_mm(job: Job, tank: OwnTank) -> float:
    """Return the side of the square plates that a bracket needs behind a sheet: each bolt's share
    of the shaken weight is shorn off round the plate's edge, F = 4 a t τ.
    """
    works = job.catalogue.fuel_equipment.bracket
    newton = tank_weight_kg(job, tank) * GRAVITY_M_S2 * works.shakes / works.bolts
    return max(works.least_mm, newton / (4 * tank.sheet_mm * works.shear_n_mm2))


@rule("fuel.bracket_plate", "Plates behind the tank's bracket", "mm")
def plates_behind(job: Job, this: Rule) -> Iterator[Finding]:
    """A thin sheet tears round a bolt: plates behind it spread the load."""
    tank, works = own_tank(job), job.catalogue.fuel_equipment.bracket
    if tank is None or not tank.bracket or tank.bracket_on != "sheet":
        return
    needed = needed_plate_mm(job, tank)
    yield this.finding(
        job,
        subject="tank",
        measured=tank.plate_mm,
        band=Band(needed, None, Whose.WORKSHOP, "plate_mm", works.source),
        tolerance=0.0,
        sentence=f"Full it weighs {tank_weight_kg(job, tank):.1f} kg, on a sheet of "
        f"{q(tank.sheet_mm)}: "
        + (f"plates of {q(tank.plate_mm)} spread it." if tank.plate_mm else "without plates."),
        marks=(Mark(tank.middle_mm, tank.middle_mm),),
    )


@remedy_for("fuel.bracket_plate")
def larger_plates(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """As large as the sheet needs them; or the bracket on members."""
    tank = own_tank(job)
    if tank is None:
        return
    side = math.ceil(needed_plate_mm(job, tank) / PLATE_STEP_MM) * PLATE_STEP_MM
    yield Remedy(f"Put plates of {q(side)} behind it.", set_value("fuel.tank.plate_mm", side))
    yield Remedy("Bolt the bracket to members.", set_value("fuel.tank.bracket_on", "members"))


@rule("fuel.outlet_flat", "Outlet on a flat of the tank", "mm", hazard="fire")
def outlet_on_a_flat(job: Job, this: Rule) -> Iterator[Finding]:
    """The seal of a fitting that is cut in needs a flat all round: no dent, no rounded edge."""
    tank, taken, works = own_tank(job), supply(job), job.catalogue.fuel_equipment.outlet
    if tank is None or taken is None or tank.outlet_made != "cut":
        return
    flat = _flat_mm(tank)
    yield this.finding(
        job,
        subject="outlet",
        measured=flat,
        band=Band(works.flange_mm / 2, None, Whose.WORKSHOP, "flange_mm", works.source),
        tolerance=1.0,
        sentence=f"{q(round(flat, 1))} flat round the middle of its outlet.",
        marks=(Mark(taken.start, taken.start),),
    )


def _flat_mm(tank: OwnTank) -> float:
    """How far round its outlet the wall is flat; negative in a dent."""
    length, width, height = tank.size_mm
    x, y = tank.outlet_x_mm, tank.outlet_y_mm
    edge = tank.edge_mm if tank.shape == "box" else 0.0
    if tank.shape == "cylinder":
        return 0.0  # nowhere is it flat
    if tank.outlet == "side":
        up = tank.wall_mm + tank.pick_up_mm
        ends = (x, length - x, up - edge, height - edge - up)
        return min(ends)
    along, across = (0.0, edge) if tank.lying == "along" else (edge, 0.0)
    room = [x - along, length - along - x, y - across, width - across - y]
    for indent in tank.indents:
        if indent.of == tank.outlet:
            dx = max(indent.x_mm - x, x - indent.x_mm - indent.length_mm)
            dy = max(indent.y_mm - y, y - indent.y_mm - indent.width_mm)
            inside = max(dx, dy)
            room.append(math.hypot(max(dx, 0.0), max(dy, 0.0)) if inside > 0 else inside)
    return min(room)


@remedy_for("fuel.outlet_flat")
def where_it_is_flat(job: Job, finding: Finding) -> Iterator[Remedy]:
    """To the nearest place along the tank that has a flat."""
    tank = own_tank(job)
    if tank is None or finding.band.minimum is None:
        return
    length, width, _ = tank.size_mm
    places = [
        (x * PLATE_STEP_MM, y * PLATE_STEP_MM)
        for x in range(int(length / PLATE_STEP_MM) + 1)
        for y in range(int(width / PLATE_STEP_MM) + 1)
    ]
    here = (tank.outlet_x_mm, tank.outlet_y_mm)
    for x, y in sorted(places, key=lambda place: math.dist(place, here)):
        moved = tank.model_copy(update={"outlet_x_mm": x, "outlet_y_mm": y})
        if _flat_mm(moved) >= finding.band.minimum:
            yield Remedy(
                f"Cut it {q(x)} from the tank's front, {q(y)} from its left.",
                SetValues(
                    changes=(
                        Change(address="fuel.tank.outlet_x_mm", value=x),
                        Change(address="fuel.tank.outlet_y_mm", value=y),
                    )
                ),
            )
            return


@rule("fuel.filler_lid", "Lid over the filler", "mm")
def lid_wide_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """What it is filled with and the hand that holds it go through the lid."""
    tank, works = own_tank(job), job.catalogue.fuel_equipment
    if tank is None or tank.lid == "none":
        return
    fill, at = works.fill(tank.filled_with), neck_of(tank)[0]
    needed = fill.diameter_mm + 2 * works.outlet.hand_mm
    yield this.finding(
        job,
        subject="filler",
        measured=tank.lid_mm,
        band=Band(needed, None, Whose.WORKSHOP, "lid_mm", f"{fill.label} with a hand round it"),
        tolerance=0.0,
        sentence=f"It lies under {UNDER[tank.lid]} that opens {q(tank.lid_mm)} wide.",
        marks=(Mark(at, at),),
    )


@remedy_for("fuel.filler_lid")
def wider_lid(job: Job, finding: Finding) -> Iterator[Remedy]:
    """As wide as it has to be."""
    del job
    if finding.band.minimum is not None:
        wide = math.ceil(finding.band.minimum)
        yield Remedy(f"Make the lid {q(wide)} wide.", set_value("fuel.tank.lid_mm", float(wide)))


@rule("fuel.lid_drain", "Spills under the lid", YES_NO, hazard="fire")
def spills_run_out(job: Job, this: Rule) -> Iterator[Finding]:
    """What is spilt under a lid runs outside, and its vapour stays out of the room."""
    tank = own_tank(job)
    if tank is None or tank.lid == "none":
        return
    at = neck_of(tank)[0]
    missing = [
        words
        for words, there in (
            ("what is spilt has no drain to outside", tank.lid_drain),
            ("the lid lets vapour into the room", tank.lid_tight),
        )
        if not there
    ]
    yield this.yes_no(
        job,
        subject="filler",
        answer=not missing,
        wanted=True,
        source="workshop rule 86: a tray with a drain outside, the lid tight",
        sentence=f"Under {UNDER[tank.lid]}: {' and '.join(missing)}."
        if missing
        else f"Under {UNDER[tank.lid]} a tray drains outside, and the lid is tight.",
        marks=(Mark(at, at),),
    )


@remedy_for("fuel.lid_drain")
def drain_it(job: Job, _finding: Finding) -> Iterator[Remedy]:
    """A tray with a drain, and a seal on the lid."""
    del job
    yield Remedy(
        "Put a tray round the filler with a drain to outside, and a seal on the lid.",
        SetValues(
            changes=(
                Change(address="fuel.tank.lid_drain", value=True),
                Change(address="fuel.tank.lid_tight", value=True),
            )
        ),
    )
