"""Whatever is sent, the answer is never a 500: against the OpenAPI description, and against every
form.
"""

from __future__ import annotations

import json
import re
from typing import Any
from urllib.parse import quote

import pytest
import schemathesis
from httpx2 import Response
from hypothesis import given, settings
from hypothesis import strategies as st
from structlog.testing import capture_logs

from gale_nook.core.commands import COMMANDS
from gale_nook.core.edits.address import leaves
from gale_nook.core.stations import STATIONS
from gale_nook.demo.load import demo_plan
from gale_nook.web.app import create_app
from gale_nook.web.guard import UNFORESEEN
from gale_nook.web.stations.heat import router as heat
from tests.web.conftest import Page

pytestmark = pytest.mark.store


# the application's own description; the database is only reached when an operation is called
APP_SCHEMA = create_app("postgresql+psycopg://nobody@127.0.0.1:1/none").openapi()
OPERATIONS = [
    found.ok() for found in schemathesis.openapi.from_dict(APP_SCHEMA).get_all_operations()
]
# what these do takes nothing but their address
WITHOUT_FIELDS = {
    "/jobs/{job_id}/copy",
    "/jobs/{job_id}/delete",
    "/units",
    "/devices/code",
    "/devices/{device_id}/revoke",
    "/sign-out",
    "/book/forget",
    "/account/second-factor/begin",
    "/account/sessions/{session_id}/end",
    "/people/invitations/{invitation_id}/withdraw",
    "/people/{person_id}/let-go",
}


def _is_foreseen(answer: Response) -> None:
    """Neither a 500 nor the sentence that stands in for one."""
    assert answer.status_code < 500
    assert UNFORESEEN not in answer.text
    assert "Traceback" not in answer.text


@pytest.mark.parametrize("operation", OPERATIONS, ids=lambda o: f"{o.method} {o.path}")
def test_the_described_interface_never_fails(page: Page, operation: Any) -> None:
    page.new("heron")

    @settings(max_examples=20)
    @given(case=operation.as_strategy())
    def never(case: Any) -> None:
        sent = case.as_transport_kwargs(base_url="http://127.0.0.1")
        sent["headers"] = {
            **dict(sent.get("headers") or {}),
            "x-csrftoken": page.client.cookies.get("csrftoken") or "",
        }
        sent.pop("cookies", None)
        _is_foreseen(page.client.request(**sent))

    never()


def test_every_form_is_described_with_its_fields() -> None:
    posts = {path: ops["post"] for path, ops in APP_SCHEMA["paths"].items() if "post" in ops}
    bare = {path for path, operation in posts.items() if "requestBody" not in operation}
    assert bare == WITHOUT_FIELDS
    assert len(_form_fields()) > 30


def test_the_description_names_every_form() -> None:
    described = {(o.method.upper(), o.path) for o in OPERATIONS}
    for path in (
        "/jobs/{job_id}/{word}/set",
        "/jobs/{job_id}/{word}/command",
        "/jobs/import",
        "/jobs/{job_id}/vehicle/add",
        "/units",
    ):
        assert ("POST", path) in described


ADDRESSES = sorted(
    {
        f"set:{a}"
        for name in ("heron", "wren")
        for a in leaves(demo_plan(name).model_dump(mode="json"))
    }
)


def _form_fields() -> set[str]:
    """Every field of every form that the interface describes."""
    schemas = APP_SCHEMA["components"]["schemas"]
    forms = [name for name in schemas if name.endswith("Form")]
    return {field for name in forms for field in schemas[name].get("properties", {})}


