"""What the pipes station shows."""

from __future__ import annotations

from functools import cached_property

from gale_nook.core.base.mount import Mount
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.web.page import COORDINATES, StationPage
from gale_nook.web.stations.pipes.view import PipesView


class PipesPage(StationPage):
    """What the pipes station shows."""

    has_style = True
    has_board = True
    board_hint = "drag a bend or the mouth (M)"
    opens_close = True

    @property
    def shows_looked(self) -> bool:
        return self.view.plan == "below"

    @property
    def focus_points(self) -> tuple[Vec3, ...]:
        runs = [pipe_run(self.job, tube) for tube in ("exhaust", "intake")]
        points = tuple(point for run in runs if run is not None for point in run.points)
        return points or super().focus_points

    @property
    def exact_addresses(self) -> list[str]:
        """Values that a grip of the board is moved from."""
        route, tube = self.pipes.route, f"pipes.{self.view.tube}"
        if route is None:
            return super().exact_addresses
        nodes = [f"{tube}.nodes.{n.id}.{leaf}" for n in route.nodes for leaf in COORDINATES]
        fittings = [f"{tube}.fittings.{fitting.id}.at_mm" for fitting in route.fittings]
        return [*super().exact_addresses, *nodes, *fittings]

    @property
    def mount(self) -> Mount | None:
        return chosen_mount(self.job)

    @cached_property
    def pipes(self) -> PipesView:
        return PipesView(self.check, self.view.tube)

    @property
    def lagging_layers(self) -> tuple[tuple[int, str], ...]:
        """How many layers of lagging there can be."""
        return ((1, "1 layer"), (2, "2 layers"), (3, "3 layers"))

    @property
    def seals(self) -> tuple[tuple[str, str], ...]:
        """What the mount can be sealed with."""
        return (("gasket", "a gasket: comes off again"), ("sealant", "sealant: has to be cut"))
