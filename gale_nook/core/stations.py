"""The stations in the order of the work. A new one joins this list, and the web's."""

from __future__ import annotations

from gale_nook.core.air.station import AIR
from gale_nook.core.build.station import BUILD
from gale_nook.core.coolant.station import COOLANT
from gale_nook.core.firing.station import FIRING
from gale_nook.core.fuel.station import FUEL
from gale_nook.core.heat.station import HEAT
from gale_nook.core.heater.station import HEATER
from gale_nook.core.log.station import LOG
from gale_nook.core.pipes.station import PIPES
from gale_nook.core.planner.station import PLANNER
from gale_nook.core.power.station import POWER
from gale_nook.core.spot.station import SPOT
from gale_nook.core.vehicle.station import VEHICLE

STATIONS = (
    VEHICLE,
    HEAT,
    HEATER,
    PLANNER,
    SPOT,
    PIPES,
    FUEL,
    AIR,
    COOLANT,
    POWER,
    BUILD,
    FIRING,
    LOG,
)
BY_WORD = {station.word: station for station in STATIONS}
RULES = tuple(rule for station in STATIONS for rule in station.rules)
