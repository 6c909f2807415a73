"""Station *Pipes* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.pipes.station import PIPES
from gale_nook.web.station import WebStation
from gale_nook.web.stations.pipes.page import PipesPage
from gale_nook.web.stations.pipes.router import router

PIPES_PAGES = WebStation(
    PIPES,
    PipesPage,
    router,
    Path(__file__).parent,
    live={
        "run-figures": "pipes/figures.html",
    },
)
