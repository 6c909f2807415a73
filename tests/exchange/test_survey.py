"""The survey out and in again, and what is said of rows that cannot be taken."""

from __future__ import annotations

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.geometry.shapes import solid_shape
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid, Solid
from gale_nook.core.vehicle.commands import TakeSurvey
from gale_nook.exchange.survey import (
    Survey,
    read_survey_csv,
    read_survey_dxf,
    survey_csv,
    survey_dxf,
)

KINDS = dict(load_catalogue().solid_kinds)


def test_csv_brings_every_part_back(any_demo: Plan) -> None:
    found = read_survey_csv(survey_csv(any_demo.vehicle.solids).encode(), KINDS)
    assert found.refused == ()
    assert found.solids == tuple(without_hollow(s) for s in any_demo.vehicle.solids)


def without_hollow(solid: Solid) -> Solid:
    """A part as a table of measures can hold it."""
    return solid.model_copy(update={"hollow": None}) if isinstance(solid, BoxSolid) else solid


def test_a_survey_put_in_its_own_place_keeps_what_is_hollow(heron: Plan) -> None:
    found = read_survey_csv(survey_csv(heron.vehicle.solids).encode(), KINDS)
    after = apply(heron, TakeSurvey(solids=found.solids, replace=True), load_catalogue())
    assert after.vehicle.solids == heron.vehicle.solids


def test_dxf_brings_every_shape_back_in_its_place(any_demo: Plan) -> None:
    """Boxes come back as outlines: the kind, the bounds and the number are kept, not how a part was
    entered.
    """
    found = read_survey_dxf(survey_dxf(any_demo.vehicle.solids).encode(), KINDS)
    assert found.refused == ()
    assert [s.kind for s in found.solids] == [s.kind for s in any_demo.vehicle.solids]
    for before, after in zip(any_demo.vehicle.solids, found.solids, strict=True):
        if getattr(before, "travel_up_mm", 0) == getattr(before, "travel_down_mm", 0) == 0:
            assert solid_shape(after).bounds == pytest.approx(solid_shape(before).bounds, abs=1e-3)


def _csv(*rows: str) -> Survey:
    return read_survey_csv(
        "\n".join(
            ("kind,shape,x_mm,y_mm,z_mm,length_mm,width_mm,height_mm,points,diameter_mm", *rows)
        ).encode(),
        KINDS,
    )


def test_bad_rows_are_named_by_line_and_good_ones_kept() -> None:
    found = _csv(
        "member,box,800,-700,-70,60,1400,60,,",
        "beam,box,800,-700,-70,60,1400,60,,",
        "member,box,far,-700,-70,60,1400,60,,",
        "",
        "brake-pipe,tube,,,,,,,0 -300 -90; 2000 -310 -95,5",
        "member,box,800,-700,-70,-60,1400,60,,",
        "wiring,tube,,,,,,,0 1 2,8",
    )
    assert [solid.kind for solid in found.solids] == ["member", "brake-pipe"]
    told = dict(found.refused)
    assert "no kind 'beam'" in told["line 3"]
    assert "x_mm is 'far'" in told["line 4"]
    assert told["line 7"].startswith("length_mm: ")
    assert "points" in told["line 8"]


def test_ids_are_made_anew_where_they_are_missing_or_stand_twice() -> None:
    row = "member,box,800,-700,-70,60,1400,60,,"
    assert len({solid.id for solid in _csv(row, row, row).solids}) == 3


def test_a_drawing_in_inches_is_scaled_and_foreign_layers_are_named() -> None:
    text = survey_dxf(_csv("member,box,100,0,-70,60,140,60,,").solids)
    inches = text.replace("$INSUNITS\n 70\n4", "$INSUNITS\n 70\n1")
    assert inches != text
    found = read_survey_dxf(inches.encode(), KINDS)
    assert solid_shape(found.solids[0]).bounds[0] == pytest.approx(2540)
    strange = read_survey_dxf(text.replace("member", "elsewhere").encode(), KINDS)
    assert strange.solids == ()
    assert "the layer is not the name of a kind" in strange.refused[0][1]


@pytest.mark.parametrize("raw", [b"", b"a,b\n1,2", b"\xff\xfe", b"kind\nmember"])
def test_what_is_no_survey_is_refused_in_words(raw: bytes) -> None:
    with pytest.raises(PlanUnreadable):
        read_survey_csv(raw, KINDS)


@given(st.binary(max_size=300) | st.text(max_size=300).map(str.encode))
def test_any_file_is_read_or_refused(raw: bytes) -> None:
    for read in (read_survey_csv, read_survey_dxf):
        with suppress(PlanUnreadable):
            assert isinstance(read(raw, KINDS), Survey)
