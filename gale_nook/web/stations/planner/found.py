"""The searches for layouts that were asked for, for whoever shows them."""

from __future__ import annotations

from gale_nook.core.catalogue.planner import Effort
from gale_nook.core.plan.document import Plan
from gale_nook.core.planner.layouts import Layout
from gale_nook.web.context import ReadRequest
from gale_nook.worker.works import Works, WorkState


def known_search(read: ReadRequest, plan: Plan) -> tuple[WorkState, Effort] | None:
    """The search that was asked for last that is deep enough to show, the deepest first."""
    works: Works = read.request.app.state.works
    efforts: tuple[Effort, ...] = ("thorough", "usual", "quick")
    states = [(works.known("layouts", plan, read.book, {"effort": e}), e) for e in efforts]
    there = [(state, effort) for state, effort in states if state is not None]
    running = [each for each in there if not each[0].ended]
    done = [each for each in there if each[0].found is not None]
    return next(iter([*running, *done, *there]), None)


def known_layouts(read: ReadRequest, plan: Plan) -> tuple[Layout, ...]:
    """Return the layouts that were found for a plan; none where none was looked for."""
    known = known_search(read, plan)
    found = known[0].found if known is not None else None
    layouts: tuple[Layout, ...] = found.layouts if found is not None else ()
    return layouts
