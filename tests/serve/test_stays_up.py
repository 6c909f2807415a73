"""It stays up: whatever ends by itself comes back, and no acknowledged edit is lost with it."""

from __future__ import annotations

import os
import pwd
import random
import re
import signal
import subprocess
import threading
import time
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import httpx2
import pytest

from gale_nook.serve import rights
from gale_nook.serve.__main__ import TREE
from gale_nook.serve.supervisor import MANY_DEATHS, PAUSE_SECONDS, WINDOW_SECONDS, Deaths
from tests.serve.started import Started, data_folder, start, wait_gone

pytestmark = pytest.mark.store
PATIENCE_S = 400.0  # beside tests that search for layouts


def _tries() -> Iterator[None]:
    """Try again, without a pause, until patience ends."""
    end = time.monotonic() + PATIENCE_S
    while time.monotonic() < end:
        yield
    raise AssertionError("it never came back")


@pytest.fixture(scope="module")
def started(stopped_data: Path) -> Iterator[Started]:
    """One server for all of these tests: whatever one of them does to it, it has to be there for
    the next.
    """
    with data_folder() as folder:
        subprocess.run(["cp", "-a", str(stopped_data), str(folder)], check=True)
        running = start(folder)
        yield running
        running.end()


def _base(started: Started, job: int) -> int:
    return int(re.findall(r"edit (\d+) · saved", _until(started, f"/jobs/{job}/heat").text)[0])


def _until(started: Started, url: str, wanted: int = 200) -> httpx2.Response:
    """Ask again until the answer is what is wanted; a connection that a dying process dropped
    counts as no answer.
    """
    for _ in _tries():
        with suppress(httpx2.TransportError):
            answer = started.client.get(url)
            if answer.status_code == wanted:
                break
    return answer


def _try(started: Started, base: int, value: int, job: int) -> int | None:
    """Set the outside temperature; returns the revision that was called saved, None where it was
    not.
    """
    try:
        answer = _send(
            started, f"/jobs/{job}/heat/set", {"base": str(base), "set:heat.outside_c": str(value)}
        )
    except httpx2.TransportError:
        return None
    found = re.search(r"edit (\d+) · saved", answer.text)
    return int(found[1]) if answer.status_code == 200 and found else None


def _send(started: Started, url: str, data: dict[str, str]) -> httpx2.Response:
    """Send a form as the page does: again when it is told that many are working."""
    for _ in _tries():
        answer = started.post(url, data)
        if "x-busy" not in answer.headers:
            break
    return answer


def test_the_database_killed_alone_comes_back_on_its_port(started: Started) -> None:
    job = started.jobs()["Heron"]
    first = started.postmaster()
    os.kill(first, signal.SIGKILL)
    wait_gone(first)
    for _ in _tries():
        if (
            _try(started, _base(started, job), -21, job) is not None
        ):  # until then it is told that the database is away
            break
    assert started.postmaster() != first
    assert _until(started, f"/jobs/{job}/plan.json").json()["heat"]["outside_c"] == -21


def test_what_was_saved_stays_through_kills_of_everything(started: Started) -> None:
    """Edits go on while web processes, worker and database are killed in turn; each that was called
    saved is there.
    """
    job, chance = started.jobs()["Wren"], random.Random(11)
    saved, base = [], _base(started, job)
    for number, victim in enumerate(
        ["web_process", "postmaster", "worker_process", "web_process", "postmaster"]
    ):
        for step in range(3):
            value = -(3 * number + step) - 1
            if step == 1:
                pids = (
                    [started.postmaster()] if victim == "postmaster" else started.children(victim)
                )
                os.kill(chance.choice(pids), signal.SIGKILL)
            done = _try(started, base, value, job)
            if done is not None:
                saved.append(value)
                base = done
            else:
                base = _base(started, job)
    assert len(saved) >= 8
    shown = _until(started, f"/jobs/{job}/plan.json").json()["heat"]["outside_c"]
    assert (
        shown <= saved[-1]
    )  # the last one called saved, or one after it whose answer was lost on the way
    assert base >= len(saved)


def test_work_goes_on_when_its_worker_is_killed(started: Started) -> None:
    job = started.jobs()["Quarto"]
    asked = f"/jobs/{job}/pipes/find?tube=exhaust"
    assert "Looking for a way" in started.client.get(asked).text
    first = started.children("worker_process")
    for _ in _tries():
        text = started.client.get(asked).text
        if "before it" not in text and "Looking for a way" not in text:
            break  # it has said what it is at
    for pid in first:
        os.kill(pid, signal.SIGKILL)
    for _ in _tries():
        text = started.client.get(asked).text
        if "hx-trigger" not in text.split("find-progress")[0]:
            break
    assert "That is all that was found" in text
    assert started.children("worker_process") != first


