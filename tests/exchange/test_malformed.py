"""Files that are damaged, huge, hostile or from another program: each reader takes them or says why
not, within bounds.
"""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Callable
from contextlib import suppress
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.plan.document import Plan, compact, read_plan, write_plan
from gale_nook.core.plan.size import MAX_PIECES, too_large
from gale_nook.core.plan.solids import TubeSolid
from gale_nook.core.vehicle.commands import AddSolid
from gale_nook.demo.load import demo_plan
from gale_nook.exchange.heater_sheets import read_sheet, write_sheet
from gale_nook.exchange.survey import (
    MAX_PARTS,
    read_survey_csv,
    read_survey_dxf,
    survey_csv,
    survey_dxf,
)
from gale_nook.exchange.weather import read_weather
from tests.exchange.test_survey import without_hollow

BOOK = load_catalogue()
KINDS = dict(BOOK.solid_kinds)
HERON = demo_plan("heron")
EPW = "LOCATION,Skerry\n" + "X\n" * 6 + "DATA PERIODS,1,1,Data,Sunday, 1/ 1, 1/ 2\n"
HOURS = [f"2025,1,{1 + h // 24},{1 + h % 24},60,f,{h % 9}.5,1" for h in range(48)]


def _dxf(entities: str, header: str = "  9\n$INSUNITS\n 70\n4\n") -> bytes:
    return (
        f"  0\nSECTION\n  2\nHEADER\n  9\n$ACADVER\n  1\nAC1024\n{header}  0\nENDSEC\n"
        f"  0\nSECTION\n  2\nENTITIES\n{entities}  0\nENDSEC\n  0\nEOF\n"
    ).encode()


LINE = (
    "  0\nLINE\n  5\n1A\n100\nAcDbEntity\n  8\nmember\n100\nAcDbLine\n 10\n1.0\n 20\n2.0\n "
    "30\n3.0\n 11\n900.0\n 21\n2.0\n 31\n9.0\n"
)
READERS: dict[str, Callable[[bytes], Any]] = {
    "plan": read_plan,
    "sheet": read_sheet,
    "csv": lambda raw: read_survey_csv(raw, KINDS),
    "dxf": lambda raw: read_survey_dxf(raw, KINDS),
    "weather": lambda raw: read_weather(raw, "x.epw"),
}
GOOD: dict[str, bytes] = {
    "plan": write_plan(HERON).encode(),
    "sheet": write_sheet(next(iter(BOOK.heaters.values()))).encode(),
    "csv": survey_csv(HERON.vehicle.solids).encode(),
    "dxf": survey_dxf(HERON.vehicle.solids).encode(),
    "weather": (EPW + "\n".join(HOURS)).encode(),
}


# --- what was met, by name ---

