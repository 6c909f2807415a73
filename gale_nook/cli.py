"""The command line: check, heat, schema and export on plan files, with no server
and no database; and safekeeping of what the application holds.
"""

from __future__ import annotations

import datetime
import json
import os
import sys
from collections.abc import Callable
from dataclasses import asdict
from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any, Literal, cast, get_args

import typer

from gale_nook import book_commands, planner_commands
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.book.document import book_schema
from gale_nook.core.build.drill import NOTHING_TO_DRILL
from gale_nook.core.build.hole_sheets import drill_sheets
from gale_nook.core.build.report import build_lines, build_report
from gale_nook.core.catalogue.planner import Effort
from gale_nook.core.checking import Check, check, checked
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.fitted.night import fitted_night
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job, with_own_book
from gale_nook.core.log.report import log_lines, log_report
from gale_nook.core.pipes.obstructions import reasons_against
from gale_nook.core.pipes.proposals import proposals
from gale_nook.core.pipes.report import pipe_lines, pipes_report, place_line
from gale_nook.core.pipes.route_proposal import RouteProposal
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.short_routes import is_short, short_obstruction, short_routes, short_runs
from gale_nook.core.plan.document import MAX_FILE_BYTES, Plan, plan_schema, read_plan
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.sentences import say
from gale_nook.core.references import check_references
from gale_nook.core.station import Station
from gale_nook.core.stations import STATIONS
from gale_nook.devices.sender import SignIn
from gale_nook.exchange.drill import drill_pdf
from gale_nook.exchange.finding_cards import (
    VERDICT_MARKS,
    VERDICT_WORDS,
    assumed_words,
    limit_words,
    measured_words,
)
from gale_nook.exchange.heater_sheets import sheet_schema
from gale_nook.exchange.log_csv import read_log
from gale_nook.exchange.sheet_pdf import build_pdf
from gale_nook.heater_commands import record, simulate

CLEAR, OVER, UNREADABLE = 0, 1, 2
EFFORTS: tuple[str, ...] = get_args(Effort)
NAMES = {"firing": "fire"}  # of commands that are not called as their station
app = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    help="Check and export Gale Nook plan files.",
    pretty_exceptions_enable=False,
)


class Format(StrEnum):
    TEXT = "text"
    JSON = "json"


PlanFile = Annotated[
    Path, typer.Argument(help="a plan file, or - for standard input", metavar="PLAN.json")
]
TubeOption = Annotated[Literal["exhaust", "intake"], typer.Option("--tube", help="of which pipe")]
FormatOption = Annotated[Format, typer.Option("--format", help="how to print")]


def _read(path: Path) -> Plan:
    """Return the plan of a file; ends the program with UNREADABLE and the reason
    when it is none.
    """
    try:
        raw = sys.stdin.buffer.read(MAX_FILE_BYTES + 1) if str(path) == "-" else path.read_bytes()
        return check_references(read_plan(raw), load_catalogue())
    except OSError as error:
        typer.echo(f"{path}: {error.strerror}", err=True)
    except PlanUnreadable as error:
        typer.echo(f"{path}: {error.summary}", err=True)
        for place, problem in error.places:
            typer.echo(f"  {place}: {say(problem)}", err=True)
    raise typer.Exit(UNREADABLE)


@app.command("check")
def check_plan(plan_file: PlanFile, form: FormatOption = Format.TEXT) -> None:
    """Check every rule. Ends with 0 for nothing over, 1 for something over, 2 for a file that
    cannot be read.
    """
    done = check(_read(plan_file), load_catalogue())
    if form is Format.JSON:
        _print_json(
            {
                "plan": done.job.plan.name,
                "findings": [_as_data(f) for f in done.findings],
                "tally": done.tally(),
            }
        )
    else:
        _print_text(done)
    raise typer.Exit(OVER if done.tally()["over"] else CLEAR)


