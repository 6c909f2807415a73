"""How far the vehicle leans at its worst: parked askew, or heeled and trimmed."""

from __future__ import annotations

from gale_nook.core.geometry.parked import LEVEL, Lean, Parked
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q


def lean_of(job: Job) -> Lean:
    """Return how far it leans: parked as the job's settings say, or afloat as its hull does."""
    hull, tilt = job.plan.vehicle.hull, job.plan.settings.parked_tilt_deg
    if job.plan.vehicle.afloat:
        return Lean(hull.trim_deg, hull.heel_deg, together=True)
    return Lean(tilt, tilt)


def lean_words(job: Job, parked: Parked | None = None) -> str:
    """Return how it leans, to begin a sentence with.

    Args:
        parked: the one way of standing that is meant; None for any.
    """
    if parked is LEVEL:
        return "Level"
    lean, way = lean_of(job), f" {parked.name}" if parked is not None else ""
    if lean.together:
        how = f"Heeled {q(lean.across_deg, 'deg')} and trimmed {q(lean.along_deg, 'deg')}"
        return f"{how},{way}" if way else how
    return f"Parked {q(lean.along_deg, 'deg')}{way or ' askew'}"


def askew_words(job: Job) -> str:
    """Return how far it leans, as the source of a limit tells it."""
    lean = lean_of(job)
    if lean.together:
        return f"heeled {lean.across_deg:g}° and trimmed {lean.along_deg:g}°"
    return f"parked {lean.along_deg:g}° askew"
