"""The order of work as cards, its days, and what was built against what was planned."""

from __future__ import annotations

from typing import Literal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.apply import apply
from gale_nook.core.build.built_words import built_words
from gale_nook.core.build.cards import Card, built_addresses, cards, cuts_of
from gale_nook.core.build.commands import NoteBuilt, NoteCut, TakeStock, TickCard
from gale_nook.core.build.days import work_days
from gale_nook.core.build.effect import built_effect
from gale_nook.core.build.lists import cuts, holes_to_cut, parts_list
from gale_nook.core.build.rules import CUTTING
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.edits.address import find
from gale_nook.core.edits.command import Command
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.plan.build import Build, StockLine
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.power.leads import lead_runs
from gale_nook.core.station import nothing
from gale_nook.core.stations import STATIONS
from gale_nook.demo.load import DEMO_NAMES, demo_plan

BOOK = load_catalogue()


def _heron() -> Plan:
    """Heron with nothing built yet."""
    return demo_plan("heron").model_copy(update={"build": Build()})


def _edited(plan: Plan, *commands: Command) -> Plan:
    for command in commands:
        plan = apply(plan, command, BOOK)
    return plan


def _titles(plan: Plan) -> list[str]:
    return [card.step.kind for card in cards(Job(plan, BOOK))]


@pytest.mark.parametrize("name", DEMO_NAMES)
def test_every_card_has_an_id_of_its_own_and_every_cut_a_card(name: str) -> None:
    job = Job(demo_plan(name), BOOK)
    listed, lines = cards(job), cuts(job)
    assert len({card.id for card in listed}) == len(listed)
    assert len({line.id for line in lines}) == len(lines)
    assert sum(len(cuts_of(card, lines)) for card in listed) == len(lines)
    data = job.plan.model_dump(mode="json")
    for card in listed:
        for address in built_addresses(job, card):
            assert isinstance(find(data, address), int | float)


def test_what_hangs_on_something_comes_after_it() -> None:
    order = _titles(_heron())
    for first, second in (
        ("make-ready", "pilot"),
        ("mark-place", "pilot"),
        ("pilot", "cut-holes"),
        ("cut-holes", "set-mount"),
        ("bench", "set-heater"),
        ("set-heater", "hang-exhaust"),
        ("lay-leads", "connect"),
        ("connect", "prime"),
        ("prime", "check-before"),
        ("check-before", "first-fire"),
        ("first-fire", "look-again"),
    ):
        assert order.index(first) < order.index(second), (first, second)


def test_only_what_this_plan_needs_is_on_the_list() -> None:
    heron, quarto, dunlin, coot = (
        _titles(demo_plan(name)) for name in ("heron", "quarto", "dunlin", "coot")
    )
    assert "bleed" in quarto
    assert "bleed" not in heron
    assert "stand-trailer" in dunlin
    assert "mark-water" in coot
    assert _titles(demo_plan("blank")) == []


def test_a_seat_comes_out_before_a_heater_goes_under_it() -> None:
    plan = _heron()
    spot = plan.spot
    assert spot is not None
    seat = BoxSolid(
        id="seat-9",
        name="double seat",
        kind="seat-base",
        x_mm=spot.x_mm,
        y_mm=spot.y_mm,
        z_mm=0,
        length_mm=450,
        width_mm=450,
        height_mm=320,
    )
    vehicle = plan.vehicle.model_copy(update={"solids": (*plan.vehicle.solids, seat)})
    order = _titles(plan.model_copy(update={"vehicle": vehicle}))
    assert order.index("seat-out") < order.index("mark-place")
    assert "seat-out" not in _titles(plan)


def test_a_second_person_shortens_what_can_be_shared() -> None:
    plan = _heron()
    two = plan.model_copy(update={"build": plan.build.model_copy(update={"people": 2})})
    for alone, shared in zip(cards(Job(plan, BOOK)), cards(Job(two, BOOK)), strict=True):
        expected = 1.0 if alone.kind.helper else 1 - BOOK.work.helps_share
        assert shared.minutes[1] == pytest.approx(alone.minutes[1] * expected)


