"""Station *Heater* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.heater.station import HEATER
from gale_nook.web.station import WebStation
from gale_nook.web.stations.heater.own import router as own_router
from gale_nook.web.stations.heater.page import HeaterPage, fill
from gale_nook.web.stations.heater.router import router

router.include_router(own_router)

HEATER_PAGES = WebStation(
    HEATER,
    HeaterPage,
    router,
    Path(__file__).parent,
    fill=fill,
    live={
        "heater-need": "heater/need.html",
        "ranges": "heater/ranges.html",
        "night-live": "heater/night_live.html",
    },
)
