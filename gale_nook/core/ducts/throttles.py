"""How the outlets stand: shut, throttled or open, and which ducts air gets out of."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from gale_nook.core.ducts.layout import Layout


@dataclass(frozen=True)
class Throttles:
    """How the outlets stand: those that are shut, and the open share of the others (1 where it is
    not listed), by their ducts.
    """

    shut: frozenset[str] = frozenset()
    open_share: Mapping[str, float] | None = None

    def share(self, duct_id: str) -> float:
        return self.open_share.get(duct_id, 1.0) if self.open_share is not None else 1.0


def throttles_of(plan_layout: Layout) -> Throttles:
    """Return how the outlets of a layout's plan stand."""
    outlets = {run.duct.id: run.duct.outlet for run in plan_layout.runs if run.duct.outlet}
    return Throttles(
        frozenset(name for name, outlet in outlets.items() if outlet.shut),
        {name: outlet.open_percent / 100 for name, outlet in outlets.items()},
    )


def open_ducts(plan_layout: Layout, shut: frozenset[str]) -> tuple[int, ...]:
    """Return the numbers of the ducts through which air gets out: those that lead to an outlet that
    is not shut, or to an open end. A splitter's leg without a duct counts as capped.
    """
    children = plan_layout.children
    alive: dict[str, bool] = {}
    for run in reversed(plan_layout.runs):
        after = children.get(run.duct.id, ())
        if after:
            alive[run.duct.id] = any(alive[child] for child in after)
        else:
            alive[run.duct.id] = run.duct.splitter is None and run.duct.id not in shut
    return tuple(i for i, run in enumerate(plan_layout.runs) if alive[run.duct.id])
