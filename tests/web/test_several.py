"""Several parts at once: repeated at a pitch, and what is done to all that are ticked."""

from __future__ import annotations

import itertools
from typing import Any

import pytest

from gale_nook.core.plan.solids import BoxSolid
from tests.web.conftest import Page


def several(page: Page, job: int, do: str, *parts: str, **fields: str) -> Any:
    ticked = {f"part:{part}": "on" for part in parts}
    base = str(page.head(job).number)
    given = {"base": base, "do": do, **ticked, **fields}
    return page.post(f"/jobs/{job}/vehicle/several", given)


def with_member(page: Page) -> int:
    job = page.new("blank")
    page.post(f"/jobs/{job}/vehicle/add", {"base": "1", "kind": "member"})
    return job


def ids(page: Page, job: int) -> list[str]:
    return [solid.id for solid in page.head(job).plan.vehicle.solids]


def test_a_member_is_repeated_and_taken_back_in_one_step(page: Page) -> None:
    job = with_member(page)
    given = {"base": "2", "item": "member-1", "count": "3", "rearward": "60 cm"}
    answer = page.post(f"/jobs/{job}/vehicle/repeat", given)
    assert answer.status_code == 200
    solids = page.head(job).plan.vehicle.solids
    places = [s.x_mm for s in solids if isinstance(s, BoxSolid)]
    assert [b - a for a, b in itertools.pairwise(places)] == [600, 600, 600]
    pencilled = page.head(job).plan.vehicle.pencilled
    assert "vehicle.solids.member-4.x_mm" in pencilled
    page.post(f"/jobs/{job}/vehicle/undo", {"base": "3"})
    assert ids(page, job) == ["member-1"]


@pytest.mark.parametrize(
    ("given", "said"),
    [
        ({"count": "0", "rearward": "600"}, "from 1 to 50"),
        ({"count": "two", "rearward": "600"}, "from 1 to 50"),
        ({"count": "2"}, "Type how far"),
        ({"count": "2", "rearward": "far"}, "far"),
        ({"count": "2", "rearward": "600", "item": "gone"}, "not there any more"),
        ({"count": "50", "rearward": "30 m"}, "behind the datum"),
    ],
)
def test_what_cannot_be_repeated_is_said(page: Page, given: dict[str, str], said: str) -> None:
    job = with_member(page)
    given = {"base": "2", "item": "member-1", **given}
    answer = page.post(f"/jobs/{job}/vehicle/repeat", given)
    assert answer.status_code == 422
    assert said in answer.text
    assert ids(page, job) == ["member-1"]


def test_ticked_parts_are_changed_together(page: Page) -> None:
    job = with_member(page)
    several(page, job, "across", "member-1")
    assert ids(page, job) == ["member-1", "member-2"]
    several(page, job, "move", "member-1", "member-2", right="20", up="-5")
    several(page, job, "material", "member-1", "member-2", material="aluminium")
    several(page, job, "measured", "member-1", "member-2")
    vehicle = page.head(job).plan.vehicle
    assert [solid.material for solid in vehicle.solids] == ["aluminium", "aluminium"]
    assert not any("member-" in address for address in vehicle.pencilled)
    one, other = (s for s in vehicle.solids if isinstance(s, BoxSolid))
    assert (one.y_mm + one.width_mm / 2) + (other.y_mm + other.width_mm / 2) == 40
    several(page, job, "remove", "member-1", "member-2")
    assert ids(page, job) == []


@pytest.mark.parametrize(
    ("do", "parts", "fields", "said"),
    [
        ("remove", (), {}, "No part is ticked"),
        ("remove", ("gone",), {}, "No part is ticked"),
        ("paint", ("member-1",), {}, "Choose what to do"),
        ("material", ("member-1",), {"material": "butter"}, "Choose the material"),
        ("move", ("member-1",), {"up": "40 m"}, "30 m at the most"),
        ("move", ("member-1",), {}, "Type how far"),
    ],
)
def test_what_cannot_be_done_is_said(
    page: Page, do: str, parts: tuple[str, ...], fields: dict[str, str], said: str
) -> None:
    job = with_member(page)
    before = page.head(job)
    answer = several(page, job, do, *parts, **fields)
    assert answer.status_code == 422
    assert said in answer.text
    assert page.head(job).number == before.number
