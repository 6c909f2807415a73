"""Station *Layouts* on the web."""

from __future__ import annotations

from pathlib import Path

from gale_nook.core.planner.station import PLANNER
from gale_nook.web.station import WebStation
from gale_nook.web.stations.planner.page import PlannerPage, fill
from gale_nook.web.stations.planner.router import router

PLANNER_PAGES = WebStation(PLANNER, PlannerPage, router, Path(__file__).parent, fill=fill)
