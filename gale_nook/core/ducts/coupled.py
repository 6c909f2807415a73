"""Flow and temperature of the air in ducts, solved in turn until they agree."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import NamedTuple

from gale_nook.core.ducts.air_state import (
    AirState,
    DuctState,
    OutletState,
    PieceState,
    outlet_state,
)
from gale_nook.core.ducts.free import WARM_AIR
from gale_nook.core.ducts.layout import SHARP_EDGED_K, Layout
from gale_nook.core.ducts.network import GROUND, Flows, Network, duct_losses_pa, solve, step_on
from gale_nook.core.ducts.pieces import pieces_of_ducts, resistances_of
from gale_nook.core.ducts.source import Source, heat_into_air
from gale_nook.core.ducts.throttles import Throttles
from gale_nook.core.ducts.warmth import conductance_w_mk
from gale_nook.core.errors import NotConverged
from gale_nook.core.incremental import same
from gale_nook.core.physics.air import HEAT_CAPACITY_J_KGK, HOTTEST_C

SETTLED_K = 1e-4
MOST_ROUNDS = 80
FAR_K = 60.0  # farther than this from rest, flows are solved anew
USUAL_KG_S, ROUGHLY = 0.03, 0.02
NEAR_K = 5.0  # nearer than this to rest, the output is changed too
FROZEN_K = 0.02  # nearer than this, the walls' conductance stays: it would change by 1e-4 of itself
DEGREES = 100.0  # a share of the output as kelvins at the warm end
STEEPEST = 0.9


class Along(NamedTuple):
    """The air on its way: in the middle of each piece, what each gives off, and where each duct
    begins and ends.
    """

    air_c: list[float]
    lost_w: list[float]
    starts_c: list[float]
    ends_c: list[float]


class CoupledSolver:
    """Flow and temperature of one layout at one output, in turn until they agree."""

    def __init__(
        self, plan_layout: Layout, output_w: float, how: Throttles, open_now: tuple[int, ...]
    ) -> None:
        self.layout = plan_layout
        self._burn(output_w)
        self.runs = [plan_layout.runs[number] for number in open_now]
        self.number = {run.duct.id: i for i, run in enumerate(self.runs)}
        self.pieces = pieces_of_ducts(plan_layout.pieces, open_now)
        self.last = {piece.duct: i for i, piece in enumerate(self.pieces)}
        self.loss_k = [piece.loss_k for piece in self.pieces]
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
            self.loss_k[self.last[i]] += self.layout.own_k[run.duct.id] / share**2
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
        return self.pieces[self.last[number]].place

    def solve(self, near: AirState | None, limit_c: float | None = None) -> AirState:
        """Return the state at the output, or with a limit at the output that meets it at the warm
        end.
        """
        inlet = self.layout.back.inlet_c
        known = self._known(near)
        if near is not None and near.flows is not None and known is not None and known[2]:
            air, skin, _ = known
            flows = step_on(self._network(air), near.flows.guess_kg_s)
        else:
            start = min(near.heater_c if near is not None else inlet + 60.0, HOTTEST_C)
            air = [start] * len(self.pieces)
            skin = [(start + piece.wall.ambient_c) / 2 for piece in self.pieces]
            if near is not None and known is not None and limit_c is not None:
                air, skin, _ = known
                self._burn(near.output_w)
            guess = near.total_kg_s if near is not None else USUAL_KG_S
            flows = solve(self._network(air), guess, ROUGHLY)
            if near is not None and limit_c is not None:
                self._towards(limit_c, flows.total_kg_s)
        change = math.inf
        for _ in range(MOST_ROUNDS):
            if change > FROZEN_K:
                conductance, skin = self._walls(flows.branch_kg_s, air, skin)
            along = self._along(flows.branch_kg_s, flows.total_kg_s, conductance)
            change = max(abs(new - old) for new, old in zip(along.air_c, air, strict=True))
            air = along.air_c
            if change < NEAR_K and limit_c is not None:
                change += DEGREES * self._towards(limit_c, flows.total_kg_s)
            if change < SETTLED_K:
                return self._state(flows, along, skin)
            network, start_from = self._network(air), flows.guess_kg_s
            if change < FAR_K:
                flows = step_on(network, start_from)
            else:
                flows = solve(network, start_from, ROUGHLY)
        raise NotConverged(WARM_AIR, MOST_ROUNDS, change)

    def _known(self, near: AirState | None) -> tuple[list[float], list[float], bool] | None:
        """Air and skin of each piece in a state of the same layout, and whether the same ducts are
        open there; None where it has none, or not for every piece.
        """
        if near is None or near.pieces is None or not same(near.layout, self.layout):
            return None
        blown = {duct.id for duct in near.ducts}
        if not self.number.keys() <= blown:
            return None
        names = (self.layout.runs[piece.duct].duct.id for piece in self.layout.pieces)
        kept = [name in self.number for name in names if name in blown]
        air = list(itertools.compress(near.pieces.air_c, kept))
        skin = list(itertools.compress(near.pieces.skin_c, kept))
        return air, skin, len(blown) == len(self.runs)

    def _walls(
        self, flow_kg_s: Sequence[float], air_c: Sequence[float], skin_c: Sequence[float]
    ) -> tuple[list[float], list[float]]:
        """Conductance and skin of each piece."""
        found = [
            conductance_w_mk(piece.wall, flow_kg_s[piece.duct], min(air, HOTTEST_C), skin)
            for piece, air, skin in zip(self.pieces, air_c, skin_c, strict=True)
        ]
        return [conductance for conductance, _ in found], [skin for _, skin in found]

    def _network(self, air_c: Sequence[float]) -> Network:
        told = (min(celsius, HOTTEST_C) for celsius in air_c)
        pieces = resistances_of(self.pieces, self.loss_k, told, self.layout.air_pa)
        room = self.layout.density_kg_m3(self.layout.back.inlet_c)
        areas = (self.layout.gaps_m2[zone] for zone in self.gaps)
        openings = [SHARP_EDGED_K / (2 * room * area**2) for area in areas]
        return Network(
            self.starts, self.ends, self.nodes, pieces, openings, self.source.pressure_pa
        )

    def heater_c(self, total_kg_s: float) -> float:
        flow = max(total_kg_s, 1e-6)
        return self.layout.back.inlet_c + self.heat_w / (flow * HEAT_CAPACITY_J_KGK)

    def _along(
        self, flow_kg_s: Sequence[float], total_kg_s: float, conductance: Sequence[float]
    ) -> Along:
        """March along the ducts, each after the one that it comes from."""
        found = Along([], [], [], [])
        now = heater_c = self.heater_c(total_kg_s)
        for piece, w_mk in zip(self.pieces, conductance, strict=True):
            if piece.duct == len(found.starts_c):
                before = self.runs[piece.duct].duct.comes_from
                now = found.ends_c[self.number[before]] if before is not None else heater_c
                found.starts_c.append(now)
                found.ends_c.append(now)
            carried = HEAT_CAPACITY_J_KGK * max(flow_kg_s[piece.duct], 1e-9)
            ambient = piece.wall.ambient_c
            half = math.exp(-w_mk * piece.length_m / carried / 2)
            middle = ambient + (now - ambient) * half
            after = ambient + (now - ambient) * half * half
            found.air_c.append(middle)
            found.lost_w.append(carried * (now - after))
            found.ends_c[piece.duct] = now = after
        return found

    def _state(self, flows: Flows, along: Along, skin_c: list[float]) -> AirState:
        lost: dict[str, float] = {}
        for piece, watts in zip(self.pieces, along.lost_w, strict=True):
            lost[piece.place] = lost.get(piece.place, 0.0) + watts
        pieces = resistances_of(self.pieces, self.loss_k, along.air_c, self.layout.air_pa)
        losses, _ = duct_losses_pa(pieces, flows.branch_kg_s, len(self.runs))
        ducts, outlets = [], []
        for i, run in enumerate(self.runs):
            flow, start, end = flows.branch_kg_s[i], along.starts_c[i], along.ends_c[i]
            density = self.layout.density_kg_m3((start + end) / 2)
            velocity = flow / density / _area_m2(run.kind.bore_mm)
            ducts.append(DuctState(run.duct.id, flow, start, end, losses[i], velocity))
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
            PieceState(along.air_c, skin_c, along.lost_w),
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
            _area_m2(bore_mm),
        )


def _area_m2(bore_mm: float) -> float:
    return math.pi * (bore_mm / 2000) ** 2
