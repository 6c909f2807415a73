"""Station *First fire* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.firing.station import FIRING
from gale_nook.web.station import WebStation
from gale_nook.web.stations.firing.page import FiringPage
from gale_nook.web.stations.firing.router import router

FIRING_PAGES = WebStation(FIRING, FiringPage, router, Path(__file__).parent)
