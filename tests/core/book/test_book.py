"""A workshop's own book: what it says holds, is told as its own, and loosens no sheet."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.core.apply import apply
from gale_nook.core.base.limit import Limit
from gale_nook.core.base.material import Material
from gale_nook.core.book.commands import TakeBook, taking_book
from gale_nook.core.book.differences import book_changes, change_words
from gale_nook.core.book.document import (
    BookWishes,
    OwnBook,
    School,
    book_schema,
    read_book,
    vehicle_of,
    write_book,
)
from gale_nook.core.book.effect import book_effect
from gale_nook.core.book.entries import (
    fresh_entry_id,
    merged,
    with_entry,
    with_school_limit,
    without_entry,
)
from gale_nook.core.book.taking import is_taken, taken_from
from gale_nook.core.book.troubles import book_troubles
from gale_nook.core.build.lists import parts_list
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check, checked
from gale_nook.core.errors import BadInput, PlanUnreadable
from gale_nook.core.findings.finding import Whose
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.plan.book import BookLimit, BookPrice, PlanBook
from gale_nook.core.plan.build import StockLine
from gale_nook.core.plan.document import Plan, compact, kept_plan
from gale_nook.core.plan.heater import OwnLimit
from gale_nook.core.plan.wishes import Wishes
from gale_nook.core.spot.floor_map import map_key
from gale_nook.demo.load import demo_book, demo_plan, on_vehicle

CLIPS = BookLimit(id="fuel_clip_mm", maximum=250, source="our rule")
HIGHER = BookLimit(id="exhaust_ground_mm", minimum=400, source="what a rut took off")


def _with(plan: Plan, *limits: BookLimit, **more: Any) -> Plan:
    return plan.model_copy(update={"book": PlanBook(limits=limits, **more)})


def test_a_limit_of_the_book_is_held_against_and_named(heron: Plan, catalogue: Catalogue) -> None:
    """The same verdict and margin as with a limit of the job's own, which is told as that."""
    ours = check(_with(heron, CLIPS), catalogue).find("fuel.clips", "-", "fuel")
    own = OwnLimit(id="fuel_clip_mm", maximum=250, note="mine")
    heater = heron.heater.model_copy(update={"own_limits": (own,)})
    mine = check(heron.model_copy(update={"heater": heater}), catalogue)
    theirs = mine.find("fuel.clips", "-", "fuel")
    assert ours is not None
    assert theirs is not None
    assert (ours.verdict, ours.margin, ours.measured) == ("over", theirs.margin, theirs.measured)
    assert (ours.band.whose, ours.band.source) == (Whose.WORKSHOP, "our rule")
    assert theirs.band.whose is Whose.OWN


ENDS = st.one_of(st.none(), st.floats(-50, 500, allow_nan=False))


@given(least=ENDS, most=ENDS)
def test_no_book_loosens_a_sheet(
    least: float | None, most: float | None, catalogue: Catalogue
) -> None:
    """What the two together let pass, each of them lets pass."""
    if (least is None and most is None) or (None not in (least, most) and least > most):  # type: ignore[operator]
        return
    heron = demo_plan("heron")
    plain = limit_band(Job(heron, catalogue), "outlet_gap_mm")
    ours = BookLimit(id="outlet_gap_mm", minimum=least, maximum=most, source="ours")
    both = limit_band(Job(_with(heron, ours), catalogue), "outlet_gap_mm")
    assert plain is not None
    assert both is not None
    for value in (-60.0, 0.0, 149.9, 150.0, 200.0, 499.0, 600.0):
        passes = plain.margin(value) >= 0 and ours.holds(value)
        assert (both.margin(value) >= 0) == passes


