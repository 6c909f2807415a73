"""What the air station shows: so far, what the heater's sheet says of its fan."""

from __future__ import annotations

from gale_nook.core.base.heater_sheet import FanCurve
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.web.page import StationPage


class AirPage(StationPage):
    """What ducts will be laid out with."""

    @property
    def fan(self) -> FanCurve | None:
        """The fan of the chosen heater; None without one, or where it heats coolant."""
        sheet = heater_sheet(self.job)
        return sheet.fan if sheet is not None else None
