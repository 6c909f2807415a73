"""Build station."""

from __future__ import annotations

from gale_nook.web.stations.page import by_word, station_router

router = station_router(by_word("build"))
