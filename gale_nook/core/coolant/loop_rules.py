"""Checks of the loop: closed, flowing with any valve shut, warm where it has to be."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from gale_nook.core.ducts.convector import ducted_convector
from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import YES_NO, Rule, rule
from gale_nook.core.fitted.zone_supply import zone_supply
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.flows import Setting
from gale_nook.core.loop.graph import loop_graph
from gale_nook.core.loop.hoses import (
    end_name,
    end_point,
    kind_of,
    loop_parts,
    loop_side,
    parts_of,
)
from gale_nook.core.loop.state import LoopState, known_state, loop_state
from gale_nook.core.plan.coolant import HEATER, LoopPart

MOST_SETS = 6  # valves of which every set is tried
CLOSABLE = {"valve", "diverter"}
CONSUMERS = ("matrix", "calorifier", "floor", "coil", "plate", "engine")
NO_FLOW_L_MIN = 0.05
WARMING = ("matrix", "floor", "coil")
ALWAYS_OPEN = {"bypass"}  # a fixed bore: nothing shuts it


@rule("coolant.closed", "A loop that is closed", "yes-no")
def loop_closed(job: Job, this: Rule) -> Iterator[Finding]:
    """Every end leads somewhere."""
    side = loop_side(job)
    if side is None or job.plan.spot is None:
        return
    if not job.plan.coolant.parts:
        yield this.finding(
            job,
            measured=None,
            band=Band(None, None, Whose.GEOMETRY, source="the plan"),
            sentence="There is no loop yet: begin with a usual one.",
        )
        return
    yield from _loose_hoses(job, this)
    open_ends = loop_graph(job).open_ends
    for end in open_ends:
        at = end_point(job, end)
        yield this.yes_no(
            job,
            subject=f"{end[0]}:{end[1]}",
            subject_name=end_name(job, end),
            answer=False,
            wanted=True,
            source="workshop rule 63: what is open lets coolant out",
            sentence=f"The {end_name(job, end)} leads nowhere: the loop is not closed there.",
            marks=(Mark(at, at),) if at is not None else (),
        )
    if not open_ends:
        yield this.yes_no(
            job,
            answer=True,
            wanted=True,
            source="workshop rule 63: what is open lets coolant out",
            sentence="Every end leads somewhere.",
        )


@rule("coolant.solved", "Flows that can be worked out", "yes-no")
def flows_known(job: Job, this: Rule) -> Iterator[Finding]:
    """Where they cannot, no flow and no temperature of the loop was looked at."""
    if loop_side(job) is None or job.plan.spot is None or not job.plan.coolant.hoses:
        return
    if loop_state(job) is not None:
        yield this.yes_no(
            job,
            answer=True,
            wanted=True,
            source="the loop's own equations",
            sentence="Flow and temperature of every branch were worked out.",
        )
        return
    yield this.finding(
        job,
        measured=None,
        band=Band(None, None, Whose.GEOMETRY, source="the loop's own equations"),
        sentence="The flows through this loop could not be worked out: look at its pumps and at "
        "what is joined to what.",
    )


def _loose_hoses(job: Job, this: Rule) -> Iterator[Finding]:
    """Hoses that lead to something that is not there, and two hoses on one end."""
    taken: dict[tuple[str, str], str] = {}
    for hose in job.plan.coolant.hoses:
        for end in ((hose.from_part, hose.from_end), (hose.to_part, hose.to_end)):
            at, name = end_point(job, end), end_name(job, end)
            if at is not None and end not in taken:
                taken[end] = hose.id
                continue
            words = f"Two hoses lead to the {name}: put a tee in."
            if at is None:
                words = f"A hose leads to {name}, {end[1]}, which is not there."
            yield this.yes_no(
                job,
                subject=f"{hose.id}:{end[0]}:{end[1]}",
                subject_name=name,
                answer=False,
                wanted=True,
                source="workshop rule 63: what is open lets coolant out",
                title="Where a hose leads",
                sentence=words,
                marks=(Mark(at, at),) if at is not None else (),
            )


@fact
def worst_flow(job: Job) -> tuple[LoopState, tuple[LoopPart, ...]] | None:
    """Return the loop with those valves shut with which least flows through the heater, and these
    valves. Of many valves: each alone, pairs, and all of them.
    """
    parts = loop_parts(job)
    valves = [p for p, kind in parts if kind.kind in CLOSABLE and kind.id not in ALWAYS_OPEN]
    most = len(valves) if len(valves) <= MOST_SETS else 2
    sets = [c for size in range(most + 1) for c in itertools.combinations(valves, size)]
    if len(valves) > MOST_SETS:
        sets.append(tuple(valves))
    # a mixing valve shuts its hot end by itself where its floor is warm enough
    shut_mixers = {part.id: 0.001 for part, kind in parts if kind.kind == "mixer"}
    found = []
    for shut in sets:
        how = Setting(shut=frozenset(part.id for part in shut), mixed=shut_mixers)
        state = known_state(job, how, turns=False)
        if state is not None and state.heater is not None:
            found.append((state, shut))
    return min(found, key=lambda pair: _heater_l_min(pair[0]), default=None)


def _heater_l_min(state: LoopState) -> float:
    return state.heater.flow_l_min if state.heater is not None else 0.0


@rule("coolant.least_flow", "Least flow through the heater", "l/min", hazard="burns")
def heater_has_flow(job: Job, this: Rule) -> Iterator[Finding]:
    """With any set of valves shut the heater still has the flow that its sheet asks for."""
    side, sheet = loop_side(job), heater_sheet(job)
    if side is None or sheet is None or not job.plan.coolant.hoses:
        return
    worst = worst_flow(job)
    if worst is None:
        return
    state, shut = worst
    flow = _heater_l_min(state)
    names = " and ".join(f"the {part.name}" for part in shut)
    words = f" with {names} shut" if shut else ""
    at = end_point(job, (HEATER, "flow"))
    yield this.finding(
        job,
        measured=round(flow, 2),
        band=Band(side.least_l_min, None, _whose(job), source=sheet.source),
        tolerance=0.5,
        sentence=f"{flow:.1f} l/min through the heater{words}, when it gets least.",
        marks=(Mark(at, at),) if at is not None else (),
    )


def _whose(job: Job) -> Whose:
    sheet = heater_sheet(job)
    return Whose.SHEET if sheet is not None and sheet.loop is not None else Whose.WORKSHOP


@rule("coolant.direction", "Flow the way that pumps and heater ask for", "l/min")
def flow_direction(job: Job, this: Rule) -> Iterator[Finding]:
    """Two pumps against each other, or a pump put in the wrong way round."""
    state = loop_state(job)
    if state is None:
        return
    for found in state.branches.values():
        branch = found.branch
        if branch.kind not in {"pump", "heater"}:
            continue
        at = end_point(job, branch.ends[0])
        words = f"{found.flow_l_min:.1f} l/min flow through the {branch.name}."
        if found.flow_l_min < 0:
            words = (
                f"{-found.flow_l_min:.1f} l/min are pushed backwards through the {branch.name}: "
                "two pumps work against each other."
            )
        yield this.finding(
            job,
            subject=branch.id,
            subject_name=branch.name,
            measured=round(found.flow_l_min, 2),
            band=Band(0.1, None, Whose.GEOMETRY, source="the pumps' curves and the loop"),
            tolerance=0.0,
            title=f"Flow through the {branch.name}",
            sentence=words,
            marks=(Mark(at, at),) if at is not None else (),
        )


@rule("coolant.rise", "Warmer through the heater", "K")
def rise_through_heater(job: Job, this: Rule) -> Iterator[Finding]:
    """At full output; more boils at its wall."""
    side, state, sheet = loop_side(job), loop_state(job), heater_sheet(job)
    if side is None or state is None or sheet is None or state.heater is None:
        return
    carried = (state.heater.out_c - state.heater.in_c) or 0.0
    full = carried * state.most_w / state.output_w if state.output_w > 0 else 0.0
    yield this.finding(
        job,
        measured=round(full, 1),
        band=Band(None, side.most_rise_k, _whose(job), source=sheet.source),
        tolerance=1.0,
        sentence=f"The coolant is {full:.1f} K warmer behind the heater at full output.",
    )


@rule("coolant.consumer", "Flow through each consumer", "l/min")
def consumers_flow(job: Job, this: Rule) -> Iterator[Finding]:
    """One that lies in a long thin branch starves beside one that lies near."""
    state, band = loop_state(job), limit_band(job, "consumer_l_min")
    if state is None or band is None:
        return
    for found in state.branches.values():
        branch = found.branch
        if branch.kind not in CONSUMERS or branch.part is None:
            continue
        if branch.id.endswith(":engine-in-engine-out") or branch.kind == "engine":
            continue  # only the engine's own pump moves these
        others = (b.flow_l_min for b in state.branches.values() if b.branch.kind in CONSUMERS)
        most = max(others, default=0.0)
        at = (branch.part.x_mm, branch.part.y_mm, branch.part.z_mm)
        yield this.finding(
            job,
            subject=branch.part.id,
            subject_name=branch.name,
            measured=round(abs(found.flow_l_min), 2),
            band=band,
            tolerance=0.2,
            title=f"Flow through the {branch.name}",
            sentence=f"{abs(found.flow_l_min):.1f} l/min flow through the {branch.name}; the most "
            f"that one consumer gets is {most:.1f} l/min.",
            marks=(Mark(at, at),),
        )


@rule("coolant.zone", "Heat for each zone", "W")
def zones_warm(job: Job, this: Rule) -> Iterator[Finding]:
    """What consumers give a zone on the coldest night against what it loses."""
    if not parts_of(job, *WARMING):
        return  # it warms an engine or water, and no room
    for zone in zone_supply(job):
        yield this.finding(
            job,
            subject=zone.id,
            subject_name=zone.name,
            measured=round(zone.gets_w),
            band=Band(round(zone.needs_w), None, Whose.GEOMETRY, source="its loss, and the margin"),
            tolerance=50.0,
            title=f"Heat for {zone.name}",
            sentence=f"On the coldest night {zone.name} gets {zone.gets_w:.0f} W and needs "
            f"{zone.needs_w:.0f} W.",
        )


@rule("coolant.engine", "Engine joined as the job wants it", "yes-no")
def engine_as_wanted(job: Job, this: Rule) -> Iterator[Finding]:
    """Isolated by an exchanger or shut off by valves, or in the loop itself."""
    engines, graph, coolant = parts_of(job, "engine"), loop_graph(job), job.plan.coolant
    wanted = coolant.engine != "none"
    if not engines:
        if wanted:
            yield this.yes_no(
                job,
                answer=False,
                wanted=True,
                source="the plan's wish",
                sentence="The engine is to be part of it, and there is none in the loop.",
            )
        return
    for engine in engines:
        node = graph.node_of[engine.id, "in"]
        apart = graph.circuit_of[node] != graph.heater_circuit()
        words = "a circuit of its own" if apart else "the heater's own circuit"
        at = (engine.x_mm, engine.y_mm, engine.z_mm)
        yield this.yes_no(
            job,
            subject=engine.id,
            subject_name=engine.name,
            answer=apart,
            wanted=coolant.engine_isolated,
            source="the plan's wish: whether a leak of one may empty the other",
            title=f"The {engine.name} in its circuit",
            sentence=f"The {engine.name} is in {words}"
            + (
                "; the job wants it apart."
                if coolant.engine_isolated and not apart
                else "; the job wants it joined."
                if not coolant.engine_isolated and apart
                else "."
            ),
            marks=(Mark(at, at),),
        )


@rule("coolant.barrier", "Floor pipe with an oxygen barrier", "yes-no")
def floor_has_barrier(job: Job, this: Rule) -> Iterator[Finding]:
    """Through plain plastic oxygen comes in and rusts heater and engine."""
    for part in parts_of(job, "floor"):
        has = kind_of(job, part).id != "floor-open"
        yield _about(job, this, part, has, "lets no oxygen through", "lets oxygen through")


@rule("coolant.floor_panel", "Floor loops that can be reached", "yes-no")
def floor_can_be_opened(job: Job, this: Rule) -> Iterator[Finding]:
    """Under a panel that cannot be taken up a leak cannot be mended."""
    for part in parts_of(job, "floor"):
        yield _about(
            job,
            this,
            part,
            part.panel_opens,
            "lies under a panel that can be taken up",
            "lies under a panel that cannot be taken up",
        )


@rule("coolant.floor_screws", "Nothing screwed into floor loops", "yes-no")
def nothing_screwed(job: Job, this: Rule) -> Iterator[Finding]:
    """A screw through the pipe empties the loop into the floor."""
    for part in parts_of(job, "floor"):
        yield _about(
            job,
            this,
            part,
            part.screws_kept_off,
            "is marked: nothing is screwed there",
            "is not marked: it would be screwed through",
        )


def _about(job: Job, this: Rule, part: LoopPart, answer: bool, good: str, bad: str) -> Finding:
    at = (part.x_mm, part.y_mm, part.z_mm)
    return this.yes_no(
        job,
        subject=part.id,
        subject_name=part.name,
        answer=answer,
        wanted=True,
        source="workshop rules 64 and 65: floor loops and calorifiers",
        title=f"{this.title}: {part.name}",
        sentence=f"The {part.name} {good if answer else bad}.",
        marks=(Mark(at, at),),
    )


@rule("coolant.floor_warm", "Surface of the floor", "C")
def floor_surface(job: Job, this: Rule) -> Iterator[Finding]:
    """Over a floor loop, when all is settled; warmer hurts bare feet and opens joints."""
    state = loop_state(job)
    if state is None:
        return
    room_c, limit_c = job.plan.heat.inside_c, job.plan.coolant.floor_limit_c
    for part in parts_of(job, "floor"):
        found = state.branches.get(part.id)
        if found is None:
            continue
        flows = abs(found.flow_l_min) > NO_FLOW_L_MIN
        surface = room_c + kind_of(job, part).surface_share * (found.in_c - room_c)
        at = (part.x_mm, part.y_mm, part.z_mm)
        yield this.finding(
            job,
            subject=part.id,
            subject_name=part.name,
            measured=round(surface, 1) if flows else None,
            band=Band(None, limit_c, Whose.WORKSHOP, source="the plan's limit for the floor"),
            tolerance=1.0,
            title=f"Surface over the {part.name}",
            sentence=f"The floor over the {part.name} becomes {surface:.0f} °C; its pipe begins "
            f"with {found.in_c:.0f} °C."
            if flows
            else f"Nothing flows through the {part.name} as its pumps and valves stand.",
            marks=(Mark(at, at),),
        )


@rule("coolant.scald", "Water that does not scald", "yes-no", hazard="burns")
def no_scalding(job: Job, this: Rule) -> Iterator[Finding]:
    """A calorifier's water becomes as hot as the coolant."""
    for part in parts_of(job, "calorifier"):
        has = part.scald_valve or kind_of(job, part).scald_valve
        words = ("has a mixing valve against scalding", "has no mixing valve against scalding")
        yield _about(job, this, part, has, *words)


