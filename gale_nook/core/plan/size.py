"""How large a plan may be: by what it takes to keep it, and by what it takes to compute with it."""

from __future__ import annotations

from gale_nook.core.plan.document import Plan, compact
from gale_nook.core.plan.solids import BoxSolid, OutlineSolid, Solid, TubeSolid

MAX_PLAN_BYTES = 1_500_000
MAX_PIECES = 6_000


def plan_bytes(plan: Plan) -> int:
    """Return the size of a plan: of its text without spaces, however it was written in a file."""
    return len(compact(plan).encode())


def pieces_of(solid: Solid) -> int:
    """Return into how many convex pieces a solid is taken apart at the most.

    >>> from gale_nook.core.plan.solids import TubeSolid
    >>> bent = ((0, 0, 0), (1, 0, 0), (2, 1, 0))
    >>> pieces_of(TubeSolid(id="a", name="a", kind="wiring", points=bent, diameter_mm=6))
    2
    """
    if isinstance(solid, TubeSolid):
        return len(solid.points) - 1
    if isinstance(solid, BoxSolid) and solid.hollow is not None:
        # a panel's openings cut it into strips, each into one more piece than openings
        openings = len(solid.hollow.openings)
        return len(solid.hollow.panels) + (2 * openings + 1) * openings
    return len(solid.outline) - 2 if isinstance(solid, OutlineSolid) else 1


def pieces(plan: Plan) -> int:
    """Return the convex pieces of everything surveyed: what the time of every check grows with."""
    return sum(pieces_of(solid) for solid in plan.vehicle.solids)


def too_large(plan: Plan, before: Plan | None = None) -> str:
    """Return what is too large about a plan, as a sentence; an empty text when nothing is.

    Args:
        before: the plan that it was made from: one that was too large already may still be changed,
            but not grow.
    """
    count, most = pieces(plan), MAX_PIECES
    if count > most and before is not None:
        most = max(most, pieces(before))
    if count > most:
        return (
            f"The parts of the survey have {count} straight pieces together; up to {most} can be "
            "computed with. "
            "Give long tubes and outlines fewer points."
        )
    size, largest = plan_bytes(plan), MAX_PLAN_BYTES
    if size > largest and before is not None:
        largest = max(largest, plan_bytes(before))
    if size > largest:
        return (
            f"The plan takes {size / 1e6:.1f} MB; plans up to {largest / 1e6:.1f} MB are kept. "
            "Take something out first."
        )
    return ""
