"""What the fuel station shows."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from gale_nook.core.base.mount import Mount
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.findings.finding import Finding
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.chosen import chosen_mount
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.web.page import COORDINATES, StationPage
from gale_nook.web.stations.fuel.view import HEAD_RULES, FuelView, fuel_view, nearness


class FuelPage(StationPage):
    """What the fuel station shows."""

    has_style = True
    has_board = True
    board_hint = "drag a bend, the tank, or what sits in the line"
    opens_close = True

    @property
    def tank_is_usual(self) -> bool:
        """Whether the tank of one's own stands straight, whole, without lid, on something firm."""
        tank = self.plan.fuel.tank
        if tank is None:
            return True
        leans = tank.turn_deg or tank.tilt_along_deg or tank.tilt_across_deg
        return not (leans or tank.indents or tank.lid != "none" or tank.bracket_on == "sheet")

    @property
    def shows_looked(self) -> bool:
        return self.view.plan == "below"

    @property
    def focus_points(self) -> tuple[Vec3, ...]:
        run = fuel_run(self.job)
        return run.geometry.points if run is not None else super().focus_points

    @property
    def exact_addresses(self) -> list[str]:
        """Values that a grip of the board is moved from."""
        fuel, result = self.plan.fuel, ["fuel.level_percent"]
        if fuel.tank is not None:
            result += [f"fuel.tank.{leaf}" for leaf in COORDINATES]
        if fuel.line is not None:
            nodes, parts = fuel.line.nodes, fuel.line.parts
            result.append("fuel.line.pump.tilt_deg")
            result += [f"fuel.line.nodes.{n.id}.{leaf}" for n in nodes for leaf in COORDINATES]
            result += [f"fuel.line.parts.{part.id}.at_mm" for part in parts]
        return [*super().exact_addresses, *result]

    @property
    def mount(self) -> Mount | None:
        return chosen_mount(self.job)

    @cached_property
    def fuel(self) -> FuelView:
        return fuel_view(self.job)

    @cached_property
    def nearest_head(self) -> Finding | None:
        """Of the limits on lengths, heights and pressures of the fuel, the one that is the nearest
        for its size.
        """
        results = [
            (f, nearness(f))
            for f in self.check.of("fuel")
            if f.rule in HEAD_RULES and f.margin is not None
        ]
        return min(results, key=lambda pair: pair[1], default=(None, 0.0))[0]

    @property
    def fuel_tanks(self) -> list[tuple[str, str]]:
        """The surveyed tanks that the vehicle's own fuel can be in."""
        return [
            (solid.id, solid.name)
            for solid, kind, _ in surveyed_parts(self.job)
            if kind.id == "fuel-tank"
        ]

    @property
    def take_offs(self) -> list[tuple[str, str]]:
        """Kinds of take-offs with what each gives."""
        kinds = self.catalogue.fuel_equipment.take_offs
        known = [(kind.id, f"{kind.label}, {kind.most_l_h:g} l/h") for kind in kinds]
        return [("", "nobody has looked"), *known]

    @property
    def fuel_lines(self) -> list[tuple[str, str]]:
        return [(line.id, line.label) for line in self.catalogue.fuel_equipment.lines]

    @property
    def fuel_grades(self) -> list[tuple[str, str]]:
        return [
            (grade.id, f"{grade.label}, for {grade.burnt_in}")
            for grade in self.catalogue.fuel_equipment.grades
        ]

    @property
    def tank_shapes(self) -> list[tuple[str, str]]:
        """Shapes that a tank of one's own can have; a profile where it has one."""
        tank = self.plan.fuel.tank
        own = [("profile", "profile of its own")] if tank is not None and tank.profile else []
        return [("box", "box with rounded edges"), ("cylinder", "cylinder lying"), *own]

    @property
    def new_indent(self) -> dict[str, Any] | None:
        """The command that adds a dent across the tank, a quarter of its length from its front."""
        tank = self.plan.fuel.tank
        if tank is None:
            return None
        length, width, _ = tank.size_mm
        item = {
            "id": fresh_id(tank.indents, "dent"),
            "x_mm": round(length / 4),
            "y_mm": 0,
            "length_mm": round(min(40.0, length / 4)),
            "width_mm": round(width),
            "depth_mm": 10,
        }
        return {"op": "add", "collection": "fuel.tank.indents", "item": item}

    @property
    def lift_pumps(self) -> tuple[tuple[str, str], ...]:
        """Where the vehicle's own lift pump can sit."""
        return (
            ("unknown", "not found out yet"),
            ("tank", "in the tank: the feed is under pressure"),
            ("engine", "at the engine: the feed is sucked"),
        )
