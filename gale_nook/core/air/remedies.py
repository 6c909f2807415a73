"""Candidate cures for the ducts as they run; they are tried before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.air.commands import (
    AddDuctPart,
    PutDuctParts,
    TakeDucts,
)
from gale_nook.core.air.fitting_out import clips_for, hole_mm
from gale_nook.core.air.hot import shapes_of_runs
from gale_nook.core.catalogue.air import DuctKind, OutletKind
from gale_nook.core.ducts.passes import passes
from gale_nook.core.ducts.tree import DuctRun
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.along import let_flex, more_slack
from gale_nook.core.findings.bend_room import tighter_bends
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.geometry.frames import Vec3, scale, unit
from gale_nook.core.job import Job
from gale_nook.core.plan.air import DuctPart
from gale_nook.core.plan.solids import Hollow
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.commands import SetHollow

MOST_LAYERS = 3
ROUND_UP_MM = 10.0


def address_of(job: Job, duct_id: str) -> str:
    """Return where a duct stands in the plan."""
    back = job.plan.air.return_duct
    known = any(duct.id == duct_id for duct in job.plan.air.ducts)
    return "air.return_duct" if back is not None and not known else f"air.ducts.{duct_id}"


def moved(run: DuctRun, address: str, index: int, by: Vec3, following: bool) -> SetValues:
    """The command that moves a node, with those after it or not."""
    changes = []
    nodes = run.duct.nodes[index:] if following else run.duct.nodes[index : index + 1]
    for node in nodes:
        for leaf, value, shift in zip(
            ("x_mm", "y_mm", "z_mm"), (node.x_mm, node.y_mm, node.z_mm), by, strict=True
        ):
            if abs(shift) > 1e-6:
                new = round(value + shift, 1)
                changes.append(Change(address=f"{address}.nodes.{node.id}.{leaf}", value=new))
    return SetValues(changes=tuple(changes))


@remedy_for("air.first_straight")
def straighten(job: Job, finding: Finding) -> Iterator[Remedy]:
    """The first bend farther from the heater, with all of the first duct that follows."""
    runs = [run for run in shapes_of_runs(job).values() if run.duct.comes_from is None]
    missing = -(finding.margin or 0.0)
    if not runs or missing <= 0:
        return
    run, address = runs[0], address_of(job, runs[0].duct.id)
    step = math.ceil((missing + 1) / ROUND_UP_MM) * ROUND_UP_MM
    by = scale(run.geometry.leaving, step)
    words = f"Move its first bend {q(step)} farther from the heater"
    yield Remedy(f"{words}, with all that follows.", moved(run, address, 0, by, True))
    yield Remedy(f"{words}.", moved(run, address, 0, by, False))
    yield Remedy(
        "Let the computed way decide, as a setting of this job.",
        set_value("air.first_straight", "computed"),
    )


@remedy_for("air.length")
@remedy_for("air.bends")
def fewer_bends(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A way without one of its bends."""
    del finding
    for run in shapes_of_runs(job).values():
        for number, node in enumerate(run.duct.nodes[:-1], 1):
            words = f"Take bend {number} out of the duct to {name_of(run)}."
            collection = f"{address_of(job, run.duct.id)}.nodes"
            yield Remedy(words, RemoveItem(collection=collection, item_id=node.id))


def name_of(run: DuctRun) -> str:
    return run.duct.outlet.name if run.duct.outlet is not None else "the splitter"


def wider(job: Job, run: DuctRun, bore_mm: float) -> list[DuctKind]:
    """Return the ducts of at least a bore, the smallest first; of a make as before."""
    kinds = [
        kind
        for kind in job.catalogue.air_equipment.ducts
        if kind.bore_mm >= bore_mm and kind.rating_c >= run.kind.rating_c
    ]
    return sorted(kinds, key=lambda kind: (kind.bore_mm, kind.roughness_mm, kind.id))


def _radii_for(run: DuctRun, address: str, kind: DuctKind) -> list[Change]:
    """Bends not tighter than a kind allows."""
    return [
        Change(address=f"{address}.nodes.{node.id}.radius_mm", value=kind.least_radius_mm)
        for node in run.duct.nodes
        if node.radius_mm < kind.least_radius_mm
    ]


def with_kind(job: Job, run: DuctRun, kind: DuctKind) -> SetValues:
    address = address_of(job, run.duct.id)
    changes = [Change(address=f"{address}.kind", value=kind.id), *_radii_for(run, address, kind)]
    for part in run.duct.of_kind("panel"):
        grown = part.hole_mm + kind.outer_mm - run.kind.outer_mm
        changes.append(
            Change(address=f"{address}.parts.{part.id}.hole_mm", value=max(grown, part.hole_mm))
        )
    return SetValues(changes=tuple(changes))


