"""The heater's usable output through its ducting: the most at which the warm end keeps its
limit.
"""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.convector import ducted_convector
from gale_nook.core.ducts.layout import Layout, layout
from gale_nook.core.ducts.state import air_state, state_at_limit
from gale_nook.core.ducts.throttles import Throttles, throttles_of
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.state import loop_state

NEAR_ENOUGH_K = 1e-3


@dataclass(frozen=True)
class Usable:
    """What the heater can give through its ducting.

    Attributes:
        usable_w: 0 where it shuts down even at its least output.
        most_w: that it gives where nothing holds its air back.
        at: the air at that output; at the least output where it shuts down; None where every outlet
            is shut.
    """

    usable_w: float
    most_w: float
    limit_c: float
    at: AirState | None

    @property
    def throttles(self) -> bool:
        """Whether the ducting takes something off its output."""
        return self.usable_w < self.most_w - 1.0

    @property
    def shuts_down(self) -> bool:
        return self.usable_w <= 0.0


@fact
def usable(job: Job) -> Usable | None:
    """Return the usable output as the plan's outlets stand; None without a placed air heater or a
    ducted convector, or without the ducts that it is to blow into.
    """
    plan_layout = layout(job)
    if plan_layout is None:
        return None
    if ducted_convector(job) is not None:
        return _of_convector(job, plan_layout)
    return usable_of(plan_layout, throttles_of(plan_layout))


def _of_convector(job: Job, plan_layout: Layout) -> Usable | None:
    """What a convector gives into its ducts, by its coolant on the coldest night; None where its
    loop cannot be worked out.
    """
    found, state = ducted_convector(job), loop_state(job)
    branch = state.branches.get(found[0].id) if found is not None and state is not None else None
    if branch is None:
        return None
    given = max(branch.given_w, 0.0)
    air = air_state(plan_layout, given)
    return Usable(given if air is not None else 0.0, given, plan_layout.fan.outlet_limit_c, air)


def usable_of(plan_layout: Layout, throttles: Throttles, near: AirState | None = None) -> Usable:
    """Return the usable output with the outlets in some position.

    The fan turns with the output in a straight line, so that the warm end gets steadily warmer with
    it or steadily cooler: what holds at the most output, or at the limit, is all there is to look
    for.
    """
    limit, most = plan_layout.fan.outlet_limit_c, plan_layout.most_w
    found = state_at_limit(plan_layout, limit, throttles, near)
    if found is None:
        return Usable(0.0, most, limit, None)
    if found.heater_c > limit + NEAR_ENOUGH_K:
        return Usable(0.0, most, limit, found)
    return Usable(found.output_w, most, limit, found)
