"""Judging every heater against three demands at once, and against the chosen place."""

from __future__ import annotations

from dataclasses import dataclass, replace

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.findings.judging import over_count
from gale_nook.core.fitted.installed import installed, room_with
from gale_nook.core.heat.loss import LossModel, design_loss, loss_model, mild_night_loss
from gale_nook.core.heat.night import warm_up_s
from gale_nook.core.heat.season import idle_share
from gale_nook.core.job import Job, fact
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.checks import SPOT_CHECKS
from gale_nook.core.spot.placement import suits_floor

MEDIUM_REASON = {
    "coolant": (
        "heats coolant and needs pump, hoses and a convector, where this job is to be "
        "heated by warm air"
    ),
    "air": "heats air, where this job is to have a coolant loop",
}


@dataclass(frozen=True)
class Demands:
    """What a heater has to do for a plan, worked out once for all of them.

    Attributes:
        need_w: design loss with its margin.
        warm_up_s: from cold to the inside temperature; None asks for nothing.
        mild_w: loss on the mild night.
        idle_share: of the milder half's hours in which it may cycle.
        model: the loss by outside temperature.
    """

    need_w: float
    warm_up_s: float | None
    mild_w: float
    idle_share: float
    model: LossModel


@dataclass(frozen=True)
class Judgement:
    """One heater against the demands.

    Attributes:
        most_w, least_w: greatest output, derated and through the ducting, and least.
        right_medium: heats what the job is to be heated by.
        strong_enough, quick_enough, clean_enough: the three demands: most covers the need with
            margin; warm in time; least is under the mild night's loss and idles no more than it
            may.
        warm_up_s: None when it takes longer than it may, or nothing is asked for.
        idle_share: of the milder half of the season, in which it would cycle; None without weather.
        spot_over: how many of the spot's checks it would put over at the chosen place; None without
            a place, and for a heater of the other medium.
        mount: the mount with which that holds.
        reasons: what speaks against it, in sentences; empty when nothing does.
        verdict: the one sentence that sums it up.
    """

    sheet: HeaterSheet
    most_w: float
    least_w: float
    right_medium: bool
    strong_enough: bool
    quick_enough: bool
    clean_enough: bool
    warm_up_s: float | None
    idle_share: float | None
    spot_over: int | None
    mount: str | None
    reasons: tuple[str, ...]
    recommended: bool = False
    verdict: str = ""

    @property
    def meets_need(self) -> bool:
        """Meets the three demands with the medium that the job wants; the place is
        another matter.
        """
        return self.strong_enough and self.quick_enough and self.clean_enough and self.right_medium


@fact
def demands_of(job: Job) -> Demands:
    """Return what a heater has to do for a plan."""
    heat = job.plan.heat
    return Demands(
        need_w=design_loss(job).need_w,
        warm_up_s=heat.warm_up_h * 3600 if heat.warm_up_h is not None else None,
        mild_w=mild_night_loss(job).design_loss_w,
        idle_share=heat.idle_percent / 100,
        model=loss_model(job),
    )


@fact
def judgements(job: Job) -> tuple[Judgement, ...]:
    """Return a judgement of every heater, one's own too; the recommended first, then by how little
    speaks against it.

    Recommended is the smallest heater of the wanted medium that meets the three demands and fits
    the chosen place; when none fits there, the smallest of the others.
    """
    demands = demands_of(job)
    judged = [_judge(job, sheet, demands) for sheet in job.catalogue.heaters.values()]
    fitting = [j for j in judged if j.meets_need]
    best = min(
        fitting,
        key=lambda j: (bool(j.spot_over), j.sheet.output.maximum_w, j.sheet.id),
        default=None,
    )
    told = [_with_verdict(j, best) for j in judged]
    return tuple(
        sorted(
            told,
            key=lambda j: (not j.recommended, len(j.reasons), j.sheet.output.maximum_w, j.sheet.id),
        )
    )


def _judge(job: Job, sheet: HeaterSheet, demands: Demands) -> Judgement:
    plan = job.plan
    heater, least = installed(job, sheet), sheet.output.minimum_w
    most = heater.most_w
    warm_s = None
    if demands.warm_up_s is not None:
        # whatever the night begins with
        cold = room_with(job, heater).fresh(plan.heat.outside_c)
        warm_s = warm_up_s(cold, plan.heat.inside_c, sheet, most, demands.warm_up_s)
    idle = idle_share(plan, demands.model, least)
    over, mount = _fit(job, sheet)
    bare = Judgement(
        sheet=sheet,
        most_w=most,
        least_w=least,
        right_medium=sheet.medium == plan.heater.medium,
        strong_enough=most >= demands.need_w,
        quick_enough=demands.warm_up_s is None or warm_s is not None,
        clean_enough=least <= demands.mild_w and (idle is None or idle <= demands.idle_share),
        warm_up_s=warm_s,
        idle_share=idle,
        spot_over=over,
        mount=mount,
        reasons=(),
    )
    return replace(bare, reasons=tuple(_reasons(bare, demands)))


