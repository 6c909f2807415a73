"""The load space in zones through the night: each with air, lining and furnishings of its own."""

from __future__ import annotations

import copy
from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.ahead import Ahead, Law, Response
from gale_nook.core.heat.load_space import AIR, OUTSIDE, STEP_S, room_network
from gale_nook.core.heat.loss import HeatLoss, heat_loss
from gale_nook.core.heat.network import Network
from gale_nook.core.heat.zones import ZoneShares, zone_shares
from gale_nook.core.plan.air import LIVING
from gale_nook.core.plan.document import Plan

NODES = 3  # of each zone


def zoned_network(plan: Plan, catalogue: Catalogue) -> tuple[Network, HeatLoss, ZoneShares]:
    """Return the network of all zones: the nodes of the living space first, then of each zone, the
    air's first; fixed: outside and cab. What passes between a zone and the living space joins their
    air.
    """
    loss = heat_loss(plan, catalogue)
    shares = zone_shares(plan, catalogue, loss)
    count = NODES * len(shares.ids)
    capacities = np.zeros(count)
    links, fixed = np.zeros((count, count)), np.zeros((count, 2))
    for number, zone in enumerate(shares.ids):
        share_of = partial(shares.of, zone)
        part = room_network(plan, catalogue, loss, share_of, shares.floor_share[zone])
        own = slice(NODES * number, NODES * (number + 1))
        capacities[own], links[own, own], fixed[own] = (
            part.capacities_j_k,
            part.links_w_k,
            part.fixed_w_k,
        )
        air = NODES * number + AIR
        if zone in shares.own_w_k:  # the cab: what lies between is its exchange, not its loss
            fixed[own] = 0.0
            fixed[air, OUTSIDE] = shares.own_w_k[zone]
        if zone != LIVING:
            links[air, AIR] = links[AIR, air] = shares.exchange_w_k[zone]
    return Network(capacities, links, fixed), loss, shares


@dataclass(frozen=True, slots=True, eq=False)
class _Step:
    """A step of the network, its last row being what leaves it: one product for both.

    Attributes:
        phi, drift, gain: of the state, of nothing, and of each watt of the heater.
        sensor_k_per_w: the gain where the sensor hangs.
    """

    step_s: float
    phi: Any
    drift: Any
    gain: Any
    sensor_k_per_w: float

    @classmethod
    def of(
        cls, network: Network, step_s: float, vectors: tuple[Any, Any, Any], sensor: int
    ) -> _Step:
        """Return the step of a length; vectors: leaks to the fixed ones, heat from them, and what
        each node is given of a watt.
        """
        leaks, fixed_w, given = vectors
        phi, gamma = network.stepper(step_s)
        drift, gain = gamma @ fixed_w, gamma @ given
        return cls(
            step_s,
            np.vstack([phi, leaks @ phi]),
            np.append(drift, leaks @ drift),
            np.append(gain, leaks @ gain),
            float(gain[sensor]),
        )


