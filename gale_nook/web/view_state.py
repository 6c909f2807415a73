"""How the user looks at a job: which way the board faces, how near, which part is chosen.

It lives in the URL.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any
from urllib.parse import urlencode

from gale_nook.core.plan.pipes import Tube
from gale_nook.drawing.mapping import Frame

FRAMES = (
    "whole",
    "close",
)  # besides a frame of its own: the vehicle, and what the station is about
# the clear-spot map: as the heater is turned, at the best turn of each place, none
FLOORS = ("turn", "best", "off")
TUBES: tuple[Tube, ...] = ("exhaust", "intake")
NAMES = ("plan", "side", "frame", "item", "floor", "tube", "finding")
FRAME_COOKIE = "frame"  # of one job and station, by its path
_FINDING = re.compile(r"[a-z][a-z0-9-]{0,239}")
_ITEM = re.compile(r"[a-z][a-z0-9-]{0,39}")


@dataclass(frozen=True, slots=True)
class ViewState:
    """A view of the board; what is not understood falls back to the whole vehicle from above."""

    plan: str = "above"
    side: str = "left"
    frame: str = ""
    item: str = ""
    floor: str = "turn"
    tube: Tube = "exhaust"
    finding: str = ""

    @classmethod
    def of(cls, given: Mapping[str, Any]) -> ViewState:
        """Return the view that a query or a form describes."""
        plan, side, frame, item, floor, tube, finding = (
            str(given.get(name) or "") for name in NAMES
        )
        return cls(
            plan="below" if plan == "below" else "above",
            side="right" if side == "right" else "left",
            frame=frame if frame in FRAMES or Frame.of(frame) is not None else "",
            item=item if _ITEM.fullmatch(item) else "",
            floor=floor if floor in FLOORS else "turn",
            finding=finding if _FINDING.fullmatch(finding) else "",
            tube="intake" if tube == "intake" else "exhaust",
        )

    def query(self, **changes: Any) -> str:
        """Return the query string of this view with some things changed. What of the vehicle it
        shows is not in it: that is kept by job and station.
        """
        changed = replace(self, **{"frame": "", "finding": "", **changes})
        standard = ViewState()
        pairs = {name: getattr(changed, name) for name in NAMES}
        return urlencode(
            {name: value for name, value in pairs.items() if value != getattr(standard, name)}
        )
