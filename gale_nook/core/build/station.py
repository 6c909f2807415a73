"""Station *Build*: what to fetch, cut and do, in order."""

from __future__ import annotations

from gale_nook.core.station import Station

BUILD = Station("build", "Build", "9", tells_all=True)
