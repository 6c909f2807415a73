"""What the simulated heater is told over the open protocol: one JSON object a line.

{"do": "on"}   {"do": "off"}   {"do": "temperature", "set_c": 20}
{"do": "level", "output_w": 2000}   {"do": "prime", "pumping": true}   {"do": "end"}
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from gale_nook.core.errors import BadInput
from gale_nook.core.firing.heater import SimulatedHeater
from gale_nook.core.plan.document import places_of


class Order(BaseModel):
    """Base of every order."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def give(self, heater: SimulatedHeater) -> None:
        """Carry it out."""


class On(Order):
    """Ask for heat."""

    do: Literal["on"]

    def give(self, heater: SimulatedHeater) -> None:
        heater.switch_on()


class Off(Order):
    """Ask it to stop."""

    do: Literal["off"]

    def give(self, heater: SimulatedHeater) -> None:
        heater.switch_off()


class Temperature(Order):
    """Regulate by the room."""

    do: Literal["temperature"]
    set_c: Annotated[float, Field(ge=-20, le=40)]

    def give(self, heater: SimulatedHeater) -> None:
        heater.set_temperature(self.set_c)


class Level(Order):
    """Hold an output."""

    do: Literal["level"]
    output_w: Annotated[float, Field(gt=0, le=50_000)]

    def give(self, heater: SimulatedHeater) -> None:
        heater.set_level(self.output_w)


class Prime(Order):
    """Let the pump tick, or stop it."""

    do: Literal["prime"]
    pumping: bool

    def give(self, heater: SimulatedHeater) -> None:
        heater.prime(self.pumping)


class End(Order):
    """End the simulation."""

    do: Literal["end"]


_ORDER: TypeAdapter[On | Off | Temperature | Level | Prime | End] = TypeAdapter(
    Annotated[On | Off | Temperature | Level | Prime | End, Field(discriminator="do")]
)


def read_order(line: str) -> Order:
    """Return the order of a line; raises BadInput."""
    try:
        return _ORDER.validate_json(line)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place, line[:60], problem) from None
