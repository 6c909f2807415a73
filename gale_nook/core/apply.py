"""Carrying out a command: plan in, plan out; nothing else changes."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.command import Command, Data
from gale_nook.core.edits.values import SetValues
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan, places_of
from gale_nook.core.plan.size import too_large
from gale_nook.core.references import check_references
from gale_nook.core.stations import STATIONS
from gale_nook.core.vehicle.pencil import ink


def apply(plan: Plan, command: Command, catalogue: Catalogue) -> Plan:
    """Return the plan after a command.

    Raises:
        BadInput: the command names something that is not there, or leads to a value that a plan
            cannot hold.
    """
    return applied(Job(plan, catalogue), command)


def applied(job: Job, command: Command) -> Plan:
    """Return the same, of a job: what it knows already is not worked out again."""
    data = job.plan.model_dump(mode="json")
    command.change(data, job)
    ink(data, command.typed())
    if command.generic:
        _settle(job.plan.model_dump(mode="json"), data)
    after = plan_of(data, job.given_catalogue, command)
    problem = too_large(after, job.plan)
    if problem:
        raise BadInput("plan", None, problem)
    return after


def _settle(before: Data, after: Data) -> None:
    for station in STATIONS:
        if station.settle is not None:
            station.settle(before, after)


def plan_of(data: dict[str, Any], catalogue: Catalogue, command: Command | None = None) -> Plan:
    """Return the plan that plain data stands for; raises BadInput naming the first value that is
    wrong.
    """
    try:
        return check_references(Plan.model_validate(data), catalogue)
    except ValidationError as error:
        place, problem = places_of(error)[0]
    except PlanUnreadable as error:
        place, problem = error.places[0]
    changes = command.changes if isinstance(command, SetValues) else ()
    value = next((change.value for change in changes), None)
    raise BadInput(place, value, problem)