def _as_data(finding: Finding) -> dict[str, Any]:
    return {
        "rule": finding.rule,
        "station": finding.station,
        "subject": finding.subject,
        "verdict": finding.verdict.value,
        "run": finding.run,
        "measured": finding.measured,
        "answer": finding.answer,
        "answer_wanted": finding.band.wanted,
        "limit": {"minimum": finding.band.minimum, "maximum": finding.band.maximum},
        "limit_of": finding.band.whose.value,
        "limit_source": finding.band.source,
        "unit": finding.unit,
        "margin": finding.margin,
        "hazard": finding.hazard,
        "sentence": say(finding.sentence),
        "lapsed": say(finding.lapsed),
        "assumed": list(finding.assumed),
        "accepted_reason": finding.accepted_reason,
        "accepted_by": finding.accepted_by,
    }


def _print_text(done: Check) -> None:
    metric = UnitSystem.METRIC
    typer.echo(f"{done.job.plan.name}: {done.job.plan.vehicle.name}")
    for finding in done.findings:
        word = f"{VERDICT_MARKS[finding.verdict]} {VERDICT_WORDS[finding.verdict]}"
        typer.echo(f"{word:13} {finding.rule:22} {finding.title}")
        result, limit = measured_words(finding, metric), limit_words(finding, metric)
        asked = "asked for" if finding.answer is not None else "limit"
        figures = f"measured {result}, {asked} {limit}"
        typer.echo(f"{'':13} {say(finding.sentence)} ({figures}, {finding.band.whose.value})")
        if finding.assumed:
            typer.echo(f"{'':13} {assumed_words(finding)}")
        if finding.lapsed:
            typer.echo(f"{'':13} {say(finding.lapsed)}")
        if finding.accepted_by:
            typer.echo(f"{'':13} accepted by {finding.accepted_by}: {finding.accepted_reason}")
    counts = done.tally()
    typer.echo(
        ", ".join(f"{counts[verdict.value]} {word}" for verdict, word in VERDICT_WORDS.items())
    )


@app.command("plan")
def plan_layouts(
    plan_file: PlanFile,
    form: FormatOption = Format.TEXT,
    wishes: Annotated[
        Path | None, typer.Option("--wishes", help="JSON as under 'wishes' in a plan")
    ] = None,
    out: Annotated[
        Path | None, typer.Option("--out", help="folder for each layout as a plan file")
    ] = None,
    effort: Annotated[str, typer.Option("--effort", help="quick, usual or thorough")] = "usual",
    clear: Annotated[
        bool, typer.Option("--clear", help="clear what is over, in place of finding layouts")
    ] = False,
) -> None:
    """Find whole layouts, or with --clear what clears what is over. Ends with 0 for some, 1 for
    none or for what is left over, 2 for a file that cannot be read.
    """
    plan, as_json = _read(plan_file), form is Format.JSON
    if clear:
        raise typer.Exit(planner_commands.clear(plan, out, as_json=as_json))
    if effort not in EFFORTS:
        typer.echo(f"--effort {effort}: quick, usual and thorough are known.", err=True)
        raise typer.Exit(UNREADABLE)
    asked = cast("Effort", effort)
    raise typer.Exit(planner_commands.find(plan, wishes, asked, out, as_json=as_json))


@app.command("take-book")
def take_book(
    plan_file: PlanFile,
    book_file: Annotated[Path, typer.Argument(help="a workshop's own book", metavar="BOOK.json")],
    form: FormatOption = Format.TEXT,
    school: Annotated[
        str | None, typer.Option("--school", help="id of a school of the book to follow")
    ] = None,
    out: Annotated[
        Path | None, typer.Option("--out", help="file for the plan that took the book")
    ] = None,
) -> None:
    """Tell what changes in a plan that takes a workshop's own book. Ends with 1 where something
    gets over by it.
    """
    as_json = form is Format.JSON
    raise typer.Exit(book_commands.take(_read(plan_file), book_file, school, out, as_json=as_json))


