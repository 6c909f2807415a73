"""Flow and temperature of the air in ducts, solved in turn until they agree."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from gale_nook.core.ducts.air_state import (
    AirState,
    DuctState,
    OutletState,
    PieceState,
    outlet_state,
)
from gale_nook.core.ducts.layout import SHARP_EDGED_K, Layout
from gale_nook.core.ducts.network import GROUND, Flows, Network, Openings, solve, step_on
from gale_nook.core.ducts.piece_arrays import pieces_of_ducts, resistances_of
from gale_nook.core.ducts.source import Source, heat_into_air
from gale_nook.core.ducts.throttles import Throttles
from gale_nook.core.ducts.warmth import conductance_w_mk
from gale_nook.core.errors import NotConverged
from gale_nook.core.physics.air import HEAT_CAPACITY_J_KGK, HOTTEST_C, density_kg_m3, viscosity_pa_s

SETTLED_K = 1e-4
MOST_ROUNDS = 80
FAR_K = 60.0  # farther than this from rest, flows are solved anew
USUAL_KG_S, ROUGHLY = 0.03, 0.02
NEAR_K = 5.0  # nearer than this to rest, the output is changed too
FROZEN_K = 0.02  # nearer than this, the walls' conductance stays: it would change by 1e-4 of itself
DEGREES = 100.0  # a share of the output as kelvins at the warm end
STEEPEST = 0.9


class CoupledSolver:
    """Flow and temperature of one layout at one output, in turn until they agree."""

    def __init__(
        self, plan_layout: Layout, output_w: float, how: Throttles, open_now: tuple[int, ...]
    ) -> None:
        if plan_layout.pieces is None:
            raise ValueError("there are no ducts")
        self.layout = plan_layout
        self._burn(output_w)
        self.runs = [plan_layout.runs[number] for number in open_now]
        self.number = {run.duct.id: i for i, run in enumerate(self.runs)}
        self.pieces = pieces_of_ducts(plan_layout.pieces, open_now)
        count = len(self.runs)
        self.spans = [np.flatnonzero(self.pieces.duct == i) for i in range(count)]
        self.loss_k = self.pieces.loss_k.copy()
        self._joins(how)

    def _burn(self, output_w: float) -> None:
        self.output_w = output_w
        self.speed, self.heat_w = heat_into_air(self.layout, output_w)
        self.source = Source(self.layout, self.speed)

    def _towards(self, limit_c: float, total_kg_s: float) -> float:
        """Go over to the output at which the warm end would be at a limit, were the flow in
        proportion to the fan's speed; return by how much that changed, as a share.
        """
        lay = self.layout
        per_watt = (limit_c - lay.back.inlet_c) * HEAT_CAPACITY_J_KGK * self.output_w / self.heat_w
        wanted = per_watt * total_kg_s
        faster = (1 - lay.fan.speed_at_minimum) / max(lay.most_w - lay.least_w, 1.0)
        rise = min(wanted / self.speed * faster, STEEPEST)
        output = self.output_w + (wanted - self.output_w) / (1 - rise)
        output = min(max(output, lay.least_w), lay.most_w)
        change = abs(output - self.output_w) / output
        self._burn(output)
        return change

    def _joins(self, how: Throttles) -> None:
        """Nodes, and the outlets' losses in the last piece of their ducts."""
        places: dict[str, int] = {}
        nodes = 1
        children = self.layout.children
        for run in self.runs:
            if any(child in self.number for child in children.get(run.duct.id, ())):
                places[run.duct.id], nodes = nodes, nodes + 1
        gaps: dict[str, int] = {}
        starts, ends = [], []
        self.zones: list[str] = []
        for i, run in enumerate(self.runs):
            before = run.duct.comes_from
            starts.append(places[before] if before is not None else 0)
            if run.duct.id in places:
                ends.append(places[run.duct.id])
                self.zones.append("")
                continue
            share = how.share(run.duct.id)
            self.loss_k[self.spans[i][-1]] += self.layout.own_k[run.duct.id] / share**2
            zone = self._zone_of(i)
            self.zones.append(zone)
            if zone in self.layout.gaps_m2 and zone not in gaps:
                gaps[zone], nodes = nodes, nodes + 1
            ends.append(gaps.get(zone, GROUND))
        self.starts = (*starts, *gaps.values())
        self.ends = (*ends, *(GROUND for _ in gaps))
        self.nodes, self.gaps = nodes, tuple(gaps)

    def _zone_of(self, number: int) -> str:
        outlet = self.runs[number].duct.outlet
        if outlet is not None:
            return outlet.zone
        return self.pieces.places[int(self.spans[number][-1])]

    def solve(self, near: AirState | None, limit_c: float | None = None) -> AirState:
        """Return the state at the output, or with a limit at the output that meets it at the warm
        end.
        """
        inlet = self.layout.back.inlet_c
        count = len(self.pieces.length_m)
        flows: Flows
        known = self._known(near)
        if near is not None and near.flows is not None and known is not None and known[2]:
            air, skin, _ = known
            flows = step_on(self._network(air), near.flows.guess_kg_s)
        else:
            start = min(near.heater_c if near is not None else inlet + 60.0, HOTTEST_C)
            air = np.full(count, start)
            skin = (air + self.pieces.walls.ambient_c) / 2
            if near is not None and known is not None and limit_c is not None:
                air, skin, _ = known
                self._burn(near.output_w)
            guess = near.total_kg_s if near is not None else USUAL_KG_S
            flows = solve(self._network(air), guess, ROUGHLY)
            if near is not None and limit_c is not None:
                self._towards(limit_c, flows.total_kg_s)
        conductance: Any = None
        change = math.inf
        for _ in range(MOST_ROUNDS):
            if change > FROZEN_K:
                conductance, skin = conductance_w_mk(
                    self.pieces.walls,
                    flows.branch_kg_s[self.pieces.duct],
                    np.minimum(air, HOTTEST_C),
                    skin,
                )
            new, ends = self._along(flows.branch_kg_s, flows.total_kg_s, conductance)
            change = float(np.abs(new - air).max())
            air = new
            if change < NEAR_K and limit_c is not None:
                change += DEGREES * self._towards(limit_c, flows.total_kg_s)
            if change < SETTLED_K:
                return self._state(flows, PieceState(air, skin, ends[1]), ends[0])
            network, start_from = self._network(air), flows.guess_kg_s
            if change < FAR_K:
                flows = step_on(network, start_from)
            else:
                flows = solve(network, start_from, ROUGHLY)
        raise NotConverged("temperature of the warm air", MOST_ROUNDS, change)

    def _known(self, near: AirState | None) -> tuple[Any, Any, bool] | None:
        """Air and skin of each piece in a state of the same layout, and whether the same ducts are
        open there; None where it has none, or not for every piece.
        """
        whole = self.layout.pieces
        if near is None or near.pieces is None or whole is None or near.layout is not self.layout:
            return None
        blown = {duct.id for duct in near.ducts}
        if not self.number.keys() <= blown:
            return None
        there = [run.duct.id in blown for run in self.layout.runs]
        here = [run.duct.id in self.number for run in self.layout.runs]
        kept = np.array(here)[whole.duct][np.array(there)[whole.duct]]
        return near.pieces.air_c[kept], near.pieces.skin_c[kept], len(blown) == len(self.runs)

    def _network(self, air_c: Any) -> Network:
        told = np.minimum(air_c, HOTTEST_C)
        density, viscosity = density_kg_m3(self.layout.air_pa, told), viscosity_pa_s(told)
        ducts = len(self.runs)
        branch = resistances_of(self.pieces, density, viscosity, self.loss_k, ducts)
        room = float(density_kg_m3(self.layout.air_pa, self.layout.back.inlet_c))
        areas = np.array([self.layout.gaps_m2[zone] for zone in self.gaps])
        openings = Openings(SHARP_EDGED_K / (2 * room * areas**2))
        return Network(
            self.starts, self.ends, self.nodes, branch, openings, self.source.pressure_pa
        )

    def heater_c(self, total_kg_s: float) -> float:
        flow = max(total_kg_s, 1e-6)
        return self.layout.back.inlet_c + self.heat_w / (flow * HEAT_CAPACITY_J_KGK)

    def _along(
        self, flow_kg_s: Any, total_kg_s: float, conductance: Any
    ) -> tuple[Any, tuple[list[tuple[float, float]], Any]]:
        """Air in the middle of each piece; (start, end) of each duct, and what each piece gives
        off.
        """
        per_flow = HEAT_CAPACITY_J_KGK * np.maximum(flow_kg_s[self.pieces.duct], 1e-9)
        decay = np.exp(-conductance * self.pieces.length_m / per_flow)
        # one after another along the ducts: numbers of Python's own are quicker than arrays here
        left, half = decay.tolist(), np.sqrt(decay).tolist()
        ambient, carried = self.pieces.walls.ambient_c.tolist(), per_flow.tolist()
        middle, lost = [0.0] * len(left), [0.0] * len(left)
        ends: list[tuple[float, float]] = []
        for i, run in enumerate(self.runs):
            before = run.duct.comes_from
            start = (
                ends[self.number[before]][1] if before is not None else self.heater_c(total_kg_s)
            )
            now = start
            for piece in self.spans[i].tolist():
                over = now - ambient[piece]
                middle[piece] = ambient[piece] + over * half[piece]
                after = ambient[piece] + over * left[piece]
                lost[piece] = carried[piece] * (now - after)
                now = after
            ends.append((start, now))
        return np.array(middle), (ends, np.array(lost))

    def _state(self, flows: Flows, pieces: PieceState, ends: list[tuple[float, float]]) -> AirState:
        lost: dict[str, float] = {}
        for place, watts in zip(self.pieces.places, pieces.lost_w.tolist(), strict=True):
            lost[place] = lost.get(place, 0.0) + watts
        branch = resistances_of(
            self.pieces,
            density_kg_m3(self.layout.air_pa, pieces.air_c),
            viscosity_pa_s(pieces.air_c),
            self.loss_k,
            len(self.runs),
        )
        losses, _ = branch.losses_pa(flows.branch_kg_s[: len(self.runs)])
        ducts, outlets = [], []
        for i, run in enumerate(self.runs):
            flow, (start, end) = float(flows.branch_kg_s[i]), ends[i]
            area = np.pi * (run.kind.bore_mm / 2000) ** 2
            density = float(density_kg_m3(self.layout.air_pa, (start + end) / 2))
            ducts.append(
                DuctState(
                    run.duct.id, flow, start, end, float(losses[i]), flow / density / float(area)
                )
            )
            if self.zones[i]:
                outlets.append(self._outlet(i, flow, end))
        return AirState(
            self.layout,
            self.output_w,
            self.speed,
            flows.total_kg_s,
            self.source.fan_pa(flows.total_kg_s),
            self.layout.back.inlet_c,
            self.heater_c(flows.total_kg_s),
            tuple(outlets),
            tuple(ducts),
            pieces,
            lost,
            self.output_w - self.heat_w,
            flows,
        )

    def _outlet(self, number: int, flow_kg_s: float, end_c: float) -> OutletState:
        run, zone = self.runs[number], self.zones[number]
        outlet = run.duct.outlet
        bore_mm = self.layout.outlet_bore_mm.get(run.duct.id, run.kind.bore_mm)
        return outlet_state(
            self.layout,
            (run.duct.id, outlet.name if outlet is not None else "open end", zone),
            flow_kg_s,
            end_c,
            float(np.pi * (bore_mm / 2000) ** 2),
        )
