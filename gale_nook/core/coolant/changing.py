"""Changing what a loop is made of: a part put into a hose, taken out, turned round, or set beside
the way between two tees.
"""

from __future__ import annotations

from gale_nook.core.catalogue.coolant import LoopPartKind
from gale_nook.core.coolant.laying import (
    fitted_hose,
    fitting_kind,
    laid_hose,
    part_meets,
    with_hose,
    with_loop,
)
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.loop.hoses import HoseRun, hose_run, kind_of
from gale_nook.core.plan.coolant import Coolant, Hose, LoopPart
from gale_nook.core.vehicle.inside import is_inside

BESIDE_MM = 60.0
NO_HOSE = "There is no such hose."
TWO_ENDS = "Choose a part with two ends."
WIDE_MM = 17.5  # over it an end is a wide one
ASIDE_MM, DOWN_MM = (260.0, 340.0, 450.0, 600.0), (0.0, -60.0, 60.0)
Ends = tuple[str, str]


def part_put_in(
    job: Job, run: HoseRun, at_mm: float, kind: LoopPartKind, ends: Ends
) -> tuple[Job, LoopPart]:
    """Return the job with a part in a hose, and the part: both halves of the hose are joined to two
    of its ends, keep their corners, and are clipped anew.
    """
    coolant = job.plan.coolant
    part = _new_part(job, kind, run.geometry.point_at(min(at_mm, run.length_mm)))
    first, second = _halves(run.hose, part.id, ends, fresh_id(coolant.hoses, "hose"))
    nodes = run.hose.nodes
    passed = [run.geometry.distance_of((n.x_mm, n.y_mm, n.z_mm)) for n in nodes]
    far = [
        (node, at)
        for node, at in zip(nodes, passed, strict=True)
        if abs(at - at_mm) > max(node.radius_mm, BESIDE_MM)  # the part bends it there
    ]
    before_it = tuple(node for node, at in far if at < at_mm)
    first = first.model_copy(update={"nodes": before_it})
    second = second.model_copy(update={"nodes": tuple(n for n, at in far if at > at_mm)})
    others = tuple(hose for hose in coolant.hoses if hose.id != run.hose.id)
    loop = coolant.model_copy(
        update={"parts": (*coolant.parts, part), "hoses": (*others, first, second)}
    )
    there = with_loop(job, loop)
    for hose in (first, second):
        fitting = hose.model_copy(update={"kind": fitting_kind(there, hose)})
        there = with_hose(there, fitting)
        there = with_hose(there, fitted_hose(there, fitting))
    return there, part


def taken_out(job: Job, part_id: str) -> Coolant:
    """Return the loop without a part whose two hoses become one.

    Raises:
        BadInput: there are not just two hoses at it.
    """
    coolant = job.plan.coolant
    at_it = [hose for hose in coolant.hoses if part_id in {hose.from_part, hose.to_part}]
    if len(at_it) != 2:
        count = len(at_it)
        raise BadInput("part", part_id, f"Two hoses can be joined; {count} lead to this part.")
    first, second = at_it
    start, end = _far_end(first, part_id), _far_end(second, part_id)
    parts = tuple(part for part in coolant.parts if part.id != part_id)
    if start == end or part_id in {start[0], end[0]}:
        raise BadInput("part", part_id, "Its two hoses lead to one place: nothing would be left.")
    whole = first.model_copy(
        update={
            "from_part": start[0],
            "from_end": start[1],
            "to_part": end[0],
            "to_end": end[1],
            "nodes": (),
            "parts": (),
        }
    )
    hoses = tuple(
        whole if hose.id == first.id else hose for hose in coolant.hoses if hose.id != second.id
    )
    there = with_loop(job, coolant.model_copy(update={"parts": parts, "hoses": hoses}))
    fitting = whole.model_copy(update={"kind": fitting_kind(there, whole)})
    return with_hose(there, laid_hose(with_hose(there, fitting), fitting)).plan.coolant


def turned_round(job: Job, part_id: str) -> Coolant:
    """Return the loop with a part joined the other way round.

    Raises:
        BadInput: it does not have just two ends.
    """
    part = next(part for part in job.plan.coolant.parts if part.id == part_id)
    names = list(kind_of(job, part).ports)
    if len(names) != 2:
        raise BadInput("part", part_id, "Only a part with two ends can be turned round.")
    other = dict(zip(names, reversed(names), strict=True))
    there = job
    for hose in job.plan.coolant.hoses:
        update = {}
        if hose.from_part == part_id:
            update["from_end"] = other.get(hose.from_end, hose.from_end)
        if hose.to_part == part_id:
            update["to_end"] = other.get(hose.to_end, hose.to_end)
        if update:
            turned = hose.model_copy(update=update)
            there = with_hose(there, turned)
            there = with_hose(there, laid_hose(there, turned))
    return there.plan.coolant


