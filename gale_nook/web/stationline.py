"""What the line of stations says about each."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.checking import Check
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.station import Station
from gale_nook.core.stations import STATIONS
from gale_nook.exchange.finding_cards import VERDICT_MARKS, VERDICT_WORDS


@dataclass(frozen=True, slots=True)
class LineNode:
    """One node of the station line, ready to print."""

    station: Station
    verdict: str
    mark: str
    remark: str


def station_line(check: Check) -> list[LineNode]:
    """Return the line for a job: each station's worst verdict and its one number."""
    return [_node(check, station) for station in STATIONS if station.shown(check.job)]


def _node(check: Check, station: Station) -> LineNode:
    result = check.findings if station.tells_all else check.of(station.word)
    worst = result[0].verdict if result else None
    if worst is None:
        return LineNode(station, "none", "", station.number(check.job))
    return LineNode(station, worst.value, VERDICT_MARKS[worst], _remark(check, station, worst))


def _remark(check: Check, station: Station, worst: Verdict) -> str:
    tally = check.tally(None if station.tells_all else station.word)
    if worst in {Verdict.OVER, Verdict.TIGHT, Verdict.UNKNOWN} and not station.number_first:
        return f"{tally[worst.value]} {VERDICT_WORDS[worst]}"
    return station.number(check.job)