@app.command("night")
def night_of_plan(
    plan_file: PlanFile,
    form: FormatOption = Format.TEXT,
    heater: Annotated[
        str | None, typer.Option("--heater", help="id of a heater; the plan's own when left out")
    ] = None,
) -> None:
    """Simulate the night with the plan's heater, or with another of the catalogue."""
    plan = _read(plan_file)
    book = with_own_book(plan, load_catalogue())
    chosen = heater or plan.heater.sheet
    if chosen is None or chosen not in book.heaters:
        known = ", ".join(book.heaters)
        typer.echo(
            f"{plan_file}: there is no heater '{chosen or ''}'; choose one with --heater: {known}",
            err=True,
        )
        raise typer.Exit(UNREADABLE)
    sheet = book.heaters[chosen]
    night = fitted_night(Job(plan, book), sheet.id)
    if form is Format.JSON:
        _print_json({"plan": plan.name, "heater": sheet.id, **asdict(night)})
        return
    reached = "never" if night.to_target_s is None else f"{night.to_target_s / 60:.0f} min"
    typer.echo(
        f"{plan.name} with the {sheet.label}, {plan.heat.night.hours_h:g} h from "
        f"{plan.heat.night.start_h:g} h"
    )
    typer.echo(f"to the set temperature: {reached}; coldest after that: {night.lowest_c:.1f} °C")
    typer.echo(
        f"{night.fuel_l:.2f} l of fuel, {night.electricity_wh:.0f} Wh, {night.starts} starts, "
        f"{night.idle_share:.0%} at least output"
    )


@app.command("schema")
def print_schema(
    sheet: Annotated[
        bool, typer.Option("--sheet", help="of a heater's limit sheet instead")
    ] = False,
    book: Annotated[bool, typer.Option("--book", help="of a workshop's own book instead")] = False,
) -> None:
    """Print the JSON Schema of the plan file, of a heater's limit sheet, or of a book."""
    _print_json(sheet_schema() if sheet else book_schema() if book else plan_schema())


@app.command("export")
def export_plan(
    plan_file: PlanFile,
    pdf: Annotated[Path, typer.Option("--pdf", help="where to write the build sheet")],
) -> None:
    """Write the build sheet as a PDF."""
    printed = build_pdf(_read(plan_file), load_catalogue())
    try:
        pdf.write_bytes(printed)
    except OSError as error:
        typer.echo(f"{pdf}: {error.strerror}", err=True)
        raise typer.Exit(UNREADABLE) from None
    typer.echo(f"Wrote {pdf}.")


@app.command("pipes")
def pipes_of_plan(
    plan_file: PlanFile,
    form: FormatOption = Format.TEXT,
    at: Annotated[
        list[float] | None,
        typer.Option("--at", help="a distance from the port in mm; may be repeated"),
    ] = None,
) -> None:
    """Print the burner's pipes: lengths, bends, falls at each tilt, pressures, temperatures."""
    job = Job(_read(plan_file), load_catalogue())
    if pipe_run(job, "exhaust") is None:
        typer.echo(f"{plan_file}: there is no exhaust run yet.", err=True)
        raise typer.Exit(OVER)
    report = pipes_report(job, tuple(at or ()))
    if form is Format.JSON:
        _print_json(report)
    elif at:
        for place in report["exhaust"]["along"]:
            typer.echo(place_line(place))
    else:
        for line in pipe_lines(report):
            typer.echo(line)


@app.command("route")
def route_of_plan(
    plan_file: PlanFile, form: FormatOption = Format.TEXT, tube: TubeOption = "exhaust"
) -> None:
    """Find up to three ways for the exhaust or the combustion air, or say what stops it. Ends with
    1 when there is none.
    """
    job = Job(_read(plan_file), load_catalogue())
    if job.plan.spot is None or chosen_mount(job) is None:
        typer.echo(
            (
                f"{plan_file}: the burner's pipes start at the heater's ports: there is no "
                "heater in its place yet."
            ),
            err=True,
        )
        raise typer.Exit(OVER)
    ways = list(short_routes(job, tube) if is_short(job, tube) else proposals(job))
    reasons: tuple[str, ...] = ()
    if not ways:
        reasons = (
            (short_obstruction(job, tube, short_runs(job, tube)),)
            if is_short(job, tube)
            else reasons_against(job)
        )
    if form is Format.JSON:
        told, stopped = [_way_data(way) for way in ways], [say(reason) for reason in reasons]
        _print_json({"plan": job.plan.name, "ways": told, "stopped": stopped})
    else:
        for letter, way in zip("ABC", ways, strict=False):
            _print_way(letter, way)
        for reason in reasons:
            typer.echo(say(reason))
    raise typer.Exit(CLEAR if ways else OVER)


