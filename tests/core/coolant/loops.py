"""Loops for the tests: usual ones on Quarto's vehicle, changed by commands."""

from __future__ import annotations

from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.coolant.commands import StartLoop
from gale_nook.core.edits.command import Command
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.demo.load import demo_plan


def loop_plan(catalogue: Catalogue, usual: str, *commands: Command) -> Plan:
    """Quarto with a usual loop in the place of its own, and some edits."""
    plan = apply(demo_plan("quarto"), StartLoop(usual=usual), catalogue)
    for command in commands:
        plan = apply(plan, command, catalogue)
    return plan


def loop_job(catalogue: Catalogue, usual: str, *commands: Command) -> Job:
    """The same as a job."""
    return Job(loop_plan(catalogue, usual, *commands), catalogue)