@rule("coolant.relief", "Relief valve of the water", "yes-no", hazard="burns")
def water_relief(job: Job, this: Rule) -> Iterator[Finding]:
    """Water that is warmed in a closed tank bursts it."""
    for part in parts_of(job, "calorifier"):
        has = part.relief or kind_of(job, part).relief
        words = ("has a relief valve that drains outside", "has no relief valve")
        yield _about(job, this, part, has, *words)


@rule("coolant.ducts", "Where ducts begin", YES_NO)
def ducts_begin(job: Job, this: Rule) -> Iterator[Finding]:
    """Ducts of a job heated by coolant begin at a convector that can blow into them."""
    wanted, ducts = job.plan.air.convector, job.plan.air.ducts
    if job.plan.heater.medium != "coolant" or (wanted is None and not ducts):
        return
    part = job.plan.coolant.part(wanted) if wanted is not None else None
    if ducted_convector(job) is not None and part is not None:
        words = f"Ducts begin at the {part.name}."
        if part.fan == 0:
            words = f"Ducts begin at the {part.name}, whose fan is off: nothing is blown into them."
        answer = part.fan > 0
    elif part is not None:
        answer, words = False, f"The {part.name} cannot blow into ducts: they begin nowhere."
    else:
        answer, words = False, "The ducts begin nowhere: no convector is chosen for them."
    at = (part.x_mm, part.y_mm, part.z_mm) if part is not None else None
    yield this.yes_no(
        job,
        answer=answer,
        wanted=True,
        source="air goes where it is blown",
        sentence=words,
        marks=(Mark(at, at),) if at is not None else (),
    )
