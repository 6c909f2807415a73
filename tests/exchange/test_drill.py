"""The drill sheet: true to scale on paper and in DXF, measured from features, mirrored below."""

from __future__ import annotations

import io
import itertools
import math
import re

import pytest
from ezdxf.filemanagement import read

from gale_nook.core.apply import apply
from gale_nook.core.build.drill import drill_sheet
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.values import set_value
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.exchange.drill import (
    CHECK_MM,
    MARGIN_MM,
    OVERLAP_MM,
    TILE_MM,
    drill_dxf,
    drill_pdf,
    tiles,
)

POINT_MM = 25.4 / 72


def _pages(pdf: bytes) -> list[str]:
    return [
        part.decode("latin-1")
        for part in re.findall(rb"stream\r?\n(.*?)endstream", pdf, re.DOTALL)
        if b" re " in part
    ]


def test_the_check_line_is_a_hundred_millimetres_on_every_page(
    heron: Plan, catalogue: Catalogue
) -> None:
    """Read back from the page's own drawing commands, in points of 1/72 inch."""
    sheet = drill_sheet(Job(heron, catalogue))
    assert sheet is not None
    pdf = drill_pdf((sheet,), ("Look below.",))
    pages = _pages(pdf)
    assert len(pages) == 2
    assert b"/PrintScaling /None" in pdf
    for page in pages:
        lines = re.findall(r"([\d.-]+) ([\d.-]+) m ([\d.-]+) ([\d.-]+) l", page)
        lengths = [
            math.dist((float(a), float(b)), (float(c), float(d))) * POINT_MM for a, b, c, d in lines
        ]
        assert any(length == pytest.approx(CHECK_MM, abs=0.01) for length in lengths)


def test_the_hole_is_drawn_at_its_size(heron: Plan, catalogue: Catalogue) -> None:
    sheet = drill_sheet(Job(heron, catalogue))
    assert sheet is not None
    page = _pages(drill_pdf((sheet,), (), UnitSystem.IMPERIAL))[0]
    curves = [
        [float(n) for n in row]
        for row in re.findall(
            r"([\d.-]+) ([\d.-]+) ([\d.-]+) ([\d.-]+) ([\d.-]+) ([\d.-]+) c\s", page
        )
    ]
    across = (max(c[4] for c in curves) - min(c[4] for c in curves)) * POINT_MM
    assert across == pytest.approx(127, abs=0.05)


@pytest.mark.parametrize("mount", ["turret", "plate"])
def test_dxf_is_in_millimetres_and_mirrored_below(
    heron: Plan, catalogue: Catalogue, mount: str
) -> None:
    plan = apply(
        apply(heron, set_value("spot.mount", mount), catalogue),
        set_value("spot.yaw_deg", 90),
        catalogue,
    )
    sheet = drill_sheet(Job(plan, catalogue))
    assert sheet is not None
    inside, below = (
        {
            (round(c.dxf.center.x, 3), round(c.dxf.center.y, 3), round(2 * c.dxf.radius, 3))
            for c in read(io.StringIO(drill_dxf(sheet, face)))
            .modelspace()
            .query("CIRCLE[layer=='HOLES']")
        }
        for face in sheet.faces
    )
    assert inside == {(round(h.x_mm, 3), round(h.y_mm, 3), h.diameter_mm) for h in sheet.holes}
    assert below == {(x, -y + 0.0, d) for x, y, d in inside}
    document = read(io.StringIO(drill_dxf(sheet, sheet.faces[0])))
    assert document.header["$INSUNITS"] == 4
    line = document.modelspace().query("LINE[layer=='CHECK']")[0]
    assert line.dxf.start.distance(line.dxf.end) == pytest.approx(CHECK_MM)


def test_offsets_lead_from_features_to_the_middle_on_both_faces(
    heron: Plan, catalogue: Catalogue
) -> None:
    """From each named feature, its own place plus the offset is the middle; below it is the
    transferred one.
    """
    sheet = drill_sheet(Job(heron, catalogue))
    assert sheet is not None
    places = {f.name: f for f in heron.vehicle.features}
    for face in sheet.faces:
        assert len(face.offsets) == 2
        middles = []
        for offset in face.offsets:
            feature = places[offset.name]
            at = feature.inside if face.face == "inside" else feature.below
            assert at is not None
            assert offset.tape_mm == pytest.approx(math.hypot(offset.along_mm, offset.across_mm))
            middles.append((at[0] + offset.along_mm, at[1] + offset.across_mm))
        assert middles[0] == pytest.approx(middles[1])
        assert middles[0] == pytest.approx(sheet.middle_mm, abs=4 if face.face == "below" else 1e-9)


def test_without_features_it_is_measured_from_datum_and_flank(
    wren: Plan, catalogue: Catalogue
) -> None:
    sheet = drill_sheet(Job(wren, catalogue))
    assert sheet is not None
    names = [offset.name for offset in sheet.faces[0].offsets]
    assert names[0].startswith("datum: ")
    assert names[1] == "right wall, square to it"
    assert sheet.faces[0].offsets[1].tape_mm == pytest.approx(1500 / 2 - 500)
    assert drill_sheet(Job(wren.model_copy(update={"spot": None}), catalogue)) is None


def test_what_is_larger_than_a_page_is_tiled_with_overlap(
    heron: Plan, catalogue: Catalogue
) -> None:
    bothy = catalogue.heaters["bothy-40"]
    plate = next(m for m in bothy.mounts if m.id == "plate")
    wide = plate.model_copy(
        update={"holes": tuple(h.model_copy(update={"x_mm": h.x_mm * 9}) for h in plate.holes)}
    )
    sheet = bothy.model_copy(update={"id": "mine", "mounts": (wide,)})
    heater = heron.heater.model_copy(update={"own_sheets": (sheet,), "sheet": "mine"})
    spot = heron.spot.model_copy(update={"mount": "plate"}) if heron.spot else None
    drawn = drill_sheet(Job(heron.model_copy(update={"heater": heater, "spot": spot}), catalogue))
    assert drawn is not None
    found = tiles(drawn)
    assert len(found) > 1
    reach = max(t.x_mm for t in found) + TILE_MM[0] / 2
    assert reach >= drawn.half_size_mm[0] + MARGIN_MM
    xs = sorted({t.x_mm for t in found})
    assert all(b - a == pytest.approx(TILE_MM[0] - OVERLAP_MM) for a, b in itertools.pairwise(xs))
    assert len(_pages(drill_pdf((drawn,), ()))) == 2 * len(found)
