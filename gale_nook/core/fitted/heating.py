"""What each zone needs and what it gets: on the coldest night, and from cold."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.places import set_c
from gale_nook.core.fitted.installed import Installed, installed, room_with
from gale_nook.core.heat.burner import ON_BELOW_K, Burner
from gale_nook.core.heat.load_space import STEP_S, VENTILATION
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.heat.night import go_on
from gale_nook.core.heat.zoned_space import ZonedSpace
from gale_nook.core.heat.zones import ZoneShares, zone_shares
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.night import warm_up
from gale_nook.core.physics.air import HEAT_CAPACITY_J_KGK
from gale_nook.core.plan.air import LIVING

LOOK_ON_H = 4.0  # for how long a warm-up is followed


@dataclass(frozen=True, slots=True)
class ZoneHeat:
    """One zone on the coldest night, every zone at the temperature that it is to have.

    Attributes:
        set_c: that it is to have.
        need_w: what it loses to the outside and to colder zones, less what comes from warmer ones.
        gets_w: from its outlets, the ducts in it, and the heater where that stands, at the usable
            output; the living space also what the others pass on; None where nothing is known of
            the air.
        ends_c: temperature where it ends on such a night, the thermostat holding its own zone.
    """

    zone: str
    name: str
    set_c: float
    need_w: float
    gets_w: float | None
    ends_c: float | None


@fact
def shares_of_zones(job: Job) -> ZoneShares:
    """Return how the design loss divides among the zones."""
    return zone_shares(job.plan, job.catalogue, design_loss(job))


@fact
def chosen_installed(job: Job) -> Installed | None:
    """Return the chosen heater as it would be fitted here; None without one."""
    sheet = heater_sheet(job)
    return installed(job, sheet) if sheet is not None else None


@fact
def zone_heat(job: Job) -> tuple[ZoneHeat, ...]:
    """Return every zone, the living space first."""
    shares, heater = shares_of_zones(job), chosen_installed(job)
    air = heater.air if heater is not None else None
    ends = _ends_c(job, heater) if heater is not None and air is not None else {}
    needs = {zone: _need_w(job, shares, zone) for zone in shares.ids}
    gets = {zone: zone_gets_w(job, air, zone) for zone in shares.ids} if air is not None else {}
    if heater is not None and heater.most_w <= 0:
        gets = dict.fromkeys(gets, 0.0)  # it shuts down
    elif air is not None:
        gets[LIVING] += sum(
            _passed_on_w(job, shares, air, zone, gets[zone] - needs[zone])
            for zone in shares.ids
            if zone != LIVING
        )
    return tuple(
        ZoneHeat(
            zone,
            job.plan.air.zone_name(zone),
            set_c(job, zone),
            max(needs[zone], 0.0),
            gets.get(zone),
            ends.get(zone),
        )
        for zone in shares.ids
    )


def _passed_on_w(job: Job, shares: ZoneShares, air: AirState, zone: str, surplus_w: float) -> float:
    """What of a zone's surplus comes over to the living space: it gets warmer until air and divider
    carry it off, and its own walls; of a zone that gets too little, what it draws from there.
    """
    loss = design_loss(job)
    carried = sum(o.flow_kg_s for o in air.outlets if o.zone == zone) * HEAT_CAPACITY_J_KGK
    between = shares.exchange_w_k[zone] + carried
    if zone in shares.own_w_k:
        outside = shares.own_w_k[zone]
    else:
        outside = sum(shares.of(zone, e.id) * e.conductance_w_k for e in loss.elements)
        difference = job.plan.heat.inside_c - loss.outside_c
        outside += shares.of(zone, VENTILATION) * loss.ventilation_w / difference
    return surplus_w * between / (between + outside)


def _need_w(job: Job, shares: ZoneShares, zone: str) -> float:
    """Loss of a zone at its own temperature, less what comes over from the living space."""
    loss, heat, here = design_loss(job), job.plan.heat, set_c(job, zone)
    difference = heat.inside_c - loss.outside_c
    scale = (here - loss.outside_c) / difference
    if zone in shares.own_w_k:
        own = shares.own_w_k[zone] * (here - loss.outside_c)
    else:
        own = sum(shares.of(zone, e.id) * e.loss_w for e in loss.elements) * scale
        own += shares.of(zone, VENTILATION) * loss.ventilation_w * scale
    if zone == LIVING:
        return own + sum(
            between * (here - set_c(job, other)) for other, between in shares.exchange_w_k.items()
        )
    return own + shares.exchange_w_k[zone] * (here - set_c(job, LIVING))


def zone_gets_w(job: Job, air: AirState, zone: str) -> float:
    """Return what is given to a zone over air of its own temperature; to the living space with it
    the air that comes back from the others.
    """
    here = set_c(job, zone)
    total = air.lost_w.get(zone, 0.0) + (air.casing_w if air.layout.place == zone else 0.0)
    for outlet in air.outlets:
        carried = outlet.flow_kg_s * HEAT_CAPACITY_J_KGK
        if outlet.zone == zone:
            total += carried * (outlet.temperature_c - here)
        elif zone == LIVING:
            total += carried * (set_c(job, outlet.zone) - here)
    return total


def _ends_c(job: Job, heater: Installed) -> dict[str, float]:
    """Where each zone ends while the thermostat holds its own, as far as the heater can.

    What is given rises in a straight line with the output.
    """
    space = ZonedSpace(job.plan, job.catalogue, heater.heat_share, heater.flow_w_k)
    none, full = space.steady_c(0.0), space.steady_c(heater.most_w)
    sensor = job.plan.air.sensor_zone
    rise = full[sensor] - none[sensor]
    wanted = (job.plan.heat.inside_c - none[sensor]) / rise if rise > 0 else 1.0
    share = min(max(wanted, 0.0), 1.0)
    return {zone: none[zone] + share * (full[zone] - none[zone]) for zone in space.ids}


@fact
def warm_minutes(job: Job) -> dict[str, float | None]:
    """Return the minutes from cold until each zone has its temperature; None for one that has not
    within LOOK_ON_H.
    """
    heater, by_loop = chosen_installed(job), warm_up(job)
    if heater is None:
        return {}
    if by_loop is not None:
        zones = (LIVING, *(zone.id for zone in job.plan.air.zones))
        seconds = {zone: by_loop.zones_s.get(zone) for zone in zones}
        return {zone: s / 60 if s is not None else None for zone, s in seconds.items()}
    room = room_with(job, heater).fresh(job.plan.heat.outside_c)
    burner = Burner(heater.sheet, heater.most_w)
    wanted = {zone: set_c(job, zone) for zone in (LIVING, *(z.id for z in job.plan.air.zones))}
    reached: dict[str, float | None] = {}
    nodes = room.air_nodes if isinstance(room, ZonedSpace) else {LIVING: room.sensor}
    step, steps = 0, math.ceil(LOOK_ON_H * 3600 / STEP_S)
    while step < steps and len(reached) < len(wanted):
        celsius = go_on(room, burner, job.plan.heat.inside_c, steps - step).celsius
        for zone in wanted.keys() - reached.keys():
            there = np.flatnonzero(celsius[:, nodes[zone]] >= wanted[zone] - ON_BELOW_K)
            if len(there):
                reached[zone] = (step + int(there[0]) + 1) * STEP_S / 60
        step += len(celsius)
    return {zone: reached.get(zone) for zone in wanted}
