"""Lists and pages with a thousand jobs of three hundred edits each, against ten such jobs:
`python -m benchmarks.many_jobs`.
"""

from __future__ import annotations

import logging
import re
import statistics
import time
from collections.abc import Callable

import structlog
from fastapi.testclient import TestClient
from sqlalchemy import create_engine, text

from benchmarks.server import running
from gale_nook import garbage
from gale_nook.core.plan.document import compact
from gale_nook.demo.load import demo_plan
from gale_nook.web.kept import kept_jobs

FEW, MANY, EDITS, ROUNDS = 10, 1000, 300, 15
# a small plan: what is asked about is the number of rows, not their size
FILL = (
    """
    INSERT INTO jobs (name, head, tip)
    SELECT 'Job ' || n, :edits, :edits FROM generate_series(1, :jobs) AS n
    """,
    """
    INSERT INTO revisions (job_id, number, parent, summary, plan)
    SELECT jobs.id, n, nullif(n - 1, 0), 'an edit', :plan
    FROM jobs, generate_series(1, :edits) AS n WHERE jobs.name LIKE 'Job %'
    """,
)
PAGES = (
    "/",
    "/?page=2",
    "/jobs/{job}/vehicle",
    "/jobs/{job}/heat",
    "/jobs/{job}/history",
    "/fleet",
)


def main() -> None:
    """Print each page's time with few jobs and with many, and their ratio."""
    structlog.configure(wrapper_class=structlog.make_filtering_bound_logger(logging.ERROR))
    garbage.rest()
    times = [_times(jobs) for jobs in (FEW, MANY)]
    for page in PAGES:
        few, many = (each[page] for each in times)
        print(f"{page:24} {few * 1000:7.1f} ms {many * 1000:7.1f} ms  × {many / few:.2f}")


def _times(jobs: int) -> dict[str, float]:
    with running() as (client, _, url):
        engine = create_engine(url)
        values = {"jobs": jobs, "edits": EDITS, "plan": compact(demo_plan("blank"))}
        with engine.begin() as connection:
            for statement in FILL:
                connection.execute(text(statement), values)
        with engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
            connection.execute(text("ANALYZE"))
        engine.dispose()
        job = re.findall(r'href="/jobs/(\d+)/vehicle"', client.get("/").text)[3]
        found = {page: _median_s(_load(client, page.format(job=job))) for page in PAGES}
        kept_jobs.clear()
        return found


def _median_s(call: Callable[[], None]) -> float:
    times = []
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        call()
        times.append(time.perf_counter() - begun)
    return statistics.median(times)


def _load(client: TestClient, address: str) -> Callable[[], None]:
    def load() -> None:
        client.get(address).raise_for_status()

    return load


if __name__ == "__main__":
    main()
