"""The command line: check, heat, schema and export on plan files, with no server
and no database.
"""

from __future__ import annotations

import json
import sys
from dataclasses import asdict
from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any, Literal

import typer

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.build.drill import drill_sheet
from gale_nook.core.checking import Check, check
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.findings.finding import Finding
from gale_nook.core.fuel.report import fuel_report, fuel_words
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heat.loss import HeatLoss, heat_loss
from gale_nook.core.heat.night import simulate_night
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.job import Job, with_own_heaters
from gale_nook.core.pipes.proposals import proposals
from gale_nook.core.pipes.report import pipes_report
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.short_ways import is_short, short_runs, short_ways, what_stops_short
from gale_nook.core.pipes.ways import Proposal
from gale_nook.core.pipes.why_not import reasons_against
from gale_nook.core.plan.document import MAX_FILE_BYTES, Plan, plan_schema, read_plan
from gale_nook.core.plan.words import TUBE_WORDS
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.said import say
from gale_nook.core.references import check_references
from gale_nook.exchange.cards import VERDICT_MARKS, VERDICT_WORDS, amount, limit_words
from gale_nook.exchange.drill import drill_pdf
from gale_nook.exchange.heater_sheets import sheet_schema
from gale_nook.exchange.sheet_pdf import build_pdf

CLEAR, OVER, UNREADABLE = 0, 1, 2
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
            typer.echo(f"  {place}: {problem}", err=True)
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
        "measured": finding.measured,
        "limit": {"minimum": finding.band.minimum, "maximum": finding.band.maximum},
        "limit_of": finding.band.whose.value,
        "limit_source": finding.band.source,
        "unit": finding.unit,
        "margin": finding.margin,
        "hazard": finding.hazard,
        "sentence": say(finding.sentence),
        "accepted_reason": finding.accepted_reason,
        "accepted_by": finding.accepted_by,
    }


def _print_text(done: Check) -> None:
    metric = UnitSystem.METRIC
    typer.echo(f"{done.job.plan.name}: {done.job.plan.vehicle.name}")
    for finding in done.findings:
        word = f"{VERDICT_MARKS[finding.verdict]} {VERDICT_WORDS[finding.verdict]}"
        typer.echo(f"{word:13} {finding.rule:22} {finding.title}")
        figures = (
            f"measured {amount(finding.measured, finding.unit, metric)}, limit "
            f"{limit_words(finding, metric)}"
        )
        typer.echo(f"{'':13} {say(finding.sentence)} ({figures}, {finding.band.whose.value})")
        if finding.accepted_by:
            typer.echo(f"{'':13} accepted by {finding.accepted_by}: {finding.accepted_reason}")
    counts = done.tally()
    typer.echo(
        ", ".join(f"{counts[verdict.value]} {word}" for verdict, word in VERDICT_WORDS.items())
    )


@app.command("heat")
def heat_of_plan(plan_file: PlanFile, form: FormatOption = Format.TEXT) -> None:
    """Print the heat loss, element by element."""
    plan = _read(plan_file)
    loss = heat_loss(plan, load_catalogue())
    if form is Format.JSON:
        _print_json(_heat_data(plan, loss))
        return
    for element in loss.elements:
        size = (
            f"{element.area_m2:6.2f} m²  U {element.u_w_m2k:5.2f}"
            if element.area_m2 is not None and element.u_w_m2k is not None
            else ""
        )
        typer.echo(f"{element.name:28} {size:20} {element.loss_w:7.0f} W")
    typer.echo(f"{'Air change':28} {'':20} {loss.ventilation_w:7.0f} W")
    typer.echo(f"{'Design loss':28} {'':20} {loss.design_loss_w:7.0f} W")
    typer.echo(f"{'Need with margin':28} {'':20} {loss.need_w:7.0f} W")