@remedy_for("air.bore")
def another_bore(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A duct that is wide enough; or an outlet that is no wider."""
    run = shapes_of_runs(job).get(finding.subject)
    if run is None or finding.band.minimum is None:
        return
    for kind in wider(job, run, finding.band.minimum)[:3]:
        yield Remedy(f"Take {kind.label} instead.", with_kind(job, run, kind))
    outlet = run.duct.outlet
    if outlet is not None:
        for other in outlets_like(job, outlet.kind):
            if other.bore_mm <= run.kind.bore_mm:
                yield Remedy(
                    f"Take {other.label} instead.",
                    set_value(f"air.ducts.{run.duct.id}.outlet.kind", other.id),
                )


def outlets_like(job: Job, kind: str) -> list[OutletKind]:
    """Other outlets, those that close alike first."""
    works = job.catalogue.air_equipment
    now = works.outlet(kind)
    others = [outlet for outlet in works.outlets if outlet.id != kind]
    return sorted(others, key=lambda o: (o.closable != now.closable, abs(o.bore_mm - now.bore_mm)))


@remedy_for("air.radius")
def gentler(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Every bend with the least radius of its kind."""
    run = shapes_of_runs(job).get(finding.subject)
    if run is None:
        return
    changes = _radii_for(run, address_of(job, run.duct.id), run.kind)
    if changes:
        words = f"Bend it with {q(run.kind.least_radius_mm)} everywhere."
        yield Remedy(words, SetValues(changes=tuple(changes)))


@remedy_for("air.bend_room")
def tighter(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Bends as tight as the kind allows; or the outlet farther on."""
    run = shapes_of_runs(job).get(finding.subject)
    if run is None:
        return
    address, kind = address_of(job, run.duct.id), run.kind
    yield from tighter_bends(run.duct.nodes, f"{address}.nodes", kind.least_radius_mm)
    missing = math.ceil((-(finding.margin or 0.0) + 1) / ROUND_UP_MM) * ROUND_UP_MM
    worst = min(run.geometry.straights, key=lambda straight: straight.room_mm)
    way = [b - a for a, b in zip(worst.start, worst.end, strict=True)]
    if worst.length_mm > 1:
        ahead = unit((way[0], way[1], way[2]))
        index = worst.index
        yield Remedy(
            f"Make stretch {index + 1} {q(missing)} longer, with all that follows.",
            moved(run, address, index, scale(ahead, missing), True),
        )


@remedy_for("air.rating")
def what_bears_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Another duct, or another outlet, that bears the heat."""
    run = shapes_of_runs(job).get(finding.subject)
    if run is None or finding.measured is None:
        return
    hottest = finding.measured
    for kind in job.catalogue.air_equipment.ducts:
        same = abs(kind.bore_mm - run.kind.bore_mm) < 0.5 and kind.id != run.kind.id
        if same and kind.rating_c >= hottest:
            yield Remedy(f"Take {kind.label} instead.", with_kind(job, run, kind))
    if run.duct.outlet is not None:
        for other in outlets_like(job, run.duct.outlet.kind):
            if other.rating_c >= hottest:
                address = f"air.ducts.{run.duct.id}.outlet.kind"
                yield Remedy(f"Take {other.label} instead.", set_value(address, other.id))


@remedy_for("air.clips")
def clip_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Clips all along."""
    run = shapes_of_runs(job).get(finding.subject)
    if run is not None:
        clips = clips_for(job, run, run.duct)
        words = f"Hold it with {len(clips)} clip{'' if len(clips) == 1 else 's'}."
        yield Remedy(words, PutDuctParts(duct=run.duct.id, kind="clip", parts=clips))


@remedy_for("air.clip_stuff")
def better_clips(job: Job, finding: Finding) -> Iterator[Remedy]:
    """The same clips of what bears the heat."""
    run = shapes_of_runs(job).get(finding.subject)
    if run is None or finding.measured is None:
        return
    for kind in job.catalogue.air_equipment.clips:
        if kind.rating_c >= finding.measured:
            clips = tuple(
                clip.model_copy(update={"stuff": kind.id}) for clip in run.duct.of_kind("clip")
            )
            command = PutDuctParts(duct=run.duct.id, kind="clip", parts=clips)
            yield Remedy(f"Use a {kind.label} in each place.", command)


def _lagged(run: DuctRun, layers: int) -> PutDuctParts:
    whole = DuctPart(
        id="lagging-1", kind="lagging", length_mm=math.ceil(run.length_mm), layers=layers
    )
    return PutDuctParts(duct=run.duct.id, kind="lagging", parts=(whole,))


def _lag_words(layers: int) -> str:
    return "once" if layers == 1 else f"{layers} times"


@remedy_for("air.touch")
def lag_or_guard(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lagging round the whole duct, or a guard over it."""
    run = shapes_of_runs(job).get(finding.subject)
    if run is None:
        return
    for layers in range(1, MOST_LAYERS + 1):
        yield Remedy(f"Lag the whole duct {_lag_words(layers)}.", _lagged(run, layers))
    guard = DuctPart(id="guard-1", kind="guard", length_mm=math.ceil(run.length_mm))
    yield Remedy(
        "Put a guard over all of it.",
        PutDuctParts(duct=run.duct.id, kind="guard", parts=(guard,)),
    )


@remedy_for("air.heat")
def lag_beside(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lagging of the duct that is nearest, and of all."""
    mark = finding.marks[0].start if finding.marks else None
    if mark is None:
        return
    runs = sorted(
        shapes_of_runs(job).values(),
        key=lambda run: math.dist(run.geometry.point_at(run.geometry.distance_of(mark)), mark),
    )
    for layers in range(1, MOST_LAYERS + 1):
        for run in runs[:2]:
            words = f"Lag the duct to {name_of(run)} {_lag_words(layers)}."
            yield Remedy(words, _lagged(run, layers))


@remedy_for("air.outside")
def cover_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lagging and a guard over the whole duct."""
    run = shapes_of_runs(job).get(finding.subject)
    if run is None:
        return
    length = float(math.ceil(run.length_mm))
    parts = tuple(p for p in run.duct.parts if p.kind not in {"lagging", "guard"})
    whole = run.duct.model_copy(
        update={
            "parts": (
                *parts,
                DuctPart(id="lagging-1", kind="lagging", length_mm=length),
                DuctPart(id="guard-1", kind="guard", length_mm=length),
            )
        }
    )
    ducts = tuple(whole if d.id == run.duct.id else d for d in job.plan.air.ducts)
    yield Remedy("Lag it and guard it all along.", TakeDucts(ducts=ducts))


@remedy_for("air.hole")
def make_the_hole(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A hole with its edge ring; a larger one; furniture that is hollow."""
    parts = finding.subject.split(".")
    run = shapes_of_runs(job).get(parts[0])
    if run is None:
        return
    address = address_of(job, run.duct.id)
    if parts[-1] == "ring":
        words = "Line its edge with a ring."
        yield Remedy(words, set_value(f"{address}.parts.{parts[1]}.ring", True))
        return
    for each in passes(job):
        if each.duct != run.duct.id or not finding.subject.startswith(f"{each.duct}.{each.body}"):
            continue
        solid = next((s for s in job.plan.vehicle.solids if s.id == each.body), None)
        if finding.measured is None and solid is not None:
            yield Remedy(
                f"Say that {solid.name} is hollow.", SetHollow(solid=solid.id, hollow=Hollow())
            )
            continue
        size = hole_mm(job, run, each.at_mm)
        if each.part is None:
            item = DuctPart(
                id=fresh_id(run.duct.parts, "hole"),
                kind="panel",
                at_mm=round(each.at_mm),
                hole_mm=size,
            )
            words = f"Make a hole of {q(size)} in {each.name}, its edge lined."
            yield Remedy(words, AddDuctPart(collection=f"{address}.parts", item=item))
        else:
            yield Remedy(
                f"Make the hole {q(size)} wide.",
                set_value(f"{address}.parts.{each.part.id}.hole_mm", size),
            )


@remedy_for("air.slide")
def let_it_follow(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A flexible stretch with the slack that is missing."""
    duct_id, _, crossing = finding.subject.partition(".")
    run = shapes_of_runs(job).get(duct_id)
    if run is None or finding.measured is None or finding.band.minimum is None:
        return
    at = float(crossing)
    missing = math.ceil((finding.band.minimum - finding.measured + 20) / 10) * 10
    flex = next((p for p in run.duct.of_kind("flex") if p.at_mm <= at <= p.end_mm), None)
    address = address_of(job, run.duct.id)
    if flex is not None:
        yield Remedy(
            more_slack(float(flex.slack_mm + missing)),
            set_value(f"{address}.parts.{flex.id}.slack_mm", flex.slack_mm + missing),
        )
        return
    reach = 200.0
    for slack in (missing, missing + 300.0, missing + 600.0):
        item = DuctPart(
            id=fresh_id(run.duct.parts, "flex"),
            kind="flex",
            at_mm=max(at - reach, 0.0),
            length_mm=2 * reach,
            slack_mm=float(slack),
        )
        words = let_flex(float(slack))
        yield Remedy(words, AddDuctPart(collection=f"{address}.parts", item=item))
