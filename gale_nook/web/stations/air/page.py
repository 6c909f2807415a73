"""What the air station shows."""

from __future__ import annotations

from functools import cached_property

from gale_nook.core.base.mount import Mount
from gale_nook.core.ducts.passes import all_runs
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.web.noise_view import NoiseView
from gale_nook.web.page import COORDINATES, StationPage
from gale_nook.web.room_zones import RoomZones
from gale_nook.web.stations.air.view import FACES, AirView

WARM_ENDS = (
    ("free", "free into the room"),
    ("panel", "through a panel, by a plenum"),
    ("duct", "into ducts"),
)
COLD_ENDS = (
    ("free", "freely"),
    ("opening", "through openings of the furniture"),
    ("duct", "through a return duct"),
)
SPACES = (
    ("room", "the room"),
    ("outside", "outside"),
    ("engine-bay", "the engine bay"),
    ("battery", "a space with a battery"),
    ("gas", "a space with gas"),
    ("fuel", "a space with fuel"),
)


class AirPage(StationPage):
    """What the air station shows."""

    has_style = True
    has_board = True
    board_hint = "drag a bend or an outlet"
    opens_close = True
    scripts = ("pointing.js",)
    warm_ends, cold_ends = WARM_ENDS, COLD_ENDS
    faces, spaces = FACES, SPACES

    @property
    def focus_points(self) -> tuple[Vec3, ...]:
        points = tuple(point for run in all_runs(self.job) for point in run.geometry.points)
        return points or super().focus_points

    @cached_property
    def noise(self) -> NoiseView:
        return NoiseView(self.job)

    @property
    def exact_addresses(self) -> list[str]:
        """Values that a grip of the board is moved from."""
        result = []
        for run in all_runs(self.job):
            at = self.air.address(run)
            result += [f"{at}.nodes.{n.id}.{leaf}" for n in run.duct.nodes for leaf in COORDINATES]
            result += [f"{at}.parts.{part.id}.at_mm" for part in run.duct.parts]
        for opening in self.plan.air.returns:
            result += [f"air.returns.{opening.id}.{leaf}" for leaf in COORDINATES]
        for outlet in self.plan.air.wanted:
            result += [f"air.wanted.{outlet.id}.{leaf}" for leaf in COORDINATES]
        return [*super().exact_addresses, *result]

    @cached_property
    def room_zones(self) -> RoomZones:
        return RoomZones(self.job)

    @property
    def mount(self) -> Mount | None:
        return chosen_mount(self.job)

    @cached_property
    def air(self) -> AirView:
        return AirView(self.job, self.system)
