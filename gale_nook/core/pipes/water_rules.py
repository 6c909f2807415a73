"""Checks of the burner's pipes of a boat: mouths and crests above the water as it heels."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping

from gale_nook.core.edits.values import Change, SetValues
from gale_nook.core.findings.finding import Finding, Mark
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.geometry.parked import Parked
from gale_nook.core.geometry.route import RouteGeometry
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.pipes.inside import sleeve_spans_mm
from gale_nook.core.pipes.runs import pipe_run
from gale_nook.core.pipes.tubes import nodes_of, tube_of
from gale_nook.core.plan.pipes import RouteNode, Tube
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.placement import heater_port
from gale_nook.core.vehicle.afloat import (
    attitudes_afloat,
    least_over_water,
    over_water_mm,
    under_water,
)
from gale_nook.core.vehicle.lean import lean_words

NEARER = (0.1, 0.2, 0.35, 0.5)  # of the last straight along the boat, that a mouth is drawn in
RAISED_MM = 10.0  # a remedy raises by so much more than is missing


@rule("pipes.water", "Mouth above the water", "mm", hazard="fumes", run="exhaust")
@rule("pipes.water", "Combustion air's mouth above the water", "mm", run="intake")
def mouth_above_water(job: Job, this: Rule) -> Iterator[Finding]:
    """Heeled and trimmed at its worst, the mouth's lower rim stays out of the water."""
    tube = tube_of(this)
    run, band = pipe_run(job, tube), limit_band(job, "mouth_water_mm")
    if run is None or band is None or not job.plan.vehicle.afloat:
        return
    middle, parked = least_over_water(job, run.mouth)
    height = middle - heater_port(job, tube).diameter_mm / 2
    yield this.finding(
        job,
        subject="mouth",
        subject_name="the water",
        measured=height,
        band=band,
        sentence=f"{lean_words(job, parked)}, its lower rim is {q(round(height))} above the water.",
        marks=(Mark(run.mouth, under_water(job, run.mouth)),),
    )


@rule("pipes.water_crest", "Loop against the water", "mm", run="exhaust")
@rule("pipes.water_crest", "Loop of the combustion air against the water", "mm", run="intake")
def crest_above_water(job: Job, this: Rule) -> Iterator[Finding]:
    """What a wave pushes into the mouth stops at the pipe's crest: its bottom there stays well over
    the water however the boat lies.
    """
    tube = tube_of(this)
    run, band = pipe_run(job, tube), limit_band(job, "crest_water_mm")
    if run is None or band is None or not job.plan.vehicle.afloat:
        return
    height, crest, parked = _least_crest(job, tube, run)
    yield this.finding(
        job,
        subject="crest",
        subject_name="the water",
        measured=height,
        band=band,
        sentence=f"{lean_words(job, parked)}, the bottom of its crest is {q(round(height))} above "
        "the water.",
        marks=(Mark(crest, under_water(job, crest)),),
    )


def _least_crest(job: Job, tube: Tube, run: RouteGeometry) -> tuple[float, Vec3, Parked]:
    """The lowest that the crest comes however the boat may lie: its height, its place, the way."""
    radius, found = heater_port(job, tube).diameter_mm / 2, list[tuple[float, Vec3, Parked]]()
    for parked in attitudes_afloat(job):
        heights = [(over_water_mm(job, point, parked), point) for point in run.centre_line]
        highest, crest = max(heights)
        found.append((highest - radius, crest, parked))
    return min(found, key=lambda each: each[0])


@remedy_for("pipes.water")
def raise_the_mouth(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Higher, with as many corners before it as have to come along; drawn nearer along the boat
    where it would not drain.
    """
    yield from _raised(job, finding, "the mouth")


@remedy_for("pipes.water_crest")
def raise_the_crest(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Its highest corner, with those beside it; else all of it."""
    tube = tube_of(finding)
    run, nodes = pipe_run(job, tube), nodes_of(job, tube)
    if run is None or finding.margin is None:
        return
    highest = max(range(len(nodes)), key=lambda n: run.points[n + 1][2])
    by = float(round(-finding.margin + RAISED_MM))
    for moved in (nodes[highest : highest + 1], nodes[max(highest - 1, 0) : highest + 2]):
        command = _moved(job, tube, {node.id: (0.0, 0.0, by) for node in moved})
        yield Remedy(f"Raise its crest by {q(by)}.", command)
    yield from _raised(job, finding, "it")


def _raised(job: Job, finding: Finding, what: str) -> Iterator[Remedy]:
    tube = tube_of(finding)
    run, nodes = pipe_run(job, tube), nodes_of(job, tube)
    if finding.margin is None or run is None or not nodes:
        return
    by = float(round(-finding.margin + RAISED_MM))
    for count in range(1, len(nodes) + 1):
        steps = {node.id: (0.0, 0.0, by) for node in nodes[-count:]}
        yield Remedy(f"Raise {what} by {q(by)}.", _moved(job, tube, steps))
    back = run.points[-2][0] - run.mouth[0]
    for nearer in NEARER:
        draw = float(round(back * nearer))
        if draw:
            along = "forward" if draw < 0 else "rearward"
            steps = {nodes[-1].id: (draw, 0.0, by)}
            words = f"Raise {what} by {q(by)}, and draw it {q(abs(draw))} {along}."
            yield Remedy(words, _moved(job, tube, steps))


def _moved(job: Job, tube: Tube, steps: Mapping[str, Vec3]) -> SetValues:
    """Move corners by steps, and the bulkhead fittings to where the pipe passes out then."""
    route = job.plan.pipes.route(tube)
    if route is None:
        return SetValues(changes=())
    nodes = tuple(_stepped(node, steps.get(node.id, (0.0, 0.0, 0.0))) for node in route.nodes)
    changes = [
        Change(address=f"pipes.{tube}.nodes.{node.id}.{leaf}", value=getattr(node, leaf))
        for node in nodes
        if node.id in steps
        for leaf in ("x_mm", "y_mm", "z_mm")
    ]
    pipes = job.plan.pipes.model_copy(update={tube: route.model_copy(update={"nodes": nodes})})
    there = job.with_parts(pipes=pipes)
    sleeves, spans = route.of_kind("bulkhead"), sleeve_spans_mm(there, tube)
    if len(sleeves) == len(spans):
        for fitting, (low, high) in zip(sleeves, spans, strict=True):
            at = f"pipes.{tube}.fittings.{fitting.id}"
            begins = float(math.floor(low))
            changes.append(Change(address=f"{at}.at_mm", value=begins))
            changes.append(Change(address=f"{at}.length_mm", value=float(math.ceil(high)) - begins))
    return SetValues(changes=tuple(changes))


def _stepped(node: RouteNode, by: Vec3) -> RouteNode:
    x, y, z = node.x_mm + by[0], node.y_mm + by[1], node.z_mm + by[2]
    return node.model_copy(update={"x_mm": x, "y_mm": y, "z_mm": z})
