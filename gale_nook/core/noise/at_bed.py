"""The night's sound where one sleeps: every source with the way that it takes, as a range, and what
each change brings.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.outlet_sound import outlet_sound_db
from gale_nook.core.ducts.tree import run_of
from gale_nook.core.fitted.usable import usable
from gale_nook.core.fuel.line import fuel_run
from gale_nook.core.fuel.noise import floor_mass_kg_m2
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.loop.hoses import loop_parts
from gale_nook.core.noise.levels import (
    HALF_SPACE_DB,
    direct_db,
    let_in_db,
    panel_loss_db,
    room_db,
    sum_db,
)
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.spot.placement import body_corners
from gale_nook.core.vehicle.floor import floor_underside_z_mm
from gale_nook.core.vehicle.inside import is_inside
from gale_nook.core.vehicle.parts import surveyed_where

BEDS = ("bed",)
EXHAUST: Tube = "exhaust"
INTAKE: Tube = "intake"
SHAKEN_DB, SHAKEN_OFF_DB = 34.0, 5.0  # by so much less than its power the body gives off
LEAST_TOLD_DB = 0.5
THROUGH = {"floor": "through the floor", "wall": "through the wall", "air": "in the room"}


@dataclass(frozen=True, slots=True)
class Source:
    """Something that sounds.

    Attributes:
        power_db: its sound power, dB(A), at most output; off_db: by so much that may be off.
        with_output: it falls with the heater's output.
        hard_db: of its power, that is heard through the body it is fixed to.
    """

    name: str
    at: Vec3
    power_db: float
    off_db: float
    with_output: bool = True
    hard_db: float | None = None


@dataclass(frozen=True, slots=True)
class Heard:
    """A source at a bed, dB(A), from the least to the most that it may be."""

    name: str
    way: str
    least_db: float
    most_db: float

    @property
    def middle_db(self) -> float:
        return (self.least_db + self.most_db) / 2


@dataclass(frozen=True, slots=True)
class AtBed:
    """All that is heard at a bed.

    Attributes:
        sources: the loudest first.
    """

    bed: str
    name: str
    at: Vec3
    sources: tuple[Heard, ...]

    @property
    def least_db(self) -> float:
        return sum_db(each.least_db for each in self.sources)

    @property
    def most_db(self) -> float:
        return sum_db(each.most_db for each in self.sources)

    @property
    def middle_db(self) -> float:
        """Of the sources' middles together."""
        return sum_db(each.middle_db for each in self.sources)


@fact
def sources(job: Job) -> tuple[Source, ...]:
    """Return everything that sounds by night; none without a placed heater."""
    if heater_sheet(job) is None or job.plan.spot is None:
        return ()
    found = [*_pipes(job), *_body(job), *_pump(job), *_outlets(job), *_convectors(job)]
    return tuple(found)


def _pipes(job: Job) -> Iterator[Source]:
    """Both mouths, with what is on the way to them."""
    sound = job.catalogue.sound
    for tube, name, power, takes in (
        (EXHAUST, "exhaust's mouth", sound.exhaust_db, sound.silencer_db),
        (INTAKE, "combustion air's mouth", sound.intake_db, sound.intake_silencer_db),
    ):
        run, route = pipe_run(job, tube), job.plan.pipes.route(tube)
        if run is None or route is None:
            continue
        quiet = bool(route.of_kind("silencer") or (tube == INTAKE and route.of_kind("filter")))
        yield Source(
            f"{name}, {'with' if quiet else 'without'} a silencer",
            run.mouth,
            power - (takes if quiet else 0.0),
            math.hypot(sound.unsure_db, takes / 2 if quiet else 0.0),
        )


def _body(job: Job) -> Iterator[Source]:
    """Burner and fan through the heater's casing; by its sheet where that tells it."""
    sheet, corners, sound = heater_sheet(job), body_corners(job), job.catalogue.sound
    if sheet is None or corners is None:
        return
    middle = tuple((corners[0][i] + corners[1][i]) / 2 for i in range(3))
    power, off = sound.body_db, sound.unsure_db
    if sheet.noise_db is not None:
        power = sheet.noise_db + 20 * math.log10(sheet.noise_at_m) + HALF_SPACE_DB
        off = sound.sheet_db
    boxed = _boxed(job, middle)
    yield Source(
        "heater's fan and burner" + (", in its box" if boxed else ""),
        (middle[0], middle[1], middle[2]),
        power - (sound.boxed_db if boxed else 0.0),
        math.hypot(off, sound.boxed_db / 2 if boxed else 0.0),
        hard_db=None if job.plan.spot is not None and job.plan.spot.on_rubber else power,
    )


def _boxed(job: Job, at: tuple[float, ...]) -> bool:
    if job.plan.spot is not None and job.plan.spot.boxed:
        return True
    for solid in job.plan.vehicle.solids:
        if not isinstance(solid, BoxSolid) or solid.hollow is None:
            continue
        low = (solid.x_mm, solid.y_mm, solid.z_mm)
        size = (solid.length_mm, solid.width_mm, solid.height_mm)
        if all(low[i] <= at[i] <= low[i] + size[i] for i in range(3)):
            return True
    return False


def _pump(job: Job) -> Iterator[Source]:
    run, pump, sound = fuel_run(job), job.catalogue.fuel_equipment.pump, job.catalogue.sound
    if run is None or run.pump_at is None:
        return
    rubber = run.line.pump.rubber
    yield Source(
        f"fuel pump, {'on rubber' if rubber else 'fixed hard'}",
        run.pump_at,
        pump.tick_db,
        sound.sheet_db,
        hard_db=None if rubber else pump.tick_db + pump.hard_db,
    )


