"""How the user looks at a job: which way the board faces, how near, which part is chosen. Lives in
the URL.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any
from urllib.parse import urlencode

from gale_nook.core.checking import Check
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.spot.floor_map import map_key
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.drawing.board import BoardOptions
from gale_nook.drawing.mapping import BoardView

ZOOMS = ("1", "2", "4")
FLOORS = (
    "turn",
    "best",
    "off",
)  # the clear-spot map: as the heater is turned, at the best turn of each place, none
TUBES: tuple[Tube, ...] = ("exhaust", "intake")
NAMES = ("plan", "side", "zoom", "item", "floor", "tube")
_ITEM = re.compile(r"[a-z][a-z0-9-]{0,39}")


@dataclass(frozen=True, slots=True)
class Look:
    """A view of the board; what is not understood falls back to the whole vehicle from above."""

    plan: str = "above"
    side: str = "left"
    zoom: str = "1"
    item: str = ""
    floor: str = "turn"
    tube: Tube = "exhaust"

    @classmethod
    def of(cls, given: Mapping[str, Any]) -> Look:
        plan, side, zoom, item, floor, tube = (str(given.get(name) or "") for name in NAMES)
        return cls(
            plan="below" if plan == "below" else "above",
            side="right" if side == "right" else "left",
            zoom=zoom if zoom in ZOOMS else "1",
            item=item if _ITEM.fullmatch(item) else "",
            floor=floor if floor in FLOORS else "turn",
            tube="intake" if tube == "intake" else "exhaust",
        )

    def with_(self, **changes: Any) -> str:
        """Return the query string of this look with some things changed."""
        changed = replace(self, **changes)
        standard = Look()
        pairs = {name: getattr(changed, name) for name in NAMES}
        return urlencode(
            {name: value for name, value in pairs.items() if value != getattr(standard, name)}
        )

    def options(
        self, check: Check, station: str, system: UnitSystem, editable: bool = True
    ) -> BoardOptions:
        view = BoardView(
            self.plan == "below", self.side, float(self.zoom), self._centre(check, station)
        )
        picture = self._floor_picture(check, station)
        return BoardOptions(view, station, self.item, system, editable, picture, tube=self.tube)

    def _floor_picture(self, check: Check, station: str) -> str:
        """Address of the map for this look, under the name of all that it depends on, so that a
        browser may keep it.
        """
        job = check.job
        if station != "spot" or self.floor == "off" or heater_sheet(job) is None:
            return ""
        yaw = job.plan.spot.yaw_deg if job.plan.spot is not None else 0
        turn = "best" if self.floor == "best" else str(yaw)
        return f"spot/floor.png?key={map_key(job)}&turn={turn}&plan={self.plan}"

    def _line(self, check: Check, station: str) -> tuple[Vec3, ...]:
        """The corners of the line that is worked on."""
        job = check.job
        if station == "pipes":
            run = pipe_run(job, self.tube)
            return run.points if run is not None else ()
        line = fuel_run(job) if station == "fuel" else None
        return line.geometry.points if line is not None else ()

    def _centre(self, check: Check, station: str) -> Vec3:
        """What a near view is centred on: the chosen part, or the line worked on, or the heater, or
        the middle of the vehicle.
        """
        job = check.job
        chosen = next(
            (shape for solid, _, shape in surveyed_parts(job) if solid.id == self.item), None
        )
        if chosen is not None and station == "vehicle":
            b = chosen.bounds
            return ((b[0] + b[3]) / 2, (b[1] + b[4]) / 2, (b[2] + b[5]) / 2)
        points = self._line(check, station)
        if points:
            low = [min(p[i] for p in points) for i in range(3)]
            high = [max(p[i] for p in points) for i in range(3)]
            return ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2)
        if job.plan.spot is not None:
            return (job.plan.spot.x_mm, job.plan.spot.y_mm, 0.0)
        shell = job.plan.vehicle.shell
        return ((shell.front_x_mm + shell.rear_x_mm) / 2, 0.0, 0.0)
