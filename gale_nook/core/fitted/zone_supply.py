"""What consumers give each zone, against what it loses on the coldest night."""

from __future__ import annotations

from dataclasses import dataclass, replace

from gale_nook.core.ducts.convector import ducted_convector
from gale_nook.core.fitted.heating import ZoneHeat, zone_gets_w, zone_heat
from gale_nook.core.fitted.usable import usable
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
    ducted, air = ducted_convector(job), usable(job)
    for found in state.branches.values():
        if ducted is not None and air is not None and found.branch.id == ducted[0].id:
            continue  # its heat goes where its ducts lead
        for sink, watts in found.given_to:
            kind, _, name = sink.partition(":")
            zone = name if kind == "zone" else ""
            if kind == "tank" and found.branch.part is not None:
                zone = found.branch.part.zone
            if zone:
                gets[zone] = gets.get(zone, 0.0) + watts
    if ducted is not None and air is not None and air.at is not None:
        for each in zone_heat(job):
            gets[each.zone] = gets.get(each.zone, 0.0) + zone_gets_w(job, air.at, each.zone)
    return tuple(
        ZoneSupply(each.zone, each.name, each.need_w, gets.get(each.zone, 0.0))
        for each in zone_heat(job)
    )


def zones_supplied(job: Job) -> tuple[ZoneHeat, ...]:
    """Return every zone with what it gets: of the warm air, or of all of the loop where the job is
    heated by coolant.
    """
    supply = {each.id: each.gets_w for each in zone_supply(job)}
    return tuple(
        replace(each, gets_w=supply[each.zone]) if each.zone in supply else each
        for each in zone_heat(job)
    )
