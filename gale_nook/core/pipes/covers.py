"""The exhaust cut into stretches that are bare, lagged or shielded, each with its
own outer skin.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass

from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.shapes import Shape, tube_shape
from gale_nook.core.job import Job, fact
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.spot.placement import heater_port


@dataclass(frozen=True)
class CoverSegment:
    """A stretch of the exhaust under one cover.

    Attributes:
        layers: of lagging; 0 for a bare pipe.
        shielded: a bright shield stands between it and its neighbours.
        shape: with the lagging's thickness.
    """

    from_mm: float
    to_mm: float
    layers: int
    shielded: bool
    diameter_mm: float
    points: tuple[Vec3, ...]
    shape: Shape

    @property
    def is_covered(self) -> bool:
        return self.layers > 0 or self.shielded

    @property
    def words(self) -> str:
        """What covers it, for a sentence."""
        layers = {0: "", 1: "lagged", 2: "twice lagged"}.get(
            self.layers, f"{self.layers} times lagged"
        )
        return (
            " and ".join(part for part in (layers, "shielded" if self.shielded else "") if part)
            or "bare"
        )


@fact
def cover_segments(job: Job) -> tuple[CoverSegment, ...]:
    """Return the exhaust from port to mouth, cut where its cover changes; empty without a run."""
    run, route = pipe_run(job, "exhaust"), job.plan.pipes.exhaust
    if run is None or route is None:
        return ()
    covers = route.of_kind("lagging", "shield")
    end = run.passed_mm[-1]
    edges = sorted(
        {min(max(edge, 0.0), end) for cover in covers for edge in (cover.at_mm, cover.end_mm)}
        | {0.0, end}
    )
    bare_mm = heater_port(job, "exhaust").diameter_mm
    layer_mm = job.catalogue.pipe_physics.lagging_mm
    results = []
    # a run that ends where it begins is one stretch of no length
    for start, stop in itertools.pairwise(edges if len(edges) > 1 else [0.0, end]):
        over = [cover for cover in covers if cover.at_mm <= (start + stop) / 2 <= cover.end_mm]
        layers = sum(cover.layers for cover in over if cover.kind == "lagging")
        diameter = bare_mm + 2 * layers * layer_mm
        points = run.stretch(start, stop) if len(edges) > 2 else run.centre_line
        shielded = any(cover.kind == "shield" for cover in over)
        results.append(
            CoverSegment(
                start, stop, layers, shielded, diameter, points, tube_shape(points, diameter)
            )
        )
    return tuple(results)
