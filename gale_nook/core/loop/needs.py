"""What consumers give each zone, against what it loses on the coldest night."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.ducts.heating import zone_heat
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.state import loop_state


@dataclass(frozen=True, slots=True)
class ZoneSupply:
    """A zone with what it loses, and what it gets of the loop."""

    id: str
    name: str
    needs_w: float
    gets_w: float


@fact
def zone_supply(job: Job) -> tuple[ZoneSupply, ...]:
    """Return every zone; none without a loop. A tank's standing loss warms its zone."""
    state = loop_state(job)
    if state is None or not job.plan.coolant.hoses:
        return ()
    gets: dict[str, float] = {}
    for found in state.branches.values():
        kind, _, name = found.sink.partition(":")
        zone = name if kind == "zone" else ""
        if kind == "tank" and found.branch.part is not None:
            zone = found.branch.part.zone
        if zone:
            gets[zone] = gets.get(zone, 0.0) + found.given_w
    return tuple(
        ZoneSupply(each.zone, each.name, each.need_w, gets.get(each.zone, 0.0))
        for each in zone_heat(job)
    )
