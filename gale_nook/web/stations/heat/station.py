"""Station *Heat* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.heat.station import HEAT
from gale_nook.web.station import WebStation
from gale_nook.web.stations.heat.page import HeatPage
from gale_nook.web.stations.heat.router import router

HEAT_PAGES = WebStation(
    HEAT,
    HeatPage,
    router,
    Path(__file__).parent,
    live={
        "need-figures": "heat/need.html",
        "loss-bars": "heat/bars.html",
    },
)
