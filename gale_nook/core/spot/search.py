"""Looking for a clear place near the one in hand."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.catalogue import Catalogue
from gale_nook.core.derived import Derived
from gale_nook.core.edits.commands import PlaceHeater
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.findings.registry import Remedy, rules
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.said import q

STEP_MM = 10.0
MAX_TRIALS = 1000
RINGS_MM = (10, 20, 30, 40, 50, 60, 80, 100, 120, 150, 180, 220, 260, 300, 350, 400, 460, 520, 600, 700, 800)


def nearest_clear(derived: Derived) -> Remedy | None:
    """Return the nearest place at which no spot check is over, or None within the search's reach.

    Rings of whole centimetres round the place in hand; the present turn of the heater is tried first on
    each ring, then half and quarter turns, with every mount of the sheet whose floor stack fits.
    """
    spot, sheet = derived.plan.spot, derived.sheet
    if spot is None or sheet is None:
        return None
    mounts = _mounts(derived)
    trials = 0
    for dx, dy, yaw in _places(spot.yaw_deg):
        for mount in mounts:
            trials += 1
            if trials > MAX_TRIALS:
                return None
            moved = spot.model_copy(
                update={"x_mm": spot.x_mm + dx, "y_mm": spot.y_mm + dy, "yaw_deg": yaw, "mount": mount}
            )
            plan = derived.plan.model_copy(update={"spot": moved})
            if nothing_over(plan, derived.catalogue):
                command = PlaceHeater(x_mm=moved.x_mm, y_mm=moved.y_mm, yaw_deg=yaw, mount=mount)
                return Remedy(_sentence(dx, dy, yaw - spot.yaw_deg, mount if mount != spot.mount else None), command)
    return None


def nothing_over(plan: Plan, catalogue: Catalogue) -> bool:
    """Return whether no spot check is over; stops at the first that is."""
    derived = Derived(plan, catalogue)
    spot_rules = (rule for rule in rules() if rule.station == "spot")
    return not any(f.verdict is Verdict.OVER for rule in spot_rules for f in rule.check(derived, rule))


def _mounts(derived: Derived) -> list[str]:
    sheet, spot = derived.sheet, derived.plan.spot
    if sheet is None or spot is None:
        return []
    stack = derived.stack_mm
    fitting = [mount.id for mount in sheet.mounts if mount.stack.holds(stack)]
    if spot.mount in fitting:
        return [spot.mount]
    return fitting or [spot.mount]


def _places(yaw_deg: int) -> Iterator[tuple[float, float, int]]:
    yaws = [yaw_deg, (yaw_deg + 180) % 360, (yaw_deg + 90) % 360, (yaw_deg + 270) % 360]
    yield from ((0.0, 0.0, yaw) for yaw in yaws)
    for ring in RINGS_MM:
        count = 8 if ring <= 40 else 12
        for step in range(count):
            angle = 2 * math.pi * step / count
            dx = round(ring * math.cos(angle) / STEP_MM) * STEP_MM
            dy = round(ring * math.sin(angle) / STEP_MM) * STEP_MM
            for yaw in yaws:
                yield dx, dy, yaw


def _sentence(dx: float, dy: float, turn: int, mount: str | None) -> str:
    parts = []
    if dx:
        parts.append(f"{q(abs(dx))} {'rearward' if dx > 0 else 'forward'}")
    if dy:
        parts.append(f"{q(abs(dy))} to the {'right' if dy > 0 else 'left'}")
    words = f"Shift it {' and '.join(parts)}" if parts else "Leave it there"
    if turn % 360:
        words += f", turned {q(float(turn % 360), 'deg')}"
    if mount is not None:
        words += f", on the mount '{mount}'"
    return words + ": nothing of the spot is over there."
