"""The check that no two things are in one place: one rule of each station that takes room."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial

from gale_nook.core.findings.finding import ONE_PLACE, Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule
from gale_nook.core.job import Job, fact
from gale_nook.core.ledger.body import Body, asking
from gale_nook.core.ledger.pairs import Pair, too_near
from gale_nook.core.quantities.sentences import capital, q

BodiesOf = Callable[[Job], tuple[Body, ...]]
PairsOf = Callable[[Job, BodiesOf, tuple[BodiesOf, ...]], tuple[Pair, ...]]


def together_rule(
    word: str,
    own: BodiesOf,
    before: tuple[BodiesOf, ...],
    rules: tuple[Rule, ...],
    *,
    as_laid: bool = True,
) -> Rule:
    """Return the rule of a station that looks at each pair of its own bodies, and of one of its own
    with one of the stations before it.

    Args:
        rules: of it and the stations before: what they say of a pair is not told twice.
        as_laid: its bodies are the same however outlets stand, and whatever feeds the heater.
    """
    pairs = _pairs if as_laid else _pairs_now
    check = partial(_together, own=own, before=before, rules=rules, pairs=pairs)
    return Rule(f"{word}.together", "Two things in one place", "mm", None, check)


def _together(
    job: Job,
    this: Rule,
    *,
    own: BodiesOf,
    before: tuple[BodiesOf, ...],
    rules: tuple[Rule, ...],
    pairs: PairsOf,
) -> Iterator[Finding]:
    bodies = own(job)
    # what was surveyed stays as it is while anything else is moved
    worst = _vehicle_pairs(job, own) if not before else pairs(job, own, before)
    left = [pair for pair in worst if not _is_told(job, pair, rules)]
    for pair in left:
        yield _finding(job, this, pair)
    if bodies and not left:
        others = sum(len(each(job)) for each in before)
        count = len(bodies) * (len(bodies) - 1) // 2 + len(bodies) * others
        yield this.yes_no(
            job,
            answer=False,
            wanted=False,
            whose=Whose.GEOMETRY,
            source=ONE_PLACE,
            sentence=f"{count} pairs of things looked at: none is nearer than it may be.",
        )


@fact
def _vehicle_pairs(job: Job, own: BodiesOf) -> tuple[Pair, ...]:
    return _worst_pairs(job, own, ())


@fact
def _pairs(job: Job, own: BodiesOf, before: tuple[BodiesOf, ...]) -> tuple[Pair, ...]:
    return _worst_pairs(job, own, before)


@fact
def _pairs_now(job: Job, own: BodiesOf, before: tuple[BodiesOf, ...]) -> tuple[Pair, ...]:
    return _worst_pairs(job, own, before)


def _worst_pairs(job: Job, own: BodiesOf, before: tuple[BodiesOf, ...]) -> tuple[Pair, ...]:
    """What is too near, of two things with several bodies each the worst."""
    room, bodies = job.catalogue.room, own(job)
    others = tuple(body for each in before for body in each(job))
    worst: dict[tuple[str, str], Pair] = {}
    for pair in (
        *too_near(room, bodies, bodies, within=True),
        *too_near(room, bodies, others),
    ):
        key = (pair.one.id, pair.other.id)
        if key not in worst or pair.margin_mm < worst[key].margin_mm:
            worst[key] = pair
    return tuple(worst.values())


def _is_told(job: Job, pair: Pair, rules: tuple[Rule, ...]) -> bool:
    """Whether a rule that says more of such a pair is over for it."""
    one, other = pair.one, pair.other
    ids, names = {one.id, other.id}, {one.name, other.name}
    for told in job.catalogue.room.told:
        if not told.is_about(one.kind, other.kind):
            continue
        for each in rules:
            if each.id != told.rule:
                continue
            for finding in each.findings_over(job):
                if told.run and finding.run != told.run:
                    continue
                by_subject = told.by == "subject" and finding.subject in ids
                by_name = told.by == "name" and finding.subject_name in names
                if told.by == "kind" or by_subject or by_name:
                    return True
    return False


def _finding(job: Job, this: Rule, pair: Pair) -> Finding:
    one, other, distance = pair.one, pair.other, pair.near.distance_mm
    words = f"{q(distance)} between {one.name} and {other.name}."
    if distance < 0:
        words = f"{capital(one.name)} and {other.name} are in one place, by {q(-distance)}."
    band = Band(min(pair.gap_mm, 0.0), None, Whose.GEOMETRY, source=ONE_PLACE)
    asks = asking(one, other) if pair.gap_mm > 0 else None
    if asks is not None:
        band = Band(pair.gap_mm, None, Whose.WORKSHOP, "gap", f"{asks.label}: {asks.source}")
    # what was surveyed stands as it is; what is planned can do harm
    planned = "." in one.id or "." in other.id
    harms = (body.gaps.hazard for body in (other, one) if body.gaps is not None)
    return this.finding(
        job,
        subject=f"{one.id}:{other.id}",
        subject_name=other.name,
        measured=distance,
        band=band,
        tolerance=0.0,
        hazard=next((harm for harm in harms if harm), None) if planned else None,
        title=f"{capital(one.name)} and {other.name}",
        sentence=words,
        marks=(Mark(pair.near.start, pair.near.end),),
    )