WORDS = tuple(station.word for station in STATIONS)
FIELDS = (*sorted(_form_fields()), "value:output.minimum_w", "source:output.minimum_w", "anew")
FORMS = sorted({o.path.rsplit("/", 1)[-1] for o in OPERATIONS if o.method.upper() == "POST"})
OPS = (*sorted({command.model_fields["op"].default for command in COMMANDS}), "")
COMMAND_FIELDS = sorted({field for command in COMMANDS for field in command.model_fields})
number_like = st.sampled_from(
    ["1", "-1", "0", "2", "1e99", "NaN", '6 7/0"', "99999999999", "°C", "", "3/4", "90"]
)
hostile = st.sampled_from(
    [
        "\x00",
        "a\x00b",
        "\x1b[2J",
        "\ue0001 zzz\ue001",
        "\ue0001e999 mm\ue001",
        "\u27e61 zzz\u27e7",
        "{{ 7*7 }}",
        "<script>x</script>",
        "' OR 1=1 --",
        "../../etc/passwd",
        "\ud7ff\uffff",
        "\u202eabc",
        "9" * 5000,
        "-" * 60,
        "²",
        "٣",
        "1e-300",
        "1e309",
        "=1+1",
        "%00",
        "\r\n\r\nHTTP/1.1 200",
        "😀" * 40,
        "\t",
        "a" * 1999,
    ]
)
anything = (
    number_like
    | hostile
    | st.text(max_size=30)
    | st.sampled_from(
        ["box", "member", "roof", "wool", "n-1", "tank", "spot.outlet", "outlet", "outlet_gap_mm"]
    )
)
json_value = st.recursive(
    st.none()
    | st.booleans()
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(max_size=12)
    | st.sampled_from(
        ["vehicle.solids", "tank", "n-1", "exhaust", "intake", "rear", "tank-outside", "tee-feed"]
    ),
    lambda inner: (
        st.lists(inner, max_size=3)
        | st.dictionaries(
            st.sampled_from(
                ["address", "value", "id", "x_mm", "y_mm", "z_mm", "shape", "kind", "name"]
            ),
            inner,
            max_size=4,
        )
    ),
    max_leaves=8,
)
command_text = st.builds(
    lambda op, rest: json.dumps({"op": op, **rest}),
    st.sampled_from(OPS),
    st.dictionaries(
        st.sampled_from(COMMAND_FIELDS),
        json_value,
        max_size=5,
    ),
)


@st.composite
def filled_forms(draw: st.DrawFn) -> tuple[str, str, dict[str, str]]:
    """A station, one of its forms, and fields as a careless or hostile user would fill them."""
    data = draw(st.dictionaries(st.sampled_from(FIELDS), anything, max_size=5))
    data |= draw(
        st.dictionaries(
            st.sampled_from(ADDRESSES) | st.text(max_size=20).map(lambda t: f"set:{t}"),
            anything,
            max_size=2,
        )
    )
    command = draw(st.none() | command_text)
    data |= {"base": draw(st.sampled_from(["1", "1", "2", "x", ""]))} | (
        {"command": command} if command is not None else {}
    )
    return draw(st.sampled_from(WORDS)), draw(st.sampled_from(FORMS)), data


@settings(max_examples=250)
@given(filled_forms())
def test_no_form_ever_fails(page: Page, filled: tuple[str, str, dict[str, str]]) -> None:
    word, form, data = filled
    job = page.new("heron")
    answer = page.post(f"/jobs/{job}/{word}/{form}", data)
    assert answer.status_code in {200, 204, 404, 405, 409, 422}
    _is_foreseen(answer)
    for station in (word, "build"):
        assert page.get(f"/jobs/{job}/{station}").status_code == 200


@settings(max_examples=120)
@given(address=st.sampled_from(ADDRESSES), text=anything)
def test_any_text_in_any_field_is_taken_or_refused_with_its_name(
    page: Page, address: str, text: str
) -> None:
    job = page.new("wren")
    answer = page.post(f"/jobs/{job}/vehicle/set", {"base": "1", address: text})
    assert answer.status_code in {200, 422}
    _is_foreseen(answer)
    if answer.status_code == 422:
        assert re.search(r"<strong>[^<]+</strong> ?<span>[^<]+", answer.text)


@settings(max_examples=60)
@given(content=st.binary(max_size=400) | json_value.map(lambda v: json.dumps(v).encode()))
def test_any_file_is_taken_or_refused(page: Page, content: bytes) -> None:
    answer = page.post("/jobs/import", files={"file": ("plan.json", content, "application/json")})
    assert answer.status_code == 422
    _is_foreseen(answer)


