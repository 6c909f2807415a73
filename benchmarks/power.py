"""The electrics' rules against those of the fuel, and the ladder as a slider moves."""

from __future__ import annotations

from collections.abc import Iterator

from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import applied
from gale_nook.core.checking import checked
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.fuel.station import FUEL
from gale_nook.core.job import Job
from gale_nook.core.power.station import POWER
from gale_nook.demo.load import demo_plan

ALONE = frozenset({"power"})


def figures() -> Iterator[tuple[Figure, str]]:
    job = Job(demo_plan("heron"), load_catalogue())
    checked(job)
    charges = iter(range(1, 10_000))

    def rules() -> None:
        findings_of(job, POWER.rules)

    def fuel_rules() -> None:
        findings_of(job, FUEL.rules)

    def dragged() -> None:
        charge = set_value("power.battery.charge_percent", 20.0 + next(charges) / 200)
        checked(job.with_plan(applied(job, charge)), ALONE)

    yield compare("all power rules of Heron", rules, "all its fuel rules", fuel_rules), "under 5 ms"
    yield compare("power as its slider moves", dragged, "all its fuel rules", fuel_rules), "100 ms"