def test_what_is_known_of_one_book_is_not_taken_for_another(
    heron: Plan, catalogue: Catalogue
) -> None:
    """Facts of the vehicle are kept from plan to plan, but not from book to book."""
    job = Job(heron, catalogue)
    check_one = check(heron, catalogue)
    loss = heat_loss(job.plan, job.catalogue).need_w
    wool = catalogue.materials["mineral-wool"].model_copy(update={"conductivity_w_mk": 0.06})
    worse = _with(heron, HIGHER, materials=(wool, _twice(catalogue, "xps")))
    other = check_one.job.with_plan(worse)
    assert heat_loss(worse, catalogue).need_w == heat_loss(worse, other.catalogue).need_w > loss
    fresh = {f.key: (f.verdict, f.margin) for f in check(worse, catalogue).findings}
    assert {f.key: (f.verdict, f.margin) for f in checked(other).findings} == fresh


def _twice(catalogue: Catalogue, name: str) -> Material:
    usual = catalogue.materials[name]
    assert usual.conductivity_w_mk is not None
    return usual.model_copy(update={"conductivity_w_mk": 2 * usual.conductivity_w_mk})


def test_a_material_of_the_book_changes_the_u_value_by_its_resistance(
    catalogue: Catalogue,
) -> None:
    """ISO 6946: resistances of layers add up; twice the conductivity is half the resistance."""
    heron = demo_plan("heron")
    usual = catalogue.materials["xps"].conductivity_w_mk
    layers = heron.vehicle.floor.layers
    mm = sum(layer.thickness_mm for layer in layers if layer.material == "xps")
    assert usual is not None
    assert mm > 0
    values = []
    for plan in (heron, _with(heron, materials=(_twice(catalogue, "xps"),))):
        floor = next(e for e in heat_loss(plan, catalogue).elements if e.face == "floor")
        assert floor.u_w_m2k is not None
        values.append(floor.u_w_m2k)
    assert 1 / values[0] - 1 / values[1] == pytest.approx(mm / 1000 / usual / 2, rel=1e-6)


def test_the_map_of_the_floor_is_another_with_another_book(
    heron: Plan, catalogue: Catalogue
) -> None:
    keys = {
        map_key(Job(plan, catalogue)) for plan in (heron, _with(heron, CLIPS), _with(heron, HIGHER))
    }
    assert len(keys) == 3


def test_the_users_price_comes_before_the_books(heron: Plan, catalogue: Catalogue) -> None:
    price = BookPrice(id="silencer", price=38, source="list")
    plan = heron.model_copy(update={"book": PlanBook(prices=(price,))})
    paid = StockLine(id="silencer", price=22)
    build = plan.build.model_copy(update={"stock": (paid,)})
    for each, expected in (
        (heron, None),
        (plan, 38),
        (plan.model_copy(update={"build": build}), 22),
    ):
        lines = {line.part: line.price for line in parts_list(Job(each, catalogue))}
        assert lines["silencer"] == expected


def test_a_book_is_taken_by_one_edit_and_once(heron: Plan, catalogue: Catalogue) -> None:
    book = demo_book()
    assert not is_taken(book, heron, catalogue)
    command = taking_book(book, 4, None, heron, catalogue)
    taken = apply(heron, command, catalogue)
    assert is_taken(book, taken, catalogue)
    assert apply(taken, taking_book(book, 4, None, taken, catalogue), catalogue) == taken
    assert [sheet.id for sheet in taken.heater.own_sheets] == ["book-bothy-40-tested"]
    assert "book-bothy-40-tested" in Job(taken, catalogue).catalogue.heaters
    assert kept_plan(compact(taken)) == taken
    higher = with_entry(book, "limits", HIGHER)
    assert not is_taken(higher, taken, catalogue)


def test_a_school_stands_over_the_book(heron: Plan, catalogue: Catalogue) -> None:
    book = demo_book()
    plain = taken_from(book, 1, None, heron, catalogue)
    tracks = taken_from(book, 1, "forest-tracks", heron, catalogue)
    ground = {each.id: each.minimum for each in plain.limits}["exhaust_ground_mm"]
    assert ground == 230
    assert {each.id: each.minimum for each in tracks.limits}["exhaust_ground_mm"] == 260
    assert len(tracks.limits) == len(plain.limits)
    assert taken_from(book, 1, "gone", heron, catalogue).school is None