CORPUS = {
    "sheet: marks of a list, one after another": ("sheet", b"- " * 30_000),
    "sheet: maps in maps": ("sheet", b"{a: " * 20_000),
    "sheet: lists in lists": ("sheet", b"[" * 90_000),
    "sheet: questions": ("sheet", b"? " * 30_000),
    "sheet: deeper line by line": ("sheet", "\n".join(" " * i + "a:" for i in range(600)).encode()),
    "sheet: references": ("sheet", b"a: &a [1, 2]\nb: [*a, *a]"),
    "sheet: an integer of many digits": ("sheet", b"id: a\nlabel: " + b"9" * 90_000),
    "sheet: an integer in sixties": ("sheet", b"id: 1" + b":59" * 30_000),
    "sheet: a date that is none": ("sheet", b"id: 2024-99-99"),
    "sheet: an object of Python": ("sheet", b"!!python/object/apply:os.system ['true']"),
    "plan: a number of many digits": (
        "plan",
        b'{"format": "gale-nook-plan", "version": 1, "name": 1' + b"0" * 5000 + b"}",
    ),
    "plan: an integer beyond all floats": (
        "plan",
        compact(HERON).replace('"altitude_m":650.0', '"altitude_m":1' + "0" * 400).encode(),
    ),
    "plan: nested deeply": ("plan", b"[" * 200_000),
    "plan: a radius that is next to nothing": (
        "plan",
        compact(HERON).replace('"radius_mm":60.0', '"radius_mm":1e-300').encode(),
    ),
    "csv: a huge field in the heading": ("csv", b"kind,shape," + b"x" * 140_000),
    "csv: only a heading": ("csv", b"kind,shape\n"),
    "dxf: a line without its ends": ("dxf", _dxf("  0\nLINE\n  5\n1A\n  8\nmember\n")),
    "dxf: a circle without middle or radius": ("dxf", _dxf("  0\nCIRCLE\n  5\n1B\n  8\nmember\n")),
    "dxf: cut off in the middle": ("dxf", GOOD["dxf"][: len(GOOD["dxf"]) // 2]),
    "weather: a month written high": ("weather", (EPW + "2025,²,1,1,60,f,1.0").encode()),
    "weather: a month of many digits": (
        "weather",
        (EPW + f"2025,{'1' * 5000},1,1,60,f,1.0").encode(),
    ),
    "weather: a temperature of many digits": (
        "weather",
        (EPW + f"2025,1,1,1,60,f,{'1' * 5000}").encode(),
    ),
    "any: nothing": ("plan", b""),
    "any: zero bytes": ("csv", b"kind,shape\x00\nmember,box"),
}


@pytest.mark.parametrize("name", CORPUS)
def test_what_was_met_is_refused_in_words(name: str) -> None:
    kind, raw = CORPUS[name]
    refused = ""
    found = None
    try:
        found = READERS[kind](raw)
    except PlanUnreadable as told:
        refused = str(told)
    assert len(refused) < 4000
    if found is not None:  # a survey that took nothing, and says of each row why
        assert found.solids == ()
        assert found.refused or "heading" in name


def test_the_worst_of_them_are_bounded_in_time_and_memory() -> None:
    """In a process that has 20 s of the processor and 200 MB more than it begins with, for all of
    them together.
    """
    script = (
        "import resource\n"
        "from tests.exchange.test_malformed import CORPUS, READERS, PlanUnreadable\n"
        "used = resource.getrusage(resource.RUSAGE_SELF)\n"
        "resource.setrlimit(resource.RLIMIT_CPU, (int(used.ru_utime + used.ru_stime) + 20,) * 2)\n"
        "has = next(int(l.split()[1]) * 1024 for l in open('/proc/self/status') if "
        "l.startswith('VmData'))\n"
        "resource.setrlimit(resource.RLIMIT_DATA, (has + 200_000_000,) * 2)\n"
        "for kind, raw in CORPUS.values():\n"
        "    try: READERS[kind](raw)\n"
        "    except PlanUnreadable: pass\n"
        "print('all')\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", script], capture_output=True, text=True, check=False
    )
    assert done.stdout.strip() == "all", done.stderr[-800:]


# --- a good file, damaged ---


@st.composite
def damaged(draw: st.DrawFn) -> tuple[str, bytes]:
    """A good file with a piece taken out, doubled, or replaced."""
    kind = draw(st.sampled_from(sorted(GOOD)))
    raw = bytearray(GOOD[kind])
    for _ in range(draw(st.integers(1, 4))):
        at = draw(st.integers(0, max(len(raw) - 1, 0)))
        size = draw(st.integers(1, 60))
        piece = draw(
            st.just(b"")
            | st.just(bytes(raw[at : at + size]) * 3)
            | st.binary(max_size=8)
            | st.sampled_from(
                [
                    b"\x00",
                    b"\xff\xfe",
                    b"9" * 400,
                    b"1e400",
                    b"-",
                    b"\r",
                    b"\xc2\xb2",
                    b"[[[[",
                    b'"',
                    b"NaN",
                    b"- - - ",
                ]
            )
        )
        raw[at : at + size] = piece
    return kind, bytes(raw)


@settings(max_examples=150)
@given(damaged())
def test_a_damaged_file_is_read_or_refused(case: tuple[str, bytes]) -> None:
    kind, raw = case
    with suppress(PlanUnreadable):
        READERS[kind](raw)


# --- whatever program wrote it ---


@pytest.mark.parametrize("mark", [b"", b"\xef\xbb\xbf"])
@pytest.mark.parametrize("ends", ["\n", "\r\n", "\r"])
def test_marks_and_line_ends_of_any_program(mark: bytes, ends: str) -> None:
    def written(kind: str) -> bytes:
        return mark + GOOD[kind].decode().replace("\n", ends).encode()

    assert read_plan(written("plan")) == HERON
    assert READERS["csv"](written("csv")).solids == tuple(map(without_hollow, HERON.vehicle.solids))
    assert read_sheet(written("sheet")) == next(iter(BOOK.heaters.values()))
    assert sum(hours for _, _, hours in READERS["weather"](written("weather")).bins()) == 48
    assert len(READERS["dxf"](written("dxf")).solids) == len(HERON.vehicle.solids)


def test_a_spreadsheets_semicolons_decimal_commas_and_latin_1() -> None:
    head = "kind;shape;name;x_mm;y_mm;z_mm;length_mm;width_mm;height_mm\n"
    raw = f"{head}member;box;Träger;800,5;-700;-70;60;1400;60\n".encode("latin-1")
    (solid,) = READERS["csv"](raw).solids
    assert (solid.name, solid.x_mm) == ("Träger", 800.5)
    assert READERS["csv"](raw.decode("latin-1").encode("utf-16")).solids == (solid,)


def test_exports_carry_no_formulas_and_come_back_as_they_were() -> None:
    names = ("=1+1", "+cmd", "-2", "@sum", "'quoted", "'=x", "plain")
    solids = tuple(
        without_hollow(solid.model_copy(update={"name": name, "note": name}))
        for solid, name in zip(HERON.vehicle.solids, names, strict=False)
    )
    text = survey_csv(solids)
    for line in text.splitlines()[1:]:
        for cell in line.split(","):
            assert cell.replace(".", "").replace("-", "", 1).isdigit() or not cell.startswith(
                ("=", "+", "-", "@")
            )
    assert READERS["csv"](text.encode()).solids == solids


def test_a_drawing_that_does_not_say_its_unit_is_asked_about() -> None:
    for header in (
        "",
        "  9\n$INSUNITS\n 70\n0\n",
        "  9\n$INSUNITS\n 70\nmetre\n",
        "  9\n$INSUNITS\n 70\n99\n",
    ):
        raw = _dxf(LINE, header)
        with pytest.raises(
            PlanUnreadable, match=r"does not say in which unit.*Choose the unit beside the file"
        ):
            read_survey_dxf(raw, KINDS)
        (solid,) = read_survey_dxf(raw, KINDS, "cm").solids
        assert isinstance(solid, TubeSolid)
        assert solid.points[1][0] == pytest.approx(9000)


def test_a_survey_of_more_parts_than_are_kept_says_so() -> None:
    row = "member,box,800,-700,-70,60,1400,60\n"
    found = READERS["csv"](
        ("kind,shape,x_mm,y_mm,z_mm,length_mm,width_mm,height_mm\n" + row * 450).encode()
    )
    assert len(found.solids) == MAX_PARTS
    assert "holds up to 400 parts" in found.refused[-1][1]


def test_weather_that_is_cut_off_is_not_taken_without_a_word() -> None:
    whole = (EPW + "\n".join(HOURS)).encode()
    assert read_weather(whole, "a.epw")
    for kept in (47, 30, 25):
        with pytest.raises(
            PlanUnreadable,
            match=f"holds {kept} readings; its header promises 48. It seems to be cut off",
        ):
            read_weather((EPW + "\n".join(HOURS[:kept])).encode(), "a.epw")
    without = EPW.replace("DATA PERIODS", "NOTHING")
    with pytest.raises(PlanUnreadable, match="holds 47 readings; whole days are wanted"):
        read_weather((without + "\n".join(HOURS[:47])).encode(), "a.epw")


# --- sizes ---


def _with_pieces(count: int) -> Plan:
    tubes = tuple(
        TubeSolid(
            id=f"t-{n}",
            name="wiring",
            kind="wiring",
            diameter_mm=6,
            points=tuple((float(i * 10), float(n), -100.0) for i in range(51)),
        )
        for n in range(count // 50)
    )
    return HERON.model_copy(update={"vehicle": HERON.vehicle.model_copy(update={"solids": tubes})})


def test_a_plan_is_bounded_by_what_it_costs_not_only_by_how_many_parts_it_has() -> None:
    assert too_large(_with_pieces(MAX_PIECES)) == ""
    assert f"{MAX_PIECES + 50} straight pieces" in too_large(_with_pieces(MAX_PIECES + 50))


def test_a_plan_that_is_too_large_already_may_be_changed_but_not_grow() -> None:
    """As one that was kept before there were bounds: it is worked on, and made smaller."""
    large = _with_pieces(MAX_PIECES + 100)
    assert apply(large, set_value("heat.outside_c", -21.5), BOOK).heat.outside_c == -21.5
    assert apply(large, RemoveItem(collection="vehicle.solids", item_id="t-0"), BOOK)
    more = TubeSolid(
        id="more", name="wiring", kind="wiring", diameter_mm=6, points=((0, 0, 0), (9, 0, 0))
    )
    with pytest.raises(BadInput, match="straight pieces together; up to"):
        apply(large, AddSolid(item=more), BOOK)


def test_a_plan_that_can_be_kept_can_be_exported_and_read_again() -> None:
    """Written over many lines it would be larger than what is read: it is then written in one."""
    notes = tuple(
        solid.model_copy(update={"id": f"s-{n}", "note": "ä" * 1500})
        for n, solid in enumerate(HERON.vehicle.solids * 30)
    )[:400]
    plan = HERON.model_copy(update={"vehicle": HERON.vehicle.model_copy(update={"solids": notes})})
    assert too_large(plan) == ""
    assert read_plan(write_plan(plan).encode()) == plan
    assert json.loads(write_plan(plan))["format"] == "gale-nook-plan"
