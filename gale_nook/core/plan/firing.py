"""The plan's part for the first firing: what was looked at, read and measured."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from gale_nook.core.base.models import CatalogueId, Frozen, ItemId, Name, Note, unique_ids
from gale_nook.core.base.phases import PHASES, PhaseWord

Smoke = Literal["not-looked", "none", "some", "thick"]
MOST_POINTS = 400

Seconds = Annotated[float, Field(ge=0, le=86_400)]
Volts = Annotated[float, Field(ge=0, le=60)]
Amperes = Annotated[float, Field(ge=0, le=100)]
Strokes = Annotated[float, Field(ge=0, le=40)]
Celsius = Annotated[float, Field(ge=-60, le=900)]


class PhaseReading(Frozen):
    """What was read in one phase; None for what nobody read.

    Attributes:
        began_s: when it began, from switching on.
        voltage_v: at the heater's plug, the least in the phase.
        pump_hz: strokes a second.
        outlet_c: of the air at the warm end, or of the coolant where it leaves.
    """

    id: PhaseWord
    began_s: Seconds | None = None
    voltage_v: Volts | None = None
    current_a: Amperes | None = None
    pump_hz: Strokes | None = None
    outlet_c: Celsius | None = None
    smoke: Smoke = "not-looked"


class PlaceReading(Frozen):
    """A place of the temperature survey, 5 and 20 minutes into full output."""

    id: ItemId
    name: Name
    after_5_c: Celsius | None = None
    after_20_c: Celsius | None = None


class CoReading(Frozen):
    """Carbon monoxide, read at a named place some minutes after switching on."""

    id: ItemId
    name: Name
    after_min: Annotated[float, Field(ge=0, le=1440)] = 10.0
    co_ppm: Annotated[float, Field(ge=0, le=10_000)] | None = None


class ControllerCard(Frozen):
    """How the controller in hand is used, or what one of its codes means, as its manual has it."""

    id: ItemId
    title: Name
    text: Note = ""


class Trace(Frozen):
    """Readings through time, by columns of one length; None where a column was not read then.

    Attributes:
        source: what they come from.
        at_s: from switching on, rising.
        smoke: as it was seen.
    """

    source: Name
    at_s: Annotated[tuple[Seconds, ...], Field(min_length=1, max_length=MOST_POINTS)]
    phase: tuple[PhaseWord, ...]
    voltage_v: tuple[Volts | None, ...]
    current_a: tuple[Amperes | None, ...]
    pump_hz: tuple[Strokes | None, ...]
    outlet_c: tuple[Celsius | None, ...]
    smoke: tuple[Smoke, ...]

    @model_validator(mode="after")
    def _even(self) -> Trace:
        count = len(self.at_s)
        read = (self.voltage_v, self.current_a, self.pump_hz, self.outlet_c)
        columns = (self.phase, self.smoke, *read)
        if any(len(column) != count for column in columns):
            raise ValueError("the columns of the readings are not of one length")
        if any(b < a for a, b in zip(self.at_s, self.at_s[1:], strict=False)):
            raise ValueError("the readings' times do not rise")
        return self


def _each_phase(readings: tuple[PhaseReading, ...]) -> tuple[PhaseReading, ...]:
    if tuple(reading.id for reading in readings) != PHASES:
        raise ValueError("each phase has to stand once, in its order")
    return readings


class Firing(Frozen):
    """The first firing.

    Attributes:
        rest_v: of the battery, measured just before, with nothing drawn; None for the plan's own.
        inside_c: of the air inside as it is switched on.
        ticked: what was looked at before, by its id.
        trace: as a device told it; the readings of the phases count.
        code, code_means: a code that the controller showed, and what its manual says of it.
        long_run_min: that it ran on at full after it had been fired; None for not yet.
        rechecked: what was looked at again after that, by its id.
        controller: how the controller is used.
        by, on: who fired it, and the day.
    """

    rest_v: Annotated[float, Field(gt=0, le=60)] | None = None
    inside_c: Annotated[float, Field(ge=-50, le=50)] = 10.0
    ticked: Annotated[tuple[CatalogueId, ...], Field(max_length=60)] = ()
    readings: Annotated[tuple[PhaseReading, ...], AfterValidator(_each_phase)] = tuple(
        PhaseReading(id=phase) for phase in PHASES
    )
    trace: Trace | None = None
    places: Annotated[
        tuple[PlaceReading, ...], Field(max_length=60), AfterValidator(unique_ids)
    ] = ()
    co: Annotated[tuple[CoReading, ...], Field(max_length=20), AfterValidator(unique_ids)] = ()
    code: Annotated[str, Field(max_length=20)] = ""
    code_means: Note = ""
    long_run_min: Annotated[float, Field(ge=0, le=2000)] | None = None
    rechecked: Annotated[tuple[CatalogueId, ...], Field(max_length=60)] = ()
    controller: Annotated[
        tuple[ControllerCard, ...], Field(max_length=40), AfterValidator(unique_ids)
    ] = ()
    by: Note = ""
    on: Annotated[str, Field(max_length=10, pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = ""

    def reading(self, phase: str) -> PhaseReading:
        return next(reading for reading in self.readings if reading.id == phase)

    @property
    def begun(self) -> bool:
        """Whether anything was read."""
        blank = PhaseReading(id="check")
        read = any(reading.model_copy(update={"id": "check"}) != blank for reading in self.readings)
        return read or bool(self.places) or any(each.co_ppm is not None for each in self.co)
