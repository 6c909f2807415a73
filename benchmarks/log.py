"""What nights teach, and a season of two thousand of them, against the electrics' rules."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.job import Job
from gale_nook.core.log.entries import LogEntry
from gale_nook.core.log.learning import data_of, fit
from gale_nook.core.log.night_model import conditions, night_table
from gale_nook.core.log.season import season
from gale_nook.core.power.station import POWER
from gale_nook.demo.load import demo_log, demo_plan

NIGHTS, MANY = 200, 2_000


def figures() -> Iterator[tuple[Figure, str]]:
    job = Job(demo_plan("heron"), load_catalogue())
    winter = [entry for entry in demo_log("heron") if entry.kind == "night"]

    def entries(count: int) -> list[LogEntry]:
        some = (winter[number % len(winter)] for number in range(count))
        return [entry.model_copy(update={"id": f"n{n}"}) for n, entry in enumerate(some)]

    table, few, many = night_table(job), entries(NIGHTS), entries(MANY)
    if table is None:
        return
    at = conditions(table, few, job.plan.heat.sleepers)
    data = data_of(at, few, [entry.litres for entry in few], np.full(NIGHTS, 0.1))

    def rules() -> None:
        findings_of(job, POWER.rules)

    whole = f"a season of {MANY} nights"
    yield (
        compare(f"a refit of {NIGHTS} nights", lambda: fit(table, data), "power rules", rules),
        "300 ms",
    )
    yield compare(whole, lambda: season(job, many), "power rules", rules), "under 60 ms, kept then"
