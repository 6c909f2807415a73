"""Air station."""

from __future__ import annotations

from gale_nook.core.air.station import AIR
from gale_nook.web.stations.routing import station_router

router = station_router(AIR)
