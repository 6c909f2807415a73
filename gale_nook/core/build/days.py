"""The work split into days, each of which ends where the vehicle may be left."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from gale_nook.core.build.cards import Card

OVERNIGHT_H = 6.0  # a wait from which on the day ends with it
MINUTES = 60.0


@dataclass(frozen=True)
class WorkDay:
    """One day.

    Attributes:
        minutes: (least, most) of work; wait_min: of waiting between its cards.
        ends_with: why it ends there; empty for the last.
        can_be_driven: whether the vehicle can be driven after it.
    """

    number: int
    cards: tuple[Card, ...]
    minutes: tuple[float, float]
    wait_min: float
    ends_with: str
    can_be_driven: bool


def work_days(cards: Sequence[Card], hours_a_day: float) -> tuple[WorkDay, ...]:
    """Return the days of what is still open, by the middle of each card's time.

    A day ends before a card that would not be finished, after a wait that lasts the night, and,
    where it can, not after a card that leaves the vehicle undrivable: then it ends before those.
    """
    left = [card for card in cards if card.done is None]
    results: list[WorkDay] = []
    while left:
        count, reason = _one_day(left, hours_a_day * MINUTES)
        results.append(_day(len(results) + 1, left[:count], reason if count < len(left) else ""))
        left = left[count:]
    return tuple(results)


def _one_day(left: Sequence[Card], most_min: float) -> tuple[int, str]:
    """How many cards a day takes, and why it ends after them."""
    spent = 0.0
    for count, card in enumerate(left):
        takes = sum(card.minutes) / 2
        if count and spent + takes > most_min:
            drivable = [n for n in range(1, count + 1) if left[n - 1].kind.drivable]
            return (drivable[-1] if drivable else count), "the day is full"
        spent += takes
        if card.kind.wait_h >= OVERNIGHT_H:
            return count + 1, f"overnight {card.kind.wait_for}"
        spent += card.kind.wait_h * MINUTES
    return len(left), ""


def _day(number: int, cards: Sequence[Card], reason: str) -> WorkDay:
    waits = sum(c.kind.wait_h for c in cards if c.kind.wait_h < OVERNIGHT_H)
    return WorkDay(
        number,
        tuple(cards),
        (sum(card.minutes[0] for card in cards), sum(card.minutes[1] for card in cards)),
        waits * MINUTES,
        reason,
        cards[-1].kind.drivable,
    )
