"""Station *Fuel* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.fuel.station import FUEL
from gale_nook.web.station import WebStation
from gale_nook.web.stations.fuel.page import FuelPage
from gale_nook.web.stations.fuel.router import router

FUEL_PAGES = WebStation(
    FUEL,
    FuelPage,
    router,
    Path(__file__).parent,
    live={
        "fuel-figures": "fuel/figures.html",
    },
)