@settings(max_examples=60)
@given(
    body=st.binary(max_size=300),
    kind=st.sampled_from(
        [
            "multipart/form-data; boundary=x",
            "multipart/form-data",
            "application/x-www-form-urlencoded",
            "text/plain",
            "",
        ]
    ),
)
def test_any_body_is_answered(page: Page, body: bytes, kind: str) -> None:
    headers = {"x-csrftoken": page.client.cookies.get("csrftoken") or "", "content-type": kind}
    for url in ("/jobs/import", "/jobs/1/heat/set", "/units"):
        _is_foreseen(page.client.post(url, content=body, headers=headers))


@given(
    query=st.dictionaries(
        st.sampled_from(["plan", "side", "frame", "finding", "item", "page"]), anything
    )
)
def test_any_look_is_answered(page: Page, query: dict[str, str]) -> None:
    assert page.client.get("/jobs/1/spot", params=query).status_code in {200, 404}
    assert page.client.get("/", params=query).status_code in {200, 422}


@settings(max_examples=60)
@given(path=st.text(max_size=20), query=st.text(max_size=20))
def test_any_address_is_answered(page: Page, path: str, query: str) -> None:
    for stem in ("/", "/static/", "/jobs/", "/jobs/1/", "/works/"):
        _is_foreseen(page.get(f"{stem}{quote(path)}?x={quote(query)}"))


@pytest.mark.parametrize(
    "address",
    [
        "/static/%00",
        "/static/" + "a" * 5000,
        "/static/..%2f..%2fapp.py",
        "/jobs/%00/heat",
        "/static/%FF%FE",
    ],
)
def test_names_that_no_file_can_have(page: Page, address: str) -> None:
    answer = page.get(address)
    assert answer.status_code in {404, 422}
    _is_foreseen(answer)


@pytest.mark.parametrize(
    ("form", "fields"),
    [
        ("add", {"kind": "rail", "shape": "box"}),
        ("point", {"item": "exhaust-own", "row": "0", "do": "add"}),
        ("copy", {"item": "tank"}),
        ("survey", {}),
        ("add-feature", {"name": "x" * 90, "kind": "bolt"}),
    ],
)
def test_what_a_part_cannot_be_is_a_sentence(page: Page, form: str, fields: dict[str, str]) -> None:
    """On a shell that has no room for it."""
    job = page.new("heron")
    page.set(
        job, "vehicle", 1, vehicle__shell__rear_x_mm="1000", vehicle__shell__bulkhead_x_mm="990"
    )
    base = str(page.head(job).number)
    _is_foreseen(page.post(f"/jobs/{job}/vehicle/{form}", {"base": base, **fields}))
    assert page.get(f"/jobs/{job}/vehicle").status_code == 200


def test_marks_of_our_own_in_a_name_are_just_a_name(page: Page) -> None:
    job = page.new("heron")
    page.set(job, "vehicle", 1, vehicle__solids__tank__name="tank \u27e61 zzz\u27e7")
    assert "tank \u27e61 zzz\u27e7" in page.get(f"/jobs/{job}/spot").text
    refused = page.set(job, "vehicle", 2, vehicle__solids__tank__name="tank \ue0001 zzz\ue001")
    assert refused.status_code == 422
    assert "U+E000" in refused.text


def test_a_fault_is_answered_with_a_sentence_and_logged_without_what_was_typed(
    page: Page, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The last resort itself: a fault put in on purpose."""

    def faulty(*_: object) -> None:
        raise ZeroDivisionError("Ina's own words")

    monkeypatch.setattr(heat, "worked_out", faulty)
    job = page.new("heron")
    with capture_logs() as lines:
        answer = page.get(f"/jobs/{job}/heat/worked")
    assert answer.text == UNFORESEEN
    assert answer.headers["x-content-type-options"] == "nosniff"
    (told,) = [line for line in lines if line["event"] == "unforeseen"]
    assert told["kind"] == "ZeroDivisionError"
    assert "web/stations/heat/router.py" in " ".join(told["at"])
    assert "Ina" not in json.dumps(lines)
