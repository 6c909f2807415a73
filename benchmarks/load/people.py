"""Fifty people edit twenty jobs: what each does every four seconds, as the page in their browser
would.

Run by `benchmarks/load/run`; the tool's own options apply.
"""

from __future__ import annotations

import json
import random
import re
from collections import Counter
from itertools import count
from typing import Any

import gevent
from locust import HttpUser, events, task

JOBS = 20
EVERY_S = 4
STATIONS = ("vehicle", "heat", "heater", "spot", "pipes", "fuel", "build")
SETTLE_S = 15
jobs: list[int] = []
runners: list[Any] = []
names = count(1)
fresh = count(1)  # no value is saved twice, so that every save has to be an edit
saved: Counter[int] = Counter()


@events.test_start.add_listener
def make_jobs(environment: Any, **_: Any) -> None:
    """Copy the demo's jobs until there are twenty."""
    import requests  # noqa: PLC0415 - Locust patches the network first

    browser = requests.Session()
    first = browser.get(environment.host + "/").text
    demo = [int(number) for number in re.findall(r'href="/jobs/(\d+)/vehicle"', first)][:3]
    headers = {"x-csrftoken": browser.cookies["csrftoken"], "hx-request": "true"}
    for number in range(JOBS):
        made = browser.post(
            f"{environment.host}/jobs/{demo[number % len(demo)]}/copy", headers=headers
        )
        jobs.append(int(re.findall(r"/jobs/(\d+)/", made.headers["hx-redirect"])[0]))


@events.spawning_complete.add_listener
def forget_the_start(user_count: int, **_: Any) -> None:
    """Everybody coming in at once is not what is asked about: figures count from when that has
    settled.
    """
    gevent.spawn_later(SETTLE_S, runners[0].stats.reset_all)


@events.quitting.add_listener
def look_for_lost_edits(environment: Any, **_: Any) -> None:
    """Every save that was answered is an edit of its job; those cut off at the end may be."""
    import requests  # noqa: PLC0415 - Locust patches the network first

    lost = edits = 0
    for job in jobs:
        page = requests.get(f"{environment.host}/jobs/{job}/heat", timeout=30).text
        found = re.search(r"edit (\d+) · saved", page)
        made = int(found[1]) - 1 if found else 0
        edits, lost = edits + made, lost + max(saved[job] - made, 0)
    print(f"{saved.total()} saves were answered, {edits} edits are there, {lost} lost")
    if lost:
        environment.process_exit_code = 1


@events.init.add_listener
def remember_runner(environment: Any, **_: Any) -> None:
    runners.append(environment.runner)


class Person(HttpUser):
    """One person at one job."""

    def wait_time(self) -> float:
        """People do not act in step: one action every four seconds on the average,
        at any moment.
        """
        return self.chance.expovariate(1 / EVERY_S)

    def on_start(self) -> None:
        self.chance = random.Random(next(names))
        self.job = jobs[self.chance.randrange(JOBS)]
        self.client.get("/", name="list of jobs")
        self.base = 1
        self.look("spot")

    @property
    def headers(self) -> dict[str, str]:
        return {"x-csrftoken": self.client.cookies.get("csrftoken", ""), "hx-request": "true"}

    def seen(self, text: str) -> None:
        """Note the revision that a page shows."""
        found = re.search(r"edit (\d+) · saved", text)
        if found:
            self.base = int(found[1])

    def look(self, word: str) -> None:
        answer = self.client.get(f"/jobs/{self.job}/{word}", name="page")
        self.seen(answer.text)
        picture = re.search(r'href="([^"]*floor\.png[^"]*)"', answer.text)
        if picture:
            self.client.get(
                f"/jobs/{self.job}/{picture[1].replace('&amp;', '&')}", name="(floor picture)"
            )

    def post(self, path: str, kind: str, values: dict[str, str]) -> None:
        sent = {"base": str(self.base), **values}
        with self.client.post(
            f"/jobs/{self.job}/{path}", sent, headers=self.headers, name=kind, catch_response=True
        ) as answer:
            if (
                answer.status_code == 409
            ):  # somebody else changed the very same value: shown, and the page looked at anew
                answer.success()
                self.seen(
                    self.client.get(
                        f"/jobs/{self.job}/{path.split('/', maxsplit=1)[0]}",
                        headers=self.headers,
                        name="page",
                    ).text
                )
            elif answer.status_code == 200:
                self.seen(answer.text)
                if kind == "save":
                    saved[self.job] += 1

    @task(4)
    def save_a_value(self) -> None:
        pick = self.chance.randrange
        values = {
            "heat.outside_c": f"-{pick(8, 25)}",
            "heat.inside_c": f"{pick(17, 23)}",
            "heat.altitude_m": f"{pick(0, 2000)}",
            "vehicle.shell.inside_height_mm": f"{pick(1750, 1950)}",
        }
        address = self.chance.choice(sorted(values))
        value = f"{values[address]}.{next(fresh):06d}"
        self.post("heat/set", "save", {f"set:{address}": value})

    @task(3)
    def move_the_heater(self) -> None:
        command = {
            "op": "place",
            "x_mm": self.chance.randrange(1200, 3200, 5) + next(fresh) * 1e-6,
            "y_mm": self.chance.randrange(-500, 500, 5),
        }
        self.post("spot/command", "save", {"command": json.dumps(command)})

    @task(4)
    def drag(self) -> None:
        command = {
            "op": "place",
            "x_mm": self.chance.randrange(1200, 3200, 5),
            "y_mm": self.chance.randrange(-500, 500, 5),
        }
        self.post("spot/preview", "preview", {"command": json.dumps(command)})

    @task(2)
    def slide(self) -> None:
        command = {
            "op": "set",
            "changes": [{"address": "heat.altitude_m", "value": self.chance.randrange(0, 2000)}],
        }
        self.post("heater/preview", "preview", {"command": json.dumps(command)})

    @task(5)
    def look_at_a_station(self) -> None:
        self.look(self.chance.choice(STATIONS))