def _print_way(letter: str, way: RouteProposal) -> None:
    pressure = f", {way.back_pressure_pa:.0f} Pa" if way.back_pressure_pa is not None else ""
    typer.echo(
        f"{letter}: {way.where}, {way.length_mm:.0f} mm, {way.bend_sum_deg:.0f}° of bends{pressure}"
    )
    for node in way.route.nodes:
        typer.echo(f"   {node.x_mm:6.0f} {node.y_mm:6.0f} {node.z_mm:6.0f}")
    near = f"tightest: {say(way.least.sentence)}" if way.least else "nothing near it"
    typer.echo(f"   {near}")


def _way_data(way: RouteProposal) -> dict[str, Any]:
    least = _as_data(way.least) if way.least is not None else None
    return {**asdict(way), "route": way.route.model_dump(mode="json"), "least": least}


@app.command("drill")
def drill_plan(
    plan_file: PlanFile,
    pdf: Annotated[Path, typer.Option("--pdf", help="where to write the drill sheets, 1:1 on A4")],
) -> None:
    """Write a drill sheet of every hole as a PDF at 1:1. Ends with 1 when there is none yet."""
    job = Job(_read(plan_file), load_catalogue())
    sheets = drill_sheets(job)
    if not sheets:
        typer.echo(f"{plan_file}: {NOTHING_TO_DRILL}", err=True)
        raise typer.Exit(OVER)
    cautions = tuple(c.text for c in job.catalogue.cautions_at("spot", job.plan.vehicle.moves))
    try:
        pdf.write_bytes(drill_pdf(sheets, cautions))
    except OSError as error:
        typer.echo(f"{pdf}: {error.strerror}", err=True)
        raise typer.Exit(UNREADABLE) from None
    typer.echo(f"Wrote {pdf}.")


def _report_command(station: Station) -> Callable[..., None]:
    """Return the command that prints a station's report."""
    report, lines = station.report, station.report_lines

    def print_report(plan_file: PlanFile, form: FormatOption = Format.TEXT) -> None:
        job = Job(_read(plan_file), load_catalogue())
        result = checked(job, frozenset({station.word})).findings
        data = report(job) if report is not None else {}
        if form is Format.JSON:
            _print_json({**data, "findings": [_as_data(finding) for finding in result]})
        else:
            for line in lines(data) if lines is not None else ():
                typer.echo(line)
            for finding in result:
                typer.echo(f"{finding.verdict.value:8} {say(finding.sentence)}")
        raise typer.Exit(OVER if any(f.verdict is Verdict.OVER for f in result) else CLEAR)

    return print_report


@app.command("build")
def build_of_plan(plan_file: PlanFile, form: FormatOption = Format.TEXT) -> None:
    """Print the job in hand: cards in the order of work, days, holes, cuts, what to buy."""
    report = build_report(Job(_read(plan_file), load_catalogue()))
    if form is Format.JSON:
        _print_json(report)
        return
    for line in build_lines(report):
        typer.echo(line)


@app.command("simulate")
def simulate_heater(
    plan_file: PlanFile,
    fault: Annotated[str, typer.Option("--fault", help="id of a fault; none when left out")] = "",
    seed: Annotated[int, typer.Option("--seed", min=0, help="of what comes by chance")] = 0,
    speed: Annotated[
        float,
        typer.Option("--speed", min=0, max=10_000, help="seconds in a second; 0: at once"),
    ] = 1.0,
    listen: Annotated[
        str | None,
        typer.Option("--listen", help="HOST:PORT to speak and obey at; else one run is printed"),
    ] = None,
) -> None:
    """Run the plan's heater as a simulation that speaks the open line protocol."""
    simulate(_read(plan_file), fault, seed, speed, listen)


