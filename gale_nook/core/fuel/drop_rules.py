"""Checks of lowering the vehicle's tank, and of a cap that weeps."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.fuel.drop import tank_drop
from gale_nook.core.fuel.filler import neck_of
from gale_nook.core.fuel.line import supply
from gale_nook.core.fuel.tank import vessel_of
from gale_nook.core.fuel.tank_rules import own_tank
from gale_nook.core.geometry.parked import LEVEL, parked_attitudes
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.lean import lean_of

ALONE_SHARE = 0.5  # of what two hold, that one does
LITRES_KEPT = 1.0


@rule("fuel.drop_weight", "Weight of the tank as it is lowered", "kg")
def light_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """On a jack with a board, held against tipping: what is in it is pumped out first."""
    found, band = tank_drop(job), limit_band(job, "drop_weight_kg")
    if found is None or band is None or band.maximum is None:
        return
    drop = job.plan.fuel.drop
    most = band.maximum if drop.helper else band.maximum * ALONE_SHARE
    who = "two people" if drop.helper else "one alone"
    source = supply(job)
    at = source.start if source is not None else (0.0, 0.0, 0.0)
    yield this.finding(
        job,
        measured=round(found.weight_kg, 1),
        band=Band(None, most, Whose.WORKSHOP, "drop_weight_kg", band.source),
        tolerance=0.1 * most,
        sentence=f"{found.weight_kg:.0f} kg with {drop.left_l:g} l left in it, for {who}.",
        marks=(Mark(at, at),),
    )


@rule("fuel.drop_reach", "Hoses let the tank down far enough", "mm")
def comes_down(job: Job, this: Rule) -> Iterator[Finding]:
    """A hose that is pulled tears at its stub; what is too short is undone first."""
    found = tank_drop(job)
    if found is None or found.lower_mm <= 0:
        return
    source = supply(job)
    at = source.start if source is not None else (0.0, 0.0, 0.0)
    band = Band(found.lower_mm, None, Whose.GEOMETRY, source="a hand with its tool over the top")
    if found.lets_mm is None or found.first is None:
        yield this.finding(
            job,
            measured=None,
            band=band,
            sentence=f"It has to come down {q(round(found.lower_mm))}: look which hoses and cables "
            "hold it, and enter how far each lets it.",
            marks=(Mark(at, at),),
        )
        return
    yield this.finding(
        job,
        measured=found.lets_mm,
        band=band,
        tolerance=10.0,
        sentence=f"It has to come down {q(round(found.lower_mm))}; {found.first.name} lets it "
        f"{q(found.lets_mm)}.",
        marks=(Mark((found.first.x_mm, found.first.y_mm, at[2]), at),),
    )


@rule("fuel.cap", "Filler over the fuel as parked", "mm", hazard="fire")
def does_not_weep(job: Job, this: Rule) -> Iterator[Finding]:
    """Full, and parked askew: fuel that stands at a cap that breathes comes out of it."""
    tank = own_tank(job)
    if tank is None or tank.cap == "tight":
        return
    vessel, (neck, _) = vessel_of(tank), neck_of(tank)
    worst = math.inf
    words = ""
    x, y = vessel.middle
    for parked in (LEVEL, *parked_attitudes(lean_of(job))):
        slope_x, slope_y = parked.slopes
        level = vessel.level_mm(vessel.full_l * FILLED_SHARE, slope_x, slope_y)
        surface = level + slope_x * (neck[0] - x) + slope_y * (neck[1] - y)
        if neck[2] - surface < worst:
            worst, words = neck[2] - surface, parked.name
    yield this.finding(
        job,
        measured=round(worst, 1),
        band=Band(0.0, None, Whose.GEOMETRY, source="a cap that breathes lets fuel out"),
        tolerance=5.0,
        sentence=f"Filled to 95 % and parked {words}, the filler stands {q(round(worst))} over the "
        "fuel.",
        marks=(Mark(neck, neck),),
    )


FILLED_SHARE = 0.95


@remedy_for("fuel.drop_weight")
def pump_out(job: Job, finding: Finding) -> Iterator[Remedy]:
    """So much that it can be held; a helper."""
    drop, found = job.plan.fuel.drop, tank_drop(job)
    most = finding.band.maximum
    if found is None or most is None:
        return
    density = (found.weight_kg - drop.empty_kg) / drop.left_l if drop.left_l > 0 else 0.0
    if density > 0:
        left = math.floor((0.85 * most - drop.empty_kg) / density)
        if left >= LITRES_KEPT:
            yield Remedy(f"Pump it out to {left} l.", set_value("fuel.drop.left_l", float(left)))
        yield Remedy("Pump it out.", set_value("fuel.drop.left_l", 0.0))
    if not drop.helper:
        yield Remedy("Have a helper hold the other end.", set_value("fuel.drop.helper", True))


@remedy_for("fuel.drop_reach")
def undo_first(job: Job, finding: Finding) -> Iterator[Remedy]:
    """What stops it is undone before it is lowered."""
    del finding
    found = tank_drop(job)
    if found is None or found.first is None:
        return
    yield Remedy(
        f"Undo {found.first.name} before it is lowered.",
        set_value(f"fuel.drop.holds.{found.first.id}.lets_down_mm", 1000.0),
    )


@remedy_for("fuel.cap")
def tight_cap(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A cap that keeps tight, the tank breathing by its vent."""
    del job, finding
    words = "Fit a cap that keeps tight: the tank breathes by its vent."
    yield Remedy(words, set_value("fuel.tank.cap", "tight"))
