"""Long runs against the start command as a whole: `python -m benchmarks.soak memory 20000`, `…
kills 150`, `… hostile 22000`.
"""

from __future__ import annotations

import itertools
import json
import os
import random
import re
import shutil
import signal
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import httpx2

from gale_nook.core.edits.address import leaves
from gale_nook.demo.load import demo_plan
from gale_nook.web.guard import UNFORESEEN
from tests.serve.started import Started, start

STATIONS = ("vehicle", "heat", "heater", "spot", "pipes", "fuel", "build")
PARTS = (
    "spot/best",
    "spot/candidates",
    "spot/why?x=2000&y=0",
    "heat/savings",
    "heat/worked",
    "heater/night",
    "heater/season",
    "heater/beside",
    "plan.json",
    "build.pdf",
    "spot/drill.pdf",
    "survey.csv",
    "survey.dxf",
    "spot/card",
    "fuel/dip-stick",
)
HOSTILE = (
    "",
    " ",
    "0",
    "-1",
    "1e309",
    "NaN",
    "9" * 5000,
    "\x00",
    "\x1b",
    "\ue0001 zzz\ue001",
    "²",
    "{{7*7}}",
    "<script>",
    "'--",
    "=1+1",
    "../..",
    "a" * 3000,
    "1 m",
    '6 7/8"',
    "90",
    "yes",
    "box",
    "n-1",
    "tank",
    "😀" * 50,
)
FIELDS = (
    "item",
    "kind",
    "shape",
    "face",
    "material",
    "node",
    "rule",
    "subject",
    "reason",
    "row",
    "do",
    "x",
    "y",
    "name",
    "sheet",
    "line",
    "drawn",
    "label",
    "source",
    "feature",
    "side",
    "tube",
    "command",
    "limit",
    "least",
    "most",
    "note",
    "by",
)
FORMS = (
    "set",
    "command",
    "preview",
    "undo",
    "redo",
    "accept",
    "add",
    "copy",
    "add-opening",
    "add-layer",
    "limit",
    "point",
    "preset",
    "months",
    "insert",
    "place",
    "choose",
    "sheet",
    "drop-sheet",
    "keep",
    "feature",
    "add-feature",
    "below",
    "find",
)


@contextmanager
def running() -> Iterator[Started]:
    folder = Path(tempfile.mkdtemp(prefix="gale-nook-soak-", dir="/var/tmp"))
    folder.chmod(0o755)
    started = start(folder / "data")
    try:
        yield started
    finally:
        started.end()
        shutil.rmtree(folder, ignore_errors=True)


def resident_mb(started: Started, kind: str) -> list[float]:
    """Return the resident memory of each process of a kind."""
    found = []
    for pid in started.children(kind):
        with suppress(OSError):
            told = dict(
                line.split(":", 1) for line in Path(f"/proc/{pid}/status").read_text().splitlines()
            )
            found.append(int(told["VmRSS"].split()[0]) / 1024)
    return found


def memory(count: int) -> None:
    """A working day of one and all: pages, parts of pages, previews and edits of changing jobs."""
    chance = random.Random(1)
    with running() as started:
        jobs = list(started.jobs().values())
        for number in range(count):
            job, kind = chance.choice(jobs), chance.random()
            if kind < 0.45:
                started.client.get(f"/jobs/{job}/{chance.choice(STATIONS)}")
            elif kind < 0.6:
                started.client.get(f"/jobs/{job}/{chance.choice(PARTS)}")
            elif kind < 0.8:
                place = {
                    "op": "place",
                    "x_mm": chance.randrange(1000, 3500),
                    "y_mm": chance.randrange(-500, 500),
                }
                started.post(
                    f"/jobs/{job}/spot/preview", {"base": "1", "command": json.dumps(place)}
                )
            else:
                page = started.client.get(f"/jobs/{job}/heat").text
                base = re.findall(r"edit (\d+) · saved", page)[0]
                started.post(
                    f"/jobs/{job}/heat/set",
                    {"base": base, "set:heat.outside_c": str(-chance.randrange(5, 25))},
                )
            if number % max(count // 20, 1) == 0 or number == count - 1:
                web = ", ".join(f"{mb:.0f}" for mb in resident_mb(started, "web_process"))
                worker = ", ".join(f"{mb:.0f}" for mb in resident_mb(started, "worker_process"))
                print(f"{number:6} requests: web {web} MB; worker {worker} MB", flush=True)


def kills(count: int) -> None:
    """Kill something at every third edit; every edit that was called saved has to be there at the
    end.
    """
    chance, acknowledged, lost = random.Random(2), 0, 0
    with running() as started:
        job, base = started.jobs()["Heron"], 1
        for number in range(count):
            victim = chance.choice(("web_process", "web_process", "worker_process", "postmaster"))
            with suppress(OSError, IndexError):
                pids = (
                    [started.postmaster()] if victim == "postmaster" else started.children(victim)
                )
                os.kill(chance.choice(pids), signal.SIGKILL)
            for step in range(3):
                value = -1 - (3 * number + step) % 39
                with suppress(httpx2.TransportError):
                    answer = started.post(
                        f"/jobs/{job}/heat/set",
                        {"base": str(base), "set:heat.outside_c": str(value)},
                    )
                    found = re.search(r"edit (\d+) · saved", answer.text)
                    if answer.status_code == 200 and found:
                        acknowledged, base = acknowledged + 1, int(found[1])
                        continue
                base = _head_again(started, job, base)
            shown = _head_again(started, job, 0)
            lost += shown < base
        print(
            f"{count} kills, {acknowledged} edits acknowledged, {lost} times fewer "
            "revisions than "
            "were acknowledged"
        )


def _head_again(started: Started, job: int, known: int) -> int:
    end = time.monotonic() + 120
    while time.monotonic() < end:
        with suppress(httpx2.TransportError, IndexError):
            return int(
                re.findall(r"edit (\d+) · saved", started.client.get(f"/jobs/{job}/heat").text)[0]
            )
    raise SystemExit(f"it never came back; the last revision known was {known}")


def hostile(count: int) -> None:
    """Every form with whatever comes to mind; none may answer 500, nor with the sentence of the
    last resort.
    """
    chance = random.Random(3)
    plans = [demo_plan(name).model_dump(mode="json") for name in ("heron", "wren")]
    addresses = [f"set:{address}" for plan in plans for address in leaves(plan)]
    tally: dict[int, int] = {}
    bad = 0
    with running() as started:
        jobs = list(started.jobs().values())
        for _ in range(count):
            job, word, form = chance.choice(jobs), chance.choice(STATIONS), chance.choice(FORMS)
            data = {
                chance.choice(FIELDS): chance.choice(HOSTILE) for _ in range(chance.randrange(5))
            }
            data |= {
                chance.choice(addresses): chance.choice(HOSTILE) for _ in range(chance.randrange(3))
            }
            data["base"] = chance.choice(("1", "1", "2", "x", "99999999999"))
            answer = started.post(f"/jobs/{job}/{word}/{form}", data)
            tally[answer.status_code] = tally.get(answer.status_code, 0) + 1
            if answer.status_code >= 500 or UNFORESEEN in answer.text:
                bad += 1
                print(f"{form} of {word}: {answer.status_code} for {sorted(data)}")
        print(f"{count} hostile forms: {dict(sorted(tally.items()))}; {bad} not foreseen")


RUNS: dict[str, Callable[[int], None]] = {"memory": memory, "kills": kills, "hostile": hostile}

if __name__ == "__main__":
    name, number = itertools.islice(itertools.chain(sys.argv[1:], ("memory", "2000")), 2)
    RUNS[name](int(number))
