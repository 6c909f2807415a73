"""Print every figure with its baseline and its aim."""

from __future__ import annotations

import logging

import structlog

from benchmarks import air, coolant, core, fuel, ledger, log, night, pipes, power, server, spot
from gale_nook import garbage


def main() -> None:
    garbage.rest()  # as the processes that serve
    for figure, aim in (
        *core.figures(),
        *air.figures(),
        *coolant.figures(),
        *ledger.figures(),
        *night.figures(),
        *spot.figures(),
        *pipes.figures(),
        *fuel.figures(),
        *power.figures(),
        *log.figures(),
    ):
        print(figure.line(aim))
    with server.running() as (client, job, url):
        structlog.configure(wrapper_class=structlog.make_filtering_bound_logger(logging.ERROR))
        for figure, aim in server.figures(client, job):
            print(figure.line(aim))
        print(
            f"{'first load of the heaviest station page':44} "
            f"{server.first_load_kb(client, job):8.1f} kB   aim: under 350 kB"
        )
        print(
            f"{'web process, every station and one PDF':44} "
            f"{server.memory_mb(url, job):8.1f} MB   "
            "aim: under 250 MB"
        )


if __name__ == "__main__":
    main()
