"""The data files hold believable values, each with its source."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

import gale_nook.core
from gale_nook.catalogue.load import check_sheet
from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.limit import Limit
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import BadInput
from gale_nook.core.stations import RULES


def test_the_made_up_family_is_there(catalogue: Catalogue) -> None:
    outputs = {
        s.label: (s.output.minimum_w, s.output.maximum_w, s.medium)
        for s in catalogue.heaters.values()
    }
    assert outputs == {
        "Bothy 22": (800, 2200, "air"),
        "Bothy 40": (900, 4000, "air"),
        "Byre 50": (1400, 5000, "air"),
        "Croft 52": (1600, 5200, "coolant"),
        "Croft 90": (2000, 9100, "coolant"),
    }


def test_every_entry_says_where_it_comes_from(catalogue: Catalogue) -> None:
    tables = (
        catalogue.heaters,
        catalogue.materials,
        catalogue.build_ups,
        catalogue.glazings,
        catalogue.rib_kinds,
        catalogue.solid_kinds,
        catalogue.parts,
    )
    for table in tables:
        for entry_id, entry in table.items():
            assert entry.source, entry_id
    for limits in (
        catalogue.workshop_limits,
        *(sheet.limits for sheet in catalogue.heaters.values()),
    ):
        assert all(limit.source for limit in limits.values())


def test_every_limit_of_a_sheet_is_used_by_a_rule(catalogue: Catalogue) -> None:
    """A limit that nothing reads would be a promise that nothing keeps."""
    folder = Path(next(iter(gale_nook.core.__path__)))
    text = "".join(path.read_text() for path in folder.rglob("*.py"))
    assert RULES
    # of both pipes at once: their names differ in which pipe it is
    of_a_tube = set(re.findall(r'f"\{tube\}_(\w+)"', text))
    for name in catalogue.limit_bands:
        shared = re.sub("^(exhaust|intake)_", "", name)
        assert f'"{name}"' in text or shared in of_a_tube, name


def _with(sheet: HeaterSheet, **changes: object) -> HeaterSheet:
    return sheet.model_copy(update=changes)


def test_sheets_that_contradict_themselves_are_refused(catalogue: Catalogue) -> None:
    sheet = catalogue.heaters["bothy-40"]
    bands, parts = dict(catalogue.limit_bands), dict(catalogue.parts)
    wrong_fuel = _with(sheet, output=sheet.output.model_copy(update={"fuel_l_h_maximum": 0.3}))
    wrong_limit = _with(
        sheet, limits={**sheet.limits, "inlet_gap_mm": Limit(minimum=9000, source="x")}
    )
    unknown_limit = _with(sheet, limits={**sheet.limits, "luck_mm": Limit(minimum=1, source="x")})
    for broken, said in (
        (wrong_fuel, "not to the stated"),
        (wrong_limit, "not believable"),
        (unknown_limit, "not a limit"),
    ):
        with pytest.raises(BadInput, match=said):
            check_sheet(broken, bands, parts)


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"minimum_w": 5000}, "least output"),
        ({"efficiency": 1.2}, "less than or equal to 1"),
    ],
)
def test_impossible_outputs_are_refused(
    catalogue: Catalogue, changes: dict[str, float], said: str
) -> None:
    data = catalogue.heaters["bothy-40"].model_dump()
    data["output"] |= changes
    with pytest.raises(ValueError, match=said):
        HeaterSheet.model_validate(data)


def test_a_limit_has_an_end_and_the_right_order() -> None:
    for ends in ({}, {"minimum": 2, "maximum": 1}):
        with pytest.raises(ValueError, match="limit"):
            Limit.model_validate({**ends, "source": "x"})
