"""The stations that are not there yet: one honest line each."""

from __future__ import annotations

from fastapi import APIRouter

from gale_nook.core.stations import WAITING
from gale_nook.web.stations.page import station_router

router = APIRouter()
for _station in WAITING:
    router.include_router(station_router(_station))
