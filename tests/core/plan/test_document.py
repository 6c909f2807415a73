"""The plan file: read back as written, refused with the place named, described by its schema."""

from __future__ import annotations

import json
from typing import Any

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.plan.document import MAX_FILE_BYTES, Plan, plan_schema, read_plan, write_plan
from gale_nook.core.references import check_references
from gale_nook.demo.load import demo_plan


def test_a_plan_survives_writing_and_reading(any_demo: Plan) -> None:
    assert read_plan(write_plan(any_demo).encode()) == any_demo


def test_every_demo_plan_obeys_the_published_schema(any_demo: Plan) -> None:
    jsonschema.Draft202012Validator.check_schema(plan_schema())
    jsonschema.validate(
        json.loads(write_plan(any_demo)), plan_schema(), cls=jsonschema.Draft202012Validator
    )


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"\xff\xfe", "not JSON"),
        (b"{", "line 1, column 2"),
        (b"[]", "not a plan"),
        (b"{}", "should read"),
        (b'{"format": "gale-nook-plan", "version": 2}', "version 1 is read here"),
        (b"[" * 100_000, "nested too deeply|not JSON"),
        (b"x" * (MAX_FILE_BYTES + 1), "plan files up to 2.3 MB"),
        (
            b'{"format": "gale-nook-plan", "version": 1, "name": 1' + b"0" * 5000 + b"}",
            "number too long",
        ),
    ],
)
def test_what_is_no_plan_is_refused_with_the_place(raw: bytes, said: str) -> None:
    with pytest.raises(PlanUnreadable, match=said):
        read_plan(raw)


def _changed(path: str, value: Any) -> bytes:
    data = json.loads(write_plan(demo_plan("heron")))
    *folders, leaf = path.split(".")
    at = data
    for part in folders:
        at = at[int(part)] if part.isdigit() else at[part]
    at[leaf] = value
    return json.dumps(data).encode()


@pytest.mark.parametrize(
    ("path", "value", "place"),
    [
        ("vehicle.shell.rear_x_mm", "long", "vehicle.shell.rear_x_mm"),
        ("vehicle.shell.rear_x_mm", -9000, "vehicle.shell"),
        ("vehicle.solids.3.kind", 7, r"vehicle.solids\[3\]"),
        ("heat.outside_c", 40, "heat"),
        ("spot.yaw_deg", 45, "spot.yaw_deg"),
        ("name", " ", "name"),
        ("name", "a\x00b", "name"),
        ("surprise", 1, "surprise"),
    ],
)
def test_a_wrong_value_is_named_by_its_place(path: str, value: Any, place: str) -> None:
    with pytest.raises(PlanUnreadable, match=place):
        read_plan(_changed(path, value))


def test_numbers_that_are_none_are_refused() -> None:
    raw = _changed("heat.wind_m_s", 4.0).replace(b'"wind_m_s": 4.0', b'"wind_m_s": NaN')
    with pytest.raises(PlanUnreadable, match="wind_m_s"):
        read_plan(raw)


def test_unknown_catalogue_entries_are_named(catalogue: Catalogue) -> None:
    plan = read_plan(_changed("vehicle.floor.layers.0.material", "moon-dust"))
    with pytest.raises(PlanUnreadable, match="moon-dust"):
        check_references(plan, catalogue)


@given(
    st.recursive(
        st.none() | st.booleans() | st.floats() | st.text(),
        lambda c: st.lists(c) | st.dictionaries(st.text(), c),
        max_leaves=20,
    )
)
def test_any_json_is_a_plan_or_unreadable(document: Any) -> None:
    """Nothing in a file raises anything but PlanUnreadable."""
    with pytest.raises(PlanUnreadable):
        read_plan(json.dumps(document).encode())
