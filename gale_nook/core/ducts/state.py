"""The warm air at one output of the heater: flows, pressures, temperatures, and where the heat
goes.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from gale_nook.core.ducts.fan import Fan, level_of_w
from gale_nook.core.ducts.layout import SHARP_EDGED_K, Layout, PieceArrays
from gale_nook.core.ducts.network import (
    GROUND,
    Flows,
    Network,
    Openings,
    Resistances,
    solve,
    step_on,
)
from gale_nook.core.ducts.warmth import conductance_w_mk
from gale_nook.core.errors import NotConverged
from gale_nook.core.physics.air import HEAT_CAPACITY_J_KGK, density_kg_m3, viscosity_pa_s

SETTLED_K = 1e-4
MOST_ROUNDS = 80
FAR_K = 60.0  # farther than this from rest, flows are solved anew
USUAL_KG_S, ROUGHLY = 0.03, 0.02
NEAR_K = 5.0  # nearer than this to rest, the output is changed too
FROZEN_K = 0.02  # nearer than this, the walls' conductance stays: it would change by 1e-4 of itself
DEGREES = 100.0  # a share of the output as kelvins at the warm end
STEEPEST = 0.9
HALVINGS = 30
HOTTEST_C = 600.0  # air properties are not told for more
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
    """Pieces of all ducts, (n,) each: air and skin temperature, heat given off."""

    air_c: Any
    skin_c: Any
    lost_w: Any


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


@dataclass(frozen=True)
class Throttles:
    """How the outlets stand: those that are shut, and the open share of the others (1 where it is
    not listed), by their ducts.
    """

    shut: frozenset[str] = frozenset()
    open_share: Mapping[str, float] | None = None

    def share(self, duct_id: str) -> float:
        return self.open_share.get(duct_id, 1.0) if self.open_share is not None else 1.0


def throttles_of(plan_layout: Layout) -> Throttles:
    """Return how the outlets of a layout's plan stand."""
    outlets = {run.duct.id: run.duct.outlet for run in plan_layout.runs if run.duct.outlet}
    return Throttles(
        frozenset(name for name, outlet in outlets.items() if outlet.shut),
        {name: outlet.open_percent / 100 for name, outlet in outlets.items()},
    )


def open_ducts(plan_layout: Layout, shut: frozenset[str]) -> tuple[int, ...]:
    """Return the numbers of the ducts through which air gets out: those that lead to an outlet that
    is not shut, or to an open end. A splitter's leg without a duct counts as capped.
    """
    children = plan_layout.children
    alive: dict[str, bool] = {}
    for run in reversed(plan_layout.runs):
        after = children.get(run.duct.id, ())
        if after:
            alive[run.duct.id] = any(alive[child] for child in after)
        else:
            alive[run.duct.id] = run.duct.splitter is None and run.duct.id not in shut
    return tuple(i for i, run in enumerate(plan_layout.runs) if alive[run.duct.id])


def air_state(
    plan_layout: Layout,
    output_w: float,
    throttles: Throttles | None = None,
    near: AirState | None = None,
) -> AirState | None:
    """Return the warm air at an output; None where every outlet is shut.

    Flow and temperature follow one another until neither changes: density and viscosity of each
    piece by its air, heat through its wall by its flow. What is warm and light does not rise by
    itself in it.

    Args:
        near: a state of the same layout that this one is like; it changes nothing but the time.

    Raises:
        NotConverged: it did not come to rest.
    """
    how = throttles if throttles is not None else throttles_of(plan_layout)
    if not plan_layout.runs:
        return _without_ducts(plan_layout, output_w)
    open_now = open_ducts(plan_layout, how.shut)
    if not open_now:
        return None
    return _Solver(plan_layout, output_w, how, open_now).solve(near)


def state_at_limit(
    plan_layout: Layout, limit_c: float, throttles: Throttles, near: AirState | None = None
) -> AirState | None:
    """Return the warm air at the most output that keeps the warm end under a limit: at the most
    output that there is, at the limit, or at the least output where it is hotter even there; None
    where every outlet is shut.

    Args:
        near: a state that this one is like.
    """
    if not plan_layout.runs:
        return _free_at_limit(plan_layout, limit_c)
    open_now = open_ducts(plan_layout, throttles.shut)
    if not open_now:
        return None
    return _Solver(plan_layout, plan_layout.most_w, throttles, open_now).solve(near, limit_c)


def _free_at_limit(plan_layout: Layout, limit_c: float) -> AirState:
    """The same without ducts, by halving."""
    full = _without_ducts(plan_layout, plan_layout.most_w)
    if full.heater_c <= limit_c:
        return full
    low, high = plan_layout.least_w, plan_layout.most_w
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        over = _without_ducts(plan_layout, middle).heater_c > limit_c
        low, high = (low, middle) if over else (middle, high)
    return _without_ducts(plan_layout, low)


