"""The load space as a lumped network, stepped through time."""

from __future__ import annotations

import copy
from collections.abc import Callable
from typing import Any

import numpy as np

from gale_nook.core.base.material import Material
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.ahead import Ahead, Law, Response
from gale_nook.core.heat.envelope import face_area_m2, flow_of
from gale_nook.core.heat.film import AIR_HEAT_CAPACITY_J_KGK, INSIDE_FILM_M2K_W, air_density_kg_m3
from gale_nook.core.heat.loss import HeatLoss, heat_loss
from gale_nook.core.heat.network import Network
from gale_nook.core.job import with_own_book
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.vehicle import Layer

STEP_S = 20.0
HALVINGS = 5  # of a step in which the heater switches over: to within a second
# what follows the air at once: textiles and the first millimetres of every face; workshop
# assumption
FAST_SKIN_J_M2K = 4000.0
FURNISHING_FILM_W_M2K = (
    7.0  # air to furniture, convection and radiation; ISO 6946 inside film, rounded
)
FURNISHING_AREA_SHARE = 0.8  # of the floor's area, exposed; workshop assumption
LEAST_J_K, LEAST_W_K = 1000.0, 0.1  # every node stores something and is joined to the air
VENTILATION = "-ventilation-"  # the renewed air among the elements
AIR, LINING, FURNISHING = 0, 1, 2
OUTSIDE, CAB = 0, 1


def load_space(plan: Plan, catalogue: Catalogue) -> tuple[Network, HeatLoss]:
    """Return the network of the load space: air with fast mass, lining, furnishings; fixed: outside
    and cab.

    Faces lose through the lining; windows, doors, ribs and the renewed air lose from the air
    directly. In the steady state the network loses what `heat_loss` says.
    """
    catalogue = with_own_book(plan, catalogue)
    loss = heat_loss(plan, catalogue)
    return room_network(plan, catalogue, loss, lambda _: 1.0, 1.0), loss


def room_network(
    plan: Plan,
    catalogue: Catalogue,
    loss: HeatLoss,
    share_of: Callable[[str], float],
    floor_share: float,
) -> Network:
    """Return the network of a part of the load space.

    Args:
        share_of: returns the part of an element, or of VENTILATION, that belongs to it.
        floor_share: of the floor's area, and of what stands on it.
    """
    capacities = np.zeros(3)
    links = np.zeros((3, 3))
    fixed = np.zeros((3, 2))
    air_kg = air_density_kg_m3(plan.heat.altitude_m, plan.heat.inside_c) * loss.volume_m3
    faces_m2 = sum(share_of(element.id) * (element.area_m2 or 0.0) for element in loss.elements)
    air_share = share_of(VENTILATION)
    capacities[AIR] = air_share * air_kg * AIR_HEAT_CAPACITY_J_KGK + faces_m2 * FAST_SKIN_J_M2K
    fixed[AIR, OUTSIDE] = air_share * loss.ventilation_w / (plan.heat.inside_c - loss.outside_c)
    stacks = {surface.id: surface.layers for surface in plan.heat.surfaces}
    film_w_k, through = 0.0, np.zeros(2)
    for element in loss.elements:
        part = share_of(element.id)
        if element.build_up is None:
            fixed[AIR, OUTSIDE] += part * element.conductance_w_k
            continue
        area = part * (element.area_m2 or 0.0)
        film_w_k += area / INSIDE_FILM_M2K_W[flow_of(element.face)]
        through[CAB if element.face in {"bulkhead", "curtain"} else OUTSIDE] += (
            part * element.conductance_w_k
        )
        layers = plan.vehicle.floor.layers if element.face == "floor" else stacks[element.face]  # type: ignore[index]
        capacities[LINING] += area * lining_j_m2k(layers, catalogue)
    floor_m2 = floor_share * face_area_m2(plan.vehicle.shell, "floor")
    if film_w_k > 0:
        # one lining for all faces; behind it what makes up, with the film, the sum of their U·A
        links[AIR, LINING] = links[LINING, AIR] = film_w_k
        total = through.sum()
        fixed[LINING] = through / total / (1 / total - 1 / film_w_k)
    else:
        links[AIR, LINING] = links[LINING, AIR] = LEAST_W_K
    links[AIR, FURNISHING] = links[FURNISHING, AIR] = max(
        FURNISHING_FILM_W_M2K * FURNISHING_AREA_SHARE * floor_m2, LEAST_W_K
    )
    capacities[AIR] = max(capacities[AIR], LEAST_J_K)
    capacities[FURNISHING] = max(floor_share * plan.heat.night.furnishing_kj_k, 1.0) * 1000
    capacities[LINING] = max(capacities[LINING], LEAST_J_K)
    return Network(capacities, links, fixed)


def lining_j_m2k(layers: tuple[Layer, ...], catalogue: Catalogue) -> float:
    """Return the heat capacity that follows the room: all layers inside the insulation, and half of
    the first of it.
    """
    total = 0.0
    for layer in layers:
        material: Material = catalogue.materials[layer.material]
        whole = material.density_kg_m3 * material.heat_capacity_j_kgk * layer.thickness_mm / 1000
        if material.use == "insulation":
            return total + whole / 2
        total += whole
    return total


