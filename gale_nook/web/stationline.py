"""The eleven stations in the order of the work, and what the line says about each."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.checking import Check
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.quantities.said import q
from gale_nook.exchange.cards import VERDICT_MARKS, VERDICT_WORDS


@dataclass(frozen=True, slots=True)
class Station:
    """One station: its word in URLs and folders, its label, its key, and for those to come what
    will be there.
    """

    word: str
    label: str
    key: str
    to_come: str = ""


STATIONS = (
    Station("vehicle", "Vehicle", "1"),
    Station("heat", "Heat", "2"),
    Station("heater", "Heater", "3"),
    Station("spot", "Spot", "4"),
    Station("pipes", "Pipes", "5"),
    Station("fuel", "Fuel", "6"),
    Station(
        "air",
        "Air",
        "7",
        (
            "Here the warm air's ducts, outlets and way back will be laid out, and the usable "
            "output "
            "computed."
        ),
    ),
    Station(
        "power",
        "Power",
        "8",
        "Here cable, fuse and battery will be sized, and the voltage at the start computed.",
    ),
    Station("build", "Build", "9"),
    Station(
        "firing",
        "First fire",
        "0",
        "Here the first firing will be led step by step, with what to measure and expect.",
    ),
    Station(
        "log",
        "Log",
        "-",
        (
            "Here nights, fuel and faults will be kept, and what was measured set against what was "
            "predicted."
        ),
    ),
)
COOLANT = Station(
    "coolant",
    "Coolant",
    "7",
    "Here the coolant loop's hoses, pump and consumers will be laid out and checked.",
)
READY = tuple(station for station in STATIONS if not station.to_come)
WAITING = (*(station for station in STATIONS if station.to_come), COOLANT)


@dataclass(frozen=True, slots=True)
class LineNode:
    """One node of the station line, ready to print."""

    station: Station
    verdict: str
    mark: str
    remark: str


def station_line(check: Check) -> list[LineNode]:
    """Return the line for a job: each station's worst verdict and its one number."""
    coolant = check.job.plan.heater.medium == "coolant"
    stations = [COOLANT if coolant and station.word == "air" else station for station in STATIONS]
    return [_node(check, station) for station in stations]


def _node(check: Check, station: Station) -> LineNode:
    if station.to_come:
        return LineNode(station, "waiting", "", "not started")
    found = check.findings if station.word == "build" else check.of(station.word)
    worst = found[0].verdict if found else None
    if worst is None:
        return LineNode(station, "none", "", _number(check, station.word))
    return LineNode(station, worst.value, VERDICT_MARKS[worst], _remark(check, station.word, worst))


def _remark(check: Check, word: str, worst: Verdict) -> str:
    tally = check.tally(None if word == "build" else word)
    if worst in {Verdict.OVER, Verdict.TIGHT, Verdict.UNKNOWN} and word not in {"heat"}:
        return f"{tally[worst.value]} {VERDICT_WORDS[worst]}"
    return _number(check, word)


def _number(check: Check, word: str) -> str:
    job = check.job
    if word == "heat":
        return q(design_loss(job).need_w, "w")
    sheet, exhaust, line = heater_sheet(job), pipe_run(job, "exhaust"), fuel_run(job)
    if word == "heater" and sheet is not None:
        return sheet.label
    if word == "spot" and job.plan.spot is not None:
        return f"at {q(job.plan.spot.x_mm)}"
    if word == "pipes" and exhaust is not None:
        return q(exhaust.length_mm)
    if word == "fuel" and line is not None:
        return q(round(line.length_mm))
    if word == "vehicle":
        return f"{len(job.plan.vehicle.solids)} parts"
    return ""