def _heat(plan_layout: Layout, output_w: float) -> tuple[float, float]:
    """Fan's speed, and the heat that goes into the air, at an output."""
    fan = plan_layout.fan
    level = level_of_w(plan_layout.least_w, plan_layout.most_w, output_w)
    speed = fan.speed_at_minimum + (1 - fan.speed_at_minimum) * level
    share = fan.share_at_minimum + (fan.share_at_maximum - fan.share_at_minimum) * level
    return speed, share * output_w


class _Source:
    """The fan less what the way back takes."""

    def __init__(self, plan_layout: Layout, speed: float) -> None:
        back = plan_layout.back
        density = float(density_kg_m3(plan_layout.air_pa, back.inlet_c))
        self._fan = Fan(plan_layout.fan.curve, speed, density, plan_layout.reference_kg_m3)
        self._factor = back.loss / density
        self._duct: Resistances | None = None
        if plan_layout.back_duct is not None:
            pieces = plan_layout.back_duct
            ones = np.ones(len(pieces.length_m))
            viscosity = float(viscosity_pa_s(back.inlet_c))
            self._duct = _resistances(pieces, ones * density, ones * viscosity, pieces.loss_k, 1)

    def pressure_pa(self, flow_kg_s: float) -> tuple[float, float]:
        pressure, slope = self._fan.pressure_pa(flow_kg_s)
        pressure -= self._factor * flow_kg_s * abs(flow_kg_s)
        slope -= 2 * self._factor * abs(flow_kg_s)
        if self._duct is not None:
            loss, rise = self._duct.losses_pa(np.array([flow_kg_s]))
            pressure, slope = pressure - float(loss[0]), slope - float(rise[0])
        return pressure, slope

    def fan_pa(self, flow_kg_s: float) -> float:
        return self._fan.pressure_pa(flow_kg_s)[0]


def _resistances(
    pieces: PieceArrays, density: Any, viscosity: Any, loss_k: Any, branches: int
) -> Resistances:
    return Resistances(
        pieces.duct,
        pieces.length_m,
        pieces.bore_m,
        pieces.roughness_m,
        loss_k,
        density,
        viscosity,
        branches,
    )


