"""Floor loops behind a mixing valve: what is put where."""

from __future__ import annotations

from gale_nook.core.coolant.laying import NARROW_HOSE, laid_hose, with_hose
from gale_nook.core.coolant.start import FLOOR_C
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.job import Job
from gale_nook.core.loop.hoses import kind_of, parts_of
from gale_nook.core.plan.coolant import Coolant, Hose, LoopPart

IN_LINE = {"pump", "floor", "bleed", "drain", "check", "valve", "bulkhead", "reducer"}
BESIDE_MM, ASIDE_MM = 170.0, 110.0


def mixed_floors(job: Job) -> Coolant | None:
    """Return the loop with a mixing valve ahead of its floor loops and a tee behind them; None
    where no hose leads to them and away.
    """
    coolant = job.plan.coolant
    floors = parts_of(job, "floor")
    if not floors:
        return None
    into, out = _first_into(job, floors[0]), _last_out(job, floors[0])
    if into is None or out is None:
        return None
    x, y, z = _at(job, into)
    ids = {
        "mixer": fresh_id(coolant.parts, "mixer"),
        "tee": fresh_id(coolant.parts, "tee"),
        "pump": fresh_id(coolant.parts, "pump"),
    }
    mixer = LoopPart(
        id=ids["mixer"], name="mixing valve", kind="mixer-45", x_mm=x, y_mm=y, z_mm=z, mix_c=FLOOR_C
    )
    tee = LoopPart(
        id=ids["tee"],
        name="floor tee",
        kind="tee-16",
        x_mm=x,
        y_mm=y + (ASIDE_MM if y < 0 else -ASIDE_MM),
        z_mm=z - 60,
    )
    added, pumped = [mixer, tee], any(_kind(job, p) == "pump" for p in _chain(job, into, out))
    changed = [
        into.model_copy(update={"to_part": mixer.id, "to_end": "hot", "nodes": ()}),
        out.model_copy(update={"to_part": tee.id, "to_end": "a", "nodes": ()}),
    ]
    target = (into.to_part, into.to_end)
    new: list[tuple[tuple[str, str], tuple[str, str]]] = []
    if pumped:
        new.append(((mixer.id, "mixed"), target))
    else:
        added.append(
            LoopPart(
                id=ids["pump"],
                name="floor pump",
                kind="pump-small",
                x_mm=x + BESIDE_MM,
                y_mm=y,
                z_mm=z,
            )
        )
        new += [((mixer.id, "mixed"), (ids["pump"], "in")), ((ids["pump"], "out"), target)]
    new += [((tee.id, "b"), (out.to_part, out.to_end)), ((tee.id, "c"), (mixer.id, "cold"))]
    hoses = list(coolant.hoses)
    for start, end in new:
        hose = Hose(
            id=fresh_id(tuple(hoses), "hose"),
            from_part=start[0],
            from_end=start[1],
            to_part=end[0],
            to_end=end[1],
            kind=NARROW_HOSE,
        )
        hoses.append(hose)
        changed.append(hose)
    by_id = {hose.id: hose for hose in changed}
    whole = tuple(by_id.get(hose.id, hose) for hose in hoses)
    loop = coolant.model_copy(update={"parts": (*coolant.parts, *added), "hoses": whole})
    there = job.with_parts(coolant=loop)
    for hose in changed:
        there = with_hose(there, laid_hose(there, hose))
    return there.plan.coolant


def _kind(job: Job, part_id: str) -> str:
    part = job.plan.coolant.part(part_id)
    return kind_of(job, part).kind if part is not None else ""


def _first_into(job: Job, floor: LoopPart) -> Hose | None:
    """The hose that leads into the line of floors: back from one, over what lies in line."""
    return _walked(job, floor, forward=False)


def _last_out(job: Job, floor: LoopPart) -> Hose | None:
    return _walked(job, floor, forward=True)


def _walked(job: Job, floor: LoopPart, *, forward: bool) -> Hose | None:
    at, found = floor.id, None
    for _ in job.plan.coolant.hoses:
        hoses = (h for h in job.plan.coolant.hoses if (h.from_part if forward else h.to_part) == at)
        hose = next(hoses, None)
        if hose is None:
            return found
        found, at = hose, hose.to_part if forward else hose.from_part
        if _kind(job, at) not in IN_LINE:
            return found
    return found


def _chain(job: Job, into: Hose, out: Hose) -> list[str]:
    """The parts between two hoses, in line."""
    results, at = [], into.to_part
    for _ in job.plan.coolant.hoses:
        results.append(at)
        if at == out.from_part:
            break
        hose = next((h for h in job.plan.coolant.hoses if h.from_part == at), None)
        if hose is None:
            break
        at = hose.to_part
    return results


def _at(job: Job, into: Hose) -> tuple[float, float, float]:
    """Where the valve stands: beside what the hose leads to now."""
    part = job.plan.coolant.part(into.to_part)
    if part is None:
        return (0.0, 0.0, 0.0)
    return (round(part.x_mm - BESIDE_MM), round(part.y_mm), round(part.z_mm))
