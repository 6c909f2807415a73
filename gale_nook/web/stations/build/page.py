"""What the build station shows: the job in hand as cards, and the sheet that is printed."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from markupsafe import Markup

from gale_nook.core.build.built_words import built_words
from gale_nook.core.build.cards import Card, built_addresses, cards, cuts_of
from gale_nook.core.build.days import WorkDay, work_days
from gale_nook.core.build.lists import PartLine, cuts
from gale_nook.core.catalogue.items import Caution
from gale_nook.core.catalogue.work import WorkGroup
from gale_nook.core.findings.changes import Changed
from gale_nook.core.findings.finding import Finding
from gale_nook.core.plan.build import AsBuilt, CardPhoto
from gale_nook.core.quantities.measures import quantity_of
from gale_nook.core.station import CutLine
from gale_nook.drawing.board import BoardOptions, board
from gale_nook.drawing.mapping import BoardView, frame_round
from gale_nook.drawing.svg import svg
from gale_nook.exchange.finding_cards import VERDICT_WORDS, margin_words
from gale_nook.exchange.sheet import Sheet, sheet
from gale_nook.web.page import StationPage

HOUR_MIN = 60.0
FROM_BELOW = ("below", "fuel")


@dataclass(frozen=True)
class CutRow:
    """A length to cut, and what it was cut to; None for not yet."""

    line: CutLine
    cut_mm: float | None


@dataclass(frozen=True)
class ShopList:
    """What a kind of shop has to sell for this job."""

    shop: WorkGroup
    lines: tuple[PartLine, ...]


class BuildPage(StationPage):
    """What the build station shows."""

    is_titled = True

    has_style = True
    scrolls = True

    @property
    def cautions(self) -> list[Caution]:
        return []  # they stand on the sheet, each at its step

    @cached_property
    def sheet(self) -> Sheet:
        return sheet(self.check, self.system)

    @cached_property
    def cards(self) -> tuple[Card, ...]:
        return cards(self.job)

    @property
    def stretches(self) -> list[tuple[str, list[Card]]]:
        """The cards by the stretch of work that they belong to."""
        results: list[tuple[str, list[Card]]] = []
        for card in self.cards:
            if not results or results[-1][0] != card.group:
                results.append((card.group, []))
            results[-1][1].append(card)
        return results

    @property
    def next_card(self) -> str:
        """Id of the first that is not done; empty when all are."""
        return next((card.id for card in self.cards if card.done is None), "")

    @property
    def done_count(self) -> int:
        return sum(card.done is not None for card in self.cards)

    @property
    def left(self) -> str:
        """The time that is left, in words."""
        open_cards = [card for card in self.cards if card.done is None]
        low, high = (sum(card.minutes[end] for card in open_cards) for end in (0, 1))
        return self.span((low, high))

    @staticmethod
    def span(minutes: tuple[float, float]) -> str:
        """A range of minutes in words, in hours where it is long."""
        low, high = minutes
        if high < 2 * HOUR_MIN:
            return f"{low:.0f} to {high:.0f} min"
        return f"{low / HOUR_MIN:.1f} to {high / HOUR_MIN:.1f} h"

    def caution(self, caution_id: str) -> str:
        return next(c.text for c in self.catalogue.cautions if c.id == caution_id)

    def built(self, card: Card) -> list[tuple[str, AsBuilt | None]]:
        """Addresses that are measured on what a card built, with what was measured."""
        noted = {each.id: each for each in self.plan.build.as_built}
        return [(address, noted.get(address)) for address in built_addresses(self.job, card)]

    def card_photos(self, card: Card) -> list[CardPhoto]:
        """Photos that are kept with a card."""
        return [photo for photo in self.plan.build.photos if photo.card == card.id]

    @cached_property
    def _cuts(self) -> tuple[CutLine, ...]:
        return cuts(self.job)

    def cuts(self, card: Card) -> list[CutRow]:
        """Lengths that are cut for a card."""
        known = {piece.id: piece.length_mm for piece in self.plan.build.cut}
        return [CutRow(line, known.get(line.id)) for line in cuts_of(card, self._cuts)]

    @cached_property
    def days(self) -> tuple[WorkDay, ...]:
        return work_days(self.cards, self.plan.build.hours_a_day)

    @property
    def shops(self) -> list[ShopList]:
        """What has to be bought, by kind of shop."""
        lines = [line for line in self.sheet.parts if line.to_buy > 0]
        found = [
            ShopList(shop, tuple(line for line in lines if line.shop == shop.id))
            for shop in self.catalogue.work.shops
        ]
        return [each for each in found if each.lines]

    @property
    def to_buy_count(self) -> int:
        return sum(len(each.lines) for each in self.shops)

    def built_name(self, address: str) -> str:
        """What a measured value is called, with the thing that it belongs to."""
        return built_words(self.plan, address)

    @property
    def cost(self) -> tuple[float, int]:
        """What is known of the cost of what has to be bought, and of how many parts nobody said a
        price.
        """
        costs = [line.cost for line in self.sheet.parts]
        return (
            sum(cost for cost in costs if cost is not None),
            sum(cost is None for cost in costs),
        )

    @staticmethod
    def kind_of(address: str) -> str:
        """The kind of quantity at an address."""
        return quantity_of(address)

    def changed_words(self, changed: Changed) -> str:
        """What a finding was as planned, and is as built."""
        planned, built = changed.before, changed.after
        then = self._verdict(planned) if planned is not None else "not there"
        now = self._verdict(built) if built is not None else "no longer there"
        return f"{then} as planned, {now} as built"

    def _verdict(self, finding: Finding) -> str:
        margin = margin_words(finding, self.system)
        return f"{VERDICT_WORDS[finding.verdict]}{f' by {margin}' if margin else ''}"

    def drawing(self, card: Card) -> Markup:
        """Just the place that a card is about; empty where there is none to show."""
        if not card.step.points:
            return Markup("")
        below = card.kind.group in FROM_BELOW
        side = "right" if card.step.points[0][1] >= 0 else "left"
        view = BoardView(below, side, frame_round(card.step.points))
        options = BoardOptions(
            view, "build", "", self.system, editable=False, tag=f"card-{card.number}-"
        )
        return Markup(svg(board(self.check, options)))
