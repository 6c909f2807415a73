"""What hangs on a burner pipe's corners and fittings, put in order after a generic edit."""

from __future__ import annotations

from typing import Any

from gale_nook.core.edits.command import Data
from gale_nook.core.pipes.clamps import HELD, clamps_of

TUBES = ("exhaust", "intake")


def settle(before: Data, after: Data) -> None:
    """Put in order what a generic edit left, in place: a run without corners is none, and clamps go
    along with the joint, silencer or filter that they hold.

    Args:
        before, after: the plan's plain data.
    """
    for tube in TUBES:
        route = after["pipes"][tube]
        if route is None:
            continue
        if not route["nodes"]:
            after["pipes"][tube] = None
            continue
        old = before["pipes"][tube]
        if old is not None:
            route["fittings"] = _settled(old["fittings"], route["fittings"])


def _settled(old: list[Any], new: list[Any]) -> list[Any]:
    now = {fitting["id"]: fitting for fitting in new}
    gone: set[str] = set()
    for held in old:
        if held["kind"] not in HELD:
            continue
        # clamps that were themselves moved, or taken off, are left as they were put
        clamps = [now[c["id"]] for c in clamps_of(old, held) if now.get(c["id"]) == c]
        if held["id"] not in now:
            gone |= {clamp["id"] for clamp in clamps}
            continue
        at_mm = now[held["id"]]["at_mm"]
        if not isinstance(at_mm, int | float):  # the plan will not be taken
            continue
        by = at_mm - held["at_mm"]
        for clamp in clamps if by else ():
            clamp["at_mm"] = max(clamp["at_mm"] + by, 0.0)
    return [fitting for fitting in new if fitting["id"] not in gone]
