"""What the warm air is like at one output: of each outlet, each duct and each piece of duct."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from gale_nook.core.ducts.layout import Layout
from gale_nook.core.ducts.network import Flows
from gale_nook.core.physics.air import HEAT_CAPACITY_J_KGK, HOTTEST_C, density_kg_m3

WHOLE = "warm-end"  # the outlet of a heater without ducts


@dataclass(frozen=True, slots=True)
class OutletState:
    """What comes out of one outlet.

    Attributes:
        id: of its duct; WHOLE where there are no ducts.
        velocity_m_s: in its open area, (bore, throttle fully open).
        heat_w: over air of the zone's own temperature.
    """

    id: str
    name: str
    zone: str
    flow_kg_s: float
    flow_m3_h: float
    temperature_c: float
    velocity_m_s: float
    heat_w: float


@dataclass(frozen=True, slots=True)
class DuctState:
    """The air in one duct: where it begins and ends, and the hottest skin of it."""

    id: str
    flow_kg_s: float
    start_c: float
    end_c: float
    loss_pa: float
    velocity_m_s: float


@dataclass(frozen=True)
class PieceState:
    """Pieces of the open ducts, (n,) each: air and skin temperature, heat given off."""

    air_c: Sequence[float]
    skin_c: Sequence[float]
    lost_w: Sequence[float]


@dataclass(frozen=True)
class AirState:
    """The warm air at one output.

    Attributes:
        speed: of the fan, as a share of full speed.
        heater_c: of the air at the warm end.
        pieces: None without ducts.
        lost_w: what ducts give off on their way, by place.
        casing_w: what leaves through the heater's casing, where it stands.
        flows: as they were solved.
    """

    layout: Layout
    output_w: float
    speed: float
    total_kg_s: float
    fan_pa: float
    inlet_c: float
    heater_c: float
    outlets: tuple[OutletState, ...]
    ducts: tuple[DuctState, ...]
    pieces: PieceState | None
    lost_w: dict[str, float]
    casing_w: float
    flows: Flows | None = None

    @property
    def total_m3_h(self) -> float:
        """As the fan draws it in."""
        density = density_kg_m3(self.layout.air_pa, self.inlet_c)
        return float(self.total_kg_s / density * 3600)

    @cached_property
    def delivered_w(self) -> dict[str, float]:
        """Heat given to each place over air of the inlet's temperature, W; all of it together is
        the output.
        """
        result = dict(self.lost_w)
        result[self.layout.place] = result.get(self.layout.place, 0.0) + self.casing_w
        for outlet in self.outlets:
            carried = outlet.flow_kg_s * HEAT_CAPACITY_J_KGK
            heat = carried * (outlet.temperature_c - self.inlet_c)
            result[outlet.zone] = result.get(outlet.zone, 0.0) + heat
        return result

    def outlet(self, duct_id: str) -> OutletState | None:
        return next((outlet for outlet in self.outlets if outlet.id == duct_id), None)

    def duct(self, duct_id: str) -> DuctState | None:
        return next((duct for duct in self.ducts if duct.id == duct_id), None)


def outlet_state(
    plan_layout: Layout,
    who: tuple[str, str, str],
    flow_kg_s: float,
    celsius: float,
    area_m2: float,
) -> OutletState:
    """Return what comes out of an outlet.

    Args:
        who: id, name and zone.
    """
    m3_s = flow_kg_s / float(density_kg_m3(plan_layout.air_pa, celsius))
    zone_c = plan_layout.zone_c.get(who[2], plan_layout.back.inlet_c)
    heat = flow_kg_s * HEAT_CAPACITY_J_KGK * (celsius - zone_c)
    return OutletState(*who, flow_kg_s, m3_s * 3600, celsius, m3_s / area_m2, heat)


def told_c(celsius: float) -> tuple[str, int]:
    """Return a temperature of the air as it is told: no figure hotter than any heater blows.

    >>> told_c(96.4), told_c(4200.0)
    (('', 96), ('more than ', 200))
    """
    return ("more than ", round(HOTTEST_C)) if celsius > HOTTEST_C else ("", round(celsius))
