"""The burner's gas on its way out: flow, gas and skin temperature along the pipe,
bare or lagged.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.catalogue.pipes import PipeKind, PipePhysics
from gale_nook.core.errors import NotConverged
from gale_nook.core.heat.film import pressure_pa
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.physics.air import PRANDTL, conductivity_w_mk, viscosity_pa_s
from gale_nook.core.physics.constants import GRAVITY_M_S2, STEFAN_BOLTZMANN, ZERO_C_K
from gale_nook.core.physics.diesel_heat import LOWER_HEATING_VALUE_J_KG
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.spot.placement import heater_port

STOICHIOMETRIC_KG_KG = 14.5  # air to diesel; any combustion text
GAS_J_KGK = 1100.0  # lean diesel gas between 100 and 400 °C, close to that of hot air
GAS_CONSTANT_J_KGK = 288.0  # of lean diesel gas
STEP_MM = 100.0
PRANDTL_PART = (1 + (0.559 / PRANDTL) ** (9 / 16)) ** (8 / 27)
LAMINAR_NUSSELT = 3.66  # long round pipe at constant wall temperature; VDI Heat Atlas, G1
SOLVED_K = 1e-3
CONVECTION_POWER = 1.25  # natural convection rises about so with the difference of temperatures
MOST_STEPS = 60
SEA_LEVEL_PA = 101_325.0
ENTRY_DIAMETERS = (1.0, 1.5, 2.5, 4.0)  # where the entry's gain falls fast, steps are short


@dataclass(frozen=True, slots=True)
class BurnerFlow:
    """What the burner sends out at most output: masses a second, and the gas's temperature at the
    port.
    """

    fuel_kg_s: float
    air_kg_s: float
    gas_kg_s: float
    port_c: float


@dataclass(frozen=True, slots=True)
class AlongPipe:
    """A place along the pipe: distance from the port, gas and skin temperature, heat given off up
    to there.
    """

    distance_mm: float
    gas_c: float
    skin_c: float
    given_w: float


@dataclass(frozen=True, slots=True)
class Outer:
    """The outside of the pipe where it is: its diameter, how it radiates, what the lagging holds
    back (mK/W), and the pressure of the air around it.
    """

    diameter_m: float
    emissivity: float
    resistance_mk_w: float = 0.0
    air_pa: float = SEA_LEVEL_PA


@dataclass(frozen=True, slots=True)
class Inside:
    """The inside of the pipe where it is: its bore, and how much more heat comes through than in a
    long smooth pipe.
    """

    diameter_m: float
    gain: float = 1.0


@dataclass(frozen=True, slots=True)
class Lagged:
    """A stretch of pipe under some layers of lagging."""

    from_mm: float
    to_mm: float
    layers: int


@dataclass(frozen=True, slots=True)
class Pipe:
    """A pipe as the march needs it: outside diameter of the bare pipe, its kind, what is lagged,
    and the pressure of the air around it.
    """

    outer_m: float
    kind: PipeKind
    lagged: tuple[Lagged, ...] = ()
    works: PipePhysics | None = None
    air_pa: float = SEA_LEVEL_PA

    @property
    def inner_m(self) -> float:
        return self.outer_m - 2 * self.kind.wall_mm / 1000

    def outer_at(self, at_mm: float) -> Outer:
        """Return the outside at a distance from the port; where stretches of lagging overlap they
        add up.
        """
        layers = sum(
            stretch.layers for stretch in self.lagged if stretch.from_mm <= at_mm <= stretch.to_mm
        )
        if layers == 0 or self.works is None:
            return Outer(self.outer_m, self.kind.emissivity, 0.0, self.air_pa)
        lagged_m = self.outer_m + 2 * layers * self.works.lagging_mm / 1000
        resistance = math.log(lagged_m / self.outer_m) / (2 * math.pi * self.works.lagging_w_mk)
        return Outer(lagged_m, self.works.lagging_emissivity, resistance, self.air_pa)

    def inside_gain(self, at_mm: float) -> float:
        """Return how much more heat comes through at a distance from the port than in a long smooth
        pipe: the corrugation's gain, and that of the entry.

        Source of the entry term: V. Gnielinski, VDI Heat Atlas, G1, equation 26 (the mean up to
        there, which is more than the local value).
        """
        far = max(at_mm / 1000 / self.inner_m, 1.0)
        return float(self.kind.corrugation_gain * (1 + far ** (-2 / 3)))


@dataclass(frozen=True)
class GasRun:
    """The whole run.

    Attributes:
        along: from the port to the mouth, at most STEP_MM apart.
        ambient_c: of the air around the pipe.
    """

    flow: BurnerFlow
    along: tuple[AlongPipe, ...]
    ambient_c: float

    def at(self, distance_mm: float) -> AlongPipe:
        """Return the place nearest to a distance from the port."""
        return min(self.along, key=lambda place: abs(place.distance_mm - distance_mm))

    def gas_c_at(self, distance_mm: float) -> float:
        """Return the gas's temperature at a distance from the port, between the places worked
        out.
        """
        places = self.along
        return float(
            np.interp(distance_mm, [p.distance_mm for p in places], [p.gas_c for p in places])
        )


def burner_flow(sheet: HeaterSheet, density_kg_m3: float, intake_c: float) -> BurnerFlow:
    """Return the flow at most output, by mass and energy balance of the burner.

    What is not useful heat leaves with the gas; losses through the casing are left out, so the gas
    is rather too hot.

    Args:
        density_kg_m3: of the chosen grade at 15 °C, by which the sheet's litres are weighed.
    """
    output = sheet.output
    fuel = output.fuel_l_h_maximum * density_kg_m3 / 1000 / 3600
    air = fuel * STOICHIOMETRIC_KG_KG * output.excess_air
    lost_w = fuel * LOWER_HEATING_VALUE_J_KG * (1 - output.efficiency)
    return BurnerFlow(fuel, air, fuel + air, intake_c + lost_w / ((fuel + air) * GAS_J_KGK))


def diesel_kg_m3(job: Job) -> float:
    """Return the density at 15 °C of the diesel that the job runs on."""
    return job.catalogue.fuel_equipment.grade(job.plan.fuel.grade).density_kg_m3


@fact
def exhaust_gas(job: Job, ambient_c: float) -> GasRun | None:
    """Return the exhaust's gas from port to mouth at most output in air of some temperature; None
    without a run.
    """
    run = pipe_run(job, "exhaust")
    sheet = heater_sheet(job)
    route = job.plan.pipes.exhaust
    if run is None or sheet is None or route is None:
        return None
    flow = burner_flow(sheet, diesel_kg_m3(job), ambient_c)
    lagged = tuple(Lagged(f.at_mm, f.end_mm, f.layers) for f in route.of_kind("lagging"))
    outer_m = heater_port(job, "exhaust").diameter_mm / 1000
    kind, works = job.catalogue.pipes["exhaust"], job.catalogue.pipe_physics
    pipe = Pipe(outer_m, kind, lagged, works, pressure_pa(job.plan.heat.altitude_m))
    along = march(flow, pipe, run.length_mm, ambient_c)
    return GasRun(flow, along, ambient_c)


def march(
    flow: BurnerFlow, pipe: Pipe, length_mm: float, ambient_c: float, step_mm: float = STEP_MM
) -> tuple[AlongPipe, ...]:
    """Return temperatures along a pipe in still air, marched in steps whose heat is taken at their
    middle.

    Inside by forced convection, outside by natural convection and radiation; the thin wall has no
    resistance and carries nothing along. The skin of a lagged stretch is the lagging's.
    """
    gas, given, at = flow.port_c, 0.0, 0.0
    outer = pipe.outer_at(0.0)

    def skin_at(gas_c: float, at_mm: float, outer: Outer, near_c: float | None = None) -> float:
        inside = Inside(pipe.inner_m, pipe.inside_gain(at_mm))
        return skin_c(gas_c, flow, inside, outer, ambient_c, near_c)

    results = [AlongPipe(0.0, gas, skin_at(gas, 0.0, outer), 0.0)]
    for end in _steps(length_mm, step_mm, pipe):
        step_m, half_mm, here = (end - at) / 1000, (at + end) / 2, pipe.outer_at((at + end) / 2)
        skin = results[-1].skin_c if here == outer else skin_at(gas, at, here)
        outer = here
        first = outside_w_m(skin, outer, ambient_c)
        middle = gas - first * step_m / 2 / (flow.gas_kg_s * GAS_J_KGK)
        halfway = skin_at(middle, half_mm, outer, skin)
        loss = outside_w_m(halfway, outer, ambient_c) * step_m
        gas = gas - loss / (flow.gas_kg_s * GAS_J_KGK)
        given = given + loss
        at = end
        results.append(AlongPipe(end, gas, skin_at(gas, end, outer, halfway), given))
    return tuple(results)


def _steps(length_mm: float, step_mm: float, pipe: Pipe) -> list[float]:
    """Return the ends of the steps: even ones between the edges of what is lagged, short ones where
    the entry still counts.
    """
    entry = {share * pipe.inner_m * 1000 for share in ENTRY_DIAMETERS}
    lagged = {edge for stretch in pipe.lagged for edge in (stretch.from_mm, stretch.to_mm)}
    edges = sorted({min(max(e, 0.0), length_mm) for e in (*lagged, *entry, 0.0, length_mm)})
    ends = []
    for start, end in itertools.pairwise(edges):
        count = max(1, math.ceil((end - start) / step_mm))
        ends += [start + (end - start) * share / count for share in range(1, count)] + [end]
    return ends


def skin_c(
    gas_c: float,
    flow: BurnerFlow,
    bore: Inside,
    outer: Outer,
    ambient_c: float,
    near_c: float | None = None,
) -> float:
    """Return the outer skin's temperature at which as much comes through from the gas as is given
    off.

    By Newton's rule with a slope that is near enough; what is given off rises with the skin, so
    there is one such temperature.

    Args:
        near_c: a temperature to begin from, such as the skin's a step before.
    """
    film = bore.gain * inside_w_m2k(gas_c, flow.gas_kg_s, bore.diameter_m)
    inside = film * math.pi * bore.diameter_m
    inside = 1 / (1 / inside + outer.resistance_mk_w)
    skin = near_c if near_c is not None else (gas_c + ambient_c) / 2
    for _ in range(MOST_STEPS):
        skin = min(max(skin, ambient_c), gas_c)
        given, slope = _given_w_m(skin, outer, ambient_c)
        step = (inside * (gas_c - skin) - given) / (inside + slope)
        skin += step
        if abs(step) < SOLVED_K:
            return min(max(skin, ambient_c), gas_c)
    raise NotConverged("skin temperature", MOST_STEPS, abs(step))


def _given_w_m(skin: float, outer: Outer, ambient_c: float) -> tuple[float, float]:
    """What a metre gives off, and about how fast that rises with the skin's temperature, W/(mK)."""
    given = outside_w_m(skin, outer, ambient_c)
    difference = max(skin - ambient_c, SOLVED_K)
    radiated = math.pi * outer.diameter_m * outer.emissivity * STEFAN_BOLTZMANN
    radiation = radiated * ((skin + ZERO_C_K) ** 4 - (ambient_c + ZERO_C_K) ** 4)
    return given, CONVECTION_POWER * (given - radiation) / difference + 4 * radiated * (
        skin + ZERO_C_K
    ) ** 3