def test_heron_is_half_built_and_one_margin_is_another_than_planned() -> None:
    plan = demo_plan("heron")
    listed = cards(Job(plan, BOOK))
    assert 8 <= sum(card.done is not None for card in listed) <= len(listed) - 8
    assert len(plan.build.cut) == 2
    rules = {each.after.rule for each in built_effect(Job(plan, BOOK)) if each.after}
    assert rules == {"power.alarm_place"}


@given(st.sampled_from(DEMO_NAMES), st.floats(1, 14), st.sampled_from((1, 2)))
def test_days_hold_every_open_card_once_in_its_order(
    name: str, hours: float, people: Literal[1, 2]
) -> None:
    plan = demo_plan(name).model_copy(update={"build": Build(people=people)})
    listed = cards(Job(plan, BOOK))
    days = work_days(listed, hours)
    assert [card for day in days for card in day.cards] == list(listed)
    for day in days:
        middle = sum(sum(card.minutes) / 2 for card in day.cards)
        assert middle <= hours * 60 or len(day.cards) == 1 or day.ends_with == ""
        assert all(card.kind.wait_h < 6 for card in day.cards[:-1])


def test_a_day_does_not_end_with_an_open_hole() -> None:
    """However short the day, it ends where the vehicle can be driven, when it can."""
    listed = cards(Job(_heron(), BOOK))
    for hours in (2.0, 2.5, 3.0):
        for day in work_days(listed, hours):
            if day.cards[-1].step.kind == "cut-holes":
                assert all(not card.kind.drivable for card in day.cards)


def test_a_ticked_card_is_done_and_the_next_ones_wait_for_the_rest() -> None:
    plan = _edited(_heron(), TickCard(card="make-ready", note="left side jacked up"))
    listed = {card.id: card for card in cards(Job(plan, BOOK))}
    done = listed["make-ready"].done
    assert done is not None
    assert done.note == "left side jacked up"
    assert listed["pilot"].waits_for == ("Mark the place",)
    back = _edited(plan, TickCard(card="make-ready", done=False))
    assert cards(Job(back, BOOK))[0].done is None
    assert sum(len(day.cards) for day in work_days(tuple(listed.values()), 7)) == len(listed) - 1


def test_a_hole_that_came_out_elsewhere_moves_the_plan_and_its_margins() -> None:
    plan = _edited(_heron(), NoteBuilt(address="spot.x_mm", value=2772))
    assert plan.spot is not None
    assert plan.spot.x_mm == 2772
    noted = plan.build.as_built[0]
    assert (noted.id, noted.planned, noted.built) == ("spot.x_mm", 2760, 2772)
    changed = built_effect(Job(plan, BOOK))
    assert changed
    moved = next(c for c in changed if c.after and c.after.rule == "spot.hole")
    assert moved.after is not None
    assert moved.before is not None
    assert moved.after.margin != moved.before.margin
    again = _edited(plan, NoteBuilt(address="spot.x_mm", value=2760))
    assert again.build.as_built[0].planned == 2760  # what was planned first stays
    assert built_effect(Job(again, BOOK)) == ()
    assert built_effect(Job(_heron(), BOOK)) == ()


def test_a_value_that_makes_it_worse_is_told_first() -> None:
    plan = _edited(_heron(), NoteBuilt(address="spot.x_mm", value=2900))
    changed = built_effect(Job(plan, BOOK))
    assert changed[0].worse
    assert changed[0].after is not None
    assert changed[0].after.verdict == "over"


@pytest.mark.parametrize(
    "address", ["name", "spot", "spot.mount", "acceptances.a-1.measured", "build.people", "nowhere"]
)
def test_what_is_no_measure_is_not_taken_as_built(address: str) -> None:
    with pytest.raises(BadInput):
        _edited(_heron(), NoteBuilt(address=address, value=3))


@pytest.mark.parametrize(
    ("length", "verdict"),
    [(1240, "over"), (1253, "tight"), (1262, "clear"), (1430, "over")],
)
def test_a_pipe_that_was_cut_too_short_is_over(length: float, verdict: str) -> None:
    """1262 mm are needed: sleeves take up 10 mm, and 150 mm more no longer lie as drawn."""
    plan = _edited(_heron(), NoteCut(piece="exhaust-1", length_mm=length))
    found = check(plan, BOOK, ("build",)).findings
    assert [f.verdict for f in found if f.rule == "build.cut"] == [verdict]


