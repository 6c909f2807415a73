"""What people and an unflued flame do to the air: humidity by balance, and where
it then settles.
"""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.dew import cold_spots, dew_point_c, saturation_pressure_pa
from gale_nook.core.heat.loss import HeatLoss, heat_loss
from gale_nook.core.physics.constants import ZERO_C_K
from gale_nook.core.plan.document import Plan

# water given off by a person at rest; order of ISO 13788:2012, annex A, for occupied rooms
SLEEPER_G_H = 45.0
OUTSIDE_HUMIDITY_PERCENT = 90.0  # a winter night; workshop assumption
VAPOUR_J_KGK = 461.5  # gas constant of water vapour, ISO 13788:2012
PROPANE_WATER_KG_KG = 4 * 18.015 / 44.096  # C3H8 + 5 O2 -> 3 CO2 + 4 H2O
PROPANE_J_KG = 46.35e6  # lower heating value; any combustion text
MOST_PERCENT = 100.0


@dataclass(frozen=True, slots=True)
class Dampness:
    """The air inside with one way of heating, once it has settled on the coldest night.

    Attributes:
        water_g_h: what people and flame give off together.
        humidity_percent: relative, at most 100: what is over that drops out at once.
        dew_point_c: of that air.
        wet: how many of the surfaces and interfaces lie under the dew point.
        first: the coldest of them in words; empty when none is wet.
    """

    way: str
    water_g_h: float
    humidity_percent: float
    dew_point_c: float
    wet: int
    first: str


def compare_dampness(plan: Plan, catalogue: Catalogue) -> tuple[Dampness, Dampness]:
    """Return the air with the flued heater, and with an unflued gas heater that gives the same
    heat.

    Model: steady balance of water vapour over the renewed air at the design temperature; what
    condenses, what people cook and dry, and what the lining takes up are left out. The flued
    heater's products leave by the exhaust.
    """
    loss = heat_loss(plan, catalogue)
    people = plan.heat.sleepers * SLEEPER_G_H
    burnt = loss.design_loss_w / PROPANE_J_KG * PROPANE_WATER_KG_KG * 1000 * 3600
    return (
        _dampness("flued diesel heater", people, loss, plan),
        _dampness("unflued gas heater", people + burnt, loss, plan),
    )


def humidity_percent(
    inside_c: float, outside_c: float, water_g_h: float, renewed_m3_h: float
) -> float:
    """Return the relative humidity inside: vapour pressure outside, and what is given off over the
    air renewed.

    Source: ISO 13788:2012, 4.2.4 (Δp = G·R·T / (n·V)).

    >>> round(humidity_percent(20.0, 0.0, 0.0, 10.0))
    24
    """
    outside_pa = saturation_pressure_pa(outside_c) * OUTSIDE_HUMIDITY_PERCENT / 100
    if water_g_h <= 0:
        given_pa = 0.0
    elif renewed_m3_h <= 0:
        return MOST_PERCENT
    else:
        given_pa = water_g_h / 1000 / renewed_m3_h * VAPOUR_J_KGK * (inside_c + ZERO_C_K)
    return max(
        min(100 * (outside_pa + given_pa) / saturation_pressure_pa(inside_c), MOST_PERCENT), 1.0
    )


def _dampness(way: str, water_g_h: float, loss: HeatLoss, plan: Plan) -> Dampness:
    inside_c = plan.heat.inside_c
    humidity = humidity_percent(inside_c, loss.outside_c, water_g_h, loss.air.total_m3_h)
    wet = [spot for spot in cold_spots(loss, inside_c, humidity) if spot.above_dew_k < 0]
    first = f"{wet[0].name}, {wet[0].where}" if wet else ""
    return Dampness(way, water_g_h, humidity, dew_point_c(inside_c, humidity), len(wet), first)
