"""What would change it when no heater meets what is asked: with its figures, the surest first."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from gale_nook.core.apply import apply
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.values import set_value
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.heat.savings import savings
from gale_nook.core.heater.choice import Demands, Judgement, demands_of, judgements
from gale_nook.core.job import Job, fact
from gale_nook.core.quantities.sentences import q

MOST_SAVINGS = 6


@dataclass(frozen=True, slots=True)
class Help:
    """One change.

    Attributes:
        command: that makes it; None where it is no change of this plan.
        gains_w: of what is short.
        enough: with it alone a heater meets the demand that none meets now.
    """

    sentence: str
    command: Command | None
    gains_w: float
    enough: bool


@fact
def what_would_help(job: Job) -> tuple[Help, ...]:
    """Return what would change it, what is enough by itself first; nothing where a heater meets all
    demands.
    """
    judged = [each for each in judgements(job) if each.right_medium]
    if not judged or any(each.meets_need for each in judged):
        return ()
    demands = demands_of(job)
    short_w = demands.need_w - max(each.most_w for each in judged)
    if short_w > 0:
        found = [*_less_loss(job, short_w), *_less_margin(job, demands, short_w)]
        found += _two_heaters(judged, demands)
    else:
        found = list(_easier_demands(job, judged, demands))
    return tuple(sorted(found, key=lambda each: (not each.enough, -each.gains_w)))


def _less_loss(job: Job, short_w: float) -> Iterator[Help]:
    """Changes to the envelope, one at a time."""
    plan = job.plan.model_copy(
        update={"heater": job.plan.heater.model_copy(update={"sheet": None})}
    )
    for saving in savings(plan, job.catalogue)[:MOST_SAVINGS]:
        left = short_w - saving.saved_w
        enough = left <= 0 and _is_enough(job, saving.command)
        still = (
            f"; {q(left, 'w')} are then still short"
            if left > 0
            else ""
            if enough
            else "; that covers the need, but not what is asked besides"
        )
        sentence = f"{saving.sentence.rstrip('.')}: saves {q(saving.saved_w, 'w')}{still}."
        yield Help(sentence, saving.command, saving.saved_w, enough)


def _is_enough(job: Job, command: Command) -> bool:
    """Whether a heater meets every demand once a change is made."""
    after = Job(apply(job.plan, command, job.catalogue), job.catalogue)
    return any(each.meets_need for each in judgements(after))


def _less_margin(job: Job, demands: Demands, short_w: float) -> Iterator[Help]:
    percent = job.plan.heat.margin_percent
    gains = demands.need_w - design_loss(job).design_loss_w
    if percent <= 0 or gains <= 0:
        return
    sentence = (
        f"Ask for no margin instead of {q(percent, 'percent')}: the need falls by {q(gains, 'w')}. "
        "Nothing is then left for a colder night or a tired heater."
    )
    command = set_value("heat.margin_percent", 0.0)
    yield Help(sentence, command, gains, gains >= short_w and _is_enough(job, command))


def _two_heaters(judged: Sequence[Judgement], demands: Demands) -> Iterator[Help]:
    """The two smallest that cover the need together; in mild weather one of them is off."""
    pairs = [
        (one, other)
        for one, other in itertools.combinations_with_replacement(judged, 2)
        if one.most_w + other.most_w >= demands.need_w
        and min(one.least_w, other.least_w) <= demands.mild_w
    ]
    best = min(pairs, key=lambda pair: pair[0].most_w + pair[1].most_w, default=None)
    if best is None:
        return
    one, other = best
    names = (
        f"two of the {one.sheet.label}"
        if one is other
        else (f"a {one.sheet.label} and a {other.sheet.label}")
    )
    together = one.most_w + other.most_w
    sentence = (
        f"Fit {names}: together {q(together, 'w')} for a need of {q(demands.need_w, 'w')}. Each "
        "needs its own place, exhaust, fuel line and fuse; plan it as a job of its own."
    )
    yield Help(sentence, None, together, True)


def _easier_demands(job: Job, judged: Sequence[Judgement], demands: Demands) -> Iterator[Help]:
    """The need is covered; what is asked besides is not met by the same heater."""
    strong = [each for each in judged if each.strong_enough]
    if job.plan.heat.warm_up_h is not None and any(each.clean_enough for each in strong):
        hours, command = q(job.plan.heat.warm_up_h, "h"), set_value("heat.warm_up_h", None)
        yield Help(
            f"Do not ask to be warm within {hours}: a heater that is strong enough and burns clean "
            "on the mild night takes longer.",
            command,
            0.0,
            _is_enough(job, command),
        )
    unclean = [each for each in strong if not each.clean_enough]
    if unclean:
        least = min(each.least_w for each in unclean)
        short = least - demands.mild_w
        if short > 0:
            sentence = (
                f"On the mild night the vehicle loses {q(demands.mild_w, 'w')}, and the least that "
                f"a strong enough heater gives is {q(least, 'w')}: open a vent more on such "
                "nights, or let it pause, and burn it off at full output once a week."
            )
            yield Help(sentence, None, -short, False)
        shares = [each.idle_share for each in unclean if each.idle_share is not None]
        if shares and min(shares) < 1.0:
            percent = float(round(100 * min(shares) + 0.5))
            share = set_value("heat.idle_percent", percent)
            words = f"Allow it to switch on and off in {q(percent, 'percent')} of the milder hours."
            yield Help(words, share, 0.0, _is_enough(job, share))
