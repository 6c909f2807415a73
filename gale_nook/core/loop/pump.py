"""A pump's head at a flow, by its curve and its level; and a valve that passes one way."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass

KG_PER_L_MIN = 1.0 / 60.0  # times the density in kg/l
PA = 1000.0
OFF_KPA = 6.0  # a pump that stands resists so much at 10 l/min
RATED_L_MIN = 10.0
SHUT_FACTOR = 1e7  # a valve that shuts resists so much more
LEAST_LEVEL = 0.02

Curve = Sequence[tuple[float, float]]


@dataclass(frozen=True, slots=True)
class PumpLift:
    """A pump at a level: by the affinity laws flow goes with its speed, head with the square.

    Attributes:
        curve: (l/min, kPa), flow rising, head falling; straight between, and on past both ends.
        level: speed as a share of full speed; at nearly none it only resists.
        density_kg_l: of what it moves.
    """

    curve: Curve
    level: float
    density_kg_l: float

    def head_pa(self, flow_kg_s: float) -> tuple[float, float]:
        """Return the head at a flow, and its slope, which is below 0."""
        if self.level < LEAST_LEVEL:
            loss, slope = square_loss_pa(OFF_KPA, self.density_kg_l, flow_kg_s)
            return -loss, -slope
        litres = 60.0 / self.density_kg_l / self.level  # l/min at full speed to kg/s
        head, slope = _between(self.curve, flow_kg_s * litres)
        scale = PA * self.level**2
        return scale * head, scale * slope * litres


def _between(curve: Curve, flow: float) -> tuple[float, float]:
    index = min(max(bisect_right([q for q, _ in curve], flow) - 1, 0), len(curve) - 2)
    (q0, p0), (q1, p1) = curve[index], curve[index + 1]
    slope = (p1 - p0) / (q1 - q0)
    return p0 + slope * (flow - q0), slope


def factor_of(loss_kpa: float, density_kg_l: float) -> float:
    """Return k of k·m·|m|, Pa s²/kg², of a part that loses so much at 10 l/min of water; with
    another density it loses in proportion at the same litres.
    """
    flow = RATED_L_MIN * KG_PER_L_MIN * density_kg_l
    return loss_kpa * PA * density_kg_l / flow**2


def square_loss_pa(loss_kpa: float, density_kg_l: float, flow_kg_s: float) -> tuple[float, float]:
    """Return the loss of such a part, and its slope."""
    factor = factor_of(loss_kpa, density_kg_l)
    return factor * flow_kg_s * abs(flow_kg_s), 2.0 * factor * abs(flow_kg_s)


@dataclass(frozen=True, slots=True)
class OneWay:
    """A valve that passes from its start to its end only."""

    loss_kpa: float
    density_kg_l: float

    def loss_pa(self, flow_kg_s: float) -> tuple[float, float]:
        """Return its loss, and the slope of that."""
        shut = SHUT_FACTOR if flow_kg_s < 0 else 1.0
        return square_loss_pa(self.loss_kpa * shut, self.density_kg_l, flow_kg_s)
