"""What the build station shows."""

from __future__ import annotations

from functools import cached_property

from gale_nook.core.catalogue.items import Caution
from gale_nook.exchange.sheet import Sheet, sheet
from gale_nook.web.page import StationPage


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

    @property
    def not_started(self) -> str:
        """The stations to come, in words."""
        *first, last = (node.station.label.lower() for node in self.line if node.station.to_come)
        return f"{', '.join(first)} and {last}" if first else last
