"""Checks of the vehicle station: slips of the survey."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import worst_and_nearest
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.geometry.shapes import outline_crosses
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.solids import Solid
from gale_nook.core.plan.vehicle import Vehicle
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.vehicle.assumed_parts import assumed_addresses
from gale_nook.core.vehicle.looked import looked_share
from gale_nook.core.vehicle.parts import surveyed_where

FULL_PERCENT = 100
WHEEL_VALUES = (
    "outer_width_mm",
    "ground_z_mm",
    "front_axle_x_mm",
    "rear_axle_x_mm",
    "wheel_diameter_mm",
)
AGAINST = "what the hole is checked against"


@rule("vehicle.survey_below", "Looked at below the floor", YES_NO)
def surveyed_below(job: Job, this: Rule) -> Iterator[Finding]:
    """Where nobody has looked, no hole can be judged."""
    areas = [area for area in job.plan.vehicle.looked_at if area.where == "below"]
    if not areas:
        yield this.finding(
            job,
            measured=None,
            band=Band(None, None, Whose.GEOMETRY, source=AGAINST),
            sentence=(
                "Nobody has said yet where the underside was looked at. Until then nothing below "
                "is clear: enter what is there, then say from where to where you have looked."
            ),
        )
        return
    words = {"seen": "seen", "measured": "measured", "drawing": "from a drawing"}
    how = ", ".join(dict.fromkeys(words.get(area.how, "only assumed") for area in areas))
    days = sorted({area.on for area in areas if area.on})
    when = f", last on {days[-1]}" if days else ""
    share = round(100 * looked_share(job, "below"))
    rest = " Elsewhere the map says to measure." if share < FULL_PERCENT else ""
    finding = this.yes_no(
        job,
        answer=True,
        wanted=True,
        whose=Whose.GEOMETRY,
        source=AGAINST,
        sentence=f"{share} % of the load floor's underside was looked at ({how}{when}).{rest}",
    )
    assumed = all(area.how == "assumed" for area in areas)
    yield replace(finding, assumed=("what lies below",)) if assumed else finding


@rule("vehicle.asked_for", "Parts that this vehicle should have", YES_NO)
def asked_for(job: Job, this: Rule) -> Iterator[Finding]:
    """Wheels, springs, tank and exhaust are there whether or not somebody has entered them."""
    for kind in job.catalogue.solid_kinds.values():
        if kind.id in still_asked_for(job):
            yield this.finding(
                job,
                subject=kind.id,
                subject_name=kind.label,
                measured=None,
                band=Band(
                    None, None, Whose.WORKSHOP, source=f"such a vehicle has one: {kind.source}"
                ),
                title=f"{capital(kind.label)}: {_asked_title(job, kind)}",
                sentence=_asked_words(job, kind),
            )


def _asked_title(job: Job, kind: SolidKind) -> str:
    drawn = any(solid.kind == kind.id for solid in job.plan.vehicle.solids)
    return "not measured yet" if drawn or kind.id == "wheel" else "not entered yet"


def _asked_words(job: Job, kind: SolidKind) -> str:
    if kind.id == "wheel":
        return (
            "The wheels are drawn from the main dimensions, and these are only assumed. Measure "
            "ground, width, axles and wheel diameter, or enter each wheel."
        )
    drawn = [solid for solid in job.plan.vehicle.solids if solid.kind == kind.id]
    if drawn:
        return (
            f"Such a vehicle usually has this: {kind.label}. It is drawn where it usually is, and "
            "nobody has measured it. Type what you measure, or say that it is right."
        )
    return (
        f"Such a vehicle usually has this: {kind.label}. Nobody has entered it. Enter it, or say "
        "that there is none."
    )


@fact
def still_asked_for(job: Job) -> frozenset[str]:
    """Return the kinds of parts that such a vehicle has, and that were neither entered nor said to
    be missing.
    """
    vehicle = job.plan.vehicle
    there = {solid.kind for solid in vehicle.solids if not _only_assumed(vehicle, solid)}
    there |= set(vehicle.has_none)
    if not any(f"vehicle.shell.{name}" in vehicle.pencilled for name in WHEEL_VALUES):
        there.add("wheel")
    return frozenset(
        kind.id
        for kind in job.catalogue.solid_kinds.values()
        if not (vehicle.afloat and kind.where == "below")
        and vehicle.fuel.value in kind.asked_of
        and kind.id not in there
    )


def _only_assumed(vehicle: Vehicle, solid: Solid) -> bool:
    """Whether a part came with the body type, and nobody has measured anything of it."""
    pencilled = frozenset(vehicle.pencilled)
    return all(address in pencilled for address in assumed_addresses(solid))


@rule("vehicle.ground", "Above the ground", "mm")
def above_the_ground(job: Job, this: Rule) -> Iterator[Finding]:
    """A part that reaches the ground is a slip of the tape."""
    if job.plan.vehicle.afloat:
        return  # there is no ground
    band = limit_band(job, "solid_ground_mm")
    if band is None:
        return
    ground = job.plan.vehicle.shell.ground_z_mm
    findings = []
    for solid, kind, shape in surveyed_where(job, "below"):
        if kind.id in {"wheel", "suspension"}:
            continue
        x, y = (shape.bounds[0] + shape.bounds[3]) / 2, (shape.bounds[1] + shape.bounds[4]) / 2
        gap = shape.low_z_mm - ground
        findings.append(
            this.finding(
                job,
                subject=solid.id,
                subject_name=solid.name,
                measured=gap,
                band=band,
                sentence=f"{solid.name} ends {q(gap)} above the ground.",
                marks=(Mark((x, y, shape.low_z_mm), (x, y, ground)),),
            )
        )
    yield from worst_and_nearest(findings, 1)


@rule("vehicle.inside_shell", "Inside the load space", "mm")
def inside_the_shell(job: Job, this: Rule) -> Iterator[Finding]:
    """Furniture that pokes through the shell is a slip of the tape."""
    shell = job.plan.vehicle.shell
    half = shell.floor_width_mm / 2
    findings = []
    for solid, _, shape in surveyed_where(job, "inside"):
        b = shape.bounds
        middle = tuple((b[i] + b[i + 3]) / 2 for i in range(3))
        sides: tuple[tuple[float, int, float], ...] = (
            (b[0] - shell.front_x_mm, 0, shell.front_x_mm),
            (shell.rear_x_mm - b[3], 0, shell.rear_x_mm),
            (b[1] + half, 1, -half),
            (half - b[4], 1, half),
            (shell.inside_height_mm - b[5], 2, shell.inside_height_mm),
        )
        gap, axis, wall = min(sides)
        gap += solid.uncertainty_mm  # its shape is larger by that
        at_wall = [*middle]
        at_wall[axis] = wall
        findings.append(
            this.finding(
                job,
                subject=solid.id,
                subject_name=solid.name,
                measured=gap,
                tolerance=0.0,
                band=Band(0.0, None, Whose.GEOMETRY, source="the shell's main dimensions"),
                title=f"{solid.name} inside the shell",
                sentence=f"{solid.name} stays {q(gap)} inside the shell."
                if gap >= 0
                else f"{solid.name} reaches {q(-gap)} through the shell.",
                marks=(
                    Mark((middle[0], middle[1], middle[2]), (at_wall[0], at_wall[1], at_wall[2])),
                ),
            )
        )
    yield from worst_and_nearest(findings, 0)


@rule("vehicle.shapes", "Outline crosses itself", YES_NO)
def outlines_simple(job: Job, this: Rule) -> Iterator[Finding]:
    """An outline that crosses itself is widened for the checks; the user should know."""
    for solid in job.plan.vehicle.solids:
        if solid.shape == "outline" and outline_crosses(solid):
            yield this.yes_no(
                job,
                subject=solid.id,
                subject_name=solid.name,
                answer=True,
                wanted=False,
                whose=Whose.GEOMETRY,
                source="an outline does not cross itself",
                sentence=(
                    f"The outline of {solid.name} crosses itself; it is checked as the hull "
                    "around it."
                ),
            )
