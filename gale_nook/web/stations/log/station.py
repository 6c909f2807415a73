"""Station *Log* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.log.station import LOG
from gale_nook.web.station import WebStation
from gale_nook.web.stations.log.page import LogPage, fill
from gale_nook.web.stations.log.router import router

LOG_PAGES = WebStation(LOG, LogPage, router, Path(__file__).parent, fill=fill)
