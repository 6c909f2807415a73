"""Judging every heater of the catalogue against the heat need and the chosen place."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.catalogue import Catalogue, HeaterSheet, Output
from gale_nook.core.derived import Derived
from gale_nook.core.heat.film import density_ratio
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.said import q

MEDIUM_REASON = {
    "coolant": "heats coolant and needs pump, hoses and a convector, where this job is to be heated by warm air",
    "air": "heats air, where this job is to have a coolant loop",
}


def derated_w(output: Output, altitude_m: float) -> float:
    """Return the most output at an altitude.

    Constant up to the height that the burner compensates for; above it, falls with the air's density.
    Source: ISO 2533 for the density.
    """
    reference = min(output.compensated_to_m, max(altitude_m, 0.0))
    return output.maximum_w * min(density_ratio(altitude_m) / density_ratio(reference), 1.0)


@dataclass(frozen=True)
class Judgement:
    """One heater against the need.

    Attributes:
        most_w, least_w: derated greatest and least output.
        right_medium: heats what the job is to be heated by.
        strong_enough, clean_enough: most covers the need with margin; least is under the mild night's loss.
        spot_over: how many of the spot's checks it would put over at the chosen place; None without a place.
        mount: the mount with which that holds.
        reasons: what speaks against it, in sentences; empty when nothing does.
        verdict: the one sentence that sums it up.
    """

    sheet: HeaterSheet
    most_w: float
    least_w: float
    right_medium: bool
    strong_enough: bool
    clean_enough: bool
    spot_over: int | None
    mount: str | None
    reasons: tuple[str, ...]
    recommended: bool = False
    verdict: str = ""

    @property
    def meets_need(self) -> bool:
        """Strong enough, clean enough, and of the medium that the job wants; the place is another matter."""
        return self.strong_enough and self.clean_enough and self.right_medium


def judge_heaters(plan: Plan, catalogue: Catalogue) -> tuple[Judgement, ...]:
    """Return a judgement of every heater, the recommended first, then by how little speaks against it.

    Recommended is the smallest heater of the wanted medium that covers the need with its margin, burns clean
    on the mild night and fits the chosen place; when none fits there, the smallest of the others.
    """
    derived = Derived(plan, catalogue)
    need_w, mild_w = derived.loss.need_w, derived.mild_loss.design_loss_w
    judged = [_judge(plan, catalogue, sheet, need_w, mild_w) for sheet in catalogue.heaters.values()]
    fitting = [j for j in judged if j.meets_need]
    best = min(fitting, key=lambda j: (bool(j.spot_over), j.sheet.output.maximum_w, j.sheet.id), default=None)
    told = [_with_verdict(j, best) for j in judged]
    return tuple(sorted(told, key=lambda j: (not j.recommended, len(j.reasons), j.sheet.output.maximum_w, j.sheet.id)))


def _judge(plan: Plan, catalogue: Catalogue, sheet: HeaterSheet, need_w: float, mild_w: float) -> Judgement:
    most, least = derated_w(sheet.output, plan.heat.altitude_m), sheet.output.minimum_w
    over, mount = _fit(plan, catalogue, sheet)
    reasons = []
    if sheet.medium != plan.heater.medium:
        reasons.append(MEDIUM_REASON[sheet.medium])
    if most < need_w:
        reasons.append(f"falls {q(need_w - most, 'w')} short of the need on the design night")
    if least > mild_w:
        reasons.append(
            f"cannot go below {q(least, 'w')} where a mild night needs {q(mild_w, 'w')}: it would cycle and soot"
        )
    if over:
        size = f"{q(sheet.body.length_mm)} × {q(sheet.body.width_mm)} × {q(sheet.body.height_mm)}"
        reasons.append(f"its body of {size} and its holes put {over} of the spot's checks over at the chosen place")
    return Judgement(
        sheet,
        most,
        least,
        sheet.medium == plan.heater.medium,
        most >= need_w,
        least <= mild_w,
        over,
        mount,
        tuple(reasons),
    )


def _fit(plan: Plan, catalogue: Catalogue, sheet: HeaterSheet) -> tuple[int | None, str | None]:
    """Return how many spot checks are over with the best of the sheet's mounts, and which that is."""
    from gale_nook.core.checking import check

    if plan.spot is None:
        return None, None
    best: tuple[int, str] | None = None
    stack = Derived(plan, catalogue).stack_mm
    # a mount that the floor stack does not suit is one check worse than the same hole with one that it suits
    for mount in [m for m in sheet.mounts if m.stack.holds(stack)] or sheet.mounts:
        spot = plan.spot.model_copy(update={"mount": mount.id})
        heater = plan.heater.model_copy(update={"sheet": sheet.id})
        trial = plan.model_copy(update={"spot": spot, "heater": heater})
        over = check(trial, catalogue, ("spot",)).tally()["over"]
        if best is None or over < best[0] or (over == best[0] and mount.id == plan.spot.mount):
            best = (over, mount.id)
    return best if best is not None else (None, None)


def _with_verdict(judged: Judgement, best: Judgement | None) -> Judgement:
    sheet = judged.sheet
    if judged is best:
        text = (
            "The smallest that covers the design night with its margin, burns clean on a mild one and fits the place."
        )
        if judged.spot_over is None:
            text = "The smallest that covers the design night with its margin and burns clean on a mild one."
        elif judged.spot_over:
            text = (
                "The smallest that covers the design night with its margin and burns clean on a mild one; "
                f"{judged.spot_over} of the spot's checks are over at the chosen place, as with every fitting heater."
            )
        return Judgement(**{**judged.__dict__, "recommended": True, "verdict": text})
    if judged.reasons:
        text = f"{sheet.label} {'; '.join(judged.reasons)}."
    elif best is not None:
        text = (
            f"{sheet.label} would do, but its least output of {q(sheet.output.minimum_w, 'w')} idles it more than "
            f"{best.sheet.label} ({q(best.sheet.output.minimum_w, 'w')}), and it draws {sheet.electrical.glow_current_a:g} A to start."
        )
    else:
        text = f"{sheet.label} meets the need."
    return Judgement(**{**judged.__dict__, "verdict": text})
