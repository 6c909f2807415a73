"""Checks of both mouths against what the wheels throw up, and how to get out of it."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.findings.finding import Finding, Mark
from gale_nook.core.findings.registry import Remedy, Rule, remedy_for, rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.remedies import shift
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.spray import Wedge, wedges
from gale_nook.core.pipes.tubes import nodes_of, tube_of, tube_words
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.quantities.said import q

MOST_STEP_MM = 600.0


@rule("pipes.air_spray", "Combustion air out of the wheels' spray", "mm")
def air_out_of_spray(job: Job, this: Rule) -> Iterator[Finding]:
    """Water and grit that a wheel throws up are not drawn into the burner."""
    yield from _out_of_spray(job, this, "intake", "intake_spray_mm")


@rule("pipes.mouth_spray", "Mouth out of the wheels' spray", "mm")
def mouth_out_of_spray(job: Job, this: Rule) -> Iterator[Finding]:
    """Slush that a wheel throws at the mouth freezes in it while the heater is off."""
    yield from _out_of_spray(job, this, "exhaust", "mouth_spray_mm")


def _out_of_spray(job: Job, this: Rule, tube: Tube, limit: str) -> Iterator[Finding]:
    run, band = pipe_run(job, tube), limit_band(job, limit)
    worst = _worst(job, tube)
    if run is None or band is None or worst is None:
        return
    gap, mouth = worst.outside_mm(run.mouth), run.mouth
    line = worst.foot[2] + worst.height_mm(mouth[0])
    where = (
        f"clear of the spray behind the {worst.name}"
        if gap >= 0
        else f"inside the spray behind the {worst.name}"
    )
    yield this.finding(
        job,
        subject="mouth",
        subject_name=worst.name,
        measured=gap,
        band=band,
        tolerance=0.0,
        sentence=f"The {tube_words(tube)}'s mouth lies {q(abs(gap))} {where}.",
        marks=(Mark(mouth, (mouth[0], mouth[1], line)),) if gap < 0 else (),
    )


def _worst(job: Job, tube: Tube) -> Wedge | None:
    run = pipe_run(job, tube)
    return (
        min(wedges(job), key=lambda wedge: wedge.outside_mm(run.mouth), default=None)
        if run is not None
        else None
    )


@remedy_for("pipes.air_spray")
@remedy_for("pipes.mouth_spray")
def out_of_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lead the mouth up, aside, ahead of the wheel, or farther behind it; the bend before it goes
    along if that is needed.
    """
    tube = tube_of(finding.rule)
    run, worst, nodes = pipe_run(job, tube), _worst(job, tube), nodes_of(job, tube)
    if run is None or worst is None:
        return
    x, y, z = run.mouth
    beside = worst.half_mm + (x - worst.foot[0]) * math.tan(math.radians(worst.spread_deg))
    up = worst.foot[2] + worst.height_mm(x) - z
    inward, outward = worst.foot[1] - beside - y, worst.foot[1] + beside - y
    steps = [
        ((0.0, 0.0, up), "up"),
        ((0.0, inward, 0.0), "to the left"),
        ((0.0, outward, 0.0), "to the right"),
        ((worst.foot[0] - x, 0.0, 0.0), "forward"),
        ((worst.foot[0] + worst.reach_mm - x, 0.0, 0.0), "rearward"),
    ]
    for step, way in sorted(steps, key=lambda pair: math.hypot(*pair[0])):
        size = math.hypot(*step)
        if not 0 < size <= MOST_STEP_MM:
            continue
        grown = (math.ceil(size) + 1) / size
        by = (step[0] * grown, step[1] * grown, step[2] * grown)
        for moved, what in (
            (nodes[-1:], "the mouth"),
            (nodes[-2:], "the mouth and the bend before it"),
        ):
            command = shift(tube, moved, by)
            if command is not None:
                yield Remedy(
                    f"Move {what} of the {tube_words(tube)} {q(float(math.ceil(size) + 1))} {way}.",
                    command,
                )
