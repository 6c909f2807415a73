"""Station *Air* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.air.station import AIR
from gale_nook.web.station import WebStation
from gale_nook.web.stations.air.page import AirPage
from gale_nook.web.stations.air.router import router

AIR_PAGES = WebStation(
    AIR,
    AirPage,
    router,
    Path(__file__).parent,
    live={
        "air-figures": "air/figures.html",
        "air-outlets": "air/outlets.html",
    },
)
