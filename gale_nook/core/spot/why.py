"""Why a place is not clear, or by how much it is, in one sentence."""

from __future__ import annotations

from collections.abc import Sequence

from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.judging import findings_of
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.spot import Spot
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.checks import SPOT_CHECKS

LOOKED_AT = next(each for each in SPOT_CHECKS if each.id == "spot.looked_at")


def why(job: Job, x_mm: float, y_mm: float, turns: Sequence[int]) -> str:
    """Return what stops a place at the best of some turns, or the smallest margin there. Needs a
    heater.
    """
    results = [
        (binding, yaw) for yaw in turns if (binding := _binding(job, x_mm, y_mm, yaw)) is not None
    ]
    if not results:
        return ""
    binding, yaw = max(results, key=lambda pair: pair[0].margin or 0.0)
    turned = f" (turned {q(float(yaw), 'deg')})" if len(turns) > 1 else ""
    if binding.verdict is Verdict.OVER:
        return f"Not here{turned}: {binding.sentence}"
    open_finding = _not_looked(job, x_mm, y_mm, yaw)
    if open_finding is not None:
        return f"To measure{turned}: {open_finding.sentence}"
    words = "Tight" if binding.verdict is Verdict.TIGHT else "Clear"
    return f"{words} by {q(binding.margin or 0.0)}{turned}: {binding.sentence}"


def _not_looked(job: Job, x_mm: float, y_mm: float, yaw_deg: int) -> Finding | None:
    """What says that nobody has looked at a place; None where somebody has."""
    there = _there(job, x_mm, y_mm, yaw_deg)
    if there is None:
        return None
    findings = findings_of(there, (LOOKED_AT,))
    return next((f for f in findings if f.verdict is Verdict.UNKNOWN), None)


def _there(job: Job, x_mm: float, y_mm: float, yaw_deg: int) -> Job | None:
    sheet = heater_sheet(job)
    if sheet is None:
        return None
    base = job.plan.spot or Spot(x_mm=0, y_mm=0, mount=sheet.mounts[0].id)
    moved = base.model_copy(update={"x_mm": x_mm, "y_mm": y_mm, "yaw_deg": yaw_deg})
    return job.with_parts(spot=moved)


def _binding(job: Job, x_mm: float, y_mm: float, yaw_deg: int) -> Finding | None:
    """Return the spot finding with the smallest margin at a place; accepted ones bind no more."""
    there = _there(job, x_mm, y_mm, yaw_deg)
    if there is None:
        return None
    binding = [
        f
        for f in findings_of(there, SPOT_CHECKS)
        if f.margin is not None and f.verdict is not Verdict.ACCEPTED
    ]
    return min(binding, key=lambda f: f.margin or 0.0, default=None)
