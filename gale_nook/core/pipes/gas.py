"""The burner's gas on its way out: flow, temperature and skin along the pipe, and the back-pressure of each piece."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.catalogue import HeaterSheet, PipeKind
from gale_nook.core.derived import Derived
from gale_nook.core.errors import NotConverged
from gale_nook.core.fuel_energy import DIESEL_DENSITY_KG_L, LOWER_HEATING_VALUE_J_KG
from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.heat.film import STEFAN_BOLTZMANN, pressure_pa

STOICHIOMETRIC_KG_KG = 14.5  # air to diesel; any combustion text
GAS_J_KGK = 1100.0  # lean diesel gas between 100 and 400 °C, close to that of hot air
GAS_CONSTANT_J_KGK = 288.0  # of lean diesel gas
PRANDTL = 0.7
STEP_MM = 100.0
GRAVITY_M_S2 = 9.81
PRANDTL_PART = (1 + (0.559 / PRANDTL) ** (9 / 16)) ** (8 / 27)
LAMINAR_REYNOLDS = 2300.0
LAMINAR_NUSSELT = 3.66  # long round pipe at constant wall temperature; VDI Heat Atlas, G1
EXIT_K = 1.0  # the velocity head that is lost at the mouth
SOLVED_K = 1e-3
SOLVED_W_M = 1e-3
MOST_STEPS = 60


@dataclass(frozen=True, slots=True)
class BurnerFlow:
    """What the burner sends out at most output: masses a second, and the gas's temperature at the port."""

    fuel_kg_s: float
    air_kg_s: float
    gas_kg_s: float
    port_c: float


@dataclass(frozen=True, slots=True)
class AlongPipe:
    """A place along the pipe: distance from the port, gas and skin temperature, heat given off up to there."""

    distance_mm: float
    gas_c: float
    skin_c: float
    given_w: float


@dataclass(frozen=True, slots=True)
class PressurePiece:
    """One piece of the run and the pressure that it costs."""

    name: str
    drop_pa: float


@dataclass(frozen=True)
class GasRun:
    """The whole run.

    Attributes:
        along: from the port to the mouth, at most STEP_MM apart.
        pieces: straights, bends, silencer and mouth in order.
    """

    flow: BurnerFlow
    along: tuple[AlongPipe, ...]
    pieces: tuple[PressurePiece, ...]

    @property
    def back_pressure_pa(self) -> float:
        return sum(piece.drop_pa for piece in self.pieces)

    def at(self, distance_mm: float) -> AlongPipe:
        """Return the place nearest to a distance from the port."""
        return min(self.along, key=lambda place: abs(place.distance_mm - distance_mm))


def burner_flow(sheet: HeaterSheet, intake_c: float) -> BurnerFlow:
    """Return the flow at most output, by mass and energy balance of the burner.

    What is not useful heat leaves with the gas; losses through the casing are left out, so the gas is rather too hot.
    """
    output = sheet.output
    fuel = output.fuel_l_h_maximum * DIESEL_DENSITY_KG_L / 3600
    air = fuel * STOICHIOMETRIC_KG_KG * output.excess_air
    lost_w = fuel * LOWER_HEATING_VALUE_J_KG * (1 - output.efficiency)
    return BurnerFlow(fuel, air, fuel + air, intake_c + lost_w / ((fuel + air) * GAS_J_KGK))


def gas_run(derived: Derived) -> GasRun | None:
    """Return the exhaust's gas from port to mouth at most output in the coldest night's air; None without a run."""
    run, sheet = derived.exhaust, derived.sheet
    if run is None or sheet is None:
        return None
    heat, pipe = derived.plan.heat, derived.catalogue.pipes["exhaust"]
    flow = burner_flow(sheet, heat.outside_c)
    outer_m = sheet.exhaust.diameter_mm / 1000
    along = march(flow, outer_m, pipe, run.length_mm, heat.outside_c)
    air_pa = pressure_pa(heat.altitude_m)
    return GasRun(flow, along, tuple(_pieces(run, flow, along, outer_m, pipe, air_pa)))


def viscosity_pa_s(celsius: float) -> float:
    """Return the dynamic viscosity of air by Sutherland's law; within 2 % of lean gas. Source: ISO 2533, 2.11."""
    kelvin = celsius + 273.15
    return float(1.458e-6 * kelvin**1.5 / (kelvin + 110.4))


def conductivity_w_mk(celsius: float) -> float:
    """Return the thermal conductivity of air. Source: ISO 2533, 2.13."""
    kelvin = celsius + 273.15
    return float(2.648151e-3 * kelvin**1.5 / (kelvin + 245.4 * 10 ** (-12 / kelvin)))


def march(
    flow: BurnerFlow, outer_m: float, pipe: PipeKind, length_mm: float, ambient_c: float, step_mm: float = STEP_MM
) -> tuple[AlongPipe, ...]:
    """Return temperatures along a bare pipe in still air, marched in steps whose heat is taken at their middle.

    Inside by forced convection, outside by natural convection and radiation; the thin wall has no resistance and carries
    nothing along.
    """
    count = max(1, math.ceil(length_mm / step_mm))
    step_m = length_mm / 1000 / count
    gas, given = flow.port_c, 0.0
    skin = skin_c(gas, flow, outer_m, pipe, ambient_c)
    found = [AlongPipe(0.0, gas, skin, 0.0)]
    for index in range(1, count + 1):
        first = outside_w_m(skin, outer_m, pipe.emissivity, ambient_c)
        middle = gas - first * step_m / 2 / (flow.gas_kg_s * GAS_J_KGK)
        halfway = skin_c(middle, flow, outer_m, pipe, ambient_c)
        loss = outside_w_m(halfway, outer_m, pipe.emissivity, ambient_c) * step_m
        gas, given = gas - loss / (flow.gas_kg_s * GAS_J_KGK), given + loss
        skin = skin_c(gas, flow, outer_m, pipe, ambient_c)
        found.append(AlongPipe(index * step_m * 1000, gas, skin, given))
    return tuple(found)


