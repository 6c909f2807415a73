"""Usual loops, to begin from: each consumer between a tee in the flow and a tee in the return."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from gale_nook.core.coolant.laying import (
    NARROW_HOSE,
    WIDE_HOSE,
    laid_out,
    loop_meets,
    part_meets,
    with_loop,
)
from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.loop.hoses import loop_side
from gale_nook.core.plan.coolant import HEATER, Coolant, Hose, LoopPart
from gale_nook.core.vehicle.floor import floor_finish_z_mm

NO_HEATER = "A loop begins at the heater: choose a coolant heater and a spot first."
OVER_FLOOR_MM, APART_MM, ROOF_MM = 195.0, 700.0, 260.0
RETURN_UNDER_MM = 55.0
WIDE_MM, BETWEEN_MM = 20.0, 17.5
FLOOR_C, INWARDS_MM = 34.0, 300.0
PLATE_LOW_MM, MIXER_LOW_MM = 95.0, 70.0
WALL_MM, SHIFTS_MM = (200.0, 320.0), (0.0, 350.0, -350.0, 700.0)
CLOSEST_MM, FARTHER_IN_MM = 560.0, (0.0, 150.0, 300.0)
STEP_MM, BEFORE_MM, HEADER_MM = 50.0, 300.0, 250.0
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
    """Return a loop along a wall, its hoses laid, clipped and led through the floor: on the
    heater's side where there is room, else where it shares its place with the fewest things.

    Raises:
        BadInput: there is no coolant heater with a place yet.
    """
    if loop_side(job) is None or job.plan.spot is None:
        raise BadInput("loop", None, NO_HEATER)
    best: tuple[int, Coolant] | None = None
    for place in _places(job):
        coolant = _loop_at(job, usual, place)
        met = loop_meets(with_loop(job, coolant))
        if best is None or met < best[0]:
            best = (met, coolant)
        if met == 0:
            break
    if best is None:
        raise ValueError("there is always a first place")
    return best[1]


@dataclass(frozen=True, slots=True)
class _Place:
    """Where a loop stands: on which side (-1 left, 1 right), shifted by how much rearward, and how
    far in from the wall.
    """

    side: float
    shift_mm: float
    in_mm: float


def _places(job: Job) -> Iterator[_Place]:
    """Where a loop may stand, the heater's side first."""
    own = -1.0 if job.plan.spot is not None and job.plan.spot.y_mm <= 0 else 1.0
    for in_mm in WALL_MM:
        for shift_mm in SHIFTS_MM:
            for side in (own, -own):
                yield _Place(side, shift_mm, in_mm)


def _loop_at(job: Job, usual: Usual, place: _Place) -> Coolant:
    draft = _Draft(job)
    flow, back = _consumers(draft, usual, place)
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


def _consumers(
    draft: _Draft, usual: Usual, place: _Place
) -> tuple[tuple[str, str], tuple[str, str]]:
    """Put consumers in; return where the flow comes in and where the return leaves."""
    job = draft.job
    shell, floor = job.plan.vehicle.shell, floor_finish_z_mm(job)
    side, wall = place.side, place.side * (shell.floor_width_mm / 2 - place.in_mm)
    taken = []
    if usual.engine != "none":
        taken.append("engine")
    taken += [f"convector-{n}" for n in range(1, usual.convectors + 1)]
    taken += ["water"] if usual.calorifier else []
    taken += ["floor"] if usual.floors else []
    first, apart = _along(draft, len(taken), place.shift_mm)
    ends = []
    along: list[float] = []
    for number, name in enumerate(taken):
        begin = max(first + number * apart, along[-1] + CLOSEST_MM if along else first)
        x, y = _free_place(draft, name, (begin, wall, floor + 200.0), place.side)
        along.append(x)
        ends.append(_consumer(draft, name, (x, y, floor + 200.0), usual))
    lane = wall - side * INWARDS_MM
    places = [x - BEFORE_MM for x in along]
    flow, back = _between_tees(draft, ends, places, (lane, floor + OVER_FLOOR_MM))
    return _headed(draft, flow, (places[0] - HEADER_MM, lane)), back


STANDS = {"water": "calorifier-20", "engine": "plate-20", "floor": "mixer-45"}


def _free_place(draft: _Draft, name: str, at: Vec3, side: float) -> tuple[float, float]:
    """Where along its wall a consumer shares its place with nothing, from a place on rearward; else
    farther in; that place itself where there is none.
    """
    kind, last = STANDS.get(name, "matrix-5"), draft.job.plan.vehicle.shell.rear_x_mm - LAST_MM
    begin = min(at[0], last)
    for inwards_mm in FARTHER_IN_MM:
        y = at[1] - side * inwards_mm
        for n in range(int((last - begin) // STEP_MM) + 1):
            x = begin + n * STEP_MM
            if part_meets(draft.job, kind, (x, y, at[2])) == 0:
                return x, y
    return begin, at[1]


def _along(draft: _Draft, count: int, shift_mm: float) -> tuple[float, float]:
    """Where the first of some consumers stands, and how far apart they are: from the heater on, or
    as far forward as they need to end before the rear doors.
    """
    shell, spot = draft.job.plan.vehicle.shell, draft.job.plan.spot
    last = shell.rear_x_mm - LAST_MM
    begin = max(spot.x_mm if spot is not None else 0.0, shell.bulkhead_x_mm) + BEGIN_MM + shift_mm
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
    draft: _Draft,
    ends: list[tuple[tuple[str, str], tuple[str, str]]],
    along: list[float],
    lane: tuple[float, float],
) -> tuple[tuple[str, str], tuple[str, str]]:
    """Hang consumers between flow and return; beside the last one a bypass that is always open."""
    y, z = lane
    draft.put("bypass", "bypass", "bypass", (along[-1] + BYPASS_MM, y, z))
    flow, back = ("bypass", "in"), ("bypass", "out")
    for number, (start, end) in reversed(list(enumerate(ends, 1))):
        x = along[number - 1]
        for name, words, lift in (("flow", "flow", 0.0), ("back", "return", -RETURN_UNDER_MM)):
            narrow = draft.size_mm(start) < BETWEEN_MM
            draft.put(
                f"tee-{name}-{number}",
                f"{words} tee {number}",
                "tee-20-16" if narrow else "tee-20",
                (x, y, z + lift),
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
