"""The circuit from battery to heater, solved exactly for loads of every kind."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Load:
    """What a heater draws in one of its states: three kinds of load side by side.

    Attributes:
        conductance_s: of what resists (a glow element): its current rises with the voltage.
        current_a: that is held whatever the voltage is.
        power_w: that is held whatever the voltage is: its current rises as the voltage falls.
    """

    conductance_s: float = 0.0
    current_a: float = 0.0
    power_w: float = 0.0


@dataclass(frozen=True, slots=True)
class Piece:
    """A part of the circuit with its resistance."""

    name: str
    resistance_ohm: float


@dataclass(frozen=True, slots=True)
class Rung:
    """A rung of the ladder: what is lost in a piece, and what is left after it."""

    name: str
    resistance_ohm: float
    drop_v: float
    left_v: float


@dataclass(frozen=True, slots=True)
class Ladder:
    """The voltage all the way round.

    Attributes:
        rungs: from the battery at rest to the heater; the last leaves what the heater gets.
        collapses: the load asks for more than the circuit can give: there is no such state.
    """

    rungs: tuple[Rung, ...]
    current_a: float
    heater_v: float
    collapses: bool = False


def heater_voltage_v(source_v: float, resistance_ohm: float, load: Load) -> float | None:
    """Return the voltage at a load; None where the circuit cannot give what it asks for.

    From V = E - R (G V + I + P/V): (1 + R G) V² - (E - R I) V + R P = 0, the higher root.
    """
    a = 1 + resistance_ohm * load.conductance_s
    b = source_v - resistance_ohm * load.current_a
    inside = b * b - 4 * a * resistance_ohm * load.power_w
    if b <= 0 or inside < 0:
        return None
    return (b + math.sqrt(inside)) / (2 * a)


def ladder(open_v: float, pieces: Sequence[Piece], load: Load) -> Ladder:
    """Return the voltage after each piece, with a load at the end."""
    total = sum(piece.resistance_ohm for piece in pieces)
    heater_v = heater_voltage_v(open_v, total, load)
    if heater_v is None:
        return Ladder((), 0.0, 0.0, collapses=True)
    current = load.conductance_s * heater_v + load.current_a
    current += load.power_w / heater_v if load.power_w else 0.0
    rungs, left = [], open_v
    for piece in pieces:
        drop = current * piece.resistance_ohm
        left -= drop
        rungs.append(Rung(piece.name, piece.resistance_ohm, drop, left))
    return Ladder(tuple(rungs), current, heater_v)
