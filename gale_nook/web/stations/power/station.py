"""Station *Power* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.power.station import POWER
from gale_nook.web.station import WebStation
from gale_nook.web.stations.power.page import PowerPage
from gale_nook.web.stations.power.router import router

POWER_PAGES = WebStation(
    POWER,
    PowerPage,
    router,
    Path(__file__).parent,
    live={"power-figures": "power/figures.html"},
)
