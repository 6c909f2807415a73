"""The stations' routers: one module a station, named by its word."""

from __future__ import annotations

from fastapi import APIRouter

from gale_nook.web.stations import build, fuel, heat, heater, pipes, spot, vehicle, waiting


def routers() -> tuple[APIRouter, ...]:
    """Return the router of every station."""
    return tuple(
        module.router for module in (vehicle, heat, heater, spot, pipes, fuel, build, waiting)
    )
