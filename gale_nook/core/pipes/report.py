"""The burner's pipes in figures: what the panel, the build sheet and the command line print."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict, dataclass
from functools import partial
from typing import Any

from gale_nook.core.geometry.parked import parked_attitudes
from gale_nook.core.geometry.shapes import separation
from gale_nook.core.heat.film import pressure_pa
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.pipes.clearance_rules import WARMED_MM, outside_parts, warmed_c
from gale_nook.core.pipes.covers import cover_segments
from gale_nook.core.pipes.gas import AlongPipe, Inside, Lagged, Pipe, exhaust_gas, skin_c
from gale_nook.core.pipes.pressure import pressure_losses
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tilt import fall_deg, worst_falls
from gale_nook.core.pipes.tubes import drained_corners, risers
from gale_nook.core.pipes.warmth import gap_for_mm, neighbour_c, shielded_c
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.plan.words import TUBE_WORDS
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.lean import lean_of


@dataclass(frozen=True, slots=True)
class SurveyPlace:
    """A place for the thermometer at the first firing, and what to expect there."""

    name: str
    distance_mm: float
    gas_c: float
    skin_c: float


@dataclass(frozen=True, slots=True)
class Protection:
    """What keeps a neighbour of the exhaust cool enough: the gap that would do, by cover; None
    where none would.

    Attributes:
        gap_mm: what there is, from the pipe's skin as it is covered now.
        now_c, most_c: what it gets to, and what it stands for good.
    """

    name: str
    gap_mm: float
    cover: str
    now_c: float
    most_c: float
    bare_mm: float | None
    once_mm: float | None
    twice_mm: float | None
    shield_mm: float | None


def first_firing(job: Job) -> tuple[SurveyPlace, ...]:
    """Return where to point the thermometer at the first firing: port, bends, mouth, and beside
    what heat harms.
    """
    run, gas = pipe_run(job, "exhaust"), exhaust_gas(job, job.plan.pipes.firing_c)
    if run is None or gas is None:
        return ()
    places = [(name, at) for name, at in run.stations_mm]
    for solid, kind, shape in outside_parts(job):
        if kind.heat_c is None:
            continue
        near = min(
            (separation(s.shape, shape) for s in cover_segments(job)),
            key=lambda found: found.distance_mm,
        )
        if near.distance_mm <= WARMED_MM:
            places.append((f"beside {solid.name}", run.distance_of(near.start)))
    found = [(name, at, gas.at(at)) for name, at in sorted(places, key=lambda place: place[1])]
    return tuple(SurveyPlace(name, at, place.gas_c, place.skin_c) for name, at, place in found)


def protections(job: Job) -> tuple[Protection, ...]:
    """Return for every neighbour that heat harms what distance, lagging or a shield would bring,
    the tightest first.
    """
    run = pipe_run(job, "exhaust")
    works, result = job.catalogue.pipe_physics, []
    ambient = works.warm_day_c
    bare_d = heater_port(job, "exhaust").diameter_mm if heater_sheet(job) is not None else 0.0
    gas = exhaust_gas(job, ambient)
    for solid, kind, shape in outside_parts(job) if gas is not None else ():
        if kind.heat_c is None or gas is None or run is None:
            continue
        near, stretch = min(
            ((separation(s.shape, shape), s) for s in cover_segments(job)),
            key=lambda p: p[0].distance_mm,
        )
        if near.distance_mm > WARMED_MM:
            continue
        _, now = warmed_c(job, stretch, near.distance_mm, near.start)
        at_mm = run.distance_of(near.start)
        once, twice = (_gap_lagged(job, kind.heat_c, at_mm, layers, bare_d) for layers in (1, 2))
        bare = _gap_lagged(job, kind.heat_c, at_mm, 0, bare_d)
        skin, outer_mm = _skin_with(job, at_mm, 0, bare_d)
        shield = gap_for_mm(kind.heat_c, partial(_warm, shielded_c, skin, outer_mm, ambient, job))
        result.append(
            Protection(
                solid.name,
                near.distance_mm,
                stretch.words,
                now,
                kind.heat_c,
                bare,
                once,
                twice,
                shield,
            )
        )
    return tuple(sorted(result, key=lambda protection: protection.most_c - protection.now_c))


def _warm(
    model: Any, skin: float, diameter_mm: float, ambient: float, job: Job, gap_mm: float
) -> float:
    return float(model(skin, diameter_mm, gap_mm, ambient, job.catalogue.pipe_physics))


def _gap_lagged(job: Job, most_c: float, at_mm: float, layers: int, bare_mm: float) -> float | None:
    """Return the gap from the skin that would do under some layers of lagging."""
    skin, outer_mm = _skin_with(job, at_mm, layers, bare_mm)
    ambient = job.catalogue.pipe_physics.warm_day_c
    return gap_for_mm(most_c, partial(_warm, neighbour_c, skin, outer_mm, ambient, job))


def _skin_with(job: Job, at_mm: float, layers: int, bare_mm: float) -> tuple[float, float]:
    """Return the skin temperature that a place would have under some layers, and its diameter with
    them.
    """
    works = job.catalogue.pipe_physics
    gas = exhaust_gas(job, works.warm_day_c)
    lagged = (Lagged(0.0, 1.0, layers),) if layers else ()
    air_pa = pressure_pa(job.plan.heat.altitude_m)
    pipe = Pipe(bare_mm / 1000, job.catalogue.pipes["exhaust"], lagged, works, air_pa)
    outer = pipe.outer_at(0.5)
    if gas is None:
        return works.warm_day_c, bare_mm
    inside = Inside(pipe.inner_m, pipe.inside_gain(at_mm))
    skin = skin_c(gas.at(at_mm).gas_c, gas.flow, inside, outer, works.warm_day_c)
    return skin, outer.diameter_m * 1000


def pipes_report(job: Job, distances_mm: tuple[float, ...] = ()) -> dict[str, Any]:
    """Return the figures of both pipes as plain data; temperatures at the distances asked for, or
    all along.
    """
    results: dict[str, Any] = {
        "plan": job.plan.name,
        "parked_tilt_deg": lean_of(job).most_deg,
    }
    tubes: tuple[Tube, ...] = ("exhaust", "intake")
    for tube in tubes:
        if pipe_run(job, tube) is not None:
            results[tube] = _run_data(job, tube)
    gas = exhaust_gas(job, job.plan.heat.outside_c)
    if gas is not None:
        along: tuple[AlongPipe, ...] = gas.along
        if distances_mm:
            along = tuple(gas.at(at) for at in distances_mm)
        results["exhaust"] |= {
            "flow": asdict(gas.flow),
            "along": [asdict(place) for place in along],
        }
        results["first_firing"] = [asdict(place) for place in first_firing(job)]
        results["protection"] = [asdict(protection) for protection in protections(job)]
    return results


def _run_data(job: Job, tube: Tube) -> dict[str, Any]:
    run = pipe_run(job, tube)
    if run is None:
        return {}
    lean = lean_of(job)
    back = risers(run, drained_corners(job, tube))
    attitudes = parked_attitudes(lean)
    falls = [
        {
            "straight": w.straight.index + 1,
            "length_mm": w.straight.length_mm,
            "fall_deg": w.straight.fall_deg,
            "parked_deg": {
                attitude.name: fall_deg(w.straight, attitude.down) for attitude in attitudes
            },
            "worst_fall_deg": w.fall_deg,
            "parked": w.parked.name,
        }
        for w in worst_falls(run, lean, back)
    ]
    loss = pressure_losses(job).get(tube)
    return {
        "length_mm": run.length_mm,
        "bend_sum_deg": run.bend_sum_deg,
        "bends": [
            {"bend": b.corner, "angle_deg": b.angle_deg, "radius_mm": b.radius_mm}
            for b in run.bends
        ],
        "falls": falls,
        "pressure_pa": loss.total_pa if loss is not None else None,
        "pieces": [asdict(piece) for piece in loss.pieces] if loss is not None else [],
    }


def pipe_lines(report: dict[str, Any]) -> Iterator[str]:
    """Yield the report as lines of text."""
    tubes: tuple[Tube, ...] = ("exhaust", "intake")
    for tube in tubes:
        if tube in report:
            yield from _run_lines(TUBE_WORDS[tube], report[tube], report["parked_tilt_deg"])
    for place in report.get("first_firing", ()):
        yield place_line(place)


def place_line(place: dict[str, Any]) -> str:
    """Return gas and skin at a place along the pipe as a line of text."""
    return (
        f"{place['distance_mm']:6.0f} mm   gas {place['gas_c']:4.0f} °C   skin "
        f"{place['skin_c']:4.0f} °C   {place.get('name', '')}"
    ).rstrip()


def _run_lines(name: str, run: dict[str, Any], tilt_deg: float) -> Iterator[str]:
    yield (
        f"{name}: {run['length_mm']:.0f} mm, {run['bend_sum_deg']:.0f}° of bends, "
        f"{run['pressure_pa']:.0f} Pa at most output"
    )
    for fall in run["falls"]:
        words = (
            f"{fall['fall_deg']:.1f}° level, {fall['worst_fall_deg']:.1f}° parked "
            f"{tilt_deg:g}° {fall['parked']}"
        )
        yield f"  straight {fall['straight']}: falls {words}"