def test_a_material_in_use_stays_when_the_book_drops_it(catalogue: Catalogue) -> None:
    heron, book = demo_plan("heron"), demo_book()
    taken = apply(heron, taking_book(book, 1, None, heron, catalogue), catalogue)
    floor = taken.vehicle.floor
    layers = (floor.layers[0].model_copy(update={"material": "cork-panel"}), *floor.layers[1:])
    vehicle = taken.vehicle.model_copy(
        update={"floor": floor.model_copy(update={"layers": layers})}
    )
    used = taken.model_copy(update={"vehicle": vehicle})
    without = without_entry(book, "materials", "cork-panel")
    again = apply(used, taking_book(without, 2, None, used, catalogue), catalogue)
    assert [m.id for m in again.book.materials] == ["cork-panel"]
    fresh = apply(taken, taking_book(without, 2, None, taken, catalogue), catalogue)
    assert fresh.book.materials == ()


def test_the_effect_is_what_the_check_of_the_plan_then_says(catalogue: Catalogue) -> None:
    heron = demo_plan("heron")
    job = Job(heron, catalogue)
    command = TakeBook(book=PlanBook(edit=1, limits=(CLIPS,)))
    effect = book_effect(job, command)
    after = check(apply(heron, command, catalogue), catalogue)
    assert [(c.before.verdict, c.after.verdict) for c in effect.worse if c.before and c.after] == [
        ("clear", "over")
    ]
    changed = {c.after.key: c.after for c in effect.changed if c.after}
    before = {f.key: f for f in check(heron, catalogue).findings}
    for finding in after.findings:
        same = before[finding.key].margin == finding.margin
        assert same or changed[finding.key].margin == finding.margin
    assert not effect.is_none
    assert book_effect(job, TakeBook(book=PlanBook(edit=9))).is_none


@pytest.mark.parametrize(
    ("book", "place"),
    [
        (PlanBook(limits=(BookLimit(id="nonsense", minimum=1, source="x"),)), "limits.nonsense"),
        (
            PlanBook(limits=(BookLimit(id="exhaust_ground_mm", minimum=9e6, source="x"),)),
            "limits.exhaust_ground_mm.minimum",
        ),
        (PlanBook(prices=(BookPrice(id="moon", price=1, source="x"),)), "prices.moon"),
    ],
)
def test_a_plan_with_a_book_that_cannot_be_is_refused(
    book: PlanBook, place: str, heron: Plan, catalogue: Catalogue
) -> None:
    with pytest.raises(BadInput, match="not") as told:
        apply(heron, TakeBook(book=book), catalogue)
    assert told.value.name == f"book.{place}"


def test_a_book_that_cannot_be_is_told_place_by_place(catalogue: Catalogue) -> None:
    heater = catalogue.heaters["bothy-22"]
    odd = heater.output.model_copy(update={"efficiency": 0.5})
    cloth = catalogue.materials["xps"].model_copy(
        update={"like": "moonstone", "conductivity_w_mk": None}
    )
    book = OwnBook(
        heaters=(heater, heater.model_copy(update={"id": "book-odd", "output": odd})),
        schools=(School(id="s", label="S", source="x", limits=(_odd(),)),),
        materials=(cloth,),
    )
    places = [place for place, _ in book_troubles(book, catalogue)]
    assert "heaters.bothy-22.id" in places
    assert "schools.s.limits.nonsense" in places
    assert "materials.xps.like" in places
    assert "materials.xps.conductivity_w_mk" in places
    assert any(place.startswith("heaters.book-odd.output") for place in places)
    assert book_troubles(demo_book(), catalogue) == ()


def _odd() -> BookLimit:
    return BookLimit(id="nonsense", minimum=1, source="x")


def test_a_book_is_written_and_read_back() -> None:
    book = demo_book()
    assert read_book(write_book(book).encode()) == book
    many = tuple(
        book.vehicles[0].model_copy(update={"id": f"v-{n}", "source": "ä" * 80}) for n in range(30)
    )
    large = book.model_copy(update={"vehicles": many})
    assert read_book(write_book(large).encode()) == large
    properties = book_schema()["properties"]
    assert set(properties) == set(OwnBook.model_fields)


