"""Station *Build* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.build.station import BUILD
from gale_nook.web.station import WebStation
from gale_nook.web.stations.build.page import BuildPage
from gale_nook.web.stations.build.router import router

BUILD_PAGES = WebStation(
    BUILD,
    BuildPage,
    router,
    Path(__file__).parent,
)
