"""A station that has no room yet: one honest line."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.station import Station
from gale_nook.web.station import WebStation
from gale_nook.web.stations.routing import station_router
from gale_nook.web.stations.waiting.page import WaitingPage


def waiting_pages(station: Station) -> WebStation:
    """Return the pages of a station that is not there yet."""
    return WebStation(station, WaitingPage, station_router(station), Path(__file__).parent)
