"""Log station: entries written, corrected and taken out, CSV, learning taken over, service, faults,
all vehicles.
"""

from __future__ import annotations

import io
import json

import pytest
from PIL import Image

from gale_nook.demo.load import demo_log
from gale_nook.exchange.log_csv import write_log
from tests.exchange.test_photos import jpeg
from tests.web.conftest import Page

pytestmark = pytest.mark.store
NIGHT = {"on": "2026-01-02", "litres": "2.4 l", "hours_h": "9", "lowest_c": "-3 °C"}


def _with_winter(page: Page) -> int:
    job = page.new("heron")
    raw = write_log(demo_log("heron")).encode()
    page.post(f"/jobs/{job}/log/csv", files={"file": ("log.csv", raw)})
    return job


def test_an_empty_log_is_inviting(page: Page) -> None:
    for name in ("blank", "heron"):
        text = page.get(f"/jobs/{page.new(name)}/log").text
        assert "Nothing is written down yet" in text
        assert "Write a night down" in text


def test_a_night_is_written_corrected_and_taken_out_and_what_it_was_is_kept(page: Page) -> None:
    job = page.new("heron")
    text = page.post(f"/jobs/{job}/log/entry", NIGHT).text
    assert "1 nights, 2.4 l" in text
    entry = page.app.state.jobs.log(job)[0].id
    assert 'value="2.4 l"' in page.get(f"/jobs/{job}/log/entries/{entry}").text
    corrected = {**NIGHT, "id": entry, "litres": "3.1", "back": "yes"}
    answer = page.post(f"/jobs/{job}/log/entry", corrected)
    assert answer.headers["hx-redirect"] == f"/jobs/{job}/log"
    shown = page.get(f"/jobs/{job}/log/entries/{entry}").text
    assert "What it was before" in shown
    assert "2.4 l" in shown
    page.post(f"/jobs/{job}/log/remove", {"id": entry})
    assert page.app.state.jobs.log(job) == ()
    assert page.get(f"/jobs/{job}/log/entries/{entry}").status_code in {404, 422}
    assert len(page.app.state.jobs.log_versions(job, entry)) == 3


@pytest.mark.parametrize(
    ("field", "typed", "said"),
    [
        ("litres", "a lot", "not a number"),
        ("litres", "-1", "litres used"),
        ("on", "yesterday", "day"),
        ("on", "2026-02-30", "day"),
        ("hours_h", "99", "hours"),
        ("lowest_c", "-300", "lowest outside"),
        ("people", "2.5", "people inside"),
        ("stick_before_mm", "two hands", "stick before"),
        ("id", "n-99", "not there any more"),
    ],
)
def test_bad_input_is_refused_in_the_fields_words(
    page: Page, field: str, typed: str, said: str
) -> None:
    job = page.new("heron")
    answer = page.post(f"/jobs/{job}/log/entry", {**NIGHT, field: typed})
    assert answer.status_code in {404, 422}
    assert said in answer.text.lower()
    assert page.app.state.jobs.log(job) == ()


def test_a_winter_is_shown_learned_from_and_taken_over_by_one_edit(page: Page) -> None:
    job = _with_winter(page)
    text = page.get(f"/jobs/{job}/log").text
    assert "60 nights" in text
    assert "It drifts: +3 % a month" in text
    assert text.count("Does not fit.") == 2
    assert "Take over what was learned" in text
    effect = page.get(f"/jobs/{job}/log/effect").text
    for words in ("needed on the coldest night", "fuel of the coldest night", "heater that suits"):
        assert words in effect
    learned = {"loss": 1.15, "air": 1.1, "consumption": 1.06, "least": 1, "charge": 1.05}
    command = {"op": "take-learned", "learned": {**learned, "nights": 60}}
    before = page.get(f"/jobs/{job}/heat").text
    after = page.command(job, "log", 1, command).text
    assert "Back to survey and sheet" in after
    assert "60 nights" in after
    assert page.get(f"/jobs/{job}/heat").text != before
    page.post(f"/jobs/{job}/log/undo", {"base": "2"})
    assert page.head(job).plan.heat.learned.nights == 0


def test_a_log_is_exported_and_goes_along_with_the_job(page: Page) -> None:
    job = _with_winter(page)
    assert page.get(f"/jobs/{job}/log/log.csv").text == write_log(demo_log("heron"))
    exported = page.get(f"/jobs/{job}/job.zip").content
    answer = page.post("/jobs/import", files={"file": ("job.zip", exported)})
    other = int(answer.headers["hx-redirect"].split("/")[2])
    assert page.app.state.jobs.log(other) == page.app.state.jobs.log(job)


