"""A heater of one's own: from the dozen values that decide first, and its mounts."""

from __future__ import annotations

from typing import Any

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.heater.quick_sheet import TYPICAL, QuickHeater, quick_sheet, typical_count
from gale_nook.core.heater.sheets import contradictions
from tests.web.conftest import Answer, Page

TYPED = {
    "label": "Fern 20",
    "source": "its card, page 2",
    "maximum_w": "2000",
    "minimum_w": "700",
    "length_mm": "310",
    "width_mm": "115",
    "height_mm": "125",
    "hole_mm": "92",
    "exhaust_mm": "24",
    "exhaust_x_mm": "-15",
    "exhaust_y_mm": "-18",
    "intake_mm": "22",
    "exhaust_longest_mm": "1.8 m",
    "voltage_v": "24",
    "glow_current_a": "5",
}


def quick(page: Page, job: int, **changes: str) -> Answer:
    base = str(page.head(job).number)
    return page.post(f"/jobs/{job}/heater/quick", {"base": base, **TYPED, **changes})


def own(page: Page, job: int) -> Any:
    return page.head(job).plan.heater.own_sheets[-1]


def test_a_dozen_values_make_a_heater_and_the_rest_says_that_it_is_typical(page: Page) -> None:
    job = page.new("heron")
    answer = quick(page, job)
    assert answer.status_code == 200
    assert "values typical" in answer.text
    sheet = own(page, job)
    assert (sheet.output.maximum_w, sheet.body.length_mm) == (2000, 310)
    assert sheet.electrical.cut_out_v > 12
    assert sheet.mounts[0].holes[0].diameter_mm == 92
    assert sheet.limits["exhaust_length_mm"].maximum == 1800
    assert sheet.limits["exhaust_length_mm"].source == "its card, page 2"
    others = {limit.source for name, limit in sheet.limits.items() if name != "exhaust_length_mm"}
    assert others == {TYPICAL}
    assert sheet.kit == ()


def test_verdicts_that_rest_on_a_typical_limit_say_so(page: Page, catalogue: Catalogue) -> None:
    job = page.new("heron")
    quick(page, job, voltage_v="12")
    base = page.head(job).number
    choose = {"op": "choose", "sheet": own(page, job).id, "reason": "it is there"}
    page.command(job, "heater", base, choose)
    plan = page.head(job).plan
    findings = check(plan, catalogue).findings
    typical = [f for f in findings if f.band.source == TYPICAL and f.measured is not None]
    assert typical
    assert all("a typical limit" in f.assumed[0] for f in typical)
    length = next(f for f in findings if f.rule == "pipes.length" and f.run == "exhaust")
    assert not any("typical" in words for words in length.assumed)


@pytest.mark.parametrize("most_w", [900.0, 2000.0, 4100.0, 5400.0, 9000.0])
@pytest.mark.parametrize("medium", ["air", "coolant"])
def test_no_typical_sheet_contradicts_itself(
    most_w: float, medium: Any, catalogue: Catalogue
) -> None:
    given = QuickHeater(
        *("Fern", "its card", medium, most_w * 0.3, most_w, 330.0, 120.0, 130.0),
        *(-15.0, -20.0, 26.0, 24.0, 95.0, 12.0, 9.0, 2000.0),
    )
    sheet = quick_sheet(given, "fern", catalogue)
    assert list(contradictions(sheet, catalogue.limit_bands, catalogue.parts)) == []
    assert typical_count(sheet) > 30


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"label": " "}, "Type what the heater is called"),
        ({"maximum_w": ""}, "Most output"),
        ({"maximum_w": "hot"}, "hot"),
        ({"minimum_w": "3000"}, "least output must lie below the most"),
        ({"length_mm": "9 m"}, "is too much"),
        ({"voltage_v": "0"}, "more than 0"),
        ({"exhaust_longest_mm": "90 m"}, "believable"),
    ],
)
def test_values_that_cannot_be_are_refused(page: Page, changes: dict[str, str], said: str) -> None:
    job = page.new("heron")
    answer = quick(page, job, **changes)
    assert answer.status_code == 422
    assert said.lower() in answer.text.lower()
    assert page.head(job).plan.heater.own_sheets == ()


def mount(page: Page, job: int, do: str, **fields: str) -> Answer:
    sheet = own(page, job)
    first = sheet.mounts[0]
    given = {
        "base": str(page.head(job).number),
        "sheet": sheet.id,
        "mount": first.id,
        "do": do,
        "label": first.label,
        "holes": str(len(first.holes)),
        "stack-least": "2",
        "stack-most": "60",
    }
    for number, hole in enumerate(first.holes):
        given |= {
            f"hole-{number}-{leaf}": "" if value is None else str(value)
            for leaf, value in hole.model_dump().items()
            if leaf != "z_mm"
        }
    return page.post(f"/jobs/{job}/heater/mount", {**given, **fields})


def test_a_plate_with_studs_and_a_cut_is_made_from_a_mount(page: Page) -> None:
    job = page.new("heron")
    quick(page, job)
    assert "one 92 mm hole" in page.get(f"/jobs/{job}/heater/mounts?sheet=fern-20").text
    for kind in ("stud", "stud", "cut"):
        assert mount(page, job, kind).status_code == 200
    changed = {"hole-1-x_mm": "-60", "label": "own plate", "place": "below", "collar": "true"}
    changed |= {"plate-length_mm": "240", "plate-width_mm": "150", "plate-x_mm": "-10"}
    text = mount(page, job, "keep", **changed).text
    assert "own plate" in text
    made = own(page, job).mounts[0]
    assert [hole.name for hole in made.holes] == ["hole", "stud 2", "stud 3", "cut 4"]
    assert (made.holes[1].x_mm, made.place, made.collar) == (-60, "below", True)
    assert made.holes[3].length_mm == 160
    plate = made.plate
    assert plate is not None
    assert (plate.length_mm, plate.width_mm, plate.x_mm, plate.thickness_mm) == (240, 150, -10, 4)
    assert made.stack.maximum == 60
    mount(page, job, "drop-3")
    mount(page, job, "copy")
    assert [m.label for m in own(page, job).mounts] == ["own plate", "own plate, copy"]
    mount(page, job, "remove")
    assert [m.label for m in own(page, job).mounts] == ["own plate, copy"]


@pytest.mark.parametrize(
    ("do", "fields", "said"),
    [
        ("remove", {}, "needs one mount at least"),
        ("keep", {"mount": "gone"}, "not there any more"),
        ("keep", {"sheet": "gone"}, "heater of your own is not there any more"),
        ("keep", {"hole-0-x_mm": ""}, "Type a length"),
        ("keep", {"hole-0-diameter_mm": "2 m"}, "is too much"),
        ("keep", {"hole-0-length_mm": "90"}, "a cut has a length and a width"),
        ("keep", {"plate-length_mm": "90"}, "a plate has a length and a width"),
    ],
)
def test_mounts_that_cannot_be_are_refused(
    page: Page, do: str, fields: dict[str, str], said: str
) -> None:
    job = page.new("heron")
    quick(page, job)
    before = page.head(job).number
    answer = mount(page, job, do, **fields)
    assert answer.status_code == 422
    assert said.lower() in answer.text.lower()
    assert page.head(job).number == before
