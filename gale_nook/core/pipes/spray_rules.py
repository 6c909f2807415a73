"""Checks of both mouths against what the wheels throw up, and how to get out of it."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.findings.finding import Finding, Mark
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.spray import Wedge, wedges
from gale_nook.core.pipes.tubes import tube_of, tube_words
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.quantities.sentences import q

MOST_STEP_MM = 600.0


SPRAY_LIMITS = {"exhaust": "mouth_spray_mm", "intake": "intake_spray_mm"}


@rule("pipes.spray", "Mouth out of the wheels' spray", "mm", run="exhaust")
@rule("pipes.spray", "Combustion air out of the wheels' spray", "mm", run="intake")
def out_of_spray(job: Job, this: Rule) -> Iterator[Finding]:
    """Slush that a wheel throws at the exhaust's mouth freezes in it while the heater is off; water
    and grit are not drawn into the burner.
    """
    tube = tube_of(this)
    run, band = pipe_run(job, tube), limit_band(job, SPRAY_LIMITS[tube])
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