@app.command("record")
def record_device(
    plan_file: PlanFile,
    device: Annotated[str, typer.Argument(help="HOST:PORT, or the path of a serial device")],
    csv_file: Annotated[Path, typer.Option("--csv", help="where to write the readings")],
    show_at: Annotated[
        str | None,
        typer.Option("--show-at", help="address of a job, to show them there as they come"),
    ] = None,
    name: Annotated[
        str, typer.Option("--name", help="who signs in there, where it is a workshop's")
    ] = "",
    digits: Annotated[str, typer.Option("--digits", help="of the second factor, if any")] = "",
) -> None:
    """Take down what a heater or logger tells, as a CSV file that First fire takes. The passphrase
    is asked for, or taken from GALE_NOOK_PASSPHRASE.
    """
    who = None
    if show_at and name:
        known = os.environ.get("GALE_NOOK_PASSPHRASE")
        passphrase = known or typer.prompt("Passphrase", hide_input=True, err=True)
        who = SignIn(name, passphrase, digits)
    record(_read(plan_file), device, csv_file, show_at, who)


@app.command("log")
def log_of_plan(
    plan_file: PlanFile,
    csv_file: Annotated[Path, typer.Option("--csv", help="the log, as it is exported")],
    form: FormatOption = Format.TEXT,
    on: Annotated[str, typer.Option("--on", help="the day, as 2026-11-30; today if left out")] = "",
) -> None:
    """Print nights against the plan, what they teach, and what is due."""
    job = Job(_read(plan_file), load_catalogue())
    day = on or datetime.datetime.now(tz=datetime.UTC).date().isoformat()
    try:
        datetime.date.fromisoformat(day)
        entries = read_log(csv_file.read_bytes())
    except PlanUnreadable as error:
        typer.echo(f"{csv_file}: {error}", err=True)
        raise typer.Exit(UNREADABLE) from None
    except ValueError:
        typer.echo(f"{on}: is no day; write it as 2026-11-30", err=True)
        raise typer.Exit(UNREADABLE) from None
    except OSError as error:
        typer.echo(f"{csv_file}: {error.strerror}", err=True)
        raise typer.Exit(UNREADABLE) from None
    report = log_report(job, entries, day)
    if form is Format.JSON:
        _print_json(report)
        return
    for line in log_lines(report):
        typer.echo(line)


DataDir = Annotated[
    Path | None, typer.Option("--data-dir", help="folder of the database (default: as ./start)")
]
Into = Annotated[Path, typer.Argument(help="folder to write into", metavar="DIR")]


@app.command("backup")
def backup_command(folder: Into, data_dir: DataDir = None) -> None:
    """Back every job up while the application runs, and read the backup back."""
    from gale_nook.serve.keep import commands  # noqa: PLC0415 - only these need a database

    commands.backup(folder, data_dir)


@app.command("restore")
def restore_command(
    folder: Annotated[Path, typer.Argument(help="folder of one backup", metavar="BACKUP")],
    data_dir: DataDir = None,
    yes: Annotated[bool, typer.Option("--yes", help="do not ask")] = False,
) -> None:
    """Put a backup in place of all jobs; what is there now is backed up first."""
    from gale_nook.serve.keep import commands  # noqa: PLC0415 - as above

    commands.put_back(folder, data_dir, yes=yes)


@app.command("export-all")
def export_all_command(folder: Into, data_dir: DataDir = None) -> None:
    """Write every job as a file that can be brought in again: plan, photos and log."""
    from gale_nook.serve.keep import commands  # noqa: PLC0415 - as above

    commands.export(folder, data_dir)


for _station in STATIONS:
    known = {command.name for command in app.registered_commands}
    if _station.report is not None and _station.word not in known:
        words = (
            f"Print the figures of the {_station.word} station. Ends with 1 when a check is over."
        )
        app.command(NAMES.get(_station.word, _station.word), help=words)(_report_command(_station))


def _print_json(data: Any) -> None:
    typer.echo(json.dumps(data, ensure_ascii=False, indent=2))