def _outlets(job: Job) -> Iterator[Source]:
    """The air at each outlet, as fast as it is at the usable output."""
    found = usable(job) if job.plan.air.ducts else None
    state: AirState | None = found.at if found is not None else None
    if state is None or not state.ducts:
        return
    bores = state.layout.outlet_bore_mm
    for outlet in state.outlets:
        run = run_of(job, outlet.id)
        if run is None:
            continue
        power = outlet_sound_db(outlet.velocity_m_s, bores.get(outlet.id, 75.0))
        yield Source(f"air at {outlet.name}", run.geometry.mouth, power, 2.0)


def _convectors(job: Job) -> Iterator[Source]:
    sound = job.catalogue.sound
    if job.plan.heater.medium != "coolant":
        return
    for part, kind in loop_parts(job):
        if kind.kind != "matrix" or not kind.fans:
            continue
        power_w = kind.fans[min(part.fan, len(kind.fans) - 1)].power_w
        if power_w > 0:
            power = sound.convector_db + sound.by_ten_db * math.log10(power_w / 10)
            at = (part.x_mm, part.y_mm, part.z_mm)
            yield Source(f"fan of the {part.name}", at, power, sound.unsure_db, with_output=False)


@fact
def at_beds(job: Job, by_night: bool) -> tuple[AtBed, ...]:
    """Return what is heard at every bed: by night at the heater's least output, or at its most;
    none without a bed or a placed heater.
    """
    return _heard(job, by_night_sources(job) if by_night else sources(job))


def by_night_sources(job: Job) -> tuple[Source, ...]:
    """Return the sources at the heater's least output."""
    return tuple(_least(source, job.catalogue.sound.least_db) for source in sources(job))


def _heard(job: Job, sounding: tuple[Source, ...]) -> tuple[AtBed, ...]:
    if not sounding:
        return ()
    results = []
    for solid, kind, shape in surveyed_where(job, "inside"):
        if kind.id not in BEDS:
            continue
        b = shape.bounds
        head = ((b[0] + b[3]) / 2, (b[1] + b[4]) / 2, b[5] + 100.0)
        heard = sorted(
            (each for source in sounding for each in _ways(job, source, head)),
            key=lambda each: -each.middle_db,
        )
        results.append(AtBed(solid.id, solid.name, head, tuple(heard)))
    return tuple(results)


def _ways(job: Job, source: Source, head: Vec3) -> Iterator[Heard]:
    """How a source is heard: in the room, or through floor or wall; and through the body where it
    is fixed hard.
    """
    sound = job.catalogue.sound
    distance_m = math.dist(source.at, head) / 1000
    off = math.hypot(source.off_db, sound.path_db)
    if is_inside(job, source.at):
        level = sum_db(
            [direct_db(source.power_db, distance_m), room_db(source.power_db, sound.absorbing_m2)]
        )
        way = THROUGH["air"]
    else:
        below = source.at[2] < floor_underside_z_mm(job)
        mass = floor_mass_kg_m2(job) if below else sound.wall_kg_m2
        loss = panel_loss_db(mass, sound.floor_hz, sound.most_loss_db)
        outside = direct_db(source.power_db, distance_m)
        level = let_in_db(outside, loss, sound.panel_m2, sound.absorbing_m2)
        way = THROUGH["floor" if below else "wall"]
    yield Heard(source.name, way, level - off, level + off)
    if source.hard_db is not None:
        shaken = room_db(source.hard_db - SHAKEN_DB, sound.absorbing_m2)
        wide = math.hypot(off, SHAKEN_OFF_DB)
        yield Heard(source.name, "through the body", shaken - wide, shaken + wide)


@dataclass(frozen=True, slots=True)
class Change:
    """What a change brings at a bed: by how much less is heard, dB."""

    words: str
    quieter_db: float


def changes(job: Job, bed: AtBed) -> tuple[Change, ...]:
    """Return what could be done by night, what brings most first; only what brings something."""
    sounding = by_night_sources(job)
    tried: list[tuple[str, tuple[Source, ...]]] = []
    for number, source in enumerate(sounding):
        for words, other in _quieter(job, source):
            tried.append((words, (*sounding[:number], other, *sounding[number + 1 :])))
    results = []
    for words, other_sources in tried:
        there = next(each for each in _heard(job, other_sources) if each.bed == bed.bed)
        results.append(Change(words, bed.middle_db - there.middle_db))
    told = (each for each in results if each.quieter_db >= LEAST_TOLD_DB)
    return tuple(sorted(told, key=lambda each: -each.quieter_db))


def _least(source: Source, least_db: float) -> Source:
    return replace(source, power_db=source.power_db - least_db) if source.with_output else source


def _quieter(job: Job, source: Source) -> Iterator[tuple[str, Source]]:
    sound = job.catalogue.sound
    if source.name.endswith("without a silencer"):
        takes = sound.silencer_db if source.name.startswith("exhaust") else sound.intake_silencer_db
        words = f"a silencer on the {source.name.split(chr(39))[0]}"
        yield words, replace(source, power_db=source.power_db - takes)
    if source.hard_db is not None:
        yield f"rubber under the {source.name.split(',')[0]}", replace(source, hard_db=None)
    if source.name.startswith("air at"):
        # half the speed, by an outlet of twice the area: 50 lg v + 10 lg A
        wider = source.power_db - 50 * math.log10(2) + 10 * math.log10(2)
        yield f"an outlet of twice the area for the {source.name}", replace(source, power_db=wider)
    mount = chosen_mount(job)
    if source.name.startswith("heater") and "in its box" not in source.name and mount is not None:
        boxed = replace(source, power_db=source.power_db - sound.boxed_db)
        yield "a box round the heater, with its air openings", boxed
