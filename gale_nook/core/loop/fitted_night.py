"""The coldest night of the chosen heater as it is fitted: through its ducts, or its loop."""

from __future__ import annotations

from gale_nook.core.ducts.installed import night_with
from gale_nook.core.heat.night import NightResult
from gale_nook.core.job import Job
from gale_nook.core.loop.night import LoopRun, loop_night


def fitted_night(job: Job, sheet_id: str) -> NightResult | LoopRun:
    """Return the night with a heater: the chosen one with its loop, where there is one."""
    through_loop = loop_night(job) if job.plan.heater.sheet == sheet_id else None
    return through_loop if through_loop is not None else night_with(job, sheet_id)