@pytest.mark.parametrize(
    "raw",
    [
        b"",
        b"\xff\xfe",
        b"[]",
        b"{",
        b'{"format": "gale-nook-plan"}',
        b'{"limits": [{"id": "fuel_clip_mm", "source": "x"}]}',
        b'{"limits": [{"id": "fuel_clip_mm", "minimum": 1}]}',
        b'{"prices": [{"id": "silencer", "price": -1, "source": "x"}]}',
        b'{"prices": [{"id": "silencer", "price": 1e999, "source": "x"}]}',
        b'{"nonsense": 1}',
        json.dumps({"wishes": [{"id": "a", "label": "A", "source": ""}]}).encode(),
        b'{"a":' * 5000,
    ],
)
def test_a_file_that_is_no_book_is_refused(raw: bytes) -> None:
    with pytest.raises(PlanUnreadable):
        read_book(raw)


def test_entries_are_put_dropped_and_merged() -> None:
    book = with_entry(OwnBook(), "limits", CLIPS)
    again = with_entry(book, "limits", CLIPS.model_copy(update={"maximum": 200}))
    assert [each.maximum for each in again.limits] == [200]
    assert merged(OwnBook(), book) == book
    assert merged(again, book) == book
    assert without_entry(book, "limits", "fuel_clip_mm") == OwnBook()
    for wrong in (("limits", "gone"), ("nonsense", "fuel_clip_mm")):
        with pytest.raises(BadInput):
            without_entry(book, *wrong)
    with pytest.raises(BadInput):
        with_school_limit(book, "gone", CLIPS)
    assert fresh_entry_id(demo_book(), "heaters", "Bothy 40, tested") == "book-bothy-40-tested-2"
    full = OwnBook()
    for number in range(12):
        full = with_entry(full, "schools", School(id=f"s{number}", label="S", source="x"))
    with pytest.raises(BadInput):
        with_entry(full, "schools", School(id="more", label="S", source="x"))


def test_what_differs_is_told_by_entry_and_value() -> None:
    book = with_entry(demo_book(), "limits", CLIPS.model_copy(update={"maximum": 220}))
    book = without_entry(book, "prices", "silencer")
    book = with_entry(book, "wishes", BookWishes(id="w", label="W", source="x", wishes=Wishes()))
    found = {(c.section, c.id): c for c in book_changes(demo_book(), book)}
    assert set(found) == {("limits", "fuel_clip_mm"), ("prices", "silencer"), ("wishes", "w")}
    values = dict((path, (was, now)) for path, was, now in found["limits", "fuel_clip_mm"].values)
    assert values["maximum"] == (250, 220)
    assert found["prices", "silencer"].after is None
    assert change_words(book_changes(demo_book(), book)) == "limits: 1, prices: 1, wishes: 1"
    assert book_changes(book, book) == ()


def test_a_job_begins_on_a_vehicle_of_the_book(catalogue: Catalogue) -> None:
    dunlin = demo_plan("dunlin")
    kept = vehicle_of("d", "Dunlin", "survey", dunlin.heat, dunlin.vehicle)
    plan = on_vehicle("Next", kept)
    assert plan.vehicle.shell == dunlin.vehicle.shell
    assert plan.heat.surfaces == dunlin.heat.surfaces
    assert len(plan.vehicle.solids) == len(dunlin.vehicle.solids)
    assert {area.how for area in plan.vehicle.looked_at} <= {"assumed"}
    assert plan.vehicle.photos == ()
    check(plan, catalogue)


def test_a_limit_of_the_book_may_be_one_that_only_sheets_have(
    heron: Plan, catalogue: Catalogue
) -> None:
    """Where neither sheet nor usual list has it, the book's holds alone."""
    lone = next(name for name in catalogue.limit_bands if name not in catalogue.workshop_limits)
    job = Job(heron, catalogue)
    if limit_band(job, lone) is None:
        band = catalogue.limit_bands[lone]
        ours = BookLimit(id=lone, maximum=band.highest, source="ours")
        found = limit_band(Job(_with(heron, ours), catalogue), lone)
        assert found is not None
        assert Limit(maximum=found.maximum, source="x").maximum == band.highest
