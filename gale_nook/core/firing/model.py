"""The simulated heater's figures: its sheet, and what this plan makes of its surroundings."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.base.heater_sheet import HeaterSheet, LoopSide
from gale_nook.core.catalogue.firing import FaultKind, Simulation
from gale_nook.core.ducts.layout import Layout, layout
from gale_nook.core.ducts.state import air_state
from gale_nook.core.ducts.throttles import Throttles, throttles_of
from gale_nook.core.errors import BadInput
from gale_nook.core.firing.expected import day_supply
from gale_nook.core.fitted.closing import closable_ducts
from gale_nook.core.fitted.heating import chosen_installed
from gale_nook.core.fitted.installed import room_with
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.fuel.priming import prime
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heat.load_space import LoadSpace
from gale_nook.core.heat.zoned_space import ZonedSpace
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.loop.fill import filling
from gale_nook.core.loop.state import loop_state
from gale_nook.core.power.batteries import BLOCK_V
from gale_nook.core.power.sensor_bias import sensor_bias
from gale_nook.core.power.supply import battery_now

SIMULATED = "the simulated heater"  # as the source of readings
RISE_POINTS = 5
BLOCKED_FLOW_TIMES = 3.0  # on the rise, where every way out is shut
USUAL_CONTENT_L, USUAL_OVER_ROOM_K = 6.0, 50.0  # of a loop that cannot be worked out
COOLANT_J_LK = 3700.0  # of a half-and-half mix; any table of glycol mixes
USUAL_LINE_ML = 15.0
LEAST_COLDER_K = 5.0  # outside, than it is inside

Rise = tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class Loop:
    """A coolant heater's loop as one store: what it holds, and what it gives for each kelvin over
    the room.
    """

    side: LoopSide
    heat_j_k: float
    gives_w_k: float


@dataclass(frozen=True)
class HeaterModel:
    """Everything that the simulated heater runs by.

    Attributes:
        most_w: that it can give where it is; demand above that is not met.
        rest_v, harness_ohm, battery_ohm: of its supply, faults counted in.
        rise: (output, air's rise through the heater), output rising; empty for a coolant heater.
        limit_c: of the air at the warm end.
        line_air_ml: that has to go through the burner before fuel is there.
        bias_k: what the sensor reads over the room at full output.
        room: cold, to be warmed up.
    """

    sheet: HeaterSheet
    how: Simulation
    fault: FaultKind | None
    most_w: float
    rest_v: float
    harness_ohm: float
    battery_ohm: float
    rise: Rise
    limit_c: float
    loop: Loop | None
    line_air_ml: float
    bias_k: float
    set_c: float
    inside_c: float
    room: LoadSpace | ZonedSpace


def heater_model(job: Job, fault_id: str = "") -> HeaterModel:
    """Return the model of the plan's heater on the day of its first firing.

    Raises:
        BadInput: there is no heater in its place with its cable laid, or no such fault.
    """
    sheet, heater, day = heater_sheet(job), chosen_installed(job), day_supply(job)
    battery, plan, how = battery_now(job), job.plan, job.catalogue.firing.simulation
    if sheet is None or heater is None or day is None or battery is None:
        raise BadInput(
            "heater",
            None,
            "A heater can be tried out when it is chosen, and its battery and cable are in the "
            "plan.",
        )
    fault = fault_of(how, fault_id) if fault_id else None
    wiring = day.resistance_ohm - battery.resistance_ohm
    blocks = plan.power.battery.nominal_v / BLOCK_V if plan.power.battery is not None else 1.0
    colder = min(plan.pipes.firing_c, plan.firing.inside_c, plan.heat.inside_c - LEAST_COLDER_K)
    on_the_day = plan.heat.model_copy(update={"outside_c": colder})
    room = room_with(job.with_parts(heat=on_the_day), heater)
    bias, run = sensor_bias(job), fuel_run(job)
    plan_layout = layout(job) if sheet.medium == "air" else None
    filled = prime(job, run) if run is not None else None
    line_ml = filled.volume_ml if filled is not None else USUAL_LINE_ML
    return HeaterModel(
        sheet,
        how,
        fault,
        derated_w(sheet.output, plan.heat.altitude_m),
        day.rest_v - (fault.rest_less_v * blocks if fault else 0.0),
        wiring * (fault.harness_times if fault else 1.0),
        battery.resistance_ohm * (fault.battery_times if fault else 1.0),
        _rise(job, sheet, plan_layout, shut=fault is not None and fault.shut),
        plan_layout.fan.outlet_limit_c if plan_layout is not None else 0.0,
        _loop(job, sheet, shut=fault is not None and fault.shut),
        line_ml * (fault.line_air_share if fault else 0.0),
        bias.kelvin if bias is not None else 0.0,
        plan.heat.inside_c,
        plan.firing.inside_c,
        room.fresh(plan.firing.inside_c),
    )


def fault_of(how: Simulation, fault_id: str) -> FaultKind:
    """Return a fault by its id; raises BadInput naming those that there are."""
    known = {fault.id: fault for fault in how.faults}
    if fault_id not in known:
        raise BadInput("fault", fault_id, f"There is no such fault; there are {', '.join(known)}.")
    return known[fault_id]


def _rise(job: Job, sheet: HeaterSheet, plan_layout: Layout | None, *, shut: bool) -> Rise:
    """By how much the air gets warmer at some outputs, through the plan's ducts."""
    if plan_layout is None:
        return ()
    throttles, times = throttles_of(plan_layout), 1.0
    if shut:
        outlets = {run.duct.id for run in plan_layout.runs if run.duct.outlet is not None}
        closed = frozenset(closable_ducts(job, plan_layout))
        if closed and outlets - closed:
            throttles = Throttles(closed, throttles.open_share)
        else:
            times = BLOCKED_FLOW_TIMES
    low, high = sheet.output.minimum_w, plan_layout.most_w
    points = []
    for output in _even(low, max(high, low + 1.0), RISE_POINTS):
        state = air_state(plan_layout, output, throttles)
        if state is not None:
            points.append((output, times * (state.heater_c - state.inlet_c)))
    return tuple(points)


def _even(low: float, high: float, count: int) -> list[float]:
    return [low + (high - low) * number / (count - 1) for number in range(count)]


def _loop(job: Job, sheet: HeaterSheet, *, shut: bool) -> Loop | None:
    """The coolant's loop, by its content and what it gives as it settles."""
    if sheet.loop is None:
        return None
    state, filled = loop_state(job), filling(job)
    content_l = filled.content_l if filled is not None else USUAL_CONTENT_L
    gives = sheet.output.maximum_w / USUAL_OVER_ROOM_K
    if state is not None and state.heater is not None and state.output_w > 0:
        middle = (state.heater.in_c + state.heater.out_c) / 2
        over = middle - job.plan.heat.inside_c
        gives = state.output_w / over if over > 1 else gives
    return Loop(sheet.loop, content_l * COOLANT_J_LK, gives / (BLOCKED_FLOW_TIMES if shut else 1.0))
