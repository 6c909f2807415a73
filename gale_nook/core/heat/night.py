"""One night: warm-up, thermostat, set-back, fuel and current, on a lumped network of the load space."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum, auto

import numpy as np

from gale_nook.core.catalogue import Catalogue, HeaterSheet, Material
from gale_nook.core.heat.film import AIR_HEAT_CAPACITY_J_KGK, INSIDE_FILM_M2K_W, Flow, air_density_kg_m3
from gale_nook.core.heat.loss import HeatLoss, heat_loss
from gale_nook.core.heat.network import Network
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.stations import Night
from gale_nook.core.plan.vehicle import Layer

STEP_S = 30.0
SAMPLE_S = 300.0
FAST_SKIN_J_M2K = (
    4000.0  # what follows the air at once: textiles and the first millimetres of every face; workshop assumption
)
FURNISHING_FILM_W_M2K = 7.0  # air to furniture, convection and radiation; ISO 6946 inside film, rounded
FURNISHING_AREA_SHARE = 0.8  # of the floor's area, exposed; workshop assumption
START_DELAY_S = 120.0
RAMP_S = 150.0
BAND_K = 1.0  # full output this far under the set temperature
OFF_ABOVE_K = 1.0
ON_BELOW_K = 0.5
SETTLED_S = 3600.0  # after reaching the target; before that the air still swings over cold walls
AIR, LINING, FURNISHING = 0, 1, 2
OUTSIDE, CAB = 0, 1
FLOWS = {"roof": Flow.UP, "floor": Flow.DOWN}


class Phase(Enum):
    """What the heater is doing."""

    OFF = auto()
    STARTING = auto()
    BURNING = auto()
    AFTER_RUN = auto()


@dataclass(frozen=True)
class Sample:
    """A point of the night's curve."""

    hour_h: float
    air_c: float
    set_c: float
    output_w: float
    fuel_l: float


@dataclass(frozen=True)
class NightResult:
    """What the night comes to.

    Attributes:
        to_target_s: from switching on to within ON_BELOW_K of the set temperature; None when never.
        lowest_c: lowest air temperature once settled, an hour after the target was first reached; over the whole
            night when it never was.
        idle_share, cycling_share: share of the burning time at least output; of the whole time off or starting after
            the first start.
        heat_j, lost_j, stored_j: the energy balance.
    """

    samples: tuple[Sample, ...]
    to_target_s: float | None
    lowest_c: float
    fuel_l: float
    electricity_wh: float
    starts: int
    idle_share: float
    cycling_share: float
    heat_j: float
    lost_j: float
    stored_j: float


def load_space(plan: Plan, catalogue: Catalogue) -> tuple[Network, HeatLoss]:
    """Return the network of the load space: air with fast mass, lining, furnishings; fixed: outside and cab.

    Faces lose through the lining; windows, doors, ribs and the renewed air lose from the air directly. In the
    steady state the network loses what `heat_loss` says.
    """
    loss = heat_loss(plan, catalogue)
    capacities, links, fixed = np.zeros(3), np.zeros((3, 3)), np.zeros((3, 2))
    air_kg = air_density_kg_m3(plan.heat.altitude_m, plan.heat.inside_c) * loss.volume_m3
    faces_m2 = sum(element.area_m2 or 0.0 for element in loss.elements)
    capacities[AIR] = air_kg * AIR_HEAT_CAPACITY_J_KGK + faces_m2 * FAST_SKIN_J_M2K
    fixed[AIR, OUTSIDE] = loss.ventilation_w / (plan.heat.inside_c - loss.outside_c)
    stacks = {surface.id: surface.layers for surface in plan.heat.surfaces}
    film_w_k, through = 0.0, np.zeros(2)
    for element in loss.elements:
        if element.build_up is None:
            fixed[AIR, OUTSIDE] += element.conductance_w_k
            continue
        area = element.area_m2 or 0.0
        film_w_k += area / INSIDE_FILM_M2K_W[FLOWS.get(element.face, Flow.SIDEWAYS)]
        through[CAB if element.face == "bulkhead" else OUTSIDE] += element.conductance_w_k
        layers = plan.vehicle.floor.layers if element.face == "floor" else stacks[element.face]  # type: ignore[index]
        capacities[LINING] += area * lining_j_m2k(layers, catalogue)
    if film_w_k > 0:
        # one lining for all faces; behind it what makes up, with the film, the sum of their U·A
        links[AIR, LINING] = links[LINING, AIR] = film_w_k
        total = through.sum()
        fixed[LINING] = through / total / (1 / total - 1 / film_w_k)
    floor_m2 = loss.volume_m3 / (plan.vehicle.shell.inside_height_mm / 1000)
    links[AIR, FURNISHING] = links[FURNISHING, AIR] = FURNISHING_FILM_W_M2K * FURNISHING_AREA_SHARE * floor_m2
    capacities[FURNISHING] = max(plan.heat.night.furnishing_kj_k, 1.0) * 1000
    capacities[LINING] = max(capacities[LINING], 1000.0)
    return Network(capacities, links, fixed), loss


