"""The warm-air fan: its curve at any speed and density, and what a sheet does not say of it."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass

from gale_nook.core.base.heater_sheet import FanCurve, HeaterSheet
from gale_nook.core.catalogue.air import TypicalFan

S_PER_H = 3600.0


@dataclass(frozen=True, slots=True)
class FanValues:
    """What is known of a heater's fan, or taken as usual.

    Attributes:
        speed_at_minimum: speed at least output, as a share of full speed.
        share_at_minimum, share_at_maximum: of the output that goes into the air.
        outlet_limit_c: of the air at the warm end.
        bore_mm, inlet_mm: of the warm and the cold end.
        typical: what of these the sheet does not say, in words.
    """

    curve: FanCurve
    speed_at_minimum: float
    share_at_minimum: float
    share_at_maximum: float
    outlet_limit_c: float
    bore_mm: float
    inlet_mm: float
    typical: tuple[str, ...]


def fan_values(sheet: HeaterSheet, typical: TypicalFan) -> FanValues | None:
    """Return the fan's values, usual ones where the sheet has none; None for a coolant heater."""
    fan = sheet.fan
    if fan is None:
        return None
    missing = []

    def known(value: float | None, usual: float, words: str) -> float:
        if value is None:
            missing.append(words)
            return usual
        return value

    return FanValues(
        fan,
        known(fan.speed_at_minimum, typical.speed_at_minimum, "the fan's speed at least output"),
        known(fan.share_at_minimum, typical.share_at_minimum, "the share of heat at least output"),
        known(fan.share_at_maximum, typical.share_at_maximum, "the share of heat at most output"),
        known(fan.outlet_limit_c, typical.outlet_limit_c, "the limit at the warm end"),
        fan.duct_mm,
        known(fan.inlet_mm, fan.duct_mm, "the inlet's bore"),
        tuple(missing),
    )


def level_of_w(least_w: float, most_w: float, output_w: float) -> float:
    """Return where an output lies between the least (0) and the most that the heater gives at its
    place (1).
    """
    if most_w <= least_w:
        return 1.0
    return min(max((output_w - least_w) / (most_w - least_w), 0.0), 1.0)


@dataclass(frozen=True, slots=True)
class Fan:
    """A fan at one speed in air of one density.

    By the affinity laws its flow goes with the speed, its pressure with density and the square of
    the speed; the curve is told for a reference density.

    Attributes:
        speed: as a share of full speed.
        density_kg_m3: of the air that it draws in.
        reference_kg_m3: for which its curve is told.
    """

    curve: FanCurve
    speed: float
    density_kg_m3: float
    reference_kg_m3: float

    def pressure_pa(self, flow_kg_s: float) -> tuple[float, float]:
        """Return the static pressure at a flow, and its slope, Pa s/kg; it falls on past the free
        flow, and rises on where the flow is blown back.
        """
        to_curve = S_PER_H / (self.density_kg_m3 * self.speed)
        by = self.density_kg_m3 / self.reference_kg_m3 * self.speed**2
        pressure, slope = curve_pa(self.curve, flow_kg_s * to_curve)
        return by * pressure, by * slope * to_curve


def curve_pa(curve: FanCurve, flow_m3_h: float) -> tuple[float, float]:
    """Return a fan curve's static pressure and its slope at full speed: p0·(1−(q/q0)²), or straight
    between measured points and on past them.

    >>> curve_pa(FanCurve(static_pressure_pa=200, free_flow_m3_h=100, duct_mm=75), 50.0)
    (150.0, -2.0)
    """
    if len(curve.points) >= 2:
        return _between(curve.points, flow_m3_h)
    ratio = flow_m3_h / curve.free_flow_m3_h
    p0 = curve.static_pressure_pa
    return p0 * (1 - ratio * abs(ratio)), -2 * p0 * abs(ratio) / curve.free_flow_m3_h


def _between(points: Sequence[tuple[float, float]], flow: float) -> tuple[float, float]:
    flows = [point[0] for point in points]
    index = min(max(bisect_right(flows, flow) - 1, 0), len(points) - 2)
    (q0, p0), (q1, p1) = points[index], points[index + 1]
    slope = (p1 - p0) / (q1 - q0)
    return p0 + slope * (flow - q0), slope
