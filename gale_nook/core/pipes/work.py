"""What the burner's pipes bring to the work: parts, holes through panels, lengths to cut, steps."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.pipes.bench import OnBench, on_bench
from gale_nook.core.pipes.clamps import unclamped
from gale_nook.core.pipes.inside import exhaust_comes_in, inside_stretches
from gale_nook.core.pipes.joints import (
    CUT_ALLOWANCE_MM,
    extension_mm,
    joints_needed,
    kit_pipe_mm,
    pipe_needed_mm,
)
from gale_nook.core.pipes.panels import panels, passed, ring_mm
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.support_hole_rules import support_holes
from gale_nook.core.plan.pipes import Fitting, Tube
from gale_nook.core.plan.words import TUBE_WORDS
from gale_nook.core.quantities.sentences import q
from gale_nook.core.saws import saw_for
from gale_nook.core.spot.fixing_holes import hole_line
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.station import CutLine, HoleLine, Step

CLAMPS_PER_JOINT = 2
AIR_PIPE = "combustion-air pipe"
LAGGING_OVERLAP = 1.1  # wound or lapped over itself


def pipe_parts(job: Job) -> dict[str, float]:
    """Return what both pipes need."""
    needed = _exhaust_parts(job) | _intake_parts(job)
    supports = _supports(job)
    if supports:
        needed |= {"pipe-clip": len(supports), "support-bracket": len(supports)}
        on_nuts = sum(1 for fitting in supports if fitting.feature is None)
        needed |= {"rivet-nut": on_nuts} if on_nuts else {}
    return needed


def pipe_holes(job: Job) -> tuple[HoleLine, ...]:
    """Return the holes through panels, and those that supports hang on."""
    tubes: tuple[Tube, Tube] = ("exhaust", "intake")
    through = (hole for tube in tubes for hole in _panel_holes(job, tube))
    hung = (hole_line(hole) for tube in tubes for hole in support_holes(job, tube))
    return (*through, *hung)


def _exhaust_parts(job: Job) -> dict[str, float]:
    route, run = job.plan.pipes.exhaust, pipe_run(job, "exhaust")
    if route is None or run is None:
        return {}
    joints, silencers = joints_needed(job), len(route.of_kind("silencer"))
    to_place = max(joints - len(route.of_kind("joint")), 0)
    clamps = _clamps(job, "exhaust") + CLAMPS_PER_JOINT * to_place
    results = {"exhaust-pipe": pipe_needed_mm(job), "exhaust-clamp": clamps}
    results |= _through_panels(job, "exhaust", "bulkhead-fitting")
    results |= {"exhaust-joint": joints} if joints else {}
    results |= {"silencer": silencers} if silencers else {}
    lagging = sum(
        f.layers * (min(f.end_mm, run.length_mm) - f.at_mm) for f in route.of_kind("lagging")
    )
    results |= {"lagging": math.ceil(lagging * LAGGING_OVERLAP)} if lagging > 0 else {}
    shield = sum(min(f.end_mm, run.length_mm) - f.at_mm for f in route.of_kind("shield"))
    results |= {"heat-shield": math.ceil(shield)} if shield > 0 else {}
    boxed = sum(min(f.end_mm, run.length_mm) - f.at_mm for f in route.of_kind("box"))
    results |= {"pipe-box": math.ceil(boxed)} if boxed > 0 else {}
    hatches, sealed = len(route.of_kind("hatch")), sum(f.sealed for f in route.fittings)
    results |= {"box-hatch": hatches} if hatches else {}
    results |= {"exhaust-seal": 1} if sealed else {}
    return results | ({"exhaust-cap": 1} if route.of_kind("cap") else {})


def _clamps(job: Job, tube: Tube) -> float:
    """Those on the pipe, and those that it still lacks."""
    route = job.plan.pipes.route(tube)
    return len(route.of_kind("clamp")) + len(unclamped(job, tube)) if route is not None else 0


def _through_panels(job: Job, tube: Tube, part: str) -> dict[str, float]:
    fittings = {fitting.id for fitting in passed(job, tube).values()}
    return {part: len(fittings)} if fittings else {}


def _intake_parts(job: Job) -> dict[str, float]:
    route, run = job.plan.pipes.intake, pipe_run(job, "intake")
    if route is None or run is None:
        return {}
    filters = len(route.of_kind("filter"))
    pipe = math.ceil(
        max(run.length_mm - sum(f.length_mm for f in route.of_kind("filter")), 0.0)
        + CUT_ALLOWANCE_MM
    )
    results: dict[str, float] = {"intake-pipe": pipe, "intake-clamp": _clamps(job, "intake")}
    results |= _through_panels(job, "intake", "bulkhead-grommet")
    return results | ({"air-filter": filters} if filters else {})


def _supports(job: Job) -> list[Fitting]:
    routes = (job.plan.pipes.exhaust, job.plan.pipes.intake)
    return [
        fitting for route in routes if route is not None for fitting in route.of_kind("support")
    ]


def _panel_holes(job: Job, tube: Tube) -> list[HoleLine]:
    """The holes through panels, each wide enough for its fitting."""
    run, names = pipe_run(job, tube), {solid.id: solid.name for solid, _, _ in panels(job)}
    if run is None:
        return []
    wide, result = heater_port(job, tube).diameter_mm + 2 * ring_mm(job, tube), []
    for panel, fitting in passed(job, tube).items():
        x, y, z = run.point_at(fitting.at_mm + fitting.length_mm / 2)
        result.append(
            HoleLine(
                f"{names[panel]}, for the {TUBE_WORDS[tube]}",
                x,
                y,
                wide,
                saw_for(wide),
                z,
                run.direction_at(fitting.at_mm + fitting.length_mm / 2),
            )
        )
    return result


def pipe_cuts(job: Job) -> tuple[CutLine, ...]:
    """Return the lengths to cut."""
    exhaust_run = pipe_run(job, "exhaust")
    results = []
    if exhaust_run is not None:
        run = exhaust_run
        whole = pipe_needed_mm(job)
        joints = joints_needed(job)
        remark = (
            f"{len(run.straights)} straights, {len(run.bends)} bends; {CUT_ALLOWANCE_MM:.0f} "
            "mm allowance included"
        )
        kit, piece = kit_pipe_mm(job), extension_mm(job)
        lengths = [min(kit or piece, whole)]
        while joints and sum(lengths) < whole:
            lengths.append(min(piece, whole - sum(lengths)))
        names = (
            ["exhaust pipe"]
            if len(lengths) == 1
            else [f"exhaust pipe, piece {n}" for n in range(1, len(lengths) + 1)]
        )
        results += [
            CutLine(name, length, remark, f"exhaust-{number}", _hanging(number, len(lengths)))
            for number, (name, length) in enumerate(zip(names, lengths, strict=True), 1)
        ]
    needed = _intake_parts(job).get("intake-pipe")
    if needed is not None:
        allowance = f"{CUT_ALLOWANCE_MM:.0f} mm allowance included"
        results.append(CutLine(AIR_PIPE, needed, allowance, "intake", "hang-intake"))
    return tuple(results)


def _hanging(number: int, of: int) -> str:
    """The id of the step that hangs a piece of the exhaust."""
    return f"hang-exhaust-{number}" if of > 1 else "hang-exhaust"


def pipe_steps(job: Job) -> Iterator[Step]:
    """Yield the step of each piece of pipe that is cut and hung."""
    if heater_sheet(job) is None or chosen_mount(job) is None or job.plan.spot is None:
        return
    bench = on_bench(job)
    if bench:
        yield Step("bench", "Put together on the bench", _bench_words(bench), ("edges",))
    for cut in pipe_cuts(job):
        text = f"Cut {q(cut.length_mm)} of pipe ({cut.remark}). Clip it, clamp every joint"
        if cut.label == AIR_PIPE:
            yield Step(
                "hang-intake",
                "Hang the combustion-air pipe",
                f"{text}.",
                ("stands",),
                points=_points(job, "intake"),
            )
        else:
            text += ", silencer's drain down."
            yield Step(
                "hang-exhaust",
                "Hang the exhaust",
                text,
                ("fumes", "hot", "stands"),
                about=cut.card.removeprefix("hang-exhaust").removeprefix("-"),
                points=_points(job, "exhaust"),
            )
    if exhaust_comes_in(job):
        yield _box_it_in(job)


def _points(job: Job, tube: Tube) -> tuple[Vec3, ...]:
    """What a drawing of a pipe shows."""
    run = pipe_run(job, tube)
    return tuple(run.points) if run is not None else ()


def _bench_words(bench: tuple[OnBench, ...]) -> str:
    """What goes on before the heater goes in, in the order that it passes the hole."""
    words = []
    for each in bench:
        pipe = "exhaust" if each.tube == "exhaust" else AIR_PIPE
        if not each.before:
            words.append(f"The {pipe} goes on from below, once the heater stands.")
            continue
        how_far = "whole" if each.all_of_it else f"up to {q(round(each.passes_mm))} from its port"
        after = f", then {' and '.join(each.follows)} from below" if each.follows else ""
        rest = "" if each.all_of_it else f"; the rest follows{after}"
        words.append(f"The {pipe} passes the hole {how_far}: clamp that on now{rest}.")
    return (
        "Fuel stub first, then the pipes, each clamp's screw turned to the hole's middle. "
        f"{' '.join(words)} Let it down straight, and look that nothing catches."
    )


def _box_it_in(job: Job) -> Step:
    """What an exhaust that runs inside takes beside being hung."""
    lengths = [stretch.length_mm for stretch in inside_stretches(job, "exhaust")]
    route = job.plan.pipes.exhaust
    hatches = len(route.of_kind("hatch")) if route is not None else 0
    text = (
        f"{q(round(sum(lengths)))} of it run inside. Before the box is closed run the heater and "
        "feel along it for leaks, with the doors open and the CO alarm beside it. Then lag it, "
        f"box it in, {hatches or 'no'} hatch{'' if hatches == 1 else 'es'} to look at it; every "
        "hole through floor or wall with its sleeve, sealed outside."
    )
    return Step("box-exhaust", "Box in the exhaust inside", text, ("fumes", "hot"))
