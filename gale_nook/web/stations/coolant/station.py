"""Station *Coolant* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.coolant.station import COOLANT
from gale_nook.web.station import WebStation
from gale_nook.web.stations.coolant.page import CoolantPage
from gale_nook.web.stations.coolant.router import router

COOLANT_PAGES = WebStation(
    COOLANT,
    CoolantPage,
    router,
    Path(__file__).parent,
    live={"coolant-figures": "coolant/figures.html"},
)
