"""The simulated heater as a process: it prints a run, serves a socket, obeys, and is taken down."""

from __future__ import annotations

import json
import socket
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from typer.testing import CliRunner

from gale_nook.cli import app
from gale_nook.core.errors import BadInput
from gale_nook.demo.load import PLANS
from gale_nook.devices.orders import Level, read_order
from gale_nook.devices.recorder import address_of

RUN = CliRunner()
HERON = str(PLANS / "heron.json")


def test_a_run_is_printed_and_taken_down_as_csv(tmp_path: Path) -> None:
    run = RUN.invoke(app, ["simulate", HERON, "--speed", "0", "--fault", "thin-cable"])
    assert run.exit_code == 0
    lines = [json.loads(line) for line in run.output.splitlines()]
    assert lines[-1]["code"] == "low voltage"
    kept = tmp_path / "run.jsonl"
    kept.write_text(run.output)
    done = RUN.invoke(app, ["record", HERON, str(kept), "--csv", str(tmp_path / "run.csv")])
    assert done.exit_code == 0, done.output
    heading = (tmp_path / "run.csv").read_text().splitlines()[0]
    assert heading.startswith("at_s,phase,voltage_v")


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["simulate", HERON, "--fault", "gremlins"], "waxed-filter"),
        (["simulate", str(PLANS / "blank.json")], "battery and cable"),
        (["simulate", HERON, "--listen", "nowhere"], "HOST:PORT"),
        (["record", HERON, "nowhere", "--csv", "x.csv"], "HOST:PORT"),
        (["record", str(PLANS / "blank.json"), "x:1", "--csv", "x.csv"], "no heater yet"),
    ],
)
def test_what_cannot_be_is_refused(arguments: list[str], said: str) -> None:
    done = RUN.invoke(app, arguments)
    assert done.exit_code == 2
    assert said in done.output
    assert "Traceback" not in done.output


def test_the_bands_are_printed() -> None:
    done = RUN.invoke(app, ["fire", HERON, "--format", "json"])
    told = json.loads(done.output)
    assert done.exit_code == 0
    glow = next(phase for phase in told["phases"] if phase["phase"] == "glow")
    assert glow["expected"]["voltage_v"]["low"] < 12.72 < glow["expected"]["voltage_v"]["high"]
    assert "full from" in RUN.invoke(app, ["fire", HERON]).output


@pytest.fixture
def server() -> Iterator[tuple[str, int]]:
    command = ["simulate", HERON, "--listen", "127.0.0.1:0", "--speed", "2000"]
    process = subprocess.Popen(
        [sys.executable, "-u", "-c", "from gale_nook.cli import app; app()", *command],
        stdout=subprocess.PIPE,
        text=True,
    )
    assert process.stdout is not None
    said = process.stdout.readline()
    yield address_of(said.split(" is at ")[1].split()[0])
    process.terminate()
    process.wait(20)
    process.stdout.close()


def test_it_speaks_and_obeys_at_a_socket(server: tuple[str, int]) -> None:
    with (
        socket.create_connection(server, timeout=30) as connection,
        connection.makefile("rwb") as stream,
    ):
        stream.write(b'{"do": "dance"}\n{"do": "level", "output_w": -1}\n')
        stream.flush()
        refused = []
        while len(refused) < 2:
            told = json.loads(stream.readline())
            if "refused" in told:
                refused.append(told["refused"])
        stream.write(b'{"do": "on"}\n')
        stream.flush()
        seen = []
        while "flame" not in seen:
            seen.append(json.loads(stream.readline()).get("phase"))
        stream.write(b'{"do": "off"}\n')
        stream.flush()
        while "after-run" not in seen:
            seen.append(json.loads(stream.readline()).get("phase"))
        stream.write(b'{"do": "end"}\n')
        stream.flush()
        while stream.readline():
            pass  # until it closes
    assert list(dict.fromkeys(each for each in seen if each != "off"))[:3] == [
        "check",
        "glow",
        "flame",
    ]


@pytest.mark.parametrize("text", ["", "host", ":1", "a:b", "a:70000", "a:-1", "a:²"])
def test_an_address_is_host_and_port(text: str) -> None:
    with pytest.raises(BadInput):
        address_of(text)


def test_orders_are_read_or_refused() -> None:
    assert read_order('{"do": "level", "output_w": 1500}') == Level(do="level", output_w=1500)
    for line in ("", "[]", '{"do": "level"}', '{"do": "level", "output_w": 1e999}', "\x00"):
        with pytest.raises(BadInput):
            read_order(line)
