"""The stations' pages. A new station joins this list, and the core's."""

from __future__ import annotations

from gale_nook.web.station import WebStation
from gale_nook.web.stations.air.station import AIR_PAGES
from gale_nook.web.stations.build.station import BUILD_PAGES
from gale_nook.web.stations.coolant.station import COOLANT_PAGES
from gale_nook.web.stations.firing.station import FIRING_PAGES
from gale_nook.web.stations.fuel.station import FUEL_PAGES
from gale_nook.web.stations.heat.station import HEAT_PAGES
from gale_nook.web.stations.heater.station import HEATER_PAGES
from gale_nook.web.stations.log.station import LOG_PAGES
from gale_nook.web.stations.pipes.station import PIPES_PAGES
from gale_nook.web.stations.planner.station import PLANNER_PAGES
from gale_nook.web.stations.power.station import POWER_PAGES
from gale_nook.web.stations.spot.station import SPOT_PAGES
from gale_nook.web.stations.vehicle.station import VEHICLE_PAGES

WEB_STATIONS: tuple[WebStation, ...] = (
    VEHICLE_PAGES,
    HEAT_PAGES,
    HEATER_PAGES,
    PLANNER_PAGES,
    SPOT_PAGES,
    PIPES_PAGES,
    FUEL_PAGES,
    AIR_PAGES,
    COOLANT_PAGES,
    POWER_PAGES,
    BUILD_PAGES,
    FIRING_PAGES,
    LOG_PAGES,
)
