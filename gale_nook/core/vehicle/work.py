"""What was there before, as work: gas made dead first, what goes taken out, what is left closed."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.job import Job
from gale_nook.core.plan.old import OldOpening
from gale_nook.core.quantities.sentences import q
from gale_nook.core.station import Step
from gale_nook.core.vehicle.old_openings import plate_mm

FACE_WORDS = {
    "floor": "floor",
    "left": "left wall",
    "right": "right wall",
    "rear": "rear",
    "roof": "roof",
    "bulkhead": "bulkhead",
}


def vehicle_parts(job: Job) -> dict[str, float]:
    """Return plates for what is closed and for what is used again, and the cap of a gas pipe."""
    closed = [o for o in job.plan.vehicle.old_openings if o.use == "closed"]
    used = [o for o in job.plan.vehicle.old_openings if o.use not in {"open", "closed"}]
    results: dict[str, float] = {}
    results |= {"closing-plate": len(closed)} if closed else {}
    results |= {"opening-plate": len(used)} if used else {}
    return results | ({"gas-cap": 1} if job.plan.vehicle.old_gas.there else {})


def vehicle_steps(job: Job) -> Iterator[Step]:
    """Yield what comes before everything else."""
    vehicle = job.plan.vehicle
    yield from _made_ready(job)
    yield from _standing(job)
    gas = vehicle.old_gas
    if gas.there:
        yield Step(
            "old-gas",
            f"Have the {gas.name} made dead",
            "Before anything else, and by a competent person: shut the bottle and the appliance's "
            "own valve, let the pipe empty outside, take the appliance off, cap the pipe with its "
            "own fitting, test for leaks with the bottle open, and write down who did and when. "
            "No drilling near the pipe before that.",
            ("gas", "manual"),
        )
    going = [solid.name for solid in vehicle.solids if solid.goes]
    if going:
        yield Step(
            "take-out",
            "Take out what goes",
            f"{', '.join(going)}. Look at its wires, its fuse, its ducts and its openings: what is "
            "used again is measured and entered, what is not is taken out or made dead and marked.",
            ("battery",),
        )
    closed = [o for o in vehicle.old_openings if o.use == "closed"]
    if closed:
        yield Step(
            "close-openings",
            "Close old openings",
            f"{'; '.join(map(_told, closed))}. Of steel or aluminium, bedded in sealant, riveted "
            "all round from outside, edges painted.",
            ("edges",),
        )


def _made_ready(job: Job) -> Iterator[Step]:
    """What comes before any other work; nothing before there is a heater to fit."""
    if job.plan.heater.sheet is None:
        return
    shocks = [
        solid.name
        for solid in job.plan.vehicle.solids
        if job.catalogue.solid_kinds[solid.kind].hazard == "shock"
    ]
    dead = (
        f" The high-voltage system ({', '.join(shocks)}) is shut down by a licensed person first, "
        "and written down."
        if shocks
        else ""
    )
    yield Step(
        "make-ready",
        "Make it ready",
        f"Level ground, wheels chocked, key out, battery's minus off. A fire extinguisher and a CO "
        f"alarm at hand.{dead}",
        ("battery", "stands"),
    )


def _standing(job: Job) -> Iterator[Step]:
    """How a body that is towed, carried or afloat stands while it is worked on."""
    vehicle = job.plan.vehicle
    if vehicle.moves == "towed":
        yield Step(
            "stand-trailer",
            "Stand the trailer",
            "Level, wheels chocked, legs down at all corners, the coupling on a stand. Its weight "
            "and the load on the coupling are weighed again at the end, tank full.",
            ("towed", "stands"),
        )
    elif vehicle.moves == "carried":
        yield Step(
            "set-down",
            "Set the body down, and try the way out",
            f"On its legs, raised {q(vehicle.lift_mm)}, a helper on each side: drive the carrier "
            "out straight forwards and back, before the work and after it. Nothing that is fitted "
            "may touch it.",
            ("carried", "stands"),
        )
    elif vehicle.afloat:
        hull = vehicle.hull
        yield Step(
            "mark-water",
            "Mark the water on the hull",
            f"Laden, in still water, {q(hull.waterline_z_mm)} above the sole. Heeled "
            f"{q(hull.heel_deg, 'deg')} and trimmed {q(hull.trim_deg, 'deg')} it comes up at the "
            "sides: every hole is cut above that, ashore or with the side high, from a thin pilot; "
            "a plug at hand before the saw starts.",
            ("marine", "edges"),
        )


def _told(opening: OldOpening) -> str:
    wide, high = plate_mm(opening)
    where = FACE_WORDS[opening.face]
    return f"{opening.name} in the {where}, plate {q(wide)} by {q(high)}"
