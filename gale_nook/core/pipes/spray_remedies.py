"""Candidate cures for mouths in the spray; they are tried before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.job import Job
from gale_nook.core.pipes.remedies import shift
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.spray_rules import MOST_STEP_MM, _worst
from gale_nook.core.pipes.tubes import nodes_of, tube_of, tube_words
from gale_nook.core.quantities.sentences import q


@remedy_for("pipes.spray")
def out_of_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lead the mouth up, aside, ahead of the wheel, or farther behind it; the bend before it goes
    along if that is needed.
    """
    tube = tube_of(finding)
    run = pipe_run(job, tube)
    worst = _worst(job, tube)
    nodes = nodes_of(job, tube)
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
    for step, towards in sorted(steps, key=lambda pair: math.hypot(*pair[0])):
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
                amount = q(float(math.ceil(size) + 1))
                yield Remedy(f"Move {what} of the {tube_words(tube)} {amount} {towards}.", command)
