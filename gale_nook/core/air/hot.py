"""How warm a thing gets beside a duct, and in the jet of an outlet."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from gale_nook.core.ducts.air_state import AirState
from gale_nook.core.ducts.layout import DuctPiece, Layout, layout
from gale_nook.core.ducts.passes import all_runs
from gale_nook.core.ducts.state import air_state
from gale_nook.core.ducts.throttles import Throttles
from gale_nook.core.ducts.tree import DuctRun, run_of
from gale_nook.core.geometry.frames import Vec3, add, scale, turn_xy
from gale_nook.core.geometry.shapes import Shape
from gale_nook.core.job import Job, fact
from gale_nook.core.physics.air import HOTTEST_C

JET_STEP_MM = 20.0
NO_WARMER_K = 1.0  # a jet is followed until it is no warmer than that over the room


@dataclass(frozen=True, slots=True)
class Warm:
    """A stretch of duct: from where to where, its air and its skin at the most."""

    duct: str
    from_mm: float
    to_mm: float
    air_c: float
    skin_c: float
    place: str
    layers: int


@fact
def hot_state(job: Job) -> AirState | None:
    """Return the air as it blows with nothing in its way: every outlet open, nothing holding back
    what returns, at the most output. A starved or throttled heater must not make its ducts look
    cool.
    """
    plan_layout = layout(job)
    if plan_layout is None or not plan_layout.runs:
        return None
    back = replace(plan_layout.back, loss=0.0)
    free = replace(plan_layout, back=back, back_duct=(), gaps_m2={})
    return air_state(free, free.most_w, Throttles())


@fact
def hottest(job: Job) -> tuple[Warm, ...]:
    """Return the pieces of every duct of the tree as hot as they can get: with the warm end at its
    limit, which shutting outlets can bring about whatever the output.
    """
    plan_layout, state = layout(job), hot_state(job)
    if plan_layout is None or state is None or state.pieces is None:
        return ()
    limit_c = plan_layout.fan.outlet_limit_c
    known = zip(
        open_pieces(plan_layout, state), state.pieces.air_c, state.pieces.skin_c, strict=True
    )
    results = []
    passed: dict[str, float] = {}
    lift = at_the_limit(state, limit_c)
    for piece, air_c, skin_c in known:
        run = plan_layout.runs[piece.duct]
        ambient = piece.wall.ambient_c
        length = piece.length_m * 1000
        start = passed.get(run.duct.id, 0.0)
        passed[run.duct.id] = start + length
        air = state.inlet_c + lift * (air_c - state.inlet_c)
        skin = ambient + lift * (skin_c - ambient)
        if state.heater_c > HOTTEST_C:  # nearly no air: nothing is known but the limit
            air = skin = max(limit_c, ambient)
        middle = start + length / 2
        layers = sum(p.layers for p in run.duct.of_kind("lagging") if p.at_mm <= middle < p.end_mm)
        results.append(Warm(run.duct.id, start, start + length, air, skin, piece.place, layers))
    return tuple(results)


def at_the_limit(state: AirState, limit_c: float) -> float:
    """Return how many times as warm as in a state, over the inlet, the air can get before the
    heater throttles; less than 1 where it is over its limit there.
    """
    over = state.heater_c - state.inlet_c
    return (limit_c - state.inlet_c) / over if over > 0 else 1.0


def open_pieces(plan_layout: Layout, state: AirState) -> list[DuctPiece]:
    """Return the pieces that air flows through in a state, in their order."""
    names = {duct.id for duct in state.ducts}
    return [piece for piece in plan_layout.pieces if plan_layout.runs[piece.duct].duct.id in names]


def beside_c(
    skin_c: float, room_c: float, gap_mm: float, outer_mm: float, contact_mm: float
) -> float:
    """Return how warm a thing can get beside a duct: as its skin where they nearly touch, else by
    the share of the view that the duct fills, r/(r + gap). That is rather too much, since it leaves
    out that the thing cools on its other side.
    """
    if gap_mm <= contact_mm:
        return skin_c
    radius = outer_mm / 2
    return room_c + (skin_c - room_c) * radius / (radius + gap_mm)


@dataclass(frozen=True, slots=True)
class Jet:
    """The air of an outlet, blown into the room.

    Attributes:
        at, along: where it comes out, and the unit vector along it.
        air_c, room_c: as it comes out, and of the room.
    """

    duct: str
    name: str
    at: Vec3
    along: Vec3
    bore_mm: float
    air_c: float
    room_c: float
    core: float
    spread_deg: float

    def celsius_at(self, distance_mm: float) -> float:
        """Return the temperature on its axis: as at the outlet for so many bores, then falling with
        the distance. Source: any text on free round jets.
        """
        core_mm = self.core * self.bore_mm
        share = min(core_mm / distance_mm, 1.0) if distance_mm > 0 else 1.0
        return self.room_c + (self.air_c - self.room_c) * share

    def radius_at(self, distance_mm: float) -> float:
        return self.bore_mm / 2 + distance_mm * math.tan(math.radians(self.spread_deg))

    @property
    def reach_mm(self) -> float:
        """How far it is followed."""
        over = max(self.air_c - self.room_c, NO_WARMER_K)
        return self.core * self.bore_mm * over / NO_WARMER_K

    def point(self, distance_mm: float) -> Vec3:
        return add(self.at, scale(self.along, distance_mm))

    def meets(self, shape: Shape, far_mm: float, start_mm: float = 0.0) -> float | None:
        """Return how far from the outlet a shape first reaches into the jet; None where it does
        not within a distance.

        Args:
            start_mm: nearer than this does not count.
        """
        reach = min(far_mm, self.reach_mm) + JET_STEP_MM
        if not self._may_meet(shape, start_mm, reach):
            return None
        low, high = np.array(shape.bounds[:3]), np.array(shape.bounds[3:])
        steps = np.arange(start_mm, reach, JET_STEP_MM)
        points = np.array(self.at) + steps[:, None] * np.array(self.along)
        wide = self.bore_mm / 2 + steps * math.tan(math.radians(self.spread_deg))
        apart = np.maximum(np.maximum(low - points, points - high), 0.0)
        for index in np.flatnonzero((apart * apart).sum(axis=1) <= wide * wide).tolist():
            point = (float(points[index][0]), float(points[index][1]), float(points[index][2]))
            near = min(
                (piece.nearest(point) for piece in shape.pieces),
                key=lambda p: math.dist(p, point),
            )
            if math.dist(near, point) <= wide[index]:
                return float(steps[index])
        return None

    def _may_meet(self, shape: Shape, from_mm: float, to_mm: float) -> bool:
        """Whether the bounds of a shape reach into the box round a stretch of the jet."""
        wide, bounds = self.radius_at(to_mm), shape.bounds
        near, far = self.point(from_mm), self.point(to_mm)
        return all(
            bounds[i] <= max(near[i], far[i]) + wide
            and bounds[i + 3] >= min(near[i], far[i]) - wide
            for i in range(3)
        )


@fact
def jets(job: Job) -> tuple[Jet, ...]:
    """Return the jet of every outlet, as hot as it can get."""
    state, works = hot_state(job), job.catalogue.air_equipment
    if state is None:
        return ()
    lift = at_the_limit(state, state.layout.fan.outlet_limit_c)
    results = []
    for outlet in state.outlets:
        run = run_of(job, outlet.id)
        if run is None:
            continue
        along = outlet_direction(run)
        room = state.layout.zone_c.get(outlet.zone, state.inlet_c)
        air = state.inlet_c + lift * (outlet.temperature_c - state.inlet_c)
        if state.heater_c > HOTTEST_C:
            air = max(state.layout.fan.outlet_limit_c, room)
        bore = state.layout.outlet_bore_mm.get(outlet.id, run.kind.bore_mm)
        physics = works.physics
        results.append(
            Jet(
                outlet.id,
                outlet.name,
                run.geometry.mouth,
                along,
                bore,
                air,
                room,
                physics.jet_core,
                physics.jet_spread_deg,
            )
        )
    return tuple(results)


def outlet_direction(run: DuctRun) -> Vec3:
    """Return the way in which an outlet blows: as its duct ends, turned by its swivel in plan."""
    x, y, z = run.geometry.mouth_direction
    turn = run.duct.outlet.aim_deg if run.duct.outlet is not None else 0.0
    dx, dy = turn_xy(x, y, turn)
    return (dx, dy, z)


@fact
def shapes_of_runs(job: Job) -> dict[str, DuctRun]:
    """Return every duct by its id."""
    return {run.duct.id: run for run in all_runs(job)}
