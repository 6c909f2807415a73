"""The card for under the vehicle, and what it gives back."""

from __future__ import annotations

import base64
import io
import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.spot.transfer import transfer_of
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.demo.load import demo_plan
from gale_nook.exchange.creeper_card import CardHole, card_page, creeper_card_of
from gale_nook.exchange.from_card import FromCard, read_below


def taken(line: str, job: Job, holes: tuple[CardHole, ...] = ()) -> FromCard:
    return read_below(line, job, 4, holes or HOLES)


HOLES = (CardHole("turret hole", (2760.0, -286.0), (2762.0, -288.0)),)


def _line(**changes: Any) -> str:
    told = {
        "gale_nook": "below",
        "version": 1,
        "job": 4,
        "revision": 7,
        "units": "mm",
        "features": {},
        "pilots": [],
        "note": "",
    }
    return json.dumps({**told, **changes})


def test_the_card_says_what_the_drill_sheet_says(heron: Plan, catalogue: Catalogue) -> None:
    card = creeper_card_of(check(heron, catalogue), 4, 7, UnitSystem.METRIC)
    page = card_page(card)
    assert [offset.name for offset in card.offsets] == [
        "factory hole in member 4",
        "threaded plate on the left rail",
    ]
    assert "394 mm" in page
    assert "105 mm to the rear, 380 mm to the vehicle&#39;s left" in page
    assert page.count("<fieldset data-feature=") == 7


def test_one_file_asks_for_nothing_else(heron: Plan, catalogue: Catalogue) -> None:
    page = card_page(creeper_card_of(check(heron, catalogue), 4, 7, UnitSystem.METRIC), "b{}", "1")
    assert 'src="' not in page
    assert 'href="/' not in page


def test_the_miss_counts_from_the_mark_that_the_card_led_to(
    heron: Plan, catalogue: Catalogue
) -> None:
    """The card leads to where a hole drilled by the drawing comes out; a pilot that is on that mark
    has shown that the match is right, and not that it missed by the match's own shift.
    """
    check_now = check(heron, catalogue)
    card = creeper_card_of(check_now, 4, 1, UnitSystem.METRIC)
    (hole,) = card.holes
    transfer = transfer_of(heron)
    assert transfer is not None
    assert hole.mark == pytest.approx(transfer.match.back(2760, -286))
    assert hole.mark != pytest.approx((2760, -286), abs=0.5)
    pilot = {
        "hole": "turret hole",
        "along": "0",
        "across": "0",
        "drilled": hole.drilled,
        "mark": hole.mark,
    }
    plan = apply(
        heron, taken(_line(pilots=[pilot]), Job(heron, catalogue), card.holes).command, catalogue
    )
    came_out = plan.pilots[0].came_out_mm
    assert came_out is not None
    assert came_out == pytest.approx(hole.mark)
    after = transfer_of(plan)
    assert after is not None
    assert after.off_mm == pytest.approx(transfer.off_mm, abs=0.3)
    page = card_page(card)
    assert f'data-mark="{json.dumps(list(hole.mark))}"' in page


def test_without_a_place_there_are_still_features_to_measure(catalogue: Catalogue) -> None:
    page = card_page(
        creeper_card_of(check(demo_plan("blank"), catalogue), 1, 1, UnitSystem.IMPERIAL)
    )
    assert "has no place yet" in page


