"""Station *Build*: what to fetch, cut and do, in order."""

from __future__ import annotations

from gale_nook.core.build import rules
from gale_nook.core.build.commands import COMMANDS
from gale_nook.core.findings.rule import rules_of
from gale_nook.core.station import Station

BUILD = Station(
    "build",
    "Build",
    "9",
    rules=rules_of(rules),
    commands=COMMANDS,
    tells_all=True,
)
