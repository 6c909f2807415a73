"""A part on the vehicle's other side: as far from the centre line, and back again the same."""

from __future__ import annotations

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.vehicle.mirrored import mirrored
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