def test_what_comes_back_is_taken_in(heron: Plan, catalogue: Catalogue) -> None:
    pilot = {
        "hole": "turret hole",
        "along": "4",
        "forth": "forward",
        "across": "1,8 cm",
        "side": "left",
    }
    parts = {"tank": {"x_mm": "1025", "height_mm": "12 in"}}
    line = _line(
        parts=parts,
        features={"feature-5": ["6' 8 7/8\"", "-402"]},
        pilots=[pilot],
        note="bracket bent",
    )
    plan = apply(heron, taken(line, Job(heron, catalogue)).command, catalogue)
    assert plan.vehicle.features[4].below == (pytest.approx(80.875 * 25.4), -402)
    assert (plan.pilots[0].rearward_mm, plan.pilots[0].right_mm) == (-4, -18)
    # a card that does not say where it had the mark: where one would have it now
    assert plan.pilots[0].came_out_mm == (2758, -306)
    tank = next(s for s in plan.vehicle.solids if s.id == "tank").model_dump()
    assert (tank["x_mm"], tank["height_mm"]) == (1025, pytest.approx(304.8))
    assert plan.note.endswith("bracket bent")


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("", "Paste the line"),
        ("{", "not what a card gives back"),
        (_line(job=5), "of job 5"),
        (_line(version=2), "not what a card gives back"),
        (_line(features={"moon": ["1", "2"]}), "not in this job any more"),
        (_line(features={"feature-5": ["far", "2"]}), "'far'"),
        (_line(features={"feature-5": ["1", ""]}), "across"),
        (_line(features={"feature-5": ["99 m", "2"]}), "is too much; it has to be"),
        (_line(parts={"moon": {"x_mm": "1"}}), "not in this job any more"),
        (_line(parts={"tank": {"name": "1"}}), "has no such length"),
        (_line(parts={"tank": {"x_mm": "far"}}), "'far'"),
        (_line(pilots=[{"hole": "moon"}]), "no hole 'moon'"),
        (
            _line(pilots=[{"hole": "turret hole", "along": "4 m"}]),
            "is too much; it has to be at most",
        ),
    ],
)
def test_what_cannot_be_taken_is_told(heron: Plan, line: str, said: str) -> None:
    with pytest.raises(BadInput) as caught:
        taken(line, Job(heron, load_catalogue()))
    assert said in str(caught.value)


@given(
    st.text(max_size=200)
    | st.builds(
        _line,
        features=st.dictionaries(st.text(max_size=8), st.lists(st.text(max_size=6), max_size=3)),
    )
)
def test_any_text_is_taken_or_refused(line: str) -> None:
    plan = demo_plan("heron")
    try:
        command = taken(line, Job(plan, load_catalogue())).command
    except BadInput:
        return
    assert apply(plan, command, load_catalogue())


def test_heights_on_the_card_are_measured_from_what_is_seen_there(
    heron: Plan, catalogue: Catalogue
) -> None:
    """From the ground: the tank's -330 reads 310 and is typed so. A card that was opened before
    the job chose that is still read from what it said.
    """
    settings = heron.settings.model_copy(update={"heights_below": "ground"})
    plan = heron.model_copy(update={"settings": settings})
    card = creeper_card_of(check(plan, catalogue), 4, 1, UnitSystem.METRIC)
    tank = next(part for part in card.parts if part.id == "tank")
    height = next(field for field in tank.fields if field.leaf == "z_mm")
    assert ("ground", "310 mm") in height.heights
    assert ("underside", "320.8 mm") in height.heights
    for heights, typed, z_mm in (("ground", "300", -340), ("floor", "-350", -350)):
        line = _line(parts={"tank": {"z_mm": typed}}, heights=heights)
        after = apply(plan, taken(line, Job(plan, catalogue)).command, catalogue)
        solids = {s.id: s.model_dump() for s in after.vehicle.solids}
        assert solids["tank"]["z_mm"] == pytest.approx(z_mm)
    assert 'data-heights="ground"' in card_page(card)