def skin_c(gas_c: float, flow: BurnerFlow, outer_m: float, pipe: PipeKind, ambient_c: float) -> float:
    """Return the skin temperature at which as much comes through from the gas as is given off.

    By false position with the Illinois rule; what is given off rises with the skin, so there is one such temperature.
    """
    inner_m = outer_m - 2 * pipe.wall_mm / 1000
    inside = inside_w_m2k(gas_c, flow.gas_kg_s, inner_m) * math.pi * inner_m

    def surplus(skin: float) -> float:
        return inside * (gas_c - skin) - outside_w_m(skin, outer_m, pipe.emissivity, ambient_c)

    low, high = ambient_c, gas_c
    at_low, at_high = surplus(low), surplus(high)
    middle, here = low, at_low
    for _ in range(MOST_STEPS):
        if at_low <= 0 or high - low < SOLVED_K:
            return middle
        middle = (low * at_high - high * at_low) / (at_high - at_low)
        here = surplus(middle)
        if abs(here) < SOLVED_W_M:
            return middle
        # the end that stays is trusted half as much, so that it is not kept for ever
        if here > 0:
            low, at_low, at_high = middle, here, at_high / 2
        else:
            high, at_high, at_low = middle, here, at_low / 2
    raise NotConverged("skin temperature", MOST_STEPS, abs(here))


def inside_w_m2k(gas_c: float, gas_kg_s: float, inner_m: float) -> float:
    """Return the film coefficient inside, W/(m²K): Gnielinski when turbulent, the long pipe's constant when laminar.

    Source: V. Gnielinski, Forschung im Ingenieurwesen 41, 1975, equation for gases.
    """
    reynolds = 4 * gas_kg_s / (math.pi * inner_m * viscosity_pa_s(gas_c))
    turbulent = 0.0214 * (max(reynolds, LAMINAR_REYNOLDS) ** 0.8 - 100) * PRANDTL**0.4
    nusselt = max(turbulent, LAMINAR_NUSSELT) if reynolds > LAMINAR_REYNOLDS else LAMINAR_NUSSELT
    return nusselt * conductivity_w_mk(gas_c) / inner_m


def outside_w_m(skin: float, outer_m: float, emissivity: float, ambient_c: float) -> float:
    """Return the heat given off by a metre of level pipe in still air: natural convection and radiation.

    Source: S. W. Churchill, H. H. S. Chu, International Journal of Heat and Mass Transfer 18, 1975, 1049.
    """
    film_c = (skin + ambient_c) / 2
    kinematic = viscosity_pa_s(film_c) * GAS_CONSTANT_J_KGK * (film_c + 273.15) / 101_325
    difference = max(skin - ambient_c, 0.0)
    grashof = GRAVITY_M_S2 * difference / (film_c + 273.15) * outer_m**3 / kinematic**2
    nusselt = (0.6 + 0.387 * (grashof * PRANDTL) ** (1 / 6) / PRANDTL_PART) ** 2
    convection = nusselt * conductivity_w_mk(film_c) / outer_m * difference
    radiation = emissivity * STEFAN_BOLTZMANN * ((skin + 273.15) ** 4 - (ambient_c + 273.15) ** 4)
    return float(math.pi * outer_m * (convection + radiation))


def _pieces(
    run: RouteGeometry, flow: BurnerFlow, along: tuple[AlongPipe, ...], outer_m: float, pipe: PipeKind, air_pa: float
) -> list[PressurePiece]:
    """Return what each piece costs, at the gas's density where it is."""
    from fluids.fittings import bend_rounded
    from fluids.friction import friction_factor

    inner_m = outer_m - 2 * pipe.wall_mm / 1000
    area = math.pi * inner_m**2 / 4
    bends = {bend.corner: bend for bend in run.bends}
    found, passed = [], 0.0

    def head_and_friction(at_mm: float) -> tuple[float, float, float]:
        gas = min(along, key=lambda place: abs(place.distance_mm - at_mm)).gas_c
        density = air_pa / (GAS_CONSTANT_J_KGK * (gas + 273.15))
        speed = flow.gas_kg_s / density / area
        reynolds = density * speed * inner_m / viscosity_pa_s(gas)
        return density * speed**2 / 2, friction_factor(Re=reynolds, eD=pipe.roughness_mm / 1000 / inner_m), reynolds

    for straight in run.straights:
        length = max(straight.room_mm, 0.0)
        head, friction, _ = head_and_friction(passed + length / 2)
        found.append(PressurePiece(f"straight {straight.index + 1}", friction * length / 1000 / inner_m * head))
        passed += length
        bend = bends.get(straight.index + 1)
        if bend is not None:
            head, friction, _ = head_and_friction(passed + bend.arc_mm / 2)
            ratio = bend.radius_mm / 1000 / inner_m
            loss = bend_rounded(Di=inner_m, angle=bend.angle_deg, fd=friction, bend_diameters=ratio, method="Rennels")
            found.append(PressurePiece(f"bend {bend.corner}", float(loss) * head))
            passed += bend.arc_mm
    head, _, _ = head_and_friction(passed)
    return [*found, PressurePiece("silencer", pipe.silencer_k * head), PressurePiece("mouth", EXIT_K * head)]
