"""Build station."""

from __future__ import annotations

from gale_nook.core.build.station import BUILD
from gale_nook.web.stations.routing import station_router

router = station_router(BUILD)
