"""Balancing: what gives each outlet the share of the flow that is asked of it, by throttle, by bore
or by length.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.layout import Layout, layout
from gale_nook.core.ducts.path_losses import path_losses
from gale_nook.core.ducts.state import air_state
from gale_nook.core.ducts.throttles import Throttles, open_ducts
from gale_nook.core.ducts.tree import DuctRun, reducer_k
from gale_nook.core.errors import BadInput
from gale_nook.core.fitted.heating import zone_heat
from gale_nook.core.fitted.usable import usable
from gale_nook.core.job import Job, fact

LEAST_OPEN = 0.05
ROUNDS = 6
LEAST_NEED_W = 1.0
SHARES_TOLERANCE = 0.5  # of the sum of asked shares to 100 %


@dataclass(frozen=True, slots=True)
class OutletBalance:
    """What gives one outlet its share.

    Attributes:
        asked, gets: share of the flow, 0 to 1; gets with all the throttles as told.
        open_percent: position of its throttle; None where it has none.
        bore_mm, extra_mm: of its last duct: the bore that comes nearest to it, or how much longer
            it would have to be; each by itself instead of a throttle; None where none does.
        reaches: whether its throttle can give the share.
    """

    duct: str
    name: str
    asked: float
    gets: float
    open_percent: float | None
    bore_mm: float | None
    extra_mm: float | None
    reaches: bool


def asked_shares(job: Job) -> dict[str, float] | None:
    """Return the asked share of each outlet, 0 to 1, by its duct; None where nothing is asked.

    Outlets of which nothing is asked get what is left in equal parts.

    Raises:
        BadInput: the shares are not 100 % together.
    """
    outlets = {d.id: d.outlet for d in job.plan.air.ducts if d.outlet is not None}
    asked = {
        name: outlet.share_percent
        for name, outlet in outlets.items()
        if outlet.share_percent is not None
    }
    if not asked:
        return None
    rest = [name for name in outlets if name not in asked]
    total = sum(asked.values())
    if total > 100 + SHARES_TOLERANCE or (not rest and abs(total - 100) > SHARES_TOLERANCE):
        problem = f"The shares make {total:g} % together; they should make 100 %."
        raise BadInput("share", total, problem)
    left = max(100 - total, 0.0)
    shares = {**asked, **{name: left / len(rest) for name in rest}}
    return {name: share / sum(shares.values()) for name, share in shares.items()}


def shares_by_need(job: Job) -> dict[str, float]:
    """Return the share of the flow, 0 to 1, that each outlet should get by what its zone needs, by
    its duct; in equal parts to outlets of one zone.
    """
    needs = {zone.zone: zone.need_w for zone in zone_heat(job)}
    outlets = [(d.id, d.outlet.zone) for d in job.plan.air.ducts if d.outlet is not None]
    counts = Counter(zone for _, zone in outlets)
    weights = {
        duct: max(needs.get(zone, 0.0), LEAST_NEED_W) / counts[zone] for duct, zone in outlets
    }
    whole = sum(weights.values())
    return {duct: weight / whole for duct, weight in weights.items()}


def balanced(job: Job, shares: Mapping[str, float]) -> tuple[OutletBalance, ...]:
    """Return what gives each outlet its share of the flow, at the heater's usable output.

    The outlet that is hardest to reach stays open; every other one is throttled by what its way is
    easier. Outlets that are shut, or of which nothing is asked, count as shut.

    Raises:
        BadInput: a share of an outlet that cannot be reached by any air.
    """
    plan_layout, now = layout(job), usable(job)
    if plan_layout is None or now is None or not plan_layout.runs:
        return ()
    asked = {name: share for name, share in shares.items() if share > 0}
    shut = frozenset(
        run.duct.id
        for run in plan_layout.runs
        if run.duct.outlet is not None and run.duct.id not in asked
    )
    output = now.usable_w if now.usable_w > 0 else plan_layout.least_w
    how = Throttles(shut, {})
    state = air_state(plan_layout, output, how)
    spare: dict[str, float] = {}
    for _ in range(ROUNDS):
        if state is None:
            raise BadInput("share", None, "Every outlet is shut.")
        spare = _spare_pa(plan_layout, state, asked)
        how = Throttles(shut, _positions(job, plan_layout, state, asked, spare))
        state = air_state(plan_layout, output, how, state)
    if state is None:
        return ()
    return tuple(_rows(job, plan_layout, state, asked, how, spare))


@fact
def balanced_as_asked(job: Job) -> tuple[OutletBalance, ...]:
    """Return the balance for the shares that the plan asks for; none where it asks for nothing."""
    shares = asked_shares(job)
    return balanced(job, shares) if shares is not None else ()


def _flows(plan_layout: Layout, asked: Mapping[str, float], total_kg_s: float) -> list[float]:
    """Flow in each open duct that gives the shares, by the number of the open duct."""
    numbers = open_ducts(plan_layout, frozenset(_unasked(plan_layout, asked)))
    runs = [plan_layout.runs[number] for number in numbers]
    index = {run.duct.id: i for i, run in enumerate(runs)}
    flows = [0.0] * len(runs)
    for name, share in asked.items():
        at: str | None = name
        while at is not None and at in index:
            flows[index[at]] += share * total_kg_s
            at = runs[index[at]].duct.comes_from
    return flows


def _unasked(plan_layout: Layout, asked: Mapping[str, float]) -> list[str]:
    return [run.duct.id for run in plan_layout.runs if run.duct.outlet and run.duct.id not in asked]


def _spare_pa(plan_layout: Layout, state: AirState, asked: Mapping[str, float]) -> dict[str, float]:
    """What each outlet's way is easier than the hardest, at the asked flows, throttles open, Pa."""
    flows = _flows(plan_layout, asked, state.total_kg_s)
    losses = path_losses(plan_layout, state, flows)
    ways = {name: losses[name] for name in asked}
    hardest = max(ways.values())
    return {name: hardest - loss for name, loss in ways.items()}