class _Step:
    """A step of the network as plain numbers: a loop over arrays of three would cost more."""

    def __init__(self, network: Network, fixed: Any, step_s: float) -> None:
        phi, gamma = network.stepper(step_s)
        self.step_s = step_s
        self.phi = [float(value) for value in phi.ravel()]
        self.drift = [float(value) for value in gamma @ fixed]
        self.gain = [float(value) for value in gamma[:, AIR]]


class LoadSpace:
    """The load space through the night, at a constant outside temperature.

    Three nodes, written out: a loop over them would cost more than the sums.
    """

    sensor = AIR

    def __init__(self, plan: Plan, catalogue: Catalogue) -> None:
        network, loss = load_space(plan, catalogue)
        heat = plan.heat
        fixed = network.heat_from_fixed_w((loss.outside_c, loss.cab_c))
        self._network, self._fixed_w = network, fixed
        self._steps: dict[int, _Step] = {}
        self._responses: dict[Law, Response] = {}
        self._leaks = [float(value) for value in network.fixed_w_k.sum(axis=1)]
        self._from_fixed_w = float(fixed.sum())
        self._capacities = [float(value) for value in network.capacities_j_k]
        self.start_c = heat.outside_c if heat.night.start_c is None else heat.night.start_c
        self.air_c = self.lining_c = self.furnishing_c = self.start_c
        self._leaving_w = self._leaving()
        self.lost_j = 0.0

    def fresh(self, start_c: float | None = None) -> LoadSpace:
        """Return the same load space for another run, from another temperature throughout if one
        is given; only good before this one's first step.
        """
        other = copy.copy(self)
        if start_c is not None:
            other.start_c = start_c
            other.air_c = other.lining_c = other.furnishing_c = start_c
            other._leaving_w = other._leaving()
        return other

    def celsius(self) -> Any:
        """Return the temperature of each node, (n,)."""
        return np.array((self.air_c, self.lining_c, self.furnishing_c))

    def blow(self, blowing: bool) -> None:
        """Say whether the heater's fan turns; in one room that moves no heat."""

    def air_after(self, level: int = 0) -> tuple[float, float]:
        """Return the air after a step without heat, and by how much each watt raises it.

        Args:
            level: how often the step is halved.
        """
        step = self._step(level)
        p = step.phi
        free_c = p[0] * self.air_c + p[1] * self.lining_c + p[2] * self.furnishing_c
        return free_c + step.drift[0], step.gain[0]

    def advance(self, heat_w: float, level: int = 0) -> None:
        """Go one step with heat into the air.

        Args:
            level: how often the step is halved.
        """
        step = self._step(level)
        p, d, g = step.phi, step.drift, step.gain
        a, b, c = self.air_c, self.lining_c, self.furnishing_c
        self.air_c = p[0] * a + p[1] * b + p[2] * c + d[0] + g[0] * heat_w
        self.lining_c = p[3] * a + p[4] * b + p[5] * c + d[1] + g[1] * heat_w
        self.furnishing_c = p[6] * a + p[7] * b + p[8] * c + d[2] + g[2] * heat_w
        before, self._leaving_w = self._leaving_w, self._leaving()
        # the loss bends little over a step: its middle is good to a millionth of the night's heat
        self.lost_j += (before + self._leaving_w) / 2 * step.step_s

    def ahead(self, law: Law) -> Ahead:
        """Return where the next steps lead with a heater that follows a law."""
        known = self._responses.get(law)
        if known is None:
            step = self._step(0)
            phi = np.array(step.phi).reshape(3, 3)
            known = Response(phi, np.array(step.drift), np.array(step.gain), AIR, law)
            self._responses[law] = known
        return known.ahead(self.celsius())

    def take(self, ahead: Ahead, count: int) -> None:
        """Go as many of the steps ahead."""
        leaving_ws = float((ahead.celsius[:count] @ self._leaks).sum()) - count * self._from_fixed_w
        before = self._leaving_w
        self.air_c, self.lining_c, self.furnishing_c = ahead.celsius[count - 1].tolist()
        self._leaving_w = self._leaving()
        self.lost_j += (leaving_ws + (before - self._leaving_w) / 2) * STEP_S

    def _step(self, level: int) -> _Step:
        known = self._steps.get(level)
        if known is None:
            known = self._steps[level] = _Step(self._network, self._fixed_w, STEP_S / 2**level)
        return known

    def _leaving(self) -> float:
        leaks = self._leaks
        return (
            leaks[0] * self.air_c
            + leaks[1] * self.lining_c
            + leaks[2] * self.furnishing_c
            - self._from_fixed_w
        )

    def stored_j(self) -> float:
        """Heat taken up since the start."""
        now = (self.air_c, self.lining_c, self.furnishing_c)
        return sum(
            capacity * (t - self.start_c) for capacity, t in zip(self._capacities, now, strict=True)
        )
