"""Copies of a part: as far on the other side of the centre line, moved, and repeated."""

from __future__ import annotations

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.geometry.hollow import Box, panel_boxes
from gale_nook.core.geometry.shapes import solid_shape
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid, Hollow, PanelOpening
from gale_nook.core.vehicle.copies import mirrored, moved, numbered_from, repeated
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.demo.load import DEMO_NAMES, demo_plan


@pytest.mark.parametrize("name", DEMO_NAMES)
def test_a_part_mirrored_twice_is_itself(name: str) -> None:
    for solid in demo_plan(name).vehicle.solids:
        back = mirrored(mirrored(solid, "there"), solid.id)
        again = back.model_copy(update={"name": solid.name})
        assert again == solid or again.shape == "outline"


def test_its_room_is_the_mirror_image(heron: Plan, catalogue: Catalogue) -> None:
    """Boxes, turned ones too, cylinders, tubes and outlines."""
    solids = heron.vehicle.solids
    other = tuple(mirrored(solid, f"m-{n}") for n, solid in enumerate(solids))
    vehicle = heron.vehicle.model_copy(update={"solids": other, "pencilled": ()})
    after = Job(heron.model_copy(update={"vehicle": vehicle}), catalogue)
    shapes = zip(surveyed_parts(Job(heron, catalogue)), surveyed_parts(after), strict=True)
    for (solid, _, one), (_, _, two) in shapes:
        a, b = one.bounds, two.bounds
        assert (b[0], -b[4], b[2], b[3], -b[1], b[5]) == pytest.approx(tuple(a), abs=1e-6), solid.id


def _flat(boxes: list[Box]) -> list[float]:
    return [value for low, size in sorted(boxes) for value in (*low, *size)]


def test_hollow_furniture_is_mirrored_with_its_openings() -> None:
    """Its panels' boxes are the mirror image, opening for opening."""
    openings = (
        PanelOpening(id="a", face="front", along_mm=40, up_mm=50, width_mm=100, height_mm=60),
        PanelOpening(id="b", face="up", along_mm=60, up_mm=20, width_mm=120, height_mm=90),
        PanelOpening(id="c", face="left", along_mm=70, up_mm=90, width_mm=80, height_mm=50),
    )
    hollow = Hollow(panels=("front", "left", "up"), lids=("left",), openings=openings)
    bench = BoxSolid(
        **{"id": "bench", "name": "left bench", "kind": "bench", "hollow": hollow},
        **{"x_mm": 300, "y_mm": -800, "z_mm": 0},
        **{"length_mm": 900, "width_mm": 400, "height_mm": 450},
    )
    other = mirrored(bench, "other")
    assert isinstance(other, BoxSolid)
    assert other.hollow is not None
    assert other.hollow.lids == ("right",)

    def mirror(box: Box) -> Box:
        (x, y, z), (length, width, height) = box
        return (x, -(y + width), z), (length, width, height)

    assert _flat(panel_boxes(other)) == pytest.approx(
        _flat([mirror(b) for b in panel_boxes(bench)])
    )


def test_a_part_is_repeated_at_a_pitch(heron: Plan) -> None:
    member = next(s for s in heron.vehicle.solids if isinstance(s, BoxSolid))
    more = repeated(member, ("a", "b"), (400.0, 0.0, -5.0))
    assert [s.x_mm - member.x_mm for s in more if isinstance(s, BoxSolid)] == [400, 800]
    assert [s.z_mm - member.z_mm for s in more if isinstance(s, BoxSolid)] == [-5, -10]
    stem, number = numbered_from(member.name)
    assert [s.name for s in more] == [f"{stem} {number + 1}", f"{stem} {number + 2}"]


def test_every_shape_moves_as_its_room_does(heron: Plan, catalogue: Catalogue) -> None:
    for solid in heron.vehicle.solids:
        before, after = solid_shape(solid).bounds, solid_shape(moved(solid, (70, -40, 25))).bounds
        assert after == pytest.approx(
            [b + d for b, d in zip(before, (70, -40, 25) * 2, strict=True)]
        )
