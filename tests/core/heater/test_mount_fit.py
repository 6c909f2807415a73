"""A port that passes no hole of its mount is over: with its number, for round holes and cuts."""

from __future__ import annotations

import pytest

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.heater.mount_fit import ports_blocked
from gale_nook.core.plan.document import Plan


def test_every_mount_of_the_catalogue_lets_its_ports_through(catalogue: Catalogue) -> None:
    for sheet in catalogue.heaters.values():
        for mount in sheet.mounts:
            assert list(ports_blocked(sheet, mount)) == []


@pytest.mark.parametrize(
    ("hole", "missing_mm"),
    [
        ({"x_mm": 0.0, "y_mm": 0.0, "diameter_mm": 60.0}, 9.9),  # hypot(18, 20) + 13 - 30
        ({"x_mm": -18.0, "y_mm": 0.0, "diameter_mm": 12.0, "length_mm": 90, "width_mm": 60}, 3.0),
    ],
)
def test_what_does_not_fit_through_says_by_how_much(
    hole: dict[str, float], missing_mm: float, catalogue: Catalogue
) -> None:
    sheet = catalogue.heaters["bothy-22"]
    turret = sheet.mounts[0]
    other = turret.holes[0].model_copy(update=hole)
    blocked = dict(ports_blocked(sheet, turret.model_copy(update={"holes": (other,)})))
    assert blocked["exhaust"] == pytest.approx(missing_mm, abs=0.05)


def test_it_is_a_finding_of_the_spot(heron: Plan, catalogue: Catalogue) -> None:
    assert check(heron, catalogue).find("spot.ports", "-") is not None
    sheet = catalogue.heaters["bothy-40"]
    turret = sheet.mounts[0]
    small = turret.holes[0].model_copy(update={"diameter_mm": 50.0})
    mounts = (turret.model_copy(update={"holes": (small,)}), *sheet.mounts[1:])
    own = sheet.model_copy(update={"id": "own-40", "mounts": mounts})
    heater = heron.heater.model_copy(update={"own_sheets": (own,), "sheet": "own-40"})
    found = check(heron.model_copy(update={"heater": heater}), catalogue).find(
        "spot.ports", "exhaust"
    )
    assert found is not None
    assert found.verdict.value == "over"
    assert found.hazard == "fire"
