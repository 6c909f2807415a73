"""What is heard at a bed, against what lets one sleep."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.edits.values import Change, SetValues
from gale_nook.core.findings.finding import Finding, Mark
from gale_nook.core.findings.rule import Remedy, Rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.loop.hoses import loop_parts
from gale_nook.core.noise.at_bed import at_beds, changes

MOST_TOLD = 2


def heard(job: Job, this: Rule) -> Iterator[Finding]:
    """Yield what is heard at every bed; tight where only its range reaches over the limit."""
    band = limit_band(job, "bed_noise_db")
    if band is None:
        return
    loud = {bed.bed: bed for bed in at_beds(job, False)}
    for bed in at_beds(job, True):
        loudest = bed.sources[0]
        brings = [
            f"{each.words} {each.quieter_db:.0f} dB less" for each in changes(job, bed)[:MOST_TOLD]
        ]
        words = (
            f"{bed.least_db:.0f} to {bed.most_db:.0f} dB(A) at {bed.name} at the heater's least "
            f"output, most of it by the {loudest.name}, {loudest.way}; "
            f"{loud[bed.bed].middle_db:.0f} dB(A) while it heats up."
        )
        if brings:
            words += f" What would bring most: {', '.join(brings)}."
        yield this.finding(
            job,
            subject=bed.bed,
            subject_name=bed.name,
            measured=round(bed.middle_db, 1),
            band=band,
            tolerance=bed.most_db - bed.middle_db,
            title=f"What is heard at {bed.name}",
            sentence=words,
            marks=(Mark(bed.at, bed.at),),
        )


def quieter_ways(job: Job) -> Iterator[Remedy]:
    """Yield what an edit of the plan can do; each is tried before it is offered."""
    line, spot = job.plan.fuel.line, job.plan.spot
    rubber = []
    if line is not None and line.of_kind("pump") and not line.pump.rubber:
        rubber.append(Change(address="fuel.line.pump.rubber", value=True))
        yield Remedy("Hang the pump in rubber.", SetValues(changes=tuple(rubber)))
    if spot is not None and not spot.on_rubber:
        rubber.append(Change(address="spot.on_rubber", value=True))
        yield Remedy("Set the heater on rubber.", SetValues(changes=tuple(rubber[-1:])))
    if spot is not None and not spot.boxed:
        box = Change(address="spot.boxed", value=True)
        words = "Build a box round the heater, with openings for its air"
        yield Remedy(f"{words}.", SetValues(changes=(box,)))
        if rubber:
            every = SetValues(changes=(*rubber, box))
            yield Remedy(f"{words}, and set what is fixed hard on rubber.", every)
    if len(rubber) > 1:
        yield Remedy("Set pump and heater on rubber.", SetValues(changes=tuple(rubber)))
    for part, kind in loop_parts(job):
        if kind.kind == "matrix" and part.fan > 1:
            address = f"coolant.parts.{part.id}.fan"
            words = f"Let the fan of the {part.name} turn a step slower."
            yield Remedy(words, SetValues(changes=(Change(address=address, value=part.fan - 1),)))
