"""The demo workshop's plans, and the shell-only plan that a new job starts from."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from gale_nook.core.plan.document import Plan, read_plan

PLANS = Path(__file__).with_name("plans")
DEMO_NAMES = ("heron", "quarto", "wren", "blank")


@cache
def demo_plan(name: str) -> Plan:
    """Return one of the demo plans by its file name."""
    return read_plan((PLANS / f"{name}.json").read_bytes())


def new_plan(name: str) -> Plan:
    """Return a fresh plan for a job of that name: the mid-size van with the shell only."""
    blank = demo_plan("blank")
    return Plan.model_validate({**blank.model_dump(mode="json"), "name": name, "note": ""})
