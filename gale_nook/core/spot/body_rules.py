"""Checks of the spot: the body, and the heat just past the exhaust port, against what is around."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from gale_nook.core.findings.finding import ONE_PLACE, Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule
from gale_nook.core.geometry.frames import add, scale
from gale_nook.core.geometry.shapes import separation, tube_shape
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.moving import PORT_STUB_MM, gaps, moving_body, moving_stub
from gale_nook.core.spot.obstacles import Obstacle, obstacles, obstacles_at_ports
from gale_nook.core.spot.placement import (
    heater_body_shape,
    heater_port,
    port_point,
    shelf_of,
    stub_direction,
)
from gale_nook.core.spot.places import Measure, Places, spot_rule

TOUCHING = Band(0.0, None, Whose.GEOMETRY, source=ONE_PLACE)


@spot_rule("spot.body", "Body")
def body_clear(at: Places, this: Rule) -> Iterator[Measure]:
    """The heater's body and what stands around it cannot be in the same place."""
    body = moving_body(at)
    if body is not None:
        under = shelf_of(at.job)
        around = [
            (each, TOUCHING if under is not None and each.id == under.id else _body_band(each))
            for each in obstacles(at.job)
        ]
        yield from gaps(at, body, around, partial(_body_finding, at.job, this))


def _body_band(obstacle: Obstacle) -> Band:
    """Return the gap to be kept between the body and an obstacle, with its owner."""
    kind = obstacle.kind
    if kind is None or kind.body_mm == 0:
        return TOUCHING
    return Band(kind.body_mm, None, Whose.WORKSHOP, "body_mm", f"{kind.label}: {kind.source}")


def _body_finding(
    job: Job, this: Rule, obstacle: Obstacle, band: Band, gap_mm: float | None
) -> Finding:
    body, gap = heater_body_shape(job), gap_mm or 0.0
    if body is None:
        raise ValueError("the heater has no place yet")
    near = separation(body, obstacle.shape)
    words = f"{q(gap)} between the body and {obstacle.name}."
    if gap < 0:
        words = f"The body reaches {q(-gap)} into {obstacle.name}."
    return this.finding(
        job,
        subject=obstacle.id,
        subject_name=obstacle.name,
        measured=gap_mm,
        band=band,
        hazard=obstacle.kind.hazard if obstacle.kind and obstacle.kind.body_mm else None,
        title=f"Body to {obstacle.name}",
        sentence=words,
        marks=(Mark(near.start, near.end),),
    )


@spot_rule("spot.port_heat", "Exhaust port to what heat harms", hazard="fire")
def port_heat(at: Places, this: Rule) -> Iterator[Measure]:
    """The first stretch of exhaust below its port is hot whichever way the pipe goes on."""
    if heater_sheet(at.job) is None or chosen_mount(at.job) is None:
        return
    harmed = []
    for obstacle in obstacles_at_ports(at.job):
        kind = obstacle.kind
        # what has to be kept from a hot pipe for more than its own sake
        if kind and kind.exhaust_mm is not None and kind.hazard in {"fire", "brakes", "shock"}:
            source = f"{kind.label}: {kind.source}"
            band = Band(kind.exhaust_mm, None, Whose.WORKSHOP, "exhaust_mm", source)
            harmed.append((obstacle, band))
    yield from gaps(at, moving_stub(at), harmed, partial(_stub_finding, at.job, this))


def _stub_finding(
    job: Job, this: Rule, obstacle: Obstacle, band: Band, gap_mm: float | None
) -> Finding:
    port = heater_port(job, "exhaust")
    start = port_point(job, port)
    end = add(start, scale(stub_direction(job), PORT_STUB_MM))
    near = separation(tube_shape((start, end), port.diameter_mm), obstacle.shape)
    return this.finding(
        job,
        subject=obstacle.id,
        subject_name=obstacle.name,
        measured=gap_mm,
        hazard=obstacle.kind.hazard if obstacle.kind else None,
        band=band,
        title=f"Exhaust port to {obstacle.name}",
        marks=(Mark(near.start, near.end),),
        sentence=(
            f"{q(gap_mm or 0.0)} between the exhaust just past its port and {obstacle.name}."
        ),
    )
