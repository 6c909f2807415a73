"""The stations that are not there yet: one honest line each."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.stations import WAITING
from gale_nook.web.station import WebStation
from gale_nook.web.stations.routing import station_router
from gale_nook.web.stations.waiting.page import WaitingPage

FOLDER = Path(__file__).parent
WAITING_PAGES = tuple(
    WebStation(station, WaitingPage, station_router(station), FOLDER) for station in WAITING
)
