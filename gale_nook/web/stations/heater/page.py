"""What the heater station shows."""

from __future__ import annotations

from typing import Any

from markupsafe import Markup

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.heat.loss import HeatLoss, design_loss, mild_night_loss
from gale_nook.core.heat.season import season
from gale_nook.core.heater.choice import Judgement, judgements
from gale_nook.core.heater.quick_sheet import typical_count
from gale_nook.core.heater.units import When, which_when
from gale_nook.core.heater.what_would_help import Help, what_would_help
from gale_nook.core.plan.heater import OtherUnit
from gale_nook.core.plan.pipes import Tube
from gale_nook.drawing.bars import heater_ranges
from gale_nook.drawing.svg import svg
from gale_nook.store.job_store import JobStore
from gale_nook.web.page import StationPage
from gale_nook.web.stations.heater.nights import NightShown, night_shown
from gale_nook.web.stations.heater.quick_fields import QUICK


class HeaterPage(StationPage):
    """What the heater station shows.

    Attributes:
        held_edit: of the workshop's own book that holds.
    """

    held_edit = 0

    is_titled = True

    has_style = True
    scripts = ("night.js",)

    @property
    def live_values(self) -> dict[str, Any]:
        return {"shown": self.night_shown}

    quick_fields = QUICK

    def typical_count(self, sheet: HeaterSheet) -> int:
        """How many values of a heater's sheet are typical ones, not its own."""
        return typical_count(sheet)

    @property
    def loss(self) -> HeatLoss:
        return design_loss(self.job)

    @property
    def mild_loss(self) -> HeatLoss:
        return mild_night_loss(self.job)

    @property
    def judged(self) -> tuple[Judgement, ...]:
        return judgements(self.job)

    @property
    def heater_ranges(self) -> Markup:
        job = self.job
        need, mild = design_loss(job).need_w, mild_night_loss(job).design_loss_w
        bins = season(self.plan, self.catalogue)
        return Markup(
            svg(heater_ranges(self.judged, need, mild, self.plan.heater.sheet, self.system, bins))
        )

    @property
    def night_shown(self) -> NightShown | None:
        return night_shown(self.job, self.system)

    @property
    def recommended(self) -> Judgement | None:
        return next((judged for judged in self.judged if judged.recommended), None)

    @property
    def helps(self) -> tuple[Help, ...]:
        """What would change it where no heater meets all that is asked."""
        return what_would_help(self.job)

    @property
    def own_heaters(self) -> set[str]:
        return {sheet.id for sheet in self.plan.heater.own_sheets}

    @property
    def overruled(self) -> str:
        """Label of the heater that was recommended when another was chosen over it."""
        over = self.plan.heater.instead_of
        if over is None:
            return ""
        return self.catalogue.heaters[over].label if over in self.catalogue.heaters else over

    @property
    def add_timer(self) -> dict[str, Any]:
        """The command that adds a timer: off from midnight to the end of the set-back."""
        night = self.plan.heat.night
        timer = {
            "id": fresh_id(night.timers, "timer"),
            "from_h": 0.0,
            "to_h": night.night_to_h,
            "set_c": None,
        }
        return {"op": "add", "collection": "heat.night.timers", "item": timer}

    @property
    def which_when(self) -> tuple[When, ...]:
        """Which heater runs when, with another one in the vehicle."""
        return which_when(self.job)

    @property
    def new_unit(self) -> dict[str, Any]:
        """The command that notes another heater, ahead of the bulkhead."""
        others, shell = self.plan.heater.others, self.plan.vehicle.shell
        item = {
            "id": fresh_id(others, "unit"),
            "name": f"other heater {len(others) + 1}",
            "x_mm": round(shell.bulkhead_x_mm - 600),
            "y_mm": 300,
        }
        return {"op": "add", "collection": "heater.others", "item": item}

    def longer_unit_pipe(self, unit: OtherUnit, pipe: Tube) -> dict[str, Any]:
        """The command that notes a pipe of another heater, or a corner more before its mouth."""
        points = unit.exhaust if pipe == "exhaust" else unit.intake
        middle = (unit.x_mm + unit.length_mm / 2, unit.y_mm + unit.width_mm / 2, unit.z_mm)
        if not points:
            points = (middle, (middle[0], middle[1], middle[2] - 200.0))
        else:
            last, mouth = points[-2], points[-1]
            x, y, z = (round((a + b) / 2, 1) for a, b in zip(last, mouth, strict=True))
            points = (*points[:-1], (x, y, z), mouth)
        listed = [list(point) for point in points]
        return {"op": "unit-pipe", "unit": unit.id, "pipe": pipe, "points": listed}


def fill(page: StationPage, db: JobStore) -> None:
    """Give the page what is not of the plan."""
    if isinstance(page, HeaterPage):
        page.held_edit = db.held_book().edit