def lining_j_m2k(layers: tuple[Layer, ...], catalogue: Catalogue) -> float:
    """Return the heat capacity that follows the room: all layers inside the insulation, and half of the first of it."""
    total = 0.0
    for layer in layers:
        material: Material = catalogue.materials[layer.material]
        whole = material.density_kg_m3 * material.heat_capacity_j_kgk * layer.thickness_mm / 1000
        if material.use == "insulation":
            return total + whole / 2
        total += whole
    return total


class Burner:
    """The heater with its start delay, ramp, modulation, cycling and after-run; advanced in steps."""

    def __init__(self, sheet: HeaterSheet, most_w: float) -> None:
        self.sheet = sheet
        self.least_w, self.most_w = sheet.output.minimum_w, max(most_w, sheet.output.minimum_w)
        self.phase = Phase.OFF
        self.left_s = 0.0
        self.output_w = 0.0
        self.starts = 0

    def advance(self, air_c: float, set_c: float, step_s: float) -> float:
        """Decide for the coming step; returns the heat given over it in W."""
        self.left_s -= step_s
        if self.phase is Phase.OFF and air_c < set_c - ON_BELOW_K:
            self.phase, self.left_s, self.starts = Phase.STARTING, START_DELAY_S, self.starts + 1
        elif self.phase is Phase.STARTING and self.left_s <= 0:
            self.phase, self.output_w = Phase.BURNING, self.least_w
        elif self.phase is Phase.AFTER_RUN and self.left_s <= 0:
            self.phase = Phase.OFF
        if self.phase is not Phase.BURNING:
            self.output_w = 0.0
            return 0.0
        if air_c > set_c + OFF_ABOVE_K:
            self.phase, self.left_s, self.output_w = Phase.AFTER_RUN, self.sheet.electrical.after_run_s, 0.0
            return 0.0
        wanted = self.most_w * (set_c + BAND_K / 2 - air_c) / BAND_K
        ramp = (self.most_w - self.least_w) * step_s / RAMP_S
        wanted = min(max(wanted, self.output_w - ramp), self.output_w + ramp)
        self.output_w = min(max(wanted, self.least_w), self.most_w)
        return self.output_w

    def current_a(self) -> float:
        """Current drawn in this phase."""
        electrical = self.sheet.electrical
        if self.phase is Phase.STARTING:
            return electrical.glow_current_a
        if self.phase is Phase.OFF:
            return 0.0
        return electrical.run_minimum_a + self._share() * (electrical.run_maximum_a - electrical.run_minimum_a)

    def fuel_l_h(self) -> float:
        """Fuel rate, in proportion to the output; nothing unless it burns."""
        if self.phase is not Phase.BURNING:
            return 0.0
        output = self.sheet.output
        return output.fuel_l_h_minimum + self._share() * (output.fuel_l_h_maximum - output.fuel_l_h_minimum)

    def _share(self) -> float:
        span = self.sheet.output.maximum_w - self.least_w
        return min(max((self.output_w - self.least_w) / span, 0.0), 1.0)


def set_temperature_c(night: Night, inside_c: float, hour_h: float) -> float:
    """Return what the thermostat is set to at a time of day."""
    hour, start, end = hour_h % 24, night.night_from_h, night.night_to_h
    at_night = start <= hour < end if start <= end else hour >= start or hour < end
    return night.night_c if at_night else inside_c


@dataclass
class _Tally:
    """Sums over the night."""

    fuel_l: float = 0.0
    electricity_wh: float = 0.0
    heat_j: float = 0.0
    lost_j: float = 0.0
    burning_s: float = 0.0
    idle_s: float = 0.0
    off_s: float = 0.0
    to_target_s: float | None = None
    lowest_c: float = float("inf")


