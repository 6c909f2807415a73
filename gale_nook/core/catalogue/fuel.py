"""Diesels, fuel lines, the dosing pump, and what tanks are filled from."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from gale_nook.core.base.models import Frozen, Name
from gale_nook.core.base.sourced import Sourced

Share = Annotated[float, Field(gt=0, le=1)]


class FuelGrade(Sourced):
    """A diesel: its density at 15 °C, viscosity at 40 °C and at 0 °C, and where wax stops a filter.

    Attributes:
        burnt_in: for when it is sold.
    """

    density_kg_m3: Annotated[float, Field(gt=700, lt=900)]
    warm_mm2_s: Annotated[float, Field(gt=0.5, lt=10)]
    cold_mm2_s: Annotated[float, Field(gt=0.8, lt=40)]
    waxes_c: Annotated[float, Field(ge=-60, le=20)]
    burnt_in: Name


class FuelLineKind(Sourced):
    """A line that fuel runs in; a soft one gives way to the pump's strokes."""

    bore_mm: Annotated[float, Field(gt=0.5, le=20)]
    outer_mm: Annotated[float, Field(gt=1, le=30)]
    soft: bool


class PumpKind(Sourced):
    """A dosing pump.

    Attributes:
        stroke_share: of the time in which fuel moves.
        prime_hz: strokes a second while priming.
        filter_pa: what a clean filter takes at least output's flow.
        length_mm, diameter_mm: of its body.
        filter_length_mm, filter_diameter_mm: of the filter before it.
        valve_pa: what an open shut-off valve takes at least output's flow; valve_length_mm,
            valve_diameter_mm: of its body.
        bowl_ml: that the filter's bowl holds.
        air_share: of a stroke that it takes while it moves air, at the least and at the most.
        tick_db: sound power of its ticking on rubber, dB(A); hard_db: more where it is fixed to the
            body.
    """

    stroke_share: Annotated[float, Field(gt=0, le=1)]
    prime_hz: Annotated[float, Field(gt=0, le=30)]
    filter_pa: Annotated[float, Field(ge=0, le=20_000)]
    length_mm: Annotated[float, Field(gt=10, le=500)]
    diameter_mm: Annotated[float, Field(gt=5, le=200)]
    filter_length_mm: Annotated[float, Field(gt=10, le=300)]
    filter_diameter_mm: Annotated[float, Field(gt=5, le=150)]
    valve_pa: Annotated[float, Field(ge=0, le=20_000)]
    valve_length_mm: Annotated[float, Field(gt=10, le=300)]
    valve_diameter_mm: Annotated[float, Field(gt=5, le=150)]
    bowl_ml: Annotated[float, Field(ge=0, le=500)]
    air_share: tuple[Share, Share]
    tick_db: Annotated[float, Field(ge=10, le=110)]
    hard_db: Annotated[float, Field(ge=0, le=40)]


class PrimingTool(Sourced):
    """What a line can be filled with by hand.

    Attributes:
        counted: what is counted of it, in words.
        volume_ml: of a squeeze or a pull; share of that which it moves, at the least and at the
            most; seconds: for each.
    """

    counted: Name
    volume_ml: Annotated[float, Field(gt=0, le=500)]
    share: tuple[Share, Share]
    seconds: Annotated[float, Field(gt=0, le=120)]


class TakeOffKind(Sourced):
    """A way out of a vehicle's tank, or of a line that leads from it.

    Attributes:
        bore_mm: of its pipe.
        most_l_h: that may be drawn through it for good.
    """

    bore_mm: Annotated[float, Field(gt=0.5, le=20)]
    most_l_h: Annotated[float, Field(gt=0, le=200)]


class TankBracket(Sourced):
    """What a bracket puts on a sheet that it is bolted to.

    Attributes:
        shakes: times the full tank's weight that it has to hold on a rough road.
        bolts: that share it.
        shear_n_mm2: that the sheet bears for good round the edge of a plate.
        least_mm: side of the smallest plate that is of any use.
    """

    shakes: Annotated[float, Field(ge=1, le=20)]
    bolts: Annotated[int, Field(ge=2, le=12)]
    shear_n_mm2: Annotated[float, Field(gt=0, le=100)]
    least_mm: Annotated[float, Field(ge=10, le=300)]


class OutletFitting(Sourced):
    """The fitting of an outlet that is cut into a tank.

    Attributes:
        flange_mm: that has to lie flat round its hole; hand_mm: room for a hand round what is
            filled with, under a lid.
    """

    flange_mm: Annotated[float, Field(ge=10, le=200)]
    hand_mm: Annotated[float, Field(ge=0, le=200)]


class FillingDevice(Sourced):
    """What a tank is filled with: how long and thick it is at the filler, and how steep it has to
    come.
    """

    length_mm: Annotated[float, Field(ge=50, le=1000)]
    diameter_mm: Annotated[float, Field(ge=10, le=400)]
    least_deg: Annotated[float, Field(ge=0, le=90)]


class FuelEquipment(Frozen):
    """Diesels, lines, the pump, what tanks and lines are filled with, and the bores that there are
    adapters for.
    """

    grades: tuple[FuelGrade, ...]
    lines: tuple[FuelLineKind, ...]
    pump: PumpKind
    fills: tuple[FillingDevice, ...]
    tools: tuple[PrimingTool, ...]
    take_offs: tuple[TakeOffKind, ...]
    bracket: TankBracket
    outlet: OutletFitting
    bores_mm: tuple[Annotated[float, Field(gt=0.5, le=20)], ...]

    def take_off(self, kind_id: str | None) -> TakeOffKind | None:
        """Return a kind of take-off; None where nobody has said which."""
        return next((kind for kind in self.take_offs if kind.id == kind_id), None)

    def tool(self, tool_id: str) -> PrimingTool:
        return next(tool for tool in self.tools if tool.id == tool_id)

    def fill(self, fill_id: str) -> FillingDevice:
        return next(fill for fill in self.fills if fill.id == fill_id)

    def grade(self, grade_id: str) -> FuelGrade:
        return next(grade for grade in self.grades if grade.id == grade_id)

    def line(self, line_id: str) -> FuelLineKind:
        return next(line for line in self.lines if line.id == line_id)