def _head_pa(plan_layout: Layout, state: AirState, name: str, flow_kg_s: float) -> float:
    """Velocity head in an outlet's duct at a flow."""
    run = next(run for run in plan_layout.runs if run.duct.id == name)
    duct = state.duct(name)
    area = math.pi * (run.kind.bore_mm / 2000) ** 2
    celsius = duct.end_c if duct is not None else state.heater_c
    density = plan_layout.density_kg_m3(celsius)
    return float(flow_kg_s**2 / (2 * density * area**2))


def _positions(
    job: Job,
    plan_layout: Layout,
    state: AirState,
    asked: Mapping[str, float],
    spare: Mapping[str, float],
) -> dict[str, float]:
    """Open share of each outlet with a throttle that uses up what its way is easier."""
    works = job.catalogue.air_equipment
    result = {}
    for name, share in asked.items():
        run = next(run for run in plan_layout.runs if run.duct.id == name)
        if run.duct.outlet is None or not works.outlet(run.duct.outlet.kind).throttle:
            continue
        own = plan_layout.own_k[name]
        head = _head_pa(plan_layout, state, name, share * state.total_kg_s)
        more = spare[name] / head if head > 0 else 0.0
        result[name] = max((own / (own + more)) ** 0.5, LEAST_OPEN)
    return result


def _rows(
    job: Job,
    plan_layout: Layout,
    state: AirState,
    asked: Mapping[str, float],
    how: Throttles,
    spare: Mapping[str, float],
) -> list[OutletBalance]:
    results = []
    for name, share in asked.items():
        run = next(run for run in plan_layout.runs if run.duct.id == name)
        outlet = state.outlet(name)
        gets = outlet.flow_kg_s / state.total_kg_s if outlet is not None else 0.0
        position = how.open_share.get(name) if how.open_share is not None else None
        reaches = abs(gets - share) < 0.01
        flow = share * state.total_kg_s
        results.append(
            OutletBalance(
                name,
                run.duct.outlet.name if run.duct.outlet is not None else name,
                share,
                gets,
                100 * position if position is not None else None,
                _bore_for(job, plan_layout, state, run, (flow, spare[name])),
                _length_for(plan_layout, state, run, (flow, spare[name])),
                reaches,
            )
        )
    return results


def _own_loss_pa(
    plan_layout: Layout, state: AirState, run: DuctRun, flow_kg_s: float, bore_mm: float
) -> float:
    """What an outlet's last duct loses with another bore: its straight length and its outlet."""
    duct = state.duct(run.duct.id)
    celsius = (duct.start_c + duct.end_c) / 2 if duct is not None else state.heater_c
    density = plan_layout.density_kg_m3(celsius)
    area = math.pi * (bore_mm / 2000) ** 2
    head = flow_kg_s**2 / (2 * density * float(area) ** 2)
    factor = plan_layout.factor(run, flow_kg_s, celsius, bore_mm)
    outlet_mm = plan_layout.outlet_bore_mm.get(run.duct.id, bore_mm)
    own = plan_layout.own_k[run.duct.id] * (outlet_mm / run.kind.bore_mm) ** 4
    own -= reducer_k(run.kind.bore_mm, outlet_mm) - reducer_k(bore_mm, outlet_mm)
    ends = own * (bore_mm / outlet_mm) ** 4
    step = reducer_k(run.kind.bore_mm, bore_mm)
    return float(head * (factor * run.length_mm / bore_mm + ends + step))


def _bore_for(
    job: Job, plan_layout: Layout, state: AirState, run: DuctRun, wanted: tuple[float, float]
) -> float | None:
    """The bore, of the ducts that are sold, that uses up nearest to what the way is easier.

    Args:
        wanted: flow, and what is to be used up, Pa.
    """
    flow, spare = wanted
    now = _own_loss_pa(plan_layout, state, run, flow, run.kind.bore_mm)
    bores = {kind.bore_mm for kind in job.catalogue.air_equipment.ducts}
    smaller = [bore for bore in bores if bore <= run.kind.bore_mm]
    if spare <= 0 or not smaller:
        return None
    best = min(
        smaller,
        key=lambda bore: abs(_own_loss_pa(plan_layout, state, run, flow, bore) - now - spare),
    )
    return best if best != run.kind.bore_mm else None


def _length_for(
    plan_layout: Layout, state: AirState, run: DuctRun, wanted: tuple[float, float]
) -> float | None:
    """How much longer the last duct would have to be to use up what its way is easier."""
    flow, spare = wanted
    if spare <= 0:
        return None
    head = _head_pa(plan_layout, state, run.duct.id, flow)
    duct = state.duct(run.duct.id)
    celsius = (duct.start_c + duct.end_c) / 2 if duct is not None else state.heater_c
    per_mm = head * plan_layout.factor(run, flow, celsius, run.kind.bore_mm) / run.kind.bore_mm
    return float(spare / per_mm)