def test_a_photo_is_kept_with_a_night(page: Page) -> None:
    job = page.new("heron")
    raw = jpeg(Image.new("RGB", (900, 600), "grey"))
    text = page.post(f"/jobs/{job}/log/entry", NIGHT, {"file": ("a.jpg", raw)}).text
    assert ">photo</a>" in text
    entry = page.app.state.jobs.log(job)[0]
    kept = page.get(f"/jobs/{job}/log/photos/{entry.id}.jpg")
    assert Image.open(io.BytesIO(kept.content)).width == 900


def test_service_is_done_and_due_again_later(page: Page) -> None:
    job = _with_winter(page)
    text = page.get(f"/jobs/{job}/log").text
    assert text.count('class="due-due"') >= 3
    done = page.post(f"/jobs/{job}/log/done", {"id": "alarm-test"}).text
    assert done.count('class="due-due"') == text.count('class="due-due"') - 1
    assert page.post(f"/jobs/{job}/log/done", {"id": "dance"}).status_code in {404, 422}
    calendar = page.get(f"/jobs/{job}/log/service.ics").text
    assert "BEGIN:VEVENT" in calendar


def test_a_fault_is_found_step_by_step_and_written_down(page: Page) -> None:
    job = page.new("heron")
    at = f"/jobs/{job}/log/fault"
    assert "Check next" not in page.get(at).text
    asked = page.get(f"{at}?seen=no-start").text
    assert "Check next" in asked
    named = page.get(f"{at}?seen=no-start&off=arrow,fuel-flow").text
    assert "It is most likely: pump the wrong way round" in named
    assert "Check next" not in named
    page.post(at, {"cause": "pump-reversed"})
    assert page.app.state.jobs.log(job)[-1].cause == "pump-reversed"
    assert "Choose a cause" in page.post(at, {"cause": "gremlins"}).text
    long = "a," * 200
    for query in ("?seen=x,y", "?off=%00", f"?fine={long}", "?off=arrow&fine=arrow"):
        assert page.get(at + query).status_code in {200, 422}


def test_the_phones_nights_are_taken_once(page: Page) -> None:
    job = page.new("heron")
    told = [{"id": "p-1", **NIGHT}, {"id": "p-2", **NIGHT, "smoke": "yes"}]
    nights = json.dumps({"nights": told})
    for _ in range(2):  # the answer was lost, and it sends again
        assert page.post(f"/jobs/{job}/log/phone", {"nights": nights}).status_code == 200
    entries = page.app.state.jobs.log(job)
    assert [entry.id for entry in entries] == ["p-1", "p-2"]
    assert entries[1].smoke
    bad = json.dumps({"nights": [{"id": "p-3", **NIGHT, "litres": "some"}]})
    refused = page.post(f"/jobs/{job}/log/phone", {"nights": bad})
    assert "Litres used" in refused.text
    assert len(page.app.state.jobs.log(job)) == 2


def test_all_vehicles_are_listed_filtered_and_exported(page: Page) -> None:
    job = _with_winter(page)
    page.post(f"/jobs/{job}/log/fault", {"cause": "worn-battery"})
    text = page.get("/fleet").text
    assert f"/jobs/{job}/log" in text
    assert "worn battery" in text
    assert f"/jobs/{job}/log" not in page.get("/fleet?name=nobody").text
    table = page.get("/fleet.csv?name=heron&state=due").text
    assert table.startswith("vehicle,nights")
    assert "Heron,60" in table


def test_lows_come_from_a_weather_file(page: Page) -> None:
    job = page.new("heron")
    without = {**NIGHT, "lowest_c": ""}
    text = page.post(f"/jobs/{job}/log/entry", without).text
    assert "Hours and the lowest temperature outside are missing" in text
    rows = ["time,temperature", "2026-01-02T12:00,-20", "2026-01-02T23:00,-3"]
    rows += ["2026-01-03T05:00,-7.5", "2026-01-03T12:00,-20"]
    weather = {"file": ("w.csv", "\n".join(rows).encode())}
    text = page.post(f"/jobs/{job}/log/weather", files=weather).text
    assert "are missing" not in text
    assert page.app.state.jobs.log(job)[0].lowest_c == -7.5
    again = page.post(f"/jobs/{job}/log/weather", files=weather)
    assert "No night without a temperature" in again.text
    bad = page.post(
        f"/jobs/{job}/log/weather", files={"file": ("w.csv", b"2026-01-02T23:00,cold\n")}
    )
    assert "line 1" in bad.text


def test_a_commissioned_heater_has_its_first_fire_in_the_log(page: Page) -> None:
    text = page.get(f"/jobs/{page.new('quarto')}/log").text
    assert "2026-10-24" in text
    assert "/firing/record" in text