def simulate_night(plan: Plan, catalogue: Catalogue, sheet: HeaterSheet, most_w: float) -> NightResult:
    """Return the night with a heater of the catalogue.

    Each step is integrated exactly for constant heater output and outside temperature (modal solution of the linear
    network); the heater decides once a step of STEP_S.

    Args:
        most_w: the heater's greatest output where the vehicle stands.
    """
    night, inside_c = plan.heat.night, plan.heat.inside_c
    room = Room(plan, catalogue)
    burner, tally, samples = Burner(sheet, most_w), _Tally(), []
    steps, every = round(night.hours_h * 3600 / STEP_S), round(SAMPLE_S / STEP_S)
    for step in range(steps):
        hour = night.start_h + step * STEP_S / 3600
        target = set_temperature_c(night, inside_c, hour)
        output = burner.advance(room.air_c, target, STEP_S)
        if step % every == 0:
            samples.append(Sample(hour, room.air_c, target, output, tally.fuel_l))
        room.advance(output)
        _count(tally, burner, output, (step + 1) * STEP_S, room.air_c, target)
    held = tally.to_target_s is not None and tally.lowest_c < float("inf")
    return NightResult(
        samples=tuple(samples),
        to_target_s=tally.to_target_s,
        lowest_c=tally.lowest_c if held else min(sample.air_c for sample in samples),
        fuel_l=tally.fuel_l,
        electricity_wh=tally.electricity_wh,
        starts=burner.starts,
        idle_share=tally.idle_s / tally.burning_s if tally.burning_s else 0.0,
        cycling_share=tally.off_s / (steps * STEP_S),
        heat_j=tally.heat_j,
        lost_j=room.lost_j,
        stored_j=room.stored_j(),
    )


class Room:
    """The load space through the night, at a constant outside temperature.

    Three nodes, written out: a loop over them would cost more than the sums.
    """

    def __init__(self, plan: Plan, catalogue: Catalogue) -> None:
        network, loss = load_space(plan, catalogue)
        heat = plan.heat
        fixed = network.heat_from_fixed_w((loss.outside_c, loss.cab_c))
        phi, gamma = network.stepper(STEP_S)
        self._phi = [float(value) for value in phi.ravel()]
        self._drift = [float(value) for value in gamma @ fixed]
        self._gain = [float(value) for value in gamma[:, AIR]]
        self._leaks = [float(value) for value in network.fixed_w_k.sum(axis=1)]
        self._from_fixed_w = float(fixed.sum())
        self._capacities = [float(value) for value in network.capacities_j_k]
        self.start_c = heat.outside_c if heat.night.start_c is None else heat.night.start_c
        self.air_c = self.lining_c = self.furnishing_c = self.start_c
        self._leaving_w = self._leaving()
        self.lost_j = 0.0

    def advance(self, heat_w: float) -> None:
        """Go one step with heat into the air."""
        p, d, g = self._phi, self._drift, self._gain
        a, b, c = self.air_c, self.lining_c, self.furnishing_c
        self.air_c = p[0] * a + p[1] * b + p[2] * c + d[0] + g[0] * heat_w
        self.lining_c = p[3] * a + p[4] * b + p[5] * c + d[1] + g[1] * heat_w
        self.furnishing_c = p[6] * a + p[7] * b + p[8] * c + d[2] + g[2] * heat_w
        before, self._leaving_w = self._leaving_w, self._leaving()
        # the loss bends little over a step: its middle is good to a millionth of the night's heat
        self.lost_j += (before + self._leaving_w) / 2 * STEP_S

    def _leaving(self) -> float:
        leaks = self._leaks
        return leaks[0] * self.air_c + leaks[1] * self.lining_c + leaks[2] * self.furnishing_c - self._from_fixed_w

    def stored_j(self) -> float:
        """Heat taken up since the start."""
        now = (self.air_c, self.lining_c, self.furnishing_c)
        return sum(capacity * (t - self.start_c) for capacity, t in zip(self._capacities, now, strict=True))


def _count(tally: _Tally, burner: Burner, output_w: float, passed_s: float, air_c: float, set_c: float) -> None:
    tally.heat_j += output_w * STEP_S
    tally.fuel_l += burner.fuel_l_h() * STEP_S / 3600
    tally.electricity_wh += burner.current_a() * burner.sheet.electrical.voltage_v * STEP_S / 3600
    reached = tally.to_target_s
    if burner.phase is Phase.BURNING:
        tally.burning_s += STEP_S
        tally.idle_s += STEP_S if output_w <= burner.least_w * 1.001 else 0.0
    elif reached is not None:
        tally.off_s += STEP_S
    if reached is None:
        if air_c >= set_c - ON_BELOW_K:
            tally.to_target_s = passed_s
    elif passed_s > reached + SETTLED_S:
        tally.lowest_c = min(tally.lowest_c, air_c)
