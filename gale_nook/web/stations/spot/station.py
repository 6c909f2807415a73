"""Station *Spot* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.spot.station import SPOT
from gale_nook.web.station import WebStation
from gale_nook.web.stations.spot.page import SpotPage
from gale_nook.web.stations.spot.router import router

SPOT_PAGES = WebStation(
    SPOT,
    SpotPage,
    router,
    Path(__file__).parent,
)