def test_what_takes_minutes_stands_before_nobody_and_is_taken_up_again(started: Started) -> None:
    """A print is made while a plan is being cleared; then the worker of both is killed."""
    jobs = started.jobs()
    job, other = jobs["Wren"], jobs["Coot"]
    asked = f"/jobs/{job}/planner/cleared"
    started.post(f"/jobs/{job}/planner/clear", {"base": "1"})
    for _ in _tries():
        if "laying anew" in started.client.get(asked).text.lower():
            break
    pdf = started.client.get(f"/jobs/{other}/build.pdf", headers={"accept": "application/pdf"})
    assert pdf.content.startswith(b"%PDF-")
    assert "take-changes" not in started.client.get(asked).text
    first = started.children("worker_process")
    for pid in first:
        os.kill(pid, signal.SIGKILL)
    text = ""
    for _ in _tries():
        text = started.client.get(asked).text
        if "take-changes" in text:
            break
    assert "101 over, 2 after" in text
    assert started.children("worker_process") != first


def test_twenty_prints_at_once_let_somebody_edit(started: Started) -> None:
    jobs = started.jobs()
    made = [
        int(
            re.findall(
                r"/jobs/(\d+)/",
                started.post(f"/jobs/{jobs['Heron']}/copy", {}).headers["hx-redirect"],
            )[0]
        )
        for _ in range(20)
    ]
    printed: list[bytes] = []

    def fetch(job: int, number: int) -> None:
        with httpx2.Client(base_url=started.url, timeout=180) as client:
            # each is a job of its own name, or one print would do for all
            client.get("/")
            token = {"x-csrftoken": client.cookies.get("csrftoken") or "", "hx-request": "true"}
            client.post(
                f"/jobs/{job}/build/set",
                data={"base": "1", "set:name": f"Heron {number}"},
                headers=token,
            )
            for _ in _tries():  # what takes long is told to wait, and asked for again
                asked = {"accept": "application/pdf"}
                start = client.get(f"/jobs/{job}/build.pdf", headers=asked).content[:5]
                if start == b"%PDF-":
                    break
            printed.append(start)

    threads = [
        threading.Thread(target=fetch, args=(job, number)) for number, job in enumerate(made)
    ]
    for thread in threads:
        thread.start()
    base = _base(started, jobs["Blank"])
    for step in range(15):
        done = _try(started, base, -1 - step, jobs["Blank"])
        assert done is not None
        base = done
    for thread in threads:
        thread.join()
    assert printed == [b"%PDF-"] * 20


def test_health_answers_while_the_database_hangs(started: Started) -> None:
    """Stopped, not ended: connections are taken and nothing is answered."""
    group = [started.postmaster(), *_descendants(started.postmaster())]
    for pid in group:
        os.kill(pid, signal.SIGSTOP)
    try:
        answer = httpx2.get(f"{started.url}/health", timeout=5)
        assert answer.status_code == 503
        assert httpx2.get(f"{started.url}/static/js/main.js", timeout=5).status_code == 200
    finally:
        for pid in group:
            os.kill(pid, signal.SIGCONT)
    assert _until(started, "/health").json() == {"database": "answers"}


def _descendants(pid: int) -> list[int]:
    listed = subprocess.run(["pgrep", "-P", str(pid)], capture_output=True, text=True, check=False)
    return [int(line) for line in listed.stdout.split()]


def test_the_processes_that_meet_the_network_have_no_root_rights(started: Started) -> None:
    wanted = pwd.getpwnam(rights.UNPRIVILEGED).pw_uid if rights.may_drop(TREE) else os.geteuid()
    for kind in ("web_process", "worker_process"):
        for pid in started.children(kind):
            assert os.stat(f"/proc/{pid}").st_uid == wanted
            for child in _descendants(pid):
                assert os.stat(f"/proc/{child}").st_uid == wanted


def test_many_deaths_lead_to_a_pause_and_are_forgotten() -> None:
    """Twenty within a minute are met with pauses; twenty in the lifetime of the
    server are nothing.
    """
    deaths = Deaths()
    for number in range(100):
        now = number * WINDOW_SECONDS
        deaths.times.append(now)
        assert deaths.pause_s(now) == 0
    at_once = Deaths()
    for number in range(MANY_DEATHS):
        at_once.times.append(float(number) / 10)
    assert at_once.pause_s(2.0) == 0
    at_once.times.append(2.0)
    assert at_once.pause_s(2.0) == PAUSE_SECONDS
    assert at_once.pause_s(2.0 + WINDOW_SECONDS + 1) == 0
