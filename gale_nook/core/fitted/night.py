"""The coldest night of the chosen heater as it is fitted: through its ducts, or its loop."""

from __future__ import annotations

from gale_nook.core.fitted.installed import night_with
from gale_nook.core.heat.night import (
    SETTLED_S,
    NightResult,
    Sample,
    set_temperature_c,
)
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.night import LoopRun, loop_night


@fact
def fitted_night(job: Job, sheet_id: str) -> NightResult:
    """Return the night with a heater: the chosen one with its loop, where there is one."""
    through_loop = loop_night(job) if job.plan.heater.sheet == sheet_id else None
    return _as_night(job, through_loop) if through_loop is not None else night_with(job, sheet_id)


def _as_night(job: Job, run: LoopRun) -> NightResult:
    """A night of the loop in the words of any night's; half load counts as the least output."""
    night = job.plan.heat.night
    fuel_per_j = run.fuel_l / run.heat_j if run.heat_j > 0 else 0.0
    samples = tuple(
        Sample(
            night.start_h + each.at_s / 3600,
            each.air_c,
            set_temperature_c(night, job.plan.heat.inside_c, night.start_h + each.at_s / 3600),
            each.output_w,
            each.heat_j * fuel_per_j,
        )
        for each in run.samples
    )
    settled_h = night.start_h
    if run.room_s is not None:
        settled_h += (run.room_s + SETTLED_S) / 3600
    coldest = min([s for s in samples if s.hour_h >= settled_h] or samples, key=lambda s: s.air_c)
    return NightResult(
        samples,
        run.room_s,
        coldest.air_c,
        coldest.hour_h,
        run.fuel_l,
        run.electricity_wh,
        run.starts,
        run.half_share,
        run.cycling_share,
        run.heat_j,
        run.lost_j,
        run.stored_j,
    )