def test_a_piece_that_is_no_longer_cut_is_not_judged() -> None:
    plan = _edited(_heron(), NoteCut(piece="gone", length_mm=10))
    assert check(plan, BOOK, ("build",)).findings == ()
    assert _edited(plan, NoteCut(piece="gone")).build.cut == ()


def test_the_check_of_cuts_looks_at_every_station_that_cuts() -> None:
    assert {s.word for s in STATIONS if s.cuts is not nothing} == {s.word for s in CUTTING}


def test_stock_is_taken_off_and_what_is_bought_has_its_price() -> None:
    job = Job(_heron(), BOOK)
    before = {line.part: line for line in parts_list(job)}
    stock = (
        StockLine(id="pipe-clip", have=1, price=2.5),
        StockLine(id="cable-2-5", have=0, price=1.2),
    )
    plan = _edited(_heron(), TakeStock(lines=stock))
    after = {line.part: line for line in parts_list(Job(plan, BOOK))}
    clip = after["pipe-clip"]
    assert clip.to_buy == max(before["pipe-clip"].to_buy - 1, 0)
    assert clip.cost == pytest.approx(2.5 * clip.to_buy)
    cable = after["cable-2-5"]  # by the metre
    assert cable.cost == pytest.approx(1.2 * cable.to_buy / 1000)
    assert before["cable-2-5"].cost is None
    with pytest.raises(BadInput, match="no part"):
        _edited(plan, TakeStock(lines=(StockLine(id="flux-capacitor", have=1),)))


def test_every_kind_of_work_is_used_by_some_plan(catalogue: Catalogue) -> None:
    """What no example needs is named here, so that nothing dead stays in the data."""
    used: set[str] = set()
    for name in DEMO_NAMES:
        used |= {card.step.kind for card in cards(Job(demo_plan(name), catalogue))}
    rare = {kind.id for kind in catalogue.work.kinds} - used
    assert rare <= {
        "old-gas",
        "take-out",
        "seat-out",
        "close-openings",
        "close-pilots",
        "adapter",
        "close-holes",
        "plenum",
        "set-tee",
        "units",
    }


def test_cards_of_one_kind_are_told_apart() -> None:
    job = Job(_heron(), BOOK)
    alarms: list[Card] = [card for card in cards(job) if card.step.kind == "alarm"]
    assert {card.id for card in alarms} == {"alarm-co", "alarm-smoke"}


def test_every_hole_of_a_lead_is_on_the_list_of_holes() -> None:
    """Where it was put along the lead, with a saw that its plug passes."""
    job = Job(demo_plan("quarto"), BOOK)
    wanted = [
        (f"hole of the {run.name}", hole.diameter_mm)
        for run in lead_runs(job)
        for hole in run.lead.of_kind("hole")
    ]
    assert len(wanted) == 4
    listed = [(hole.name, hole.diameter_mm) for hole in holes_to_cut(job)]
    assert [each for each in listed if "lead" in each[0] or "cable" in each[0]] == wanted


@pytest.mark.parametrize("name", ["heron", "quarto", "wren"])
def test_every_value_as_built_can_be_noted_and_has_a_name_of_its_own(name: str) -> None:
    plan = demo_plan(name)
    data = plan.model_dump(mode="json")
    addresses = [
        a for card in cards(Job(plan, BOOK)) for a in built_addresses(Job(plan, BOOK), card)
    ]
    assert addresses
    for address in addresses:
        value = float(find(data, address))
        noted = apply(plan, NoteBuilt(address=address, value=value), BOOK).build.as_built
        assert [each.planned for each in noted if each.id == address][-1:] == [value] or any(
            each.id == address for each in plan.build.as_built
        )
        assert built_words(plan, address).split(",")[0] not in {"n2", "power", "fuel"}
    pipes = [a for a in addresses if a.endswith("at_mm") and a.startswith("pipes")]
    assert (len(pipes) > 0) == (name != "wren")
