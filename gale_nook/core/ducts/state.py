"""The warm air at one output of the heater, or at the output that meets a limit."""

from __future__ import annotations

from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.coupled import CoupledSolver
from gale_nook.core.ducts.free import free_state_at_limit, state_without_ducts
from gale_nook.core.ducts.layout import Layout
from gale_nook.core.ducts.throttles import Throttles, open_ducts, throttles_of


def air_state(
    plan_layout: Layout,
    output_w: float,
    throttles: Throttles | None = None,
    near: AirState | None = None,
) -> AirState | None:
    """Return the warm air at an output; None where every outlet is shut.

    Flow and temperature follow one another until neither changes: density and viscosity of each
    piece by its air, heat through its wall by its flow. What is warm and light does not rise by
    itself in it.

    Args:
        near: a state of the same layout that this one is like; it changes nothing but the time.

    Raises:
        NotConverged: it did not come to rest.
    """
    how = throttles if throttles is not None else throttles_of(plan_layout)
    if not plan_layout.runs:
        return state_without_ducts(plan_layout, output_w)
    open_now = open_ducts(plan_layout, how.shut)
    if not open_now:
        return None
    return CoupledSolver(plan_layout, output_w, how, open_now).solve(near)


def state_at_limit(
    plan_layout: Layout, limit_c: float, throttles: Throttles, near: AirState | None = None
) -> AirState | None:
    """Return the warm air at the most output that keeps the warm end under a limit: at the most
    output that there is, at the limit, or at the least output where it is hotter even there; None
    where every outlet is shut.

    Args:
        near: a state that this one is like.
    """
    if not plan_layout.runs:
        return free_state_at_limit(plan_layout, limit_c)
    open_now = open_ducts(plan_layout, throttles.shut)
    if not open_now:
        return None
    return CoupledSolver(plan_layout, plan_layout.most_w, throttles, open_now).solve(near, limit_c)
