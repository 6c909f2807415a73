"""What the heat station shows."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from markupsafe import Markup

from gale_nook.core.edits.values import set_value
from gale_nook.core.heat.cab import guessed_cab_w_k
from gale_nook.core.heat.dew import ColdSpot, cold_spots, dew_point_c
from gale_nook.core.heat.envelope import FACE_NAMES, hoops, rib_length_m
from gale_nook.core.heat.loss import HeatLoss, design_loss, mild_night_loss
from gale_nook.core.heat.season import design_temperature_c
from gale_nook.drawing.bars import loss_bars
from gale_nook.drawing.svg import svg
from gale_nook.web.page import StationPage

DESIGN_SHARES = (("99 %", 0.99), ("99.6 %", 0.996), ("the coldest hour", 1.0))


class HeatPage(StationPage):
    """What the heat station shows."""

    has_style = True
    has_board = True
    board_hint = "each arrow as wide as its watts"

    @property
    def heat_pencilled(self) -> list[str]:
        """What nobody has said of build-ups, leaks and weather."""
        return [a for a in self.plan.vehicle.pencilled if a.startswith("heat.")]

    @property
    def live_texts(self) -> dict[str, str]:
        return {f"u-{face}": self.u_words(face) for face, _, _, _ in self.stacks}

    @property
    def loss(self) -> HeatLoss:
        return design_loss(self.job)

    @property
    def mild_loss(self) -> HeatLoss:
        return mild_night_loss(self.job)

    @property
    def loss_bars(self) -> Markup:
        return Markup(svg(loss_bars(design_loss(self.job), self.system)))

    @cached_property
    def _faces(self) -> dict[str, Any]:
        return {element.id: element for element in design_loss(self.job).elements}

    @property
    def stacks(self) -> list[tuple[str, str, str, Any]]:
        """(face, title, address of its layers, layers) of every face of the load space."""
        surfaces = [
            (s.id, FACE_NAMES[s.id], f"heat.surfaces.{s.id}.layers", s.layers)
            for s in self.plan.heat.surfaces
            if s.id in self._faces
        ]
        return [
            *surfaces,
            ("floor", FACE_NAMES["floor"], "vehicle.floor.layers", self.plan.vehicle.floor.layers),
        ]

    def u_words(self, face: str) -> str:
        """U-value and area of a face."""
        return f"U {self.u_of(face):.2f} W/m²K, {float(self._faces[face].area_m2):.2f} m²"

    @property
    def ribs_hint(self) -> str:
        """What follows from the pitch."""
        length = rib_length_m(self.plan.vehicle, self.plan.heat)
        count = hoops(self.plan.vehicle, self.plan.heat)
        return f"{count} hoops; {length:.1f} m counted" if count else f"{length:.1f} m counted"

    @property
    def cab_hint(self) -> str:
        """What the cab's loss is taken for, and what follows from it."""
        guessed = (
            "usual for its size: "
            f"{guessed_cab_w_k(self.plan.vehicle.shell, self.catalogue.cab):.0f} W/K"
        )
        if self.plan.heat.cab == "inside":
            return guessed
        return (
            f"with it the cab comes to {self.amount(design_loss(self.job).cab_c, 'c')}; {guessed}"
        )

    @property
    def pop_top_words(self) -> str:
        """How the pop-top stands on the nights that the heat is computed for."""
        top = self.plan.vehicle.pop_top
        if top is None:
            return "none"
        return "raised at night" if top.raised else "lowered at night"

    @property
    def usual_pop_top(self) -> dict[str, Any]:
        """A pop-top to begin with, in the middle of the roof."""
        shell = self.plan.vehicle.shell
        length = shell.rear_x_mm - shell.bulkhead_x_mm
        return {
            "start_mm": round(shell.bulkhead_x_mm + 0.2 * length),
            "length_mm": round(0.6 * length),
            "width_mm": round(0.75 * shell.floor_width_mm),
            "rise_mm": 500,
        }

    def u_of(self, face: str) -> float:
        return float(self._faces[face].u_w_m2k)

    def rows_of(self, face: str) -> Any:
        return self._faces[face].build_up.rows

    @property
    def leakage_classes(self) -> list[tuple[str, str]]:
        return [(entry.id, entry.label) for entry in self.catalogue.leakage.values()]

    @property
    def design_choices(self) -> list[tuple[str, str, dict[str, Any]]]:
        """What the weather offers as the coldest night: (words, title, command)."""
        climate, result = self.plan.heat.climate, []
        for name, share in DESIGN_SHARES if climate is not None else ():
            celsius = design_temperature_c(climate, share) if climate is not None else None
            if celsius is not None:
                change = set_value("heat.outside_c", round(celsius, 1)).model_dump(mode="json")
                amount = self.amount(round(celsius, 1), "c")
                result.append((f"{name}: {amount}", f"Take {amount} as the coldest night", change))
        return result

    @property
    def dew_point_c(self) -> float:
        return dew_point_c(self.plan.heat.inside_c, self.plan.heat.humidity_percent)

    @property
    def cold_spots(self) -> tuple[ColdSpot, ...]:
        return cold_spots(
            design_loss(self.job), self.plan.heat.inside_c, self.plan.heat.humidity_percent
        )
