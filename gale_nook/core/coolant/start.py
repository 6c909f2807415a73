"""Usual loops, to begin from: each consumer between a tee in the flow and a tee in the return."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.limits import most_of
from gale_nook.core.job import Job
from gale_nook.core.loop.hoses import HoseRun, end_point, hose_run, loop_side, port_mm
from gale_nook.core.loop.passes import hose_passes_mm
from gale_nook.core.plan.coolant import HEATER, Coolant, Hose, HosePart, LoopPart
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.vehicle.floor import floor_finish_z_mm
from gale_nook.core.vehicle.inside import route_stretches, within_shell

NO_HEATER = "A loop begins at the heater: choose a coolant heater and a spot first."
OVER_FLOOR_MM, APART_MM, ROOF_MM = 195.0, 700.0, 260.0
CLIP_MM, HOLE_SPARE_MM, RADIUS_MM = 300.0, 2.0, 110.0
RETURN_UNDER_MM, RISE_MM = 55.0, 20.0
WIDE_HOSE, NARROW_HOSE, WIDE_MM, BETWEEN_MM = "rubber-20", "rubber-16", 20.0, 17.5
FIT_MM = 1.0  # that a hose's bore and an end may differ
FLOOR_C, INWARDS_MM = 34.0, 300.0
PLATE_LOW_MM, MIXER_LOW_MM = 95.0, 70.0
BEGIN_MM, LAST_MM, BYPASS_MM, FLOOR_LOOP_MM = 650.0, 420.0, 280.0, 480.0


@dataclass(frozen=True, slots=True)
class Usual:
    """What a usual loop has.

    Attributes:
        engine: "none", "series" (in the loop itself), or "plate" (behind a plate exchanger).
    """

    convectors: int = 1
    calorifier: bool = False
    floors: int = 0
    engine: str = "none"


USUAL: dict[str, tuple[str, Usual]] = {
    "preheat": ("engine preheat only", Usual(0, engine="series")),
    "convector": ("one fan convector", Usual(1)),
    "convector-water": ("fan convector and hot water", Usual(1, calorifier=True)),
    "floors": ("convector, hot water and two floor loops", Usual(1, calorifier=True, floors=2)),
    "engine-heat": (
        "convector and hot water, engine behind a plate exchanger",
        Usual(1, calorifier=True, engine="plate"),
    ),
    "whole": (
        "convector, hot water, two floor loops, engine behind a plate exchanger",
        Usual(1, calorifier=True, floors=2, engine="plate"),
    ),
}


@dataclass
class _Draft:
    """A loop that is being put together."""

    job: Job
    parts: list[LoopPart] = field(default_factory=list)
    hoses: list[Hose] = field(default_factory=list)

    def put(self, part_id: str, name: str, kind: str, at: Vec3, **more: object) -> str:
        x, y, z = (float(round(value)) for value in at)
        part = {"id": part_id, "name": name, "kind": kind, "x_mm": x, "y_mm": y, "z_mm": z, **more}
        self.parts.append(LoopPart.model_validate(part))
        return part_id

    def size_mm(self, end: tuple[str, str]) -> float:
        """Outside diameter of an end."""
        if end[0] == HEATER:
            side = loop_side(self.job)
            return side.port_outside_mm if side is not None else WIDE_MM
        part = next(part for part in self.parts if part.id == end[0])
        kind = self.job.catalogue.coolant_equipment.part(part.kind)
        return kind.port_mms.get(end[1], kind.port_mm)

    def join(self, start: tuple[str, str], end: tuple[str, str]) -> None:
        """A hose of the bore of both ends; of the wider one where they differ."""
        wide = max(self.size_mm(start), self.size_mm(end)) > BETWEEN_MM
        kind = WIDE_HOSE if wide else NARROW_HOSE
        number = len(self.hoses) + 1
        self.hoses.append(
            Hose(
                id=f"hose-{number}",
                from_part=start[0],
                from_end=start[1],
                to_part=end[0],
                to_end=end[1],
                kind=kind,
            )
        )


def usual_loop(job: Job, usual: Usual) -> Coolant:
    """Return a loop along the wall on the heater's side, its hoses laid, clipped and led through
    the floor.

    Raises:
        BadInput: there is no coolant heater with a place yet.
    """
    if loop_side(job) is None or job.plan.spot is None:
        raise BadInput("loop", None, NO_HEATER)
    draft = _Draft(job)
    flow, back = _consumers(draft, usual)
    draft.join((HEATER, "flow"), flow)
    draft.join(back, (HEATER, "back"))
    coolant = job.plan.coolant.model_copy(
        update={
            "parts": tuple(draft.parts),
            "hoses": tuple(draft.hoses),
            "engine_isolated": usual.engine != "series",
            "engine": {"none": "none", "series": "preheat", "plate": "both"}[usual.engine],
        }
    )
    return laid_out(job, coolant)


def _consumers(draft: _Draft, usual: Usual) -> tuple[tuple[str, str], tuple[str, str]]:
    """Put consumers in; return where the flow comes in and where the return leaves."""
    job = draft.job
    shell, floor = job.plan.vehicle.shell, floor_finish_z_mm(job)
    side = -1.0 if job.plan.spot is not None and job.plan.spot.y_mm <= 0 else 1.0
    wall = side * (shell.floor_width_mm / 2 - 200)
    taken = []
    if usual.engine != "none":
        taken.append("engine")
    taken += [f"convector-{n}" for n in range(1, usual.convectors + 1)]
    taken += ["water"] if usual.calorifier else []
    taken += ["floor"] if usual.floors else []
    first, apart = _along(draft, len(taken))
    ends = []
    for number, name in enumerate(taken):
        at = (first + number * apart, wall, floor + 200.0)
        ends.append(_consumer(draft, name, at, usual))
    lane = wall - side * INWARDS_MM
    flow, back = _between_tees(draft, ends, (first - 300, lane, floor + OVER_FLOOR_MM), apart)
    return _headed(draft, flow, (first - 550, lane)), back


def _along(draft: _Draft, count: int) -> tuple[float, float]:
    """Where the first of some consumers stands, and how far apart they are: from the heater on, or
    as far forward as they need to end before the rear doors.
    """
    shell, spot = draft.job.plan.vehicle.shell, draft.job.plan.spot
    last = shell.rear_x_mm - LAST_MM
    begin = max(spot.x_mm if spot is not None else 0.0, shell.bulkhead_x_mm) + BEGIN_MM
    needs = APART_MM * max(count - 1, 0)
    first = max(min(begin, last - needs), shell.bulkhead_x_mm + BEGIN_MM)
    return first, min(APART_MM, (last - first) / max(count - 1, 1))


def _consumer(
    draft: _Draft, name: str, at: Vec3, usual: Usual
) -> tuple[tuple[str, str], tuple[str, str]]:
    """Put one consumer in; return its two ends."""
    if name.startswith("convector"):
        number = name.rpartition("-")[2]
        draft.put(name, f"convector {number}", "matrix-5", at)
        return (name, "in"), (name, "out")
    if name == "water":
        draft.put(name, "calorifier", "calorifier-20", at)
        return (name, "in"), (name, "out")
    if name == "engine":
        return _engine(draft, at, usual.engine)
    return _floor(draft, at, usual.floors)


def _engine(draft: _Draft, at: Vec3, how: str) -> tuple[tuple[str, str], tuple[str, str]]:
    shell = draft.job.plan.vehicle.shell
    block = (shell.front_x_mm + 500, 0.0, 100.0)
    if how == "series":
        draft.put("engine", "engine", "engine-2", block)
        top = (block[0] + 300, block[1] + 80, block[2] + 140)
        draft.put("engine-bleed", "bleed at the engine", "bleed", top)
        draft.join(("engine", "out"), ("engine-bleed", "in"))
        return ("engine", "in"), ("engine-bleed", "out")
    draft.put("plate", "plate exchanger", "plate-20", (at[0], at[1], at[2] - PLATE_LOW_MM))
    draft.put("engine", "engine", "engine-2", block)
    draft.put(
        "engine-pump", "engine pump", "pump-12", (at[0] - 250, at[1], at[2] - PLATE_LOW_MM + 30)
    )
    draft.join(("engine", "out"), ("engine-pump", "in"))
    draft.join(("engine-pump", "out"), ("plate", "engine-in"))
    draft.join(("plate", "engine-out"), ("engine", "in"))
    return ("plate", "in"), ("plate", "out")


def _floor(draft: _Draft, at: Vec3, loops: int) -> tuple[tuple[str, str], tuple[str, str]]:
    """Floor loops in turn behind a mixing valve, with a pump of their own."""
    x, y, z = at[0], at[1], at[2] - MIXER_LOW_MM
    draft.put("mixer", "mixing valve", "mixer-45", (x, y, z), mix_c=FLOOR_C)
    draft.put("floor-pump", "floor pump", "pump-small", (x + 160, y, z))
    draft.put("floor-tee", "floor tee", "tee-16", (x + 100, y * 0.9, z - 90))
    draft.join(("mixer", "mixed"), ("floor-pump", "in"))
    last = ("floor-pump", "out")
    for number in range(1, loops + 1):
        loop = draft.put(
            f"floor-{number}",
            f"floor loop {number}",
            "floor-pipe",
            (x - FLOOR_LOOP_MM * (loops - number + 1), 0.0, floor_finish_z_mm(draft.job) + 10),
        )
        draft.join(last, (loop, "in"))
        last = (loop, "out")
    draft.join(last, ("floor-tee", "a"))
    draft.join(("floor-tee", "c"), ("mixer", "cold"))
    return ("mixer", "hot"), ("floor-tee", "b")


def _between_tees(
    draft: _Draft, ends: list[tuple[tuple[str, str], tuple[str, str]]], at: Vec3, apart_mm: float
) -> tuple[tuple[str, str], tuple[str, str]]:
    """Hang consumers between flow and return; beside the last one a bypass that is always open."""
    beside = at[0] + apart_mm * max(len(ends) - 1, 0) + BYPASS_MM
    draft.put("bypass", "bypass", "bypass", (beside, at[1], at[2]))
    flow, back = ("bypass", "in"), ("bypass", "out")
    for number, (start, end) in reversed(list(enumerate(ends, 1))):
        x = at[0] + apart_mm * (number - 1)
        for name, words, lift in (("flow", "flow", 0.0), ("back", "return", -RETURN_UNDER_MM)):
            narrow = draft.size_mm(start) < BETWEEN_MM
            draft.put(
                f"tee-{name}-{number}",
                f"{words} tee {number}",
                "tee-20-16" if narrow else "tee-20",
                (x, at[1], at[2] + lift),
            )
        draft.join((f"tee-flow-{number}", "b"), flow)
        draft.join(back, (f"tee-back-{number}", "b"))
        draft.join((f"tee-flow-{number}", "c"), start)
        draft.join(end, (f"tee-back-{number}", "c"))
        flow, back = (f"tee-flow-{number}", "a"), (f"tee-back-{number}", "a")
    return flow, back


def _headed(draft: _Draft, flow: tuple[str, str], at: tuple[float, float]) -> tuple[str, str]:
    """Put the header over everything, on a tee in the flow, and a drain at the lowest place; return
    where the flow comes in now.
    """
    shell = draft.job.plan.vehicle.shell
    high = (at[0], at[1], shell.inside_height_mm - ROOF_MM)
    floor = floor_finish_z_mm(draft.job)
    draft.put("header", "header tank", "header-cap", high)
    draft.put("tee-header", "header tee", "tee-20-16", (at[0], at[1], floor + OVER_FLOOR_MM))
    draft.put("drain", "drain tap", "drain", (at[0] - 200, at[1], floor + OVER_FLOOR_MM - 10))
    draft.join(("tee-header", "c"), ("header", "feed"))
    draft.join(("tee-header", "b"), flow)
    draft.join(("drain", "out"), ("tee-header", "a"))
    return ("drain", "in")


def laid_out(job: Job, coolant: Coolant) -> Coolant:
    """Return a loop with every hose laid square, clipped, and its holes in the floor filled."""
    there = _with(job, coolant)
    hoses = tuple(laid_hose(there, hose) for hose in coolant.hoses)
    return coolant.model_copy(update={"hoses": hoses})


def laid_hose(job: Job, hose: Hose) -> Hose:
    """Return a hose laid square to the vehicle, clipped; through the floor with a grommet."""
    start = end_point(job, (hose.from_part, hose.from_end))
    end = end_point(job, (hose.to_part, hose.to_end))
    if start is None or end is None:
        return hose
    bare = hose.model_copy(update={"nodes": _corners(job, start, end), "parts": ()})
    return fitted_hose(with_hose(job, bare), bare)


def fitting_kind(job: Job, hose: Hose) -> str:
    """Return the kind of hose that goes on both ends of a hose; its own where that does, or none
    does.
    """
    works = job.catalogue.coolant_equipment
    ends = ((hose.from_part, hose.from_end), (hose.to_part, hose.to_end))
    sizes = [size for end in ends if (size := port_mm(job, end)) is not None]
    for kind in (hose.kind, WIDE_HOSE, NARROW_HOSE):
        if all(abs(works.hose(kind).bore_mm - size) <= FIT_MM for size in sizes):
            return kind
    return hose.kind


def fitted_hose(job: Job, hose: Hose) -> Hose:
    """Return a hose with clips evenly along it, and a hole wherever it leads outside."""
    run = hose_run(job, hose.id)
    if run is None:
        return hose
    parts = [*even_clips(job, run.length_mm)]
    hole = math.ceil(run.outside_mm + HOLE_SPARE_MM)
    parts += [
        HosePart(id=f"hole-{n}", kind="hole", at_mm=round(at), diameter_mm=hole)
        for n, at in enumerate(hose_passes_mm(job, hose.id), 1)
    ]
    parts += sleeves(job, run)
    return hose.model_copy(update={"parts": tuple(parts)})


def sleeves(job: Job, run: HoseRun) -> list[HosePart]:
    """Return sleeves over what of a hose lies outside."""
    outside = (s for s in route_stretches(job, run.geometry) if not s.inside)
    return [
        HosePart(
            id=f"guard-{n}",
            kind="guard",
            at_mm=math.floor(stretch.from_mm),
            length_mm=math.ceil(stretch.to_mm) - math.floor(stretch.from_mm),
        )
        for n, stretch in enumerate(outside, 1)
    ]


def even_clips(job: Job, length_mm: float) -> tuple[HosePart, ...]:
    """Return clips evenly along a hose, a little nearer to one another than they may be."""
    apart = 0.9 * most_of(job, "hose_clip_mm", CLIP_MM)
    count = math.ceil(length_mm / apart)
    return tuple(
        HosePart(id=f"clip-{n}", kind="clip", at_mm=round(length_mm * n / count))
        for n in range(1, count)
    )


def _corners(job: Job, start: Vec3, end: Vec3) -> tuple[RouteNode, ...]:
    """Straight from end to end; where one end lies under the floor, straight up through it first,
    and up to the header at its own place.
    """
    lane_z = floor_finish_z_mm(job) + RADIUS_MM + RISE_MM
    points: list[Vec3] = []
    if _is_under(job, start) and not _is_under(job, end):
        points.append((start[0], start[1], lane_z))
    if _is_under(job, end) and not _is_under(job, start):
        points.append((end[0], end[1], lane_z))
    return tuple(
        RouteNode(id=f"n{n}", x_mm=round(x), y_mm=round(y), z_mm=round(z), radius_mm=RADIUS_MM)
        for n, (x, y, z) in enumerate(points, 1)
    )


def _is_under(job: Job, point: Vec3) -> bool:
    return point[2] < floor_finish_z_mm(job) and within_shell(job, point)


def _with(job: Job, coolant: Coolant) -> Job:
    return job.with_plan(job.plan.model_copy(update={"coolant": coolant}))


def with_hose(job: Job, hose: Hose) -> Job:
    """Return the job with a hose in the place of what there was of its id."""
    coolant = job.plan.coolant
    hoses = tuple(hose if other.id == hose.id else other for other in coolant.hoses)
    return _with(job, coolant.model_copy(update={"hoses": hoses}))
