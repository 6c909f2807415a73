"""What a station shows that is not there yet."""

from __future__ import annotations

from gale_nook.web.page import StationPage


class WaitingPage(StationPage):
    """One honest line."""

    is_titled = True

    @property
    def folder(self) -> str:
        return "waiting"
