"""What the job needs so far: parts against the heater's kit, lengths to cut, saws to fetch."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.derived import Derived, PlacedHole

CUT_ALLOWANCE_MM = 30.0  # pushed over the port and into the silencer, and trimmed square
CLIP_SPACING_MM = 350.0
SAW_SIZES_MM = tuple(range(16, 181))


@dataclass(frozen=True, slots=True)
class PartLine:
    """One line of the parts list; quantities are pieces, or mm for what is cut."""

    part: str
    label: str
    unit: str
    needed: float
    in_kit: float
    use: str

    @property
    def to_buy(self) -> float:
        return max(self.needed - self.in_kit, 0.0)


@dataclass(frozen=True, slots=True)
class HoleLine:
    """One hole to cut, where it is, and with what."""

    name: str
    x_mm: float
    y_mm: float
    diameter_mm: float
    saw: str


@dataclass(frozen=True, slots=True)
class CutLine:
    """One length to cut."""

    label: str
    length_mm: float
    remark: str


def parts_list(derived: Derived) -> tuple[PartLine, ...]:
    """Return what is needed for the stations done so far, what the kit holds of it, and what must be bought."""
    needed = _needed(derived)
    kit: dict[str, float] = {}
    if derived.sheet is not None:
        for item in derived.sheet.kit:
            kit[item.part] = kit.get(item.part, 0.0) + item.quantity
    lines = []
    for part_id, quantity in needed.items():
        part = derived.catalogue.parts[part_id]
        lines.append(PartLine(part_id, part.label, part.unit, quantity, kit.get(part_id, 0.0), part.use))
    return tuple(lines)


def _needed(derived: Derived) -> dict[str, float]:
    needed: dict[str, float] = {}
    if derived.exhaust is not None:
        pipe = math.ceil(derived.exhaust.length_mm + CUT_ALLOWANCE_MM)
        needed["exhaust-pipe"] = pipe
        in_kit = (
            sum(i.quantity for i in derived.sheet.kit if i.part == "exhaust-pipe") if derived.sheet is not None else 0
        )
        if pipe > in_kit > 0:
            needed["exhaust-joint"] = 1
        needed["exhaust-clamp"] = 3 + (2 if pipe > in_kit > 0 else 0)
        needed["pipe-clip"] = max(2, math.ceil(derived.exhaust.length_mm / CLIP_SPACING_MM))
        needed["silencer"] = 1
    if derived.mount is not None:
        carrier = {"plate": "mount-plate", "bracket": "bracket"}.get(derived.mount.id, derived.mount.id)
        if carrier in derived.catalogue.parts:
            needed[carrier] = 1
        needed["gasket"] = 1
        needed["heat-sealant"] = 1
        needed["edge-paint"] = 1
        needed["grommet-edge"] = (
            sum(1 for hole in derived.mount.holes if "fuel" in hole.name or "hose" in hole.name) or 1
        )
        if derived.plan.spot is not None and derived.plan.spot.packing_mm > 0:
            needed["packing-ring"] = 1
    if derived.sheet is not None:
        needed["co-alarm"] = 1
        needed["thermometer"] = 1
    return needed


def holes_to_cut(derived: Derived) -> tuple[HoleLine, ...]:
    """Return every hole with the next whole-millimetre saw that is not smaller."""
    return tuple(HoleLine(h.name, h.x_mm, h.y_mm, h.diameter_mm, saw_of(h)) for h in derived.holes)


def saw_of(hole: PlacedHole) -> str:
    """Return how a hole is cut."""
    if hole.is_cut:
        size = f"{2 * hole.half_x_mm:g} × {2 * hole.half_y_mm:g} mm"
        return f"jigsaw {size} between four corner holes of {hole.diameter_mm:g} mm"
    return saw_for(hole.diameter_mm)


def saw_for(diameter_mm: float) -> str:
    """Return the saw for a hole: the next whole millimetre that is not smaller."""
    size = next((size for size in SAW_SIZES_MM if size >= diameter_mm), None)
    if diameter_mm < SAW_SIZES_MM[0]:
        return "step drill"
    return f"hole saw {size} mm" if size is not None else "jigsaw to a scribed line"


def cuts(derived: Derived) -> tuple[CutLine, ...]:
    """Return the lengths to cut."""
    if derived.exhaust is None:
        return ()
    run = derived.exhaust
    length = math.ceil(run.length_mm + CUT_ALLOWANCE_MM)
    remark = f"{len(run.straights)} straights, {len(run.bends)} bends; {CUT_ALLOWANCE_MM:.0f} mm allowance included"
    return (CutLine("exhaust pipe", length, remark),)