def _reasons(judged: Judgement, demands: Demands) -> list[str]:
    """Return what speaks against a heater."""
    sheet, reasons = judged.sheet, []
    if not judged.right_medium:
        reasons.append(MEDIUM_REASON[sheet.medium])
    if not judged.strong_enough:
        reasons.append(
            f"falls {q(demands.need_w - judged.most_w, 'w')} short of the need on the design night"
        )
    if not judged.quick_enough and demands.warm_up_s is not None:
        reasons.append(
            f"is not warm within {q(demands.warm_up_s / 3600, 'h')} from cold on the coldest night"
        )
    if judged.least_w > demands.mild_w:
        reasons.append(
            f"cannot go below {q(judged.least_w, 'w')} where a mild night needs "
            f"{q(demands.mild_w, 'w')}: it would cycle and soot"
        )
    if judged.idle_share is not None and judged.idle_share > demands.idle_share:
        share, most = q(100 * judged.idle_share, "percent"), q(100 * demands.idle_share, "percent")
        reasons.append(
            f"would cycle through {share} of the milder half of the season, where {most} is "
            "the most"
        )
    if judged.spot_over:
        body = sheet.body
        size = f"{q(body.length_mm)} × {q(body.width_mm)} × {q(body.height_mm)}"
        over = judged.spot_over
        reasons.append(
            f"puts {over} of the spot's checks over at the chosen place with its body of "
            f"{size} "
            "and its holes"
        )
    return reasons


def _fit(job: Job, sheet: HeaterSheet) -> tuple[int | None, str | None]:
    """Return how many spot checks are over with the best of the sheet's mounts, and
    which that is.
    """
    plan = job.plan
    if plan.spot is None or sheet.medium != plan.heater.medium:
        return None, None
    # what was accepted here with another heater would be asked for again, not refused
    accepted = tuple(
        each.model_copy(update={"heater": None, "mount": None}) for each in plan.acceptances
    )
    best: tuple[int, str] | None = None
    # a mount that the floor stack does not suit is one check worse than the same hole with one that
    # it suits
    for mount in [m for m in sheet.mounts if suits_floor(job, m)] or sheet.mounts:
        spot = plan.spot.model_copy(update={"mount": mount.id})
        heater = plan.heater.model_copy(update={"sheet": sheet.id})
        trial = job.with_parts(spot=spot, heater=heater, acceptances=accepted)
        over = over_count(trial, SPOT_CHECKS)
        if best is None or over < best[0] or (over == best[0] and mount.id == plan.spot.mount):
            best = (over, mount.id)
    return best if best is not None else (None, None)


def _with_verdict(judged: Judgement, best: Judgement | None) -> Judgement:
    sheet = judged.sheet
    if judged is best:
        return replace(judged, recommended=True, verdict=_praise(judged))
    if judged.reasons:
        text = f"{sheet.label} {'; '.join(judged.reasons)}."
    elif best is not None:
        text = (
            f"{sheet.label} would do, but its least output of {q(sheet.output.minimum_w, 'w')} "
            "idles it more than "
            f"{best.sheet.label} ({q(best.sheet.output.minimum_w, 'w')}), and it draws "
            f"{sheet.electrical.glow_current_a:g} A to start."
        )
    else:
        text = f"{sheet.label} meets the need."
    return replace(judged, verdict=text)


def _praise(judged: Judgement) -> str:
    does = ["covers the design night with its margin"]
    if judged.warm_up_s is not None:
        does.append(f"is warm {q(judged.warm_up_s / 60, 'min')} after a cold start")
    if judged.idle_share is None:
        does.append("burns clean on a mild night")
    else:
        does.append(
            f"cycles through no more than {q(100 * judged.idle_share, 'percent')} of the "
            "season's "
            "milder half"
        )
    place = ""
    if judged.spot_over == 0:
        does.append("fits the place")
    elif judged.spot_over:
        place = (
            f"; {judged.spot_over} of the spot's checks are over at the chosen place, as with "
            "every fitting heater"
        )
    return f"The smallest that {', '.join(does[:-1])} and {does[-1]}{place}."
