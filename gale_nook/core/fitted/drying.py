"""Drying: how much water the warm air of a locker carries off, and the opening that it leaves
by.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.places import set_c
from gale_nook.core.fitted.heating import shares_of_zones
from gale_nook.core.fitted.usable import usable
from gale_nook.core.heat.dew import saturation_pressure_pa
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.job import Job, fact
from gale_nook.core.physics.air import HEAT_CAPACITY_J_KGK, density_kg_m3
from gale_nook.core.physics.roots import root_of
from gale_nook.core.plan.air import LIVING, Zone

MOST_HUMID = 0.8  # of the air that leaves wet gear; workshop assumption
WET_SHARE = 0.6  # of the air that touches something wet on its way; workshop assumption
EVAPORATION_J_KG = 2.45e6  # water near 20 °C; any steam table
VAPOUR_RATIO = 0.622  # molar masses of water and air
VENT_PA = 5.0  # that a vent may cost; more would push the air back into the ducts
DISCHARGE = 0.6
SOLVED_K = 1e-4
HOT_C = 150.0


@dataclass(frozen=True, slots=True)
class Drying:
    """A zone with wet things.

    Attributes:
        litres_h: that its air carries off.
        hours: until what hangs there is dry; None where nothing is carried off.
        air_c: temperature in it meanwhile.
        vent_cm2: opening that the air needs to leave by; has_cm2: that it has.
    """

    zone: str
    name: str
    wet_l: float
    litres_h: float
    hours: float | None
    air_c: float
    vent_cm2: float
    has_cm2: float


def humidity_kg_kg(celsius: float, relative: float, air_pa: float) -> float:
    """Return the water in air, kg a kg of dry air.

    >>> round(humidity_kg_kg(20.0, 0.5, 101_325.0), 5)
    0.00726
    """
    vapour = min(relative * saturation_pressure_pa(celsius), 0.99 * air_pa)
    return VAPOUR_RATIO * vapour / (air_pa - vapour)


@fact
def drying(job: Job) -> tuple[Drying, ...]:
    """Return the zones in which something hangs to dry, at the heater's usable output on the
    coldest night.
    """
    found = usable(job)
    if found is None or found.at is None:
        return ()
    air = found.at
    return tuple(_of_zone(job, air, zone) for zone in job.plan.air.zones if zone.wet_l > 0)


def _of_zone(job: Job, air: AirState, zone: Zone) -> Drying:
    """Mixed air at MOST_HUMID, by balance of heat and water: what the air brings is what the walls
    lose and what evaporates.
    """
    outlets = [outlet for outlet in air.outlets if outlet.zone == zone.id]
    flow = sum(outlet.flow_kg_s for outlet in outlets)
    brought = sum(outlet.flow_kg_s * outlet.temperature_c for outlet in outlets)
    pa, inside_c = air.layout.air_pa, set_c(job, LIVING)
    dry = humidity_kg_kg(inside_c, job.plan.heat.humidity_percent / 100, pa)
    shares, loss = shares_of_zones(job), design_loss(job)
    out_w_k = sum(shares.of(zone.id, e.id) * e.conductance_w_k for e in loss.elements)
    between = shares.exchange_w_k[zone.id]

    def evaporated_kg_s(celsius: float) -> float:
        return WET_SHARE * flow * (humidity_kg_kg(celsius, MOST_HUMID, pa) - dry)

    def missing_w(celsius: float) -> float:
        lost = out_w_k * (celsius - loss.outside_c) + between * (celsius - inside_c)
        given = HEAT_CAPACITY_J_KGK * (brought - flow * celsius)
        return lost + EVAPORATION_J_KG * evaporated_kg_s(celsius) - given

    at = root_of(missing_w, loss.outside_c, HOT_C, SOLVED_K) if flow > 0 else inside_c
    litres_h = max(evaporated_kg_s(at), 0.0) * 3600
    density = float(density_kg_m3(pa, at))
    vent = flow / (DISCHARGE * math.sqrt(2 * density * VENT_PA)) * 1e4
    hours = zone.wet_l / litres_h if litres_h > 0 else None
    return Drying(zone.id, zone.name, zone.wet_l, litres_h, hours, at, vent, zone.opening_cm2)
