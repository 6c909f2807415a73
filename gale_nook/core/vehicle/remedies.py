"""Candidate cures for slips of the survey: the part is put back by what it sticks out."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.edits.command import Command
from gale_nook.core.edits.values import Change, SetValues
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.plan.solids import OutlineSolid, Solid, TubeSolid
from gale_nook.core.quantities.sentences import q
from gale_nook.core.vehicle.commands import AddSolid, HasNone, Ink, SetPoints
from gale_nook.core.vehicle.pencil import part_addresses
from gale_nook.core.vehicle.rules import WHEEL_VALUES
from gale_nook.core.vehicle.starts import starting_part

WAYS = (
    ((1, 0, 0), "rearward"),
    ((-1, 0, 0), "forward"),
    ((0, 1, 0), "to the right"),
    ((0, -1, 0), "to the left"),
    ((0, 0, -1), "down"),
)


@remedy_for("vehicle.ground")
def lift(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Lift the part by what is missing."""
    solid, by = _solid(job, finding), math.ceil(-(finding.margin or 0.0) - 1e-9)
    if solid is not None:
        yield Remedy(
            f"Enter {solid.name} {q(by)} higher, if the tape says so.",
            shifted(solid, (0.0, 0.0, float(by))),
        )


@remedy_for("vehicle.asked_for")
def enter_usual(job: Job, finding: Finding) -> Iterator[Remedy]:
    """One as it usually is, pencilled until the tape has been at it."""
    kind = job.catalogue.solid_kinds.get(finding.subject)
    if kind is not None and kind.id != "wheel":
        part = starting_part(job, kind)
        yield Remedy(
            f"Add it as it usually is ({kind.label}), in pencil, and correct it by the tape.",
            AddSolid(item=part, pencilled=part_addresses(part)),
        )


@remedy_for("vehicle.asked_for")
def wheels_as_drawn(job: Job, finding: Finding) -> Iterator[Remedy]:
    """The tape says of the wheels what the main dimensions have."""
    pencilled = set(job.plan.vehicle.pencilled)
    drawn = [a for name in WHEEL_VALUES if (a := f"vehicle.shell.{name}") in pencilled]
    if finding.subject == "wheel" and drawn:
        yield Remedy(
            "Ground, width outside, axles and wheel diameter are as the tape has them.",
            Ink(addresses=tuple(drawn)),
        )


@remedy_for("vehicle.asked_for")
def has_none(job: Job, finding: Finding) -> Iterator[Remedy]:
    """There is none."""
    kind = job.catalogue.solid_kinds.get(finding.subject)
    if kind is not None and kind.id != "wheel":
        yield Remedy(f"This vehicle has none ({kind.label}).", HasNone(kind=kind.id))


@remedy_for("vehicle.inside_shell")
def push_in(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Push the part back in by what it sticks out, whichever way clears it."""
    solid, by = _solid(job, finding), math.ceil(-(finding.margin or 0.0) - 1e-9)
    if solid is None:
        return
    for way, words in WAYS:
        moved = shifted(solid, (way[0] * by, way[1] * by, way[2] * by))
        yield Remedy(f"Enter {solid.name} {q(by)} farther {words}, if the tape says so.", moved)


def _solid(job: Job, finding: Finding) -> Solid | None:
    return next((solid for solid in job.plan.vehicle.solids if solid.id == finding.subject), None)


def shifted(solid: Solid, by: Vec3) -> Command:
    """Return the command that moves a solid by a vector (mm)."""
    if isinstance(solid, TubeSolid):
        return SetPoints(
            item_id=solid.id,
            points=tuple((x + by[0], y + by[1], z + by[2]) for x, y, z in solid.points),
        )
    changes = []
    if isinstance(solid, OutlineSolid):
        if by[2] == 0:
            return SetPoints(
                item_id=solid.id, points=tuple((x + by[0], y + by[1]) for x, y in solid.outline)
            )
        changes.append(("z_mm", solid.z_mm + by[2]))
    else:
        changes += [
            ("x_mm", solid.x_mm + by[0]),
            ("y_mm", solid.y_mm + by[1]),
            ("z_mm", solid.z_mm + by[2]),
        ]
    return SetValues(
        changes=tuple(
            Change(address=f"vehicle.solids.{solid.id}.{leaf}", value=v) for leaf, v in changes
        )
    )
