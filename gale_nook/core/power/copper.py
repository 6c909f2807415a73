"""Copper: what a cable's conductor resists, weighs and can carry, in mm² and in AWG."""

from __future__ import annotations

import math

import numpy as np

from gale_nook.core.catalogue.power import CableSize, Copper, Grouping

AWG_BASE_MM, AWG_RATIO = 0.127, 92.0
REFERENCE_C = 20.0


def resistance_ohm(copper: Copper, length_mm: float, area_mm2: float, celsius: float) -> float:
    """Return the resistance of one conductor.

    Source: IEC 60028; R = rho l / A (1 + alpha (T - 20 °C)).
    """
    cold = copper.resistivity * length_mm / 1000 / area_mm2
    return cold * (1 + copper.per_k * (celsius - REFERENCE_C))


def awg_at_least(area_mm2: float) -> int:
    """Return the thinnest even gauge that is not thinner than an area."""
    gauge = 36 - 39 * math.log(math.sqrt(4 * area_mm2 / math.pi) / AWG_BASE_MM, AWG_RATIO)
    return 2 * math.floor(gauge / 2 + 1e-9)


def awg_words(gauge: int) -> str:
    """Return a gauge as it is written: AWG 10, AWG 1/0."""
    return f"AWG {gauge}" if gauge > 0 else f"AWG {1 - gauge}/0"


def ampacity_a(cable: CableSize, insulation_c: float, surroundings_c: float, at_c: float) -> float:
    """Return the current that a cable carries alone in warm surroundings.

    The heat that it loses is in proportion to how much warmer than the air its insulation may get.

    Args:
        at_c: temperature of the air that the table is for.
    """
    most = dict(cable.ampacity_a)[float(insulation_c)]
    left = max(insulation_c - surroundings_c, 0.0) / (insulation_c - at_c)
    return most * math.sqrt(left)


def grouped(groupings: tuple[Grouping, ...], cables: int) -> float:
    """Return the share of its current that each of several cables together carries."""
    return next((g.share for g in groupings if cables <= g.cables), groupings[-1].share)


def between(points: tuple[tuple[float, float], ...], at: float) -> float:
    """Return a value between points, by straight lines; beyond them that of the last."""
    return float(np.interp(at, [p[0] for p in points], [p[1] for p in points]))