def _heat_data(plan: Plan, loss: HeatLoss) -> dict[str, Any]:
    elements = [
        {
            "id": element.id,
            "name": element.name,
            "area_m2": element.area_m2,
            "u_w_m2k": element.u_w_m2k,
            "conductance_w_k": element.conductance_w_k,
            "difference_k": element.difference_k,
            "loss_w": element.loss_w,
        }
        for element in loss.elements
    ]
    return {
        "plan": plan.name,
        "inside_c": plan.heat.inside_c,
        "outside_c": loss.outside_c,
        "elements": elements,
        "ventilation_w": loss.ventilation_w,
        "design_loss_w": loss.design_loss_w,
        "margin_percent": plan.heat.margin_percent,
        "need_w": loss.need_w,
    }


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
    book = with_own_heaters(plan, load_catalogue())
    chosen = heater or plan.heater.sheet
    if chosen is None or chosen not in book.heaters:
        known = ", ".join(book.heaters)
        typer.echo(
            f"{plan_file}: there is no heater '{chosen or ''}'; choose one with --heater: {known}",
            err=True,
        )
        raise typer.Exit(UNREADABLE)
    sheet = book.heaters[chosen]
    night = simulate_night(plan, book, sheet, derated_w(sheet.output, plan.heat.altitude_m))
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
) -> None:
    """Print the JSON Schema of the plan file, or of a heater's limit sheet."""
    _print_json(sheet_schema() if sheet else plan_schema())


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
        return
    for tube in ("exhaust", "intake"):
        if tube in report:
            _print_run(TUBE_WORDS[tube], report[tube], report["parked_tilt_deg"])
    for place in report["exhaust"]["along"] if at else report["first_firing"]:
        name = place.get("name", "")
        typer.echo(
            (
                f"{place['distance_mm']:6.0f} mm   gas {place['gas_c']:4.0f} °C   skin "
                f"{place['skin_c']:4.0f} °C   {name}"
            ).rstrip()
        )


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
                "heater in "
                "its place yet."
            ),
            err=True,
        )
        raise typer.Exit(OVER)
    ways = list(short_ways(job, tube) if is_short(job, tube) else proposals(job))
    reasons: tuple[str, ...] = ()
    if not ways:
        reasons = (
            (what_stops_short(job, tube, short_runs(job, tube)),)
            if is_short(job, tube)
            else reasons_against(job)
        )
    if form is Format.JSON:
        told = [_way_data(way) for way in ways]
        _print_json(
            {
                "plan": job.plan.name,
                "ways": told,
                "stopped": [say(reason) for reason in reasons],
            }
        )
    else:
        for letter, way in zip("ABC", ways, strict=False):
            pressure = (
                f", {way.back_pressure_pa:.0f} Pa" if way.back_pressure_pa is not None else ""
            )
            typer.echo(
                f"{letter}: {way.where}, {way.length_mm:.0f} mm, {way.bend_sum_deg:.0f}° of "
                f"bends{pressure}"
            )
            for node in way.route.nodes:
                typer.echo(f"   {node.x_mm:6.0f} {node.y_mm:6.0f} {node.z_mm:6.0f}")
            typer.echo(
                f"   tightest: {say(way.least.sentence)}"
                if way.least is not None
                else "   nothing near it"
            )
        for reason in reasons:
            typer.echo(say(reason))
    raise typer.Exit(CLEAR if ways else OVER)


def _way_data(way: Proposal) -> dict[str, Any]:
    least = _as_data(way.least) if way.least is not None else None
    return {**asdict(way), "route": way.route.model_dump(mode="json"), "least": least}


def _print_run(name: str, run: dict[str, Any], tilt_deg: float) -> None:
    typer.echo(
        f"{name}: {run['length_mm']:.0f} mm, {run['bend_sum_deg']:.0f}° of bends, "
        f"{run['pressure_pa']:.0f} Pa at most output"
    )
    for fall in run["falls"]:
        words = (
            f"{fall['fall_deg']:.1f}° level, {fall['worst_fall_deg']:.1f}° parked "
            f"{tilt_deg:g}° {fall['parked']}"
        )
        typer.echo(f"  straight {fall['straight']}: falls {words}")


@app.command("fuel")
def fuel_of_plan(plan_file: PlanFile, form: FormatOption = Format.TEXT) -> None:
    """Print sources, line, heads full and empty on every slope, priming and nights. Ends with 1
    when a check is over.
    """
    done = check(_read(plan_file), load_catalogue(), ("fuel",))
    report = fuel_report(done.job)
    if form is Format.JSON:
        _print_json({**report, "findings": [_as_data(finding) for finding in done.findings]})
    else:
        for line in fuel_words(report):
            typer.echo(line)
        for finding in done.findings:
            typer.echo(f"{finding.verdict.value:8} {say(finding.sentence)}")
    raise typer.Exit(
        OVER if any(finding.verdict.value == "over" for finding in done.findings) else CLEAR
    )


@app.command("drill")
def drill_plan(
    plan_file: PlanFile,
    pdf: Annotated[Path, typer.Option("--pdf", help="where to write the drill sheet, 1:1 on A4")],
) -> None:
    """Write the drill sheet as a PDF at 1:1. Ends with 1 when there is nothing to drill yet."""
    job = Job(_read(plan_file), load_catalogue())
    sheet = drill_sheet(job)
    if sheet is None:
        typer.echo(
            (
                f"{plan_file}: nothing to drill yet: it follows from a heater, its "
                "mount and its place."
            ),
            err=True,
        )
        raise typer.Exit(OVER)
    cautions = tuple(c.text for c in job.catalogue.cautions if "spot" in c.stations)
    try:
        pdf.write_bytes(drill_pdf(sheet, cautions))
    except OSError as error:
        typer.echo(f"{pdf}: {error.strerror}", err=True)
        raise typer.Exit(UNREADABLE) from None
    typer.echo(f"Wrote {pdf}.")


def _print_json(data: Any) -> None:
    typer.echo(json.dumps(data, ensure_ascii=False, indent=2))