class ZonedSpace:
    """The zones at a constant outside temperature, heated by the warm air that each gets.

    Air that is blown into a zone comes back through the living space to the heater: while the fan
    turns, that joins the air of both by what the flow carries.

    Args:
        heat_share: of the heater's output that each zone gets, over air of the inlet's temperature;
            what is missing of 1 is lost outside.
        flow_w_k: heat that the flow into each zone carries for each kelvin; 0 where none is blown.
    """

    def __init__(
        self,
        plan: Plan,
        catalogue: Catalogue,
        heat_share: Mapping[str, float],
        flow_w_k: Mapping[str, float],
    ) -> None:
        still, loss, shares = zoned_network(plan, catalogue)
        self.ids = shares.ids
        heat = plan.heat
        links = np.array(still.links_w_k)
        for number, zone in enumerate(self.ids[1:], 1):
            air = NODES * number + AIR
            links[air, AIR] += flow_w_k.get(zone, 0.0)
            links[AIR, air] += flow_w_k.get(zone, 0.0)
        blown = Network(still.capacities_j_k, links, still.fixed_w_k)
        self._networks = {False: still, True: blown}
        self._fixed_w: Any = still.heat_from_fixed_w((loss.outside_c, loss.cab_c))
        self._given = np.zeros(len(still.capacities_j_k))
        for number, zone in enumerate(self.ids):
            self._given[NODES * number + AIR] = heat_share.get(zone, 0.0)
        self._lost_share = 1.0 - float(self._given.sum())
        self.sensor = NODES * self.ids.index(plan.air.sensor_zone) + AIR
        self._leaks = still.fixed_w_k.sum(axis=1)
        self._from_fixed_w = float(self._fixed_w.sum())
        self._capacities = still.capacities_j_k
        self._steps: dict[tuple[bool, int], _Step] = {}
        self._responses: dict[tuple[bool, Law], Response] = {}
        self._blowing = False
        self.start_c = heat.outside_c if heat.night.start_c is None else heat.night.start_c
        self._begin()

    @property
    def air_c(self) -> float:
        """Where the thermostat's sensor hangs."""
        return float(self._celsius[self.sensor])

    @property
    def zone_c(self) -> dict[str, float]:
        """Air of every zone."""
        return {zone: float(self._celsius[node]) for zone, node in self.air_nodes.items()}

    @property
    def air_nodes(self) -> dict[str, int]:
        """The node of every zone's air."""
        return {zone: NODES * number + AIR for number, zone in enumerate(self.ids)}

    def fresh(self, start_c: float | None = None) -> ZonedSpace:
        """Return the same zones for another run, from another temperature throughout if one is
        given.
        """
        other = copy.copy(self)
        other.start_c = self.start_c if start_c is None else start_c
        other._blowing = False
        other._begin()
        return other

    def _begin(self) -> None:
        """Stand at the beginning: one temperature throughout, and nothing lost."""
        self._celsius = np.full(len(self._capacities), self.start_c)
        self._leaving_w = float(self._leaks @ self._celsius)  # with what comes from the fixed ones
        self._free: tuple[_Step, Any] | None = None
        self.lost_j = 0.0

    def celsius(self) -> Any:
        """Return the temperature of each node, (n,)."""
        return self._celsius

    def blow(self, blowing: bool) -> None:
        """Say whether the heater's fan turns."""
        self._blowing = blowing

    def air_after(self, level: int = 0) -> tuple[float, float]:
        """Return the sensor's air after a step without heat, and by how much each watt raises
        it.
        """
        step, free = self._without_heat(level)
        return float(free[self.sensor]), step.sensor_k_per_w

    def advance(self, heat_w: float, level: int = 0) -> None:
        """Go one step with heat from the heater."""
        step, free = self._without_heat(level)
        after = free + step.gain * heat_w
        self._free, self._celsius = None, after[:-1]
        before, self._leaving_w = self._leaving_w, float(after[-1])
        # the loss bends little over a step: its middle is good to a millionth of the night's heat
        leaving_w = (before + self._leaving_w) / 2 - self._from_fixed_w
        self.lost_j += (leaving_w + self._lost_share * heat_w) * step.step_s

    def ahead(self, law: Law) -> Ahead:
        """Return where the next steps lead with a heater that follows a law."""
        key = (self._blowing, law)
        known = self._responses.get(key)
        if known is None:
            step = self._step(0)
            whole = step.phi[:-1], step.drift[:-1], step.gain[:-1]
            known = self._responses[key] = Response(*whole, self.sensor, law)
        return known.ahead(self._celsius)

    def take(self, ahead: Ahead, count: int) -> None:
        """Go as many of the steps ahead."""
        heat_ws = float(ahead.output_w[:count].sum())
        leaving_w = ahead.celsius[:count] @ self._leaks
        before, self._leaving_w = self._leaving_w, float(leaving_w[-1])
        self._free, self._celsius = None, ahead.celsius[count - 1]
        leaving_ws = float(leaving_w.sum()) + (before - self._leaving_w) / 2
        leaving_ws += self._lost_share * heat_ws - count * self._from_fixed_w
        self.lost_j += leaving_ws * STEP_S

    def _without_heat(self, level: int) -> tuple[_Step, Any]:
        """The step, and where it leads without heat: asked for twice a step, worked out once."""
        step = self._step(level)
        if self._free is None or self._free[0] is not step:
            self._free = step, step.phi @ self._celsius + step.drift
        return self._free

    def stored_j(self) -> float:
        """Return the heat taken up since the start."""
        return float(self._capacities @ (self._celsius - self.start_c))

    def steady_c(self, heat_w: float) -> dict[str, float]:
        """Return the air of every zone where a constant output of the heater ends."""
        network = self._networks[True]
        sources = self._fixed_w + self._given * heat_w
        celsius = network.steady_c((0.0, 0.0), sources)
        return {zone: float(celsius[NODES * n + AIR]) for n, zone in enumerate(self.ids)}

    def _step(self, level: int) -> _Step:
        key = (self._blowing, level)
        known = self._steps.get(key)
        if known is None:
            network, step_s = self._networks[self._blowing], STEP_S / 2**level
            vectors = self._leaks, self._fixed_w, self._given
            known = self._steps[key] = _Step.of(network, step_s, vectors, self.sensor)
        return known
