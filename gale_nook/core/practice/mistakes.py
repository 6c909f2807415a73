"""Mistakes put into a good plan: each is one edit that some check finds, and that is taken back."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from gale_nook.core.apply import applied
from gale_nook.core.catalogue.practice import MistakeKind, PracticeBook
from gale_nook.core.checking import checked
from gale_nook.core.edits.address import find
from gale_nook.core.edits.command import Value
from gale_nook.core.edits.values import set_value
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.job import Job
from gale_nook.core.plan.build import Build
from gale_nook.core.plan.document import Plan

WHOLE_SCORE, FALSE_COSTS, LATE_COSTS = 100, 10, 30
FOUND_SHARE = 0.6  # of a mistake's score is for finding it
CHOICES = 4  # of cures, of which one is right
STRIDE = 101  # a prime: neighbouring seeds begin far apart in the list
Change = tuple[str, Value]  # address, and what it becomes


@dataclass(frozen=True)
class Made:
    """A mistake that was made.

    Attributes:
        change: the edit; was: the value before it.
        rules: of the checks that find it.
    """

    kind: MistakeKind
    change: Change
    was: Value
    rules: frozenset[str]


@dataclass(frozen=True)
class WrongPlan:
    """A good plan with mistakes in it."""

    good: Job
    wrong: Job
    made: tuple[Made, ...]


def _alarm(plan: Plan) -> Iterator[Change]:
    for alarm in plan.power.alarms:
        if alarm.kind == "co":
            yield f"power.alarms.{alarm.id}.z_mm", 60.0


def _alarm_shut(plan: Plan) -> Iterator[Change]:
    for alarm in plan.power.alarms:
        if alarm.kind == "co":
            yield f"power.alarms.{alarm.id}.shut_in", True


def _arrow(plan: Plan) -> Iterator[Change]:
    if plan.fuel.line is not None:
        yield "fuel.line.pump.forwards", False


def _pump_down(plan: Plan) -> Iterator[Change]:
    if plan.fuel.line is not None:
        yield "fuel.line.pump.tilt_deg", -30.0


def _rubber(plan: Plan) -> Iterator[Change]:
    if plan.fuel.line is not None:
        yield "fuel.line.pump.rubber", False


def _cable(plan: Plan) -> Iterator[Change]:
    if plan.power.lead("supply") is not None:
        yield "power.leads.supply.area_mm2", 0.75


def _fuse(plan: Plan) -> Iterator[Change]:
    supply = plan.power.lead("supply")
    for part in supply.of_kind("fuse") if supply is not None else ():
        yield f"power.leads.supply.parts.{part.id}.rating_a", 60.0


def _grommet(plan: Plan) -> Iterator[Change]:
    for lead in plan.power.leads:
        for part in lead.of_kind("hole"):
            yield f"power.leads.{lead.id}.parts.{part.id}.grommet", False


def _disconnect(plan: Plan) -> Iterator[Change]:
    if plan.power.disconnect is not None:
        yield "power.disconnect.stops", "everything"


def _silencer(plan: Plan) -> Iterator[Change]:
    exhaust = plan.pipes.exhaust
    for fitting in exhaust.of_kind("silencer") if exhaust is not None else ():
        yield f"pipes.exhaust.fittings.{fitting.id}.drain_down", False


def _mouth_in(plan: Plan) -> Iterator[Change]:
    exhaust = plan.pipes.exhaust
    if exhaust is not None and exhaust.nodes:
        last = exhaust.nodes[-1]
        yield f"pipes.exhaust.nodes.{last.id}.y_mm", last.y_mm * 0.75


def _rises(plan: Plan) -> Iterator[Change]:
    exhaust = plan.pipes.exhaust
    if exhaust is not None and exhaust.nodes:
        last = exhaust.nodes[-1]
        yield f"pipes.exhaust.nodes.{last.id}.z_mm", last.z_mm + 120.0


def _tight_bend(plan: Plan) -> Iterator[Change]:
    exhaust = plan.pipes.exhaust
    for node in exhaust.nodes[:-1] if exhaust is not None else ():
        yield f"pipes.exhaust.nodes.{node.id}.radius_mm", 25.0


MAKERS: dict[str, Callable[[Plan], Iterator[Change]]] = {
    "alarm-low": _alarm,
    "alarm-shut-in": _alarm_shut,
    "pump-turned": _arrow,
    "pump-down": _pump_down,
    "no-rubber": _rubber,
    "thin-supply": _cable,
    "large-fuse": _fuse,
    "no-grommet": _grommet,
    "cuts-after-run": _disconnect,
    "silencer-up": _silencer,
    "mouth-inside": _mouth_in,
    "exhaust-rises": _rises,
    "tight-bend": _tight_bend,
}


def wrong_plan(book: PracticeBook, job: Job, seed: int, level: int) -> WrongPlan:
    """Return a good plan with as many mistakes as its level has, the same ones for a seed.

    Only what a check finds is taken, each by checks that found nothing over before.
    """
    good = job.with_parts(build=Build())
    kinds = [kind for kind in book.mistakes if kind.level <= level]
    start = seed * STRIDE % len(kinds)
    order = [kinds[(start + number * (1 + seed % 3)) % len(kinds)] for number in range(len(kinds))]
    wanted, now, made = book.mistake_counts[level - 1], good, list[Made]()
    for kind in dict.fromkeys(order + kinds):
        if len(made) >= wanted:
            break
        mistake = _made(kind, now, seed)
        if mistake is not None:
            made.append(mistake)
            now = now.with_plan(applied(now, set_value(*mistake.change)))
    return WrongPlan(good, now, tuple(made))


def _made(kind: MistakeKind, job: Job, seed: int) -> Made | None:
    """The mistake in a plan; None where it cannot be made there, or no check finds it."""
    changes = list(MAKERS[kind.id](job.plan))
    if not changes:
        return None
    change = changes[seed % len(changes)]
    try:
        wrong = job.with_plan(applied(job, set_value(*change)))
    except BadInput:
        return None
    before = over_rules(job)
    found = over_rules(wrong) - before
    return Made(kind, change, _value(job.plan, change[0]), frozenset(found)) if found else None


def _value(plan: Plan, address: str) -> Value:
    """What stands at an address."""
    found: Value = find(plan.model_dump(mode="json"), address)
    return found


def over_rules(job: Job) -> set[str]:
    """Return the rules that find something over."""
    return {f.rule for f in checked(job).findings if f.verdict is Verdict.OVER}


def cure_choices(book: PracticeBook, wrong: WrongPlan, rule: str) -> tuple[MistakeKind, ...]:
    """Return what may be done about a check that was marked: what cures the mistakes that it finds,
    among cures of others, in an order that tells nothing.
    """
    own = [made.kind for made in wrong.made if rule in made.rules]
    start = sum(map(ord, rule)) % len(book.mistakes)
    others = [kind for kind in (*book.mistakes[start:], *book.mistakes[:start]) if kind not in own]
    offered = {kind.id for kind in (*own, *others[: max(CHOICES - len(own), 1)])}
    return tuple(kind for kind in book.mistakes if kind.id in offered)


def cured(wrong: WrongPlan, done: Iterable[str]) -> Job:
    """Return the wrong plan after some cures, by the ids of their mistakes; what cures nothing that
    was made changes nothing.
    """
    job, wanted = wrong.wrong, set(done)
    for made in reversed(wrong.made):
        if made.kind.id in wanted:
            job = job.with_plan(applied(job, set_value(made.change[0], made.was)))
    return job


@dataclass(frozen=True)
class PlanMarked:
    """How it was done.

    Attributes:
        found, missed: mistakes that were marked, and that were not; put_right: of those found.
        false: checks that were marked and find nothing over, by their titles.
        vain: cures that were carried out and changed nothing.
        minutes: spent; best_minutes: that one look at each mistake would have taken.
        walked_past: hazards of what was missed.
    """

    score: int
    found: tuple[Made, ...]
    missed: tuple[Made, ...]
    put_right: tuple[Made, ...]
    false: tuple[str, ...]
    vain: tuple[MistakeKind, ...]
    minutes: float
    best_minutes: float
    walked_past: tuple[str, ...]


def look_minutes(book: PracticeBook, wrong: WrongPlan, rules: Iterable[str]) -> float:
    """Return what looking at some checks takes with tape and torch."""
    by_rule = findings_by_rule(wrong.wrong)
    return sum(
        book.look_minutes + book.each_minutes * len(by_rule[rule])
        for rule in dict.fromkeys(rules)
        if rule in by_rule
    )


def findings_by_rule(job: Job) -> dict[str, list[Finding]]:
    """Return every finding by the check that it is of."""
    results: dict[str, list[Finding]] = {}
    for finding in checked(job).findings:
        results.setdefault(finding.rule, []).append(finding)
    return results


def mark_plan(
    book: PracticeBook,
    wrong: WrongPlan,
    looked: Sequence[str],
    marked: Sequence[str],
    cures: Sequence[str] = (),
) -> PlanMarked:
    """Return how it was done: a share of the whole for each mistake that one of its checks was
    marked for, and the rest of it for its cure; less for each check that was marked and is as it
    should be, for each cure that changed nothing, and for time.

    Args:
        cures: that were carried out, by the ids of the mistakes that they are for.
    """
    by_rule, wanted = findings_by_rule(wrong.wrong), set(marked)
    found = tuple(made for made in wrong.made if made.rules & wanted)
    missed = tuple(made for made in wrong.made if made not in found)
    over = over_rules(wrong.wrong)
    false = [by_rule[rule][0].title for rule in _known(marked, by_rule) if rule not in over]
    right = tuple(made for made in found if made.kind.id in set(cures))
    kinds = {made.kind.id for made in wrong.made}
    vain = tuple(kind for kind in book.mistakes if kind.id in set(cures) - kinds)
    spent = look_minutes(book, wrong, looked) + book.cure_minutes * len(set(cures))
    best = look_minutes(book, wrong, [min(made.rules) for made in wrong.made])
    best += book.cure_minutes * len(wrong.made)
    whole = look_minutes(book, wrong, by_rule)
    late = max(spent - best, 0.0) / max(whole - best, 1.0)
    share = FOUND_SHARE * len(found) + (1 - FOUND_SHARE) * len(right)
    score = WHOLE_SCORE * share / len(wrong.made) - FALSE_COSTS * (len(false) + len(vain))
    past = {
        finding.hazard
        for made in missed
        for rule in made.rules
        for finding in by_rule.get(rule, ())
        if finding.hazard and finding.verdict is Verdict.OVER
    }
    return PlanMarked(
        max(round(score - LATE_COSTS * late), 0),
        found,
        missed,
        right,
        tuple(false),
        vain,
        spent,
        best,
        tuple(sorted(past)),
    )


def _known(rules: Sequence[str], by_rule: Mapping[str, object]) -> list[str]:
    return [rule for rule in dict.fromkeys(rules) if rule in by_rule]
