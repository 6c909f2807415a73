"""The usable output, closing, balancing: what may be relied on whatever the ducting."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gale_nook.core.ducts.state import air_state
from gale_nook.core.ducts.throttles import Throttles
from gale_nook.core.errors import BadInput
from gale_nook.core.fitted.balance import asked_shares, balanced
from gale_nook.core.fitted.closing import closed_sets
from gale_nook.core.fitted.usable import usable, usable_of
from gale_nook.core.job import Job
from gale_nook.core.plan.air import Duct
from tests.core.ducts.ducted import BED, duct, ducted, layout_of, two_outlets


def _usable_w(job: Job) -> float:
    found = usable(job)
    assert found is not None
    return found.usable_w


def _narrow(kind: str = "duct-60", outlet: str = "closable-60") -> tuple[Duct, ...]:
    return tuple(
        each.model_copy(
            update={
                "kind": kind,
                "outlet": each.outlet.model_copy(update={"kind": outlet}) if each.outlet else None,
            }
        )
        for each in two_outlets()
    )


def test_it_is_the_most_that_keeps_the_limit() -> None:
    """Every output up to it keeps the warm end under the limit, none above does."""
    job = ducted(*_narrow())
    lay, found = layout_of(job), usable(job)
    assert found is not None
    assert found.at is not None
    assert lay.least_w < found.usable_w < lay.most_w
    assert found.at.heater_c == pytest.approx(found.limit_c, abs=0.01)
    for step in range(21):
        output = lay.least_w + (lay.most_w - lay.least_w) * step / 20
        state = air_state(lay, output)
        assert state is not None
        keeps = state.heater_c <= found.limit_c + 1e-6
        assert keeps == (output <= found.usable_w + 0.5), output


def test_never_more_than_the_sheet_gives_there() -> None:
    wide = (duct("wide", (2300, -286, 117), kind="duct-90", outlet="fixed-90"),)
    for altitude in (0.0, 1500.0, 3000.0):
        job = ducted(*wide, heat={"altitude_m": altitude})
        assert _usable_w(job) <= layout_of(job).most_w + 1e-9


def test_a_heater_that_cannot_get_rid_of_its_air_shuts_down() -> None:
    """Through a straw: nothing can be used, and what the warm end would get is told."""
    straw = (
        duct("straw", (600, -286, 117), (600, 600, 117), kind="duct-50", outlet="closable-60"),
    )
    found = usable(ducted(*straw))
    assert found is not None
    assert found.at is not None
    assert found.shuts_down
    assert found.at.heater_c > found.limit_c


@settings(max_examples=25)
@given(
    st.sampled_from(["duct-50", "duct-60", "duct-75"]),
    st.lists(st.floats(0.1, 1.0), min_size=2, max_size=2),
)
def test_closing_never_raises_total_or_usable(kind: str, shares: list[float]) -> None:
    """Nor does throttling: more in the way is never less."""
    lay = layout_of(ducted(*_narrow(kind)))
    opened = dict(zip(("up", "aside"), shares, strict=True))
    whole = usable_of(lay, Throttles(frozenset(), opened))
    for shut in ("up", "aside"):
        part = usable_of(lay, Throttles(frozenset({shut}), opened))
        assert part.usable_w <= whole.usable_w + 0.5
        one = air_state(lay, lay.least_w, Throttles(frozenset(), opened))
        other = air_state(lay, lay.least_w, Throttles(frozenset({shut}), opened))
        assert one is not None
        assert other is not None
        assert other.total_kg_s <= one.total_kg_s * (1 + 1e-7)


def test_sets_that_may_be_closed_are_closed_under_opening() -> None:
    """If a set may be closed, so may every part of it; all sets are told."""
    ducts = (
        duct("trunk", (2300, -286, 117), kind="duct-90", splitter="t-bent"),
        duct("a", (1800, -286, 117), after="trunk", outlet="fixed-75"),
        duct("b", (2300, 200, 117), after="trunk", leg="branch", splitter="y-even"),
        duct("c", (2300, 500, 117), after="b", outlet="closable-60", kind="duct-60"),
        duct("d", (2300, 200, 600), after="b", leg="branch", outlet="closable-60", kind="duct-60"),
    )
    sets = {each.ducts: each for each in closed_sets(ducted(*ducts))}
    assert set(sets) == {frozenset("c"), frozenset("d"), frozenset("cd")}
    for one, other in itertools.permutations(sets.values(), 2):
        if one.ducts < other.ducts and other.keeps:
            assert one.keeps
        if one.ducts < other.ducts:
            assert other.usable.usable_w <= one.usable.usable_w + 0.5
    assert not closed_sets(ducted(duct("only", (2300, -286, 117), outlet="fixed-75")))


@pytest.mark.parametrize("share", [0.25, 0.4, 0.5, 0.7])
def test_throttles_give_the_shares_that_are_asked(share: float) -> None:
    """Within a hundredth, put back into the network; one throttle stays open."""
    job = ducted()
    rows = {row.duct: row for row in balanced(job, {"up": share, "aside": 1 - share})}
    positions = {name: (row.open_percent or 100.0) / 100 for name, row in rows.items()}
    assert max(positions.values()) == pytest.approx(1.0)
    state = air_state(layout_of(job), 3000.0, Throttles(frozenset(), positions))
    assert state is not None
    got = state.outlets[0].flow_kg_s / state.total_kg_s
    assert got == pytest.approx(share, abs=0.01)
    assert all(row.reaches for row in rows.values())


def test_the_length_that_stands_for_a_throttle_does() -> None:
    """The outlet that gets too much, its duct made as much longer: the shares are as asked."""
    job = ducted(*two_outlets(up="fixed-75", aside="fixed-75"))
    row = next(row for row in balanced(job, {"up": 0.46, "aside": 0.54}) if row.extra_mm)
    assert row.open_percent is None
    ducts = []
    for each in job.plan.air.ducts:
        if each.id == row.duct:
            before, last = each.nodes[-2:]
            way = (last.x_mm - before.x_mm) / abs(last.x_mm - before.x_mm)
            moved = last.model_copy(update={"x_mm": last.x_mm + way * row.extra_mm})
            ducts.append(each.model_copy(update={"nodes": (*each.nodes[:-1], moved)}))
        else:
            ducts.append(each)
    longer = usable(ducted(*ducts))
    assert longer is not None
    assert longer.at is not None
    outlet = longer.at.outlet(row.duct)
    assert outlet is not None
    assert outlet.flow_kg_s / longer.at.total_kg_s == pytest.approx(row.asked, abs=0.015)


def test_shares_that_are_not_100_percent_are_refused_in_words() -> None:
    def job(*shares: float | None) -> Job:
        ducts = [
            each.model_copy(
                update={
                    "outlet": each.outlet.model_copy(update={"share_percent": share})
                    if each.outlet is not None
                    else None
                }
            )
            for each, share in zip(two_outlets(), (None, *shares), strict=True)
        ]
        return ducted(*ducts)

    assert asked_shares(job(None, None)) is None
    assert asked_shares(job(70.0, 30.0)) == {"up": 0.7, "aside": 0.3}
    assert asked_shares(job(70.0, None)) == {"up": 0.7, "aside": pytest.approx(0.3)}
    for bad in ((70.0, 40.0), (60.0, 20.0), (120.0 - 20.0, 1.0)):
        with pytest.raises(BadInput, match="100 %"):
            asked_shares(job(*bad))


def test_a_zone_of_its_own_changes_nothing_of_the_flow() -> None:
    """Behind a curtain: the air gets out as it did."""
    plain, zoned = usable(ducted()), usable(ducted(zones=(BED,)))
    assert plain is not None
    assert zoned is not None
    assert zoned.usable_w == pytest.approx(plain.usable_w, rel=1e-3)
