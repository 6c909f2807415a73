"""The command line's part for a running heater: simulate one, and take down what a device tells."""

from __future__ import annotations

import asyncio
from pathlib import Path

import typer

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.firing.heater import SimulatedHeater
from gale_nook.core.firing.model import heater_model
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.devices.recorder import address_of, lines_from
from gale_nook.devices.sender import Sender, SignIn
from gale_nook.devices.simulated import HeaterServer, print_run
from gale_nook.exchange.readings import is_reading, read_run, write_csv

UNREADABLE = 2
MOST_LINES = 50_000


def simulate(plan: Plan, fault: str, seed: int, speed: float, listen: str | None) -> None:
    """Run the plan's heater: a whole first firing on standard output, or obeying orders on a
    socket.
    """
    try:
        heater = SimulatedHeater(heater_model(Job(plan, load_catalogue()), fault), seed)
        if listen is None:
            print_run(heater, speed, typer.echo)
            return
        host, port = address_of(listen)
    except BadInput as error:
        raise _ended(str(error)) from None
    server = HeaterServer(heater, speed if speed > 0 else 1.0)

    def ready(at: str, on: int) -> None:
        typer.echo(f"The simulated heater is at {at}:{on}  (Ctrl-C ends it)")

    try:
        asyncio.run(server.run(host, port, ready))
    except KeyboardInterrupt:
        return
    except OSError as error:
        raise _ended(f"{listen}: {error.strerror}") from None


def record(
    plan: Plan,
    device: str,
    csv_file: Path,
    show_at: str | None,
    who: SignIn | None = None,
) -> None:
    """Take down what a device tells until it ends, and write it as CSV that First fire reads.

    Args:
        show_at: address of a job in the running application that shows the readings as they come.
        who: signs in there.
    """
    sheet, lines, passed = heater_sheet(Job(plan, load_catalogue())), list[bytes](), 0
    if sheet is None:
        raise _ended("The plan has no heater yet: its sheet tells the phases apart.")
    try:
        sender = Sender(show_at, device, who) if show_at is not None else None
        for line in lines_from(device):
            if not is_reading(line):
                passed += 1
                continue
            lines.append(line)
            if sender is not None:
                sender.send(line)
            if len(lines) >= MOST_LINES:
                break
        if sender is not None:
            sender.end()
        trace = read_run(b"".join(lines), device, sheet).trace
        csv_file.write_text(write_csv(trace), "utf-8")
    except BadInput as error:
        raise _ended(str(error)) from None
    except PlanUnreadable as error:
        places = "; ".join(f"{place}: {problem}" for place, problem in error.places)
        raise _ended(f"{error.summary} {places}".strip()) from None
    except OSError as error:
        raise _ended(f"{csv_file}: {error.strerror}") from None
    left = f" {passed} lines that are no readings were left out." if passed else ""
    typer.echo(f"Wrote {len(trace.at_s)} readings to {csv_file}.{left}")


def _ended(problem: str) -> typer.Exit:
    typer.echo(problem, err=True)
    return typer.Exit(UNREADABLE)