def branched(job: Job, hose_id: str, back_id: str, kind_id: str) -> Coolant:
    """Return the loop with a part between a tee in one hose and a tee in another one.

    Raises:
        BadInput: a hose is not there, both are one, or the part does not have two ends.
    """
    works = job.catalogue.coolant_equipment
    kind = next((entry for entry in works.parts if entry.id == kind_id), None)
    if kind is None or len(kind.ports) != 2:
        raise BadInput("kind", kind_id, TWO_ENDS)
    if hose_id == back_id:
        raise BadInput("back", back_id, "It has to lead back to another hose.")
    there, tees = job, []
    for name, each in (("hose", hose_id), ("back", back_id)):
        run = hose_run(there, each)
        if run is None:
            raise BadInput(name, each, NO_HOSE)
        tee = works.part(_tee_for(run, kind))
        there, part = part_put_in(there, run, run.length_mm / 2, tee, ("a", "b"))
        tees.append(part)
    beside = _new_part(there, kind, _place_beside(there, tees, kind.id))
    loop = there.plan.coolant
    there = with_loop(there, loop.model_copy(update={"parts": (*loop.parts, beside)}))
    start, end = list(kind.ports)
    for ends in (((tees[0].id, "c"), (beside.id, start)), ((beside.id, end), (tees[1].id, "c"))):
        there = _joined(there, *ends)
    return there.plan.coolant


def _joined(job: Job, start: Ends, end: Ends) -> Job:
    loop = job.plan.coolant
    hose = Hose(
        id=fresh_id(loop.hoses, "hose"),
        from_part=start[0],
        from_end=start[1],
        to_part=end[0],
        to_end=end[1],
    )
    there = with_loop(job, loop.model_copy(update={"hoses": (*loop.hoses, hose)}))
    fitting = hose.model_copy(update={"kind": fitting_kind(there, hose)})
    return with_hose(there, laid_hose(with_hose(there, fitting), fitting))


def _tee_for(run: HoseRun, kind: LoopPartKind) -> str:
    if run.kind.bore_mm < WIDE_MM:
        return "tee-16"
    return "tee-20" if kind.port_mm > WIDE_MM else "tee-20-16"


def _place_beside(job: Job, tees: list[LoopPart], kind_id: str) -> Vec3:
    """Where a part shares its place with nothing, beside its two tees: towards the wall first."""
    x = sum(tee.x_mm for tee in tees) / len(tees)
    y = sum(tee.y_mm for tee in tees) / len(tees)
    z = sum(tee.z_mm for tee in tees) / len(tees)
    wall = -1.0 if y < 0 else 1.0
    for aside in ASIDE_MM:
        for side in (wall, -wall):
            for up in DOWN_MM:
                at = (x, y + side * aside, z + up)
                if is_inside(job, at) and part_meets(job, kind_id, at) == 0:
                    return at
    return (x, y - wall * ASIDE_MM[0], z)


def _new_part(job: Job, kind: LoopPartKind, at: Vec3) -> LoopPart:
    coolant, (x, y, z) = job.plan.coolant, (round(value) for value in at)
    return LoopPart(
        id=fresh_id(coolant.parts, kind.kind),
        name=_new_name(coolant, kind.label),
        kind=kind.id,
        x_mm=x,
        y_mm=y,
        z_mm=z,
    )


def _new_name(coolant: Coolant, label: str) -> str:
    """A name that no part has yet."""
    names = {part.name for part in coolant.parts}
    numbered = (f"{label} {n}" if n > 1 else label for n in range(1, len(names) + 2))
    return next(name for name in numbered if name not in names)


def _halves(hose: Hose, part_id: str, ends: Ends, new_id: str) -> tuple[Hose, Hose]:
    first = hose.model_copy(update={"to_part": part_id, "to_end": ends[0], "parts": ()})
    second = hose.model_copy(
        update={"id": new_id, "from_part": part_id, "from_end": ends[1], "parts": ()}
    )
    return first, second


def _far_end(hose: Hose, part_id: str) -> Ends:
    if hose.from_part == part_id:
        return hose.to_part, hose.to_end
    return hose.from_part, hose.from_end