def test_tubes_pipes_and_the_line_are_corrected(heron: Plan, catalogue: Catalogue) -> None:
    """A brake pipe's point, a corner of the exhaust and one of the line, heights from the steel's
    underside down.
    """
    job = Job(heron, catalogue)
    card = creeper_card_of(check(heron, catalogue), 4, 1, UnitSystem.METRIC)
    tube = next(s for s in heron.vehicle.solids if s.shape == "tube" and s.points[0][2] < 0)
    assert tube.id in [part.id for part in card.parts]
    assert [run.name for run in card.runs] == ["exhaust", "combustion air", "fuel line"]
    exhaust, line = heron.pipes.exhaust, heron.fuel.line
    assert exhaust is not None
    assert line is not None
    told = _line(
        heights="underside",
        parts={tube.id: {"points.1.1": "-412", "points.1.2": "70", "diameter_mm": "6"}},
        runs={
            "pipes.exhaust": {f"nodes.{exhaust.nodes[0].id}.x_mm": "2400"},
            "fuel.line": {f"nodes.{line.nodes[0].id}.z_mm": "60"},
        },
    )
    plan = apply(heron, taken(told, job).command, catalogue)
    after = next(s for s in plan.vehicle.solids if s.id == tube.id)
    under = floor_underside_z_mm(job)
    assert after.shape == "tube"
    assert after.points[1][1:] == (-412, pytest.approx(under - 70))
    assert plan.pipes.exhaust is not None
    assert plan.pipes.exhaust.nodes[0].x_mm == 2400
    assert plan.fuel.line is not None
    assert plan.fuel.line.nodes[0].z_mm == pytest.approx(under - 60)


def test_what_was_found_is_a_part_with_its_photo(heron: Plan, catalogue: Catalogue) -> None:
    """What was measured of it is inked, the rest pencilled; the photo is kept without what the
    camera wrote.
    """
    out = io.BytesIO()
    exif = Image.Exif()
    exif[0x010F] = "Made-up camera"
    Image.new("RGB", (320, 240), "grey").save(out, "JPEG", exif=exif)
    photo = "data:image/jpeg;base64," + base64.b64encode(out.getvalue()).decode()
    found = [
        {
            "kind": "water-tank",
            "name": "grey box",
            "values": {"x_mm": "600", "y_mm": "-300", "z_mm": "90", "length_mm": "40 cm"},
            "photo": photo,
        },
        {"kind": "brake-pipe", "shape": "tube", "values": {"points.0.0": "400"}},
    ]
    job = Job(heron, catalogue)
    back = taken(_line(found=found, heights="underside"), job)
    plan = apply(heron, back.command, catalogue)
    box, pipe = plan.vehicle.solids[-2:]
    assert box.shape == "box"
    assert (box.name, box.x_mm, box.y_mm, box.length_mm) == ("grey box", 600, -300, 400)
    assert box.z_mm == pytest.approx(floor_underside_z_mm(job) - 90)
    assert pipe.shape == "tube"
    assert pipe.points[0][0] == 400
    here = f"vehicle.solids.{box.id}."
    left = {a.removeprefix(here) for a in plan.vehicle.pencilled if a.startswith(here)}
    assert left == {"width_mm", "height_mm", "material"}
    assert list(back.pictures) == [box.picture]
    assert b"Made-up" not in back.pictures[box.picture]


@pytest.mark.parametrize(
    ("told", "said"),
    [
        (_line(runs={"pipes.moon": {}}), "not in this job any more"),
        (_line(runs={"fuel.line": {"nodes.n99.x_mm": "1"}}), "not there any more"),
        (_line(found=[{"kind": "bed"}]), "from the list"),
        (_line(found=[{"kind": "member", "values": {"moon": "1"}}]), "no such length"),
        (_line(found=[{"kind": "member", "values": {"x_mm": "far"}}]), "'far'"),
        (_line(found=[{"kind": "member", "values": {"length_mm": "0"}}]), "has to be"),
        (_line(found=[{"kind": "member", "photo": "data:text/html,x"}]), "no picture"),
        (_line(found=[{"kind": "member", "photo": "data:image/png;base64,@"}]), "no picture"),
        (_line(parts={"tank": {"points.0.0": "1"}}), "no such length"),
    ],
)
def test_what_was_found_and_cannot_be_is_told(heron: Plan, told: str, said: str) -> None:
    with pytest.raises(BadInput) as caught:
        taken(told, Job(heron, load_catalogue()))
    assert said in str(caught.value)
