"""How the need was worked out: each step with its own numbers put in."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heat.cab import cab_share
from gale_nook.core.heat.dew import dew_point_c, saturation_pressure_pa
from gale_nook.core.heat.envelope import hoops, rib_length_m
from gale_nook.core.heat.film import (
    AIR_HEAT_CAPACITY_J_KGK,
    air_density_kg_m3,
    density_ratio,
    pressure_pa,
)
from gale_nook.core.heat.loss import HeatLoss, heat_loss
from gale_nook.core.job import with_own_book
from gale_nook.core.physics.constants import AIR_CONSTANT_J_KGK, ZERO_C_K
from gale_nook.core.plan.document import Plan


@dataclass(frozen=True, slots=True)
class Step:
    """One step: what it is, the sum with its numbers, and what it comes to. SI units, as in the
    standards.
    """

    what: str
    sum: str
    result: str


def worked_out(plan: Plan, catalogue: Catalogue) -> tuple[tuple[str, tuple[Step, ...]], ...]:
    """Return the calculation by chapter: shell, bridges, air, need, dew point, altitude."""
    book = with_own_book(plan, catalogue)
    loss = heat_loss(plan, book)
    chapters = (
        ("Through the shell: U × area × difference", tuple(_shell(loss))),
        ("Ribs and cab", tuple(_bridges(plan, book, loss))),
        ("Air that is renewed", tuple(_air(plan, loss))),
        ("Need", tuple(_need(plan, loss))),
        ("Dew point", tuple(_dew(plan))),
        ("Altitude", tuple(_altitude(plan, book))),
    )
    return tuple((title, steps) for title, steps in chapters if steps)


def _shell(loss: HeatLoss) -> Iterator[Step]:
    for e in loss.elements:
        if e.area_m2 is not None and e.u_w_m2k is not None:
            numbers = f"{e.u_w_m2k:.3f} W/m²K × {e.area_m2:.3f} m² × {e.difference_k:.1f} K"
            yield Step(e.name, numbers, f"{e.loss_w:.1f} W")


def _bridges(plan: Plan, catalogue: Catalogue, loss: HeatLoss) -> Iterator[Step]:
    heat, shell = plan.heat, plan.vehicle.shell
    length = rib_length_m(plan.vehicle, heat)
    if heat.ribs.length_m is None and heat.ribs.pitch_mm is not None:
        around = (2 * shell.inside_height_mm + shell.floor_width_mm) / 1000
        along = (shell.rear_x_mm - shell.bulkhead_x_mm) / 1000
        numbers = (
            f"{hoops(plan.vehicle, heat)} hoops × {around:.2f} m + {heat.ribs.stringers} "
            f"lengthwise × {along:.2f} m"
        )
        yield Step("length of ribs", numbers, f"{length:.1f} m")
    for e in loss.elements:
        if e.id == "ribs":
            psi = catalogue.rib_kinds[heat.ribs.kind].psi_w_mk
            yield Step(
                e.name,
                f"ψ {psi:.2f} W/mK × {length:.1f} m × {e.difference_k:.1f} K",
                f"{e.loss_w:.1f} W",
            )
        elif e.id == "cab":
            yield Step(
                e.name, f"{e.conductance_w_k:.1f} W/K × {e.difference_k:.1f} K", f"{e.loss_w:.1f} W"
            )
    if heat.cab != "inside":
        share = cab_share(plan, catalogue)
        numbers = f"{loss.outside_c:.1f} °C + {share:.3f} × {heat.inside_c - loss.outside_c:.1f} K"
        yield Step("temperature of the cab", numbers, f"{loss.cab_c:.1f} °C")


def _air(plan: Plan, loss: HeatLoss) -> Iterator[Step]:
    heat, air = plan.heat, loss.air
    density = air_density_kg_m3(heat.altitude_m, loss.outside_c)
    yield Step(
        "renewed",
        f"{air.leaks_m3_h:.1f} m³/h by leaks + {air.vents_m3_h:.1f} m³/h by what is left open",
        (
            f"{air.total_m3_h:.1f} m³/h, {air.total_m3_h / loss.volume_m3:.2f} of "
            f"{loss.volume_m3:.1f} "
            "m³ an hour"
        ),
    )
    kelvin = loss.outside_c + ZERO_C_K
    numbers = (
        f"{pressure_pa(heat.altitude_m):.0f} Pa / ({AIR_CONSTANT_J_KGK} J/kgK × {kelvin:.2f} K)"
    )
    yield Step("density of the outside air", numbers, f"{density:.3f} kg/m³")
    numbers = (
        f"{air.total_m3_h:.1f} / 3600 × {density:.3f} × {AIR_HEAT_CAPACITY_J_KGK:.0f} J/kgK "
        f"× {heat.inside_c - loss.outside_c:.1f} K"
    )
    yield Step("carried off", numbers, f"{loss.ventilation_w:.1f} W")


def _need(plan: Plan, loss: HeatLoss) -> Iterator[Step]:
    shell_w = loss.design_loss_w - loss.ventilation_w
    yield Step(
        "design loss",
        f"{shell_w:.1f} W + {loss.ventilation_w:.1f} W",
        f"{loss.design_loss_w:.1f} W",
    )
    numbers = f"{loss.design_loss_w:.1f} W × (1 + {plan.heat.margin_percent:g} %)"
    yield Step("need with its margin", numbers, f"{loss.need_w:.1f} W")


def _dew(plan: Plan) -> Iterator[Step]:
    heat = plan.heat
    full = saturation_pressure_pa(heat.inside_c)
    held = full * heat.humidity_percent / 100
    yield Step(
        "vapour held",
        f"{heat.humidity_percent:g} % of {full:.0f} Pa at {heat.inside_c:.1f} °C",
        f"{held:.0f} Pa",
    )
    dew = dew_point_c(heat.inside_c, heat.humidity_percent)
    yield Step("dew point", f"where {held:.0f} Pa is all that the air can hold", f"{dew:.1f} °C")


def _altitude(plan: Plan, catalogue: Catalogue) -> Iterator[Step]:
    altitude = plan.heat.altitude_m
    ratio = density_ratio(altitude)
    yield Step(
        "density of air",
        f"(1 − 2.25577·10⁻⁵ × {altitude:.0f})^4.25588",
        f"{ratio:.4f} of that at sea level",
    )
    for sheet in catalogue.heaters.values():
        output, most = sheet.output, derated_w(sheet.output, altitude)
        if most == output.maximum_w:
            yield Step(
                sheet.label, f"compensated up to {output.compensated_to_m:.0f} m", f"{most:.0f} W"
            )
        else:
            held = density_ratio(min(output.compensated_to_m, max(altitude, 0.0)))
            yield Step(
                sheet.label, f"{output.maximum_w:.0f} W × {ratio:.4f} / {held:.4f}", f"{most:.0f} W"
            )
