"""Station *Vehicle* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.vehicle.station import VEHICLE
from gale_nook.web.station import WebStation
from gale_nook.web.stations.vehicle.page import VehiclePage
from gale_nook.web.stations.vehicle.photos import router as photos_router
from gale_nook.web.stations.vehicle.round import router as round_router
from gale_nook.web.stations.vehicle.router import router
from gale_nook.web.stations.vehicle.several import router as several_router

router.include_router(round_router)
router.include_router(several_router)
router.include_router(photos_router)

VEHICLE_PAGES = WebStation(
    VEHICLE,
    VehiclePage,
    router,
    Path(__file__).parent,
)
