"""What the flow through a burner's pipe costs: friction, bends, and what sits on it, piece by
piece.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from fluids.fittings import bend_rounded
from fluids.friction import friction_factor

from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.heat.film import pressure_pa
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.physics.air import viscosity_pa_s
from gale_nook.core.physics.constants import AIR_CONSTANT_J_KGK, ZERO_C_K
from gale_nook.core.pipes.gas import (
    GAS_CONSTANT_J_KGK,
    GasRun,
    burner_flow,
    diesel_kg_m3,
    exhaust_gas,
)
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.plan.pipes import Route, Tube
from gale_nook.core.spot.placement import heater_port

STEP_MM = 50.0
EXIT_K = 1.0  # the velocity head that is lost where the flow leaves the pipe


@dataclass(frozen=True, slots=True)
class PressurePiece:
    """One piece of the run and the pressure that it costs."""

    name: str
    drop_pa: float


@dataclass(frozen=True)
class PressureLoss:
    """A whole run: its pieces in order from the port, and the temperature of the air it is told
    for.
    """

    pieces: tuple[PressurePiece, ...]
    ambient_c: float

    @property
    def total_pa(self) -> float:
        return sum(piece.drop_pa for piece in self.pieces)

    @property
    def worst(self) -> PressurePiece:
        return max(self.pieces, key=lambda piece: piece.drop_pa)


@dataclass(frozen=True)
class Bore:
    """The flow in a pipe: mass a second, bore, roughness, and the gas's temperature along it."""

    flow_kg_s: float
    inner_m: float
    roughness_m: float
    air_pa: float
    gas_constant: float
    celsius_at: Callable[[float], float]

    def head_pa(self, at_mm: float) -> float:
        """Velocity head at a distance from the port."""
        density, speed = self._density_and_speed(at_mm)
        return density * speed**2 / 2

    def friction(self, at_mm: float) -> float:
        """Darcy friction factor there."""
        density, speed = self._density_and_speed(at_mm)
        reynolds = density * speed * self.inner_m / viscosity_pa_s(self.celsius_at(at_mm))
        return float(friction_factor(Re=reynolds, eD=self.roughness_m / self.inner_m))

    def friction_pa(self, from_mm: float, length_mm: float, step_mm: float = STEP_MM) -> float:
        """What a straight costs by friction: Darcy's sum in pieces, since the gas cools on its
        way.
        """
        count = max(1, math.ceil(length_mm / step_mm))
        piece = length_mm / count
        middles = (from_mm + (number + 0.5) * piece for number in range(count))
        total = sum(self.friction(middle) * self.head_pa(middle) for middle in middles)
        return total * piece / 1000 / self.inner_m

    def _density_and_speed(self, at_mm: float) -> tuple[float, float]:
        density = self.air_pa / (self.gas_constant * (self.celsius_at(at_mm) + ZERO_C_K))
        return density, self.flow_kg_s / density / (math.pi * self.inner_m**2 / 4)


@fact
def pressure_losses(job: Job) -> dict[Tube, PressureLoss]:
    """Return what each pipe that has a run costs at most output, in the coldest night's air or on a
    warm day, whichever costs more: warm air is thinner, and runs faster.
    """
    results: dict[Tube, PressureLoss] = {}
    for celsius in (job.plan.heat.outside_c, job.catalogue.pipe_physics.warm_day_c):
        gas = exhaust_gas(job, celsius)
        losses: dict[Tube, PressureLoss | None] = {
            "exhaust": exhaust_loss(job, gas) if gas is not None else None,
            "intake": intake_loss(job, celsius),
        }
        for tube, loss in losses.items():
            known = results.get(tube)
            if loss is not None and (known is None or loss.total_pa > known.total_pa):
                results[tube] = loss
    return results


def exhaust_loss(job: Job, gas: GasRun) -> PressureLoss | None:
    """Return what the exhaust costs at the gas's own density, at the place's altitude; None without
    a run.
    """
    run, route = pipe_run(job, "exhaust"), job.plan.pipes.exhaust
    if run is None or route is None:
        return None
    bore = bore_of(job, "exhaust", gas.flow.gas_kg_s, GAS_CONSTANT_J_KGK, gas.gas_c_at)
    return _loss(job, "exhaust", run, route, bore, gas.ambient_c)


def intake_loss(job: Job, outside_c: float) -> PressureLoss | None:
    """Return what the combustion air's pipe costs in air of a temperature; None without a run."""
    run = pipe_run(job, "intake")
    route = job.plan.pipes.intake
    sheet = heater_sheet(job)
    if run is None or route is None or sheet is None:
        return None
    bore = bore_of(
        job,
        "intake",
        burner_flow(sheet, diesel_kg_m3(job), outside_c).air_kg_s,
        AIR_CONSTANT_J_KGK,
        lambda _at: outside_c,
    )
    return _loss(job, "intake", run, route, bore, outside_c)


def bore_of(
    job: Job,
    tube: Tube,
    flow_kg_s: float,
    gas_constant: float,
    celsius_at: Callable[[float], float],
) -> Bore:
    """Return the flow in a pipe at the place's altitude."""
    kind = job.catalogue.pipes[tube]
    inner_m = (heater_port(job, tube).diameter_mm - 2 * kind.wall_mm) / 1000
    air_pa = pressure_pa(job.plan.heat.altitude_m)
    return Bore(flow_kg_s, inner_m, kind.roughness_mm / 1000, air_pa, gas_constant, celsius_at)


def _loss(
    job: Job, tube: Tube, run: RouteGeometry, route: Route, bore: Bore, ambient_c: float
) -> PressureLoss:
    works, kind = job.catalogue.pipe_physics, job.catalogue.pipes[tube]
    pieces = _pipe_pieces(run, bore)
    each = {
        "silencer": kind.silencer_k,
        "filter": works.filter_k,
        "joint": works.joint_k,
        "cap": works.cap_k,
    }
    for fitting in route.of_kind("silencer", "filter", "joint", "cap"):
        pieces.append(PressurePiece(fitting.kind, each[fitting.kind] * bore.head_pa(fitting.at_mm)))
    mouth_k = EXIT_K if tube == "exhaust" else works.entry_k
    mouth = PressurePiece("mouth", mouth_k * bore.head_pa(run.length_mm))
    return PressureLoss((*pieces, mouth), ambient_c)


def _pipe_pieces(run: RouteGeometry, bore: Bore) -> list[PressurePiece]:
    """Friction of the straights, and the bends.

    Source: D. C. Rennels, Pipe Flow, 2nd ed., chapter 15, through the library.
    """
    bends = {bend.corner: bend for bend in run.bends}
    result, passed = [], 0.0
    for straight in run.straights:
        length = max(straight.room_mm, 0.0)
        drop = bore.friction_pa(passed, length)
        result.append(PressurePiece(f"straight {straight.index + 1}", drop))
        passed += length
        bend = bends.get(straight.index + 1)
        if bend is not None:
            middle, ratio = passed + bend.arc_mm / 2, bend.radius_mm / 1000 / bore.inner_m
            loss = bend_rounded(
                Di=bore.inner_m,
                angle=bend.angle_deg,
                fd=bore.friction(middle),
                bend_diameters=ratio,
                method="Rennels",
            )
            result.append(PressurePiece(f"bend {bend.corner}", float(loss) * bore.head_pa(middle)))
            passed += bend.arc_mm
    return result
