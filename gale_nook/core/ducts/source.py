"""What drives and heats the air at one output: the fan, less what the way back takes."""

from __future__ import annotations

from gale_nook.core.ducts.fan import Fan, level_of_w
from gale_nook.core.ducts.layout import Layout
from gale_nook.core.ducts.network import duct_losses_pa
from gale_nook.core.physics.air import density_kg_m3, viscosity_pa_s


def heat_into_air(plan_layout: Layout, output_w: float) -> tuple[float, float]:
    """Fan's speed, and the heat that goes into the air, at an output."""
    fan = plan_layout.fan
    level = level_of_w(plan_layout.least_w, plan_layout.most_w, output_w)
    speed = fan.speed_at_minimum + (1 - fan.speed_at_minimum) * level
    share = fan.share_at_minimum + (fan.share_at_maximum - fan.share_at_minimum) * level
    return speed, share * output_w


class Source:
    """The fan less what the way back takes."""

    def __init__(self, plan_layout: Layout, speed: float) -> None:
        back = plan_layout.back
        density = float(density_kg_m3(plan_layout.air_pa, back.inlet_c))
        self._fan = Fan(plan_layout.fan.curve, speed, density, plan_layout.reference_kg_m3)
        self._factor = back.loss / density
        viscosity = float(viscosity_pa_s(back.inlet_c))
        self._duct = [
            piece.bore.resistance(0, piece.loss_k, density, viscosity)
            for piece in plan_layout.back_duct
        ]

    def pressure_pa(self, flow_kg_s: float) -> tuple[float, float]:
        pressure, slope = self._fan.pressure_pa(flow_kg_s)
        pressure -= self._factor * flow_kg_s * abs(flow_kg_s)
        slope -= 2 * self._factor * abs(flow_kg_s)
        if self._duct:
            (loss,), (rise,) = duct_losses_pa(self._duct, (flow_kg_s,), 1)
            pressure, slope = pressure - loss, slope - rise
        return pressure, slope

    def fan_pa(self, flow_kg_s: float) -> float:
        return self._fan.pressure_pa(flow_kg_s)[0]