def inside_w_m2k(gas_c: float, gas_kg_s: float, inner_m: float) -> float:
    """Return the film coefficient inside a long smooth pipe, W/(m²K): Gnielinski's for turbulent
    flow, or the laminar constant if larger. What a corrugation and the entry add comes on top
    (`Pipe.inside_gain`).

    A corrugated wall trips the flow early, so the turbulent one is carried on below Re 2300: rather
    too hot than too cold, and without a step at which a hotter gas would cool the skin.

    Source: V. Gnielinski, Forschung im Ingenieurwesen 41, 1975, equation for gases.
    """
    reynolds = 4 * gas_kg_s / (math.pi * inner_m * viscosity_pa_s(gas_c))
    turbulent = 0.0214 * (reynolds**0.8 - 100) * PRANDTL**0.4
    return float(max(turbulent, LAMINAR_NUSSELT) * conductivity_w_mk(gas_c) / inner_m)


def outside_w_m(skin: float, outer: Outer, ambient_c: float) -> float:
    """Return the heat given off by a metre of level pipe in still air of the place's pressure:
    natural convection and radiation.

    Source: S. W. Churchill, H. H. S. Chu, International Journal of Heat and Mass Transfer 18, 1975,
    1049.
    """
    film_c, outer_m = (skin + ambient_c) / 2, outer.diameter_m
    kinematic = viscosity_pa_s(film_c) * GAS_CONSTANT_J_KGK * (film_c + ZERO_C_K) / outer.air_pa
    difference = max(skin - ambient_c, 0.0)
    grashof = GRAVITY_M_S2 * difference / (film_c + ZERO_C_K) * outer_m**3 / kinematic**2
    nusselt = (0.6 + 0.387 * (grashof * PRANDTL) ** (1 / 6) / PRANDTL_PART) ** 2
    convection = nusselt * conductivity_w_mk(film_c) / outer_m * difference
    radiation = (
        outer.emissivity * STEFAN_BOLTZMANN * ((skin + ZERO_C_K) ** 4 - (ambient_c + ZERO_C_K) ** 4)
    )
    return float(math.pi * outer_m * (convection + radiation))
