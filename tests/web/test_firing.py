"""First fire station: bands, ticks, readings typed, from a file, from the simulated heater."""

from __future__ import annotations

import pytest

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.firing.pre_checks import rechecks
from gale_nook.core.job import Job
from tests.web.conftest import Page

pytestmark = pytest.mark.store


def test_the_bands_are_shown_before_anything_is_read(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('heron')}/firing").text
    assert text.count('class="strip-band"') > 20
    assert "12.26 to 13.08 V" in text
    assert "Before the start" in text
    assert "findings-title" not in text  # nothing is asked for yet


def test_an_empty_job_says_what_comes_first(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('blank')}/firing").text
    assert "Choose a heater first" in text
    assert "Run it" not in text
    record = page.get(f"/jobs/{page.new('blank')}/firing/record")
    assert record.status_code == 200
    assert "Nothing was read yet" in record.text


def test_a_run_of_the_simulated_heater_is_judged_and_told(page: Page) -> None:
    job = page.new("heron")
    text = page.post(f"/jobs/{job}/firing/simulate", {"base": "1", "fault": "thin-cable"}).text
    assert "Where to look first" in text
    assert "the battery is as planned" in text
    assert "Voltage read at the heater: glow" in text
    assert page.get(f"/jobs/{job}/firing/readings.csv").text.startswith("at_s,phase")
    record = page.get(f"/jobs/{job}/firing/record").text
    assert "What lies outside" in record
    assert "10.52 V" in record
    assert "Simulated: these readings are of the simulated heater" in record
    healthy = page.post(f"/jobs/{job}/firing/simulate", {"base": "2", "fault": ""}).text
    assert "Where to look first" not in healthy


def test_readings_are_typed_and_taken_from_a_file(page: Page) -> None:
    job = page.new("heron")
    text = page.set(job, "firing", 1, firing__readings__glow__voltage_v="11.2 V").text
    assert "Voltage read at the heater: glow" in text
    raw = b"at_s,voltage_v,current_a,pump_hz\n0,13.2,0.7,0\n9,12.7,10,0\n70,13.1,2,1.5\n"
    text = page.post(
        f"/jobs/{job}/firing/readings", {"base": "2"}, files={"file": ("log.csv", raw)}
    ).text
    assert "log.csv" in text
    assert page.head(job).plan.firing.reading("glow").voltage_v == 12.7
    record = page.get(f"/jobs/{job}/firing/record").text
    assert "From log.csv." in record
    assert "Simulated:" not in record


@pytest.mark.parametrize(
    ("form", "files", "said"),
    [
        ("readings", None, "Choose a file of readings first"),
        ("readings", {"file": ("a.csv", b"nothing\n")}, "name the columns"),
        ("simulate", None, "no such fault"),
    ],
)
def test_bad_input_is_refused_in_plain_words(
    page: Page, form: str, files: dict[str, tuple[str, bytes]] | None, said: str
) -> None:
    job = page.new("heron")
    answer = page.post(f"/jobs/{job}/firing/{form}", {"base": "1", "fault": "x"}, files=files)
    assert answer.status_code == 422
    assert said in answer.text
    assert page.head(job).number == 1


@pytest.mark.parametrize(
    ("address", "typed", "said"),
    [
        ("firing__readings__glow__voltage_v", "120", "too much"),
        ("firing__readings__glow__voltage_v", "dim", "not a number"),
        ("firing__readings__full__pump_hz", "-1", "too little"),
        ("firing__on", "yesterday", "not written as it has to be"),
        ("firing__inside_c", "90", "too much"),
    ],
)
def test_wrong_values_are_refused_in_their_fields_words(
    page: Page, address: str, typed: str, said: str
) -> None:
    answer = page.set(page.new("heron"), "firing", 1, **{address: typed})
    assert answer.status_code == 422
    assert said in answer.text


def test_ticks_survey_and_co(page: Page) -> None:
    job = page.new("heron")
    page.command(job, "firing", 1, {"op": "tick-check", "check": "outdoors"})
    places = [{"id": "tank", "name": "fuel tank"}]
    page.command(job, "firing", 2, {"op": "start-survey", "places": places})
    text = page.command(
        job,
        "firing",
        3,
        {
            "op": "add",
            "collection": "firing.co",
            "item": {"id": "co-1", "name": "at the sleeper's head", "co_ppm": 14},
        },
    ).text
    assert "1 of 13" in text
    assert "beside" not in page.head(job).plan.firing.co[0].name
    assert "Carbon monoxide read" in text
    assert page.command(job, "firing", 4, {"op": "tick-check", "check": "x"}).status_code == 422


def test_what_can_hurt_stops_the_guide(page: Page) -> None:
    job = page.new("heron")
    assert "Stop here" not in page.get(f"/jobs/{job}/firing").text
    text = page.post(f"/jobs/{job}/firing/simulate", {"base": "1", "fault": "exhaust-hole"}).text
    assert "Stop here: switch it off, let it run out" in text
    assert "of carbon monoxide" in text.split('class="halt"')[1].split("</section>")[0]


def test_after_the_long_run_what_nobody_looked_at_is_to_measure(page: Page) -> None:
    job = page.new("heron")
    text = page.set(job, "firing", 1, firing__long_run_min="20 min").text
    assert "It ran on for 20 min at full" in text
    assert "Nobody has looked yet" in text
    page.set(job, "firing", 2, firing__long_run_min="75 min")
    ticks = [check.id for check in rechecks(Job(page.head(job).plan, load_catalogue()))]
    assert "again-ducts" in ticks
    assert "again-loop" not in ticks
    for base, check in enumerate(ticks, 3):
        text = page.command(job, "firing", base, {"op": "tick-check", "check": check}).text
    assert "Nobody has looked yet" not in text
    record = page.get(f"/jobs/{job}/firing/record").text
    assert "First long run: 75 min at full" in record
    again = page.command(
        job, "firing", 3 + len(ticks), {"op": "tick-check", "check": ticks[0], "done": False}
    )
    assert "Nobody has looked yet" in again.text


def test_how_the_controller_is_used_is_kept_and_printed(page: Page) -> None:
    job = page.new("heron")
    card = {"id": "use", "title": "burn-off", "text": ""}
    added = {"op": "add", "collection": "firing.controller", "item": card}
    assert "burn-off, as the manual has it" in page.command(job, "firing", 1, added).text
    page.set(job, "firing", 2, firing__controller__use__text="hold both keys for five seconds")
    assert "hold both keys" in page.get(f"/jobs/{job}/firing/record").text
    page.post(f"/jobs/{job}/firing/simulate", {"base": "3", "fault": ""})
    page.command(job, "firing", 4, {"op": "clear-readings"})
    assert page.head(job).plan.firing.controller[0].text.startswith("hold")