class _Solver:
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
        self.pieces = _only(plan_layout.pieces, open_now)
        count = len(self.runs)
        self.spans = [np.flatnonzero(self.pieces.duct == i) for i in range(count)]
        self.loss_k = self.pieces.loss_k.copy()
        self._joins(how)

    def _burn(self, output_w: float) -> None:
        self.output_w = output_w
        self.speed, self.heat_w = _heat(self.layout, output_w)
        self.source = _Source(self.layout, self.speed)

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
        if (
            near is not None
            and near.flows is not None
            and near.pieces is not None
            and (len(near.pieces.air_c) == count and len(near.ducts) == len(self.runs))
        ):
            air, skin = near.pieces.air_c, near.pieces.skin_c
            flows = step_on(self._network(air), near.flows.guess_kg_s)
        else:
            start = min(near.heater_c if near is not None else inlet + 60.0, HOTTEST_C)
            air = np.full(count, start)
            skin = (air + self.pieces.walls.ambient_c) / 2
            guess = near.total_kg_s if near is not None else USUAL_KG_S
            flows = solve(self._network(air), guess, ROUGHLY)
        conductance: Any = None
        change = math.inf
        for _ in range(MOST_ROUNDS):
            if change > FROZEN_K:
                conductance, skin = conductance_w_mk(
                    self.pieces.walls, flows.branch_kg_s[self.pieces.duct], air, skin
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

    def _network(self, air_c: Any) -> Network:
        told = np.minimum(air_c, HOTTEST_C)
        density, viscosity = density_kg_m3(self.layout.air_pa, told), viscosity_pa_s(told)
        ducts = len(self.runs)
        branch = _resistances(self.pieces, density, viscosity, self.loss_k, ducts)
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
        ambient = self.pieces.walls.ambient_c
        per_flow = HEAT_CAPACITY_J_KGK * np.maximum(flow_kg_s[self.pieces.duct], 1e-9)
        decay = np.exp(-conductance * self.pieces.length_m / per_flow)
        middle, lost = np.empty_like(decay), np.empty_like(decay)
        ends: list[tuple[float, float]] = []
        for i, run in enumerate(self.runs):
            before = run.duct.comes_from
            start = (
                ends[self.number[before]][1] if before is not None else self.heater_c(total_kg_s)
            )
            now = start
            for piece in self.spans[i].tolist():
                over = now - ambient[piece]
                middle[piece] = ambient[piece] + over * decay[piece] ** 0.5
                after = ambient[piece] + over * decay[piece]
                lost[piece] = per_flow[piece] * (now - after)
                now = float(after)
            ends.append((start, now))
        return middle, (ends, lost)

    def _state(self, flows: Flows, pieces: PieceState, ends: list[tuple[float, float]]) -> AirState:
        lost: dict[str, float] = {}
        for place, watts in zip(self.pieces.places, pieces.lost_w.tolist(), strict=True):
            lost[place] = lost.get(place, 0.0) + watts
        branch = _resistances(
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


def path_losses(plan_layout: Layout, state: AirState, flow_kg_s: Any) -> dict[str, float]:
    """Return what each outlet's whole way from the heater loses with its throttle open, Pa, by its
    duct, at flows that need not be the solution's.

    Args:
        state: whose temperatures count, and which ducts are open.
        flow_kg_s: in each open duct, (n,).
    """
    names = {duct.id for duct in state.ducts}
    numbers = tuple(i for i, run in enumerate(plan_layout.runs) if run.duct.id in names)
    runs = [plan_layout.runs[number] for number in numbers]
    if plan_layout.pieces is None or state.pieces is None:
        return {}
    pieces = _only(plan_layout.pieces, numbers)
    loss_k = pieces.loss_k.copy()
    ends = [run.duct.id for run in runs if state.outlet(run.duct.id) is not None]
    for i, run in enumerate(runs):
        if run.duct.id in ends:
            loss_k[np.flatnonzero(pieces.duct == i)[-1]] += plan_layout.own_k[run.duct.id]
    air = state.pieces.air_c
    density = density_kg_m3(plan_layout.air_pa, air)
    branch = _resistances(pieces, density, viscosity_pa_s(air), loss_k, len(runs))
    losses, _ = branch.losses_pa(flow_kg_s)
    index = {run.duct.id: i for i, run in enumerate(runs)}
    zone_flow: dict[str, float] = {}
    zones = {name: outlet.zone for name in ends if (outlet := state.outlet(name)) is not None}
    for name, zone in zones.items():
        zone_flow[zone] = zone_flow.get(zone, 0.0) + float(flow_kg_s[index[name]])
    results = {}
    for name in ends:
        total, at = 0.0, name
        while at in index:
            total += float(losses[index[at]])
            at = runs[index[at]].duct.comes_from or ""
        gap = plan_layout.gaps_m2.get(zones[name])
        if gap is not None:
            room = float(density_kg_m3(plan_layout.air_pa, plan_layout.back.inlet_c))
            total += SHARP_EDGED_K / (2 * room * gap**2) * zone_flow[zones[name]] ** 2
        results[name] = total
    return results


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


def _only(pieces: PieceArrays, ducts: tuple[int, ...]) -> PieceArrays:
    """The pieces of some ducts, these numbered anew."""
    kept = np.flatnonzero(np.isin(pieces.duct, ducts))
    if len(kept) == len(pieces.duct):
        return pieces
    number = {old: new for new, old in enumerate(ducts)}
    walls = pieces.walls
    here = ("ambient_c", "wind_w_m2k")
    fields = ("bore_m", "outer_m", "skin_m", "lagging_mk_w", "emissivity", "heat_gain", *here)
    return PieceArrays(
        np.array([number[int(old)] for old in pieces.duct[kept]]),
        pieces.length_m[kept],
        pieces.bore_m[kept],
        pieces.roughness_m[kept],
        pieces.loss_k[kept],
        type(walls)(**{name: getattr(walls, name)[kept] for name in fields}, air_pa=walls.air_pa),
        tuple(pieces.places[i] for i in kept.tolist()),
    )


def _without_ducts(plan_layout: Layout, output_w: float) -> AirState:
    """A heater that blows free or through a panel: one flow, found where fan and way out agree."""
    speed, heat_w = _heat(plan_layout, output_w)
    source = _Source(plan_layout, speed)
    inlet = plan_layout.back.inlet_c
    celsius, total = inlet + 60.0, 0.0
    empty: Any = np.zeros(0)
    none = Resistances(np.zeros(0, dtype=int), empty, empty, empty, empty, empty, empty, 0)
    for _ in range(MOST_ROUNDS):
        told = min(celsius, HOTTEST_C)
        density = float(density_kg_m3(plan_layout.air_pa, told))
        way_out = Openings(np.array([plan_layout.panel_loss / density]))
        flows = solve(Network((0,), (GROUND,), 1, none, way_out, source.pressure_pa))
        total = max(flows.total_kg_s, 1e-6)
        before, celsius = celsius, inlet + heat_w / (total * HEAT_CAPACITY_J_KGK)
        if abs(celsius - before) < SETTLED_K:
            break
    area = plan_layout.panel_area_m2 or float(np.pi * (plan_layout.fan.bore_mm / 2000) ** 2)
    who = (WHOLE, "warm end", plan_layout.place)
    outlet = outlet_state(plan_layout, who, total, celsius, area)
    fan_pa = source.fan_pa(total)
    casing = output_w - heat_w
    return AirState(
        plan_layout,
        output_w,
        speed,
        total,
        fan_pa,
        inlet,
        celsius,
        (outlet,),
        (),
        None,
        {},
        casing,
    )
