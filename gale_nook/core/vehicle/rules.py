"""Checks of the vehicle station: slips of the survey."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.listing import worst_and_nearest
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.geometry.shapes import outline_crosses
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.parts import surveyed_where


@rule("vehicle.survey_below", "Survey below the floor", "count")
def surveyed_below(job: Job, this: Rule) -> Iterator[Finding]:
    """Without anything surveyed below, no hole can be judged."""
    count = len(surveyed_where(job, "below"))
    yield this.finding(
        job,
        measured=float(count) if count else None,
        band=Band(1, None, Whose.GEOMETRY, source="what the hole is checked against"),
        sentence=f"{count} parts surveyed under the floor."
        if count
        else (
            "Nothing under the floor has been surveyed yet: members, rails, pipes, tank and "
            "exhaust belong here."
        ),
    )


@rule("vehicle.ground", "Above the ground", "mm")
def above_the_ground(job: Job, this: Rule) -> Iterator[Finding]:
    """A part that reaches the ground is a slip of the tape."""
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
