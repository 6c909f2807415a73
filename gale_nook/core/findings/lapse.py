"""An accepted deviation covers what was accepted, and no more: when it no longer holds."""

from __future__ import annotations

import math

from gale_nook.core.findings.finding import Finding
from gale_nook.core.job import Job
from gale_nook.core.plan.settings import Acceptance
from gale_nook.core.quantities.sentences import q

# a value may get worse by so much before it has to be looked at again
STEPS = {"mm": 5.0, "deg": 0.5, "C": 5.0}
STEP_SHARE = 0.05  # of what was accepted, in any other unit
MOVED_MM = 5.0
TURNED_DEG = 0.5
NOT_OF_THE_HEATER = {"vehicle", "heat"}
OF_THE_PLACE = {"spot"}


def why_lapsed(job: Job, finding: Finding, acceptance: Acceptance) -> str:
    """Return why an acceptance does not cover a finding any more; empty where it does.

    An acceptance of a file that kept no more than rule and subject covers what has these.
    """
    reason = (
        _other_heater(job, finding, acceptance)
        or _elsewhere(job, finding, acceptance)
        or _about(finding, acceptance)
        or _worse(finding, acceptance)
    )
    return f"Accepted by {acceptance.by} on {acceptance.on}, no longer: {reason}" if reason else ""


def _about(finding: Finding, acceptance: Acceptance) -> str:
    if acceptance.about in {"", finding.subject_name}:
        return ""
    return f"that was about {acceptance.about}."


def _worse(finding: Finding, acceptance: Acceptance) -> str:
    then, now = acceptance.measured, finding.measured
    if then is None or now is None or finding.margin is None:
        return ""
    step = STEPS.get(finding.unit, abs(then) * STEP_SHARE)
    if finding.margin >= finding.band.margin(then) - step - 1e-9:
        return ""
    kind = {"mm": "mm", "deg": "deg", "C": "c"}.get(finding.unit)
    shown = q(then, kind) if kind is not None else f"{then:g} {finding.unit}"
    return f"it was {shown} then, and is worse now."


def _other_heater(job: Job, finding: Finding, acceptance: Acceptance) -> str:
    plan = job.plan
    if acceptance.heater is None or finding.station in NOT_OF_THE_HEATER:
        return ""
    if acceptance.heater != plan.heater.sheet:
        return "another heater is chosen."
    mount = plan.spot.mount if plan.spot is not None else None
    if acceptance.mount is not None and acceptance.mount != mount:
        return "it stands on another mount."
    return ""


def _elsewhere(job: Job, finding: Finding, acceptance: Acceptance) -> str:
    spot, at = job.plan.spot, acceptance.at
    if at is None or spot is None or finding.station not in OF_THE_PLACE:
        return ""
    moved = math.hypot(spot.x_mm - at[0], spot.y_mm - at[1]) > MOVED_MM
    turned = abs((spot.yaw_deg - at[2] + 180) % 360 - 180) > TURNED_DEG
    return "the heater stood elsewhere." if moved or turned else ""


def bound_to(job: Job, finding: Finding) -> dict[str, object]:
    """Return what an acceptance of a finding is bound to, as its plain data."""
    plan = job.plan
    spot = plan.spot
    return {
        "measured": finding.measured,
        "about": finding.subject_name,
        "heater": plan.heater.sheet,
        "mount": spot.mount if spot is not None else None,
        "at": (spot.x_mm, spot.y_mm, float(spot.yaw_deg)) if spot is not None else None,
    }
