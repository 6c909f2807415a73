"""Clearing what is over: the smallest set of changes found that clears every finding that can be
cleared, in the order of work, and what cannot be cleared, with why.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from gale_nook.core.apply import applied
from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.checking import checked
from gale_nook.core.commands import AnyCommand
from gale_nook.core.edits.command import Command
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.heater.choice import judgements
from gale_nook.core.heater.commands import ChooseHeater
from gale_nook.core.job import Job
from gale_nook.core.pipes.commands import RemoveRun, TakeRun
from gale_nook.core.plan.pipes import Route, Tube
from gale_nook.core.planner.commands import TakeLayout
from gale_nook.core.planner.fitting import Fitter, Stopped, bare_job
from gale_nook.core.planner.places import spread_out
from gale_nook.core.planner.search import choices_of, with_heater
from gale_nook.core.planner.wished import as_it_is, job_to_search
from gale_nook.core.remedies import remedies_for, rule_of
from gale_nook.core.spot.commands import PlaceHeater

MOST_CURES = 40
MOST_TRIED, MOST_LAID, MOST_WHY = 10, 2, 4  # of one heater; reasons that are told
PARTS = ("fuel", "air", "coolant", "power")
PART_WORDS = {
    "fuel": "Lay the fuel line anew, with its tank, pump and filter",
    "air": "Lay the ducts anew",
    "coolant": "Lay the loop's hoses anew",
    "power": "Lay the leads anew, with battery, controller and alarm",
}
TUBE_CHANGES: tuple[tuple[Tube, str], ...] = (
    ("exhaust", "Lay the exhaust anew"),
    ("intake", "Lay the combustion air's pipe anew"),
)
NO_REMEDY = "No change was found that clears it and puts nothing else over."
NEEDS_HANDS = "There is no change of the plan that clears it: it is decided or measured by hand."
Told = Callable[[int, int, str], None]
Key = tuple[str, str, str]


@dataclass(frozen=True)
class Change:
    """One change.

    Attributes:
        id: its number among the changes, from 1.
        station: at whose page it would be made by hand.
        clears: titles of findings that are over without it, and are not with it.
    """

    id: str
    station: str
    sentence: str
    command: AnyCommand
    clears: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Left:
    """A finding that no change clears, and why."""

    station: str
    title: str
    sentence: str
    why: str


@dataclass(frozen=True)
class Clearing:
    """What clears what is over.

    Attributes:
        before, after: how many findings are over, without any of the changes and with all.
        why_not_all: why no whole layout could be laid, where none could.
    """

    changes: tuple[Change, ...]
    left: tuple[Left, ...]
    before: int
    after: int
    why_not_all: tuple[str, ...] = ()


def over_of(job: Job) -> tuple[Finding, ...]:
    """Return what is over and was not accepted."""
    return tuple(f for f in checked(job).findings if f.verdict is Verdict.OVER)


def clear_over(job: Job, told: Told = lambda *_: None) -> Clearing:
    """Return what clears what is over in a plan: singly where that does, else by laying anew what
    has to be.

    Args:
        told: called with how many steps are done, of how many, and what is being done.
    """
    start = over_of(job)
    if not start:
        return Clearing((), (), 0, 0)
    told(0, 4, "trying one change after another")
    singly = list(_cures(job, 8))
    after = changed(job, [change.command for change in singly])
    why: tuple[str, ...] = ()
    if _laid_over(over_of(after)):
        told(1, 4, "laying anew what has to be")
        fresh, why = _anew(job)
        laid = changed(job, [change.command for change in fresh])
        if fresh and len(over_of(laid)) < len(over_of(after)):
            singly, after = fresh, laid
    told(2, 4, "trying one change after another on what is left")
    changes = [*singly, *_cures(after, MOST_CURES)]
    told(3, 4, "leaving out what is not needed")
    changes = needed(job, changes)
    final = changed(job, [change.command for change in changes])
    left = tuple(Left(f.station, f.title, f.sentence, _why(f)) for f in over_of(final))
    return Clearing(tuple(_told(job, changes)), left, len(start), len(over_of(final)), why)


def changed(job: Job, commands: Sequence[Command]) -> Job:
    """Return the job after some changes; one that cannot be carried out any more is left out."""
    for command in commands:
        try:
            job = job.with_plan(applied(job, command))
        except BadInput:
            continue
    return job


def needed(job: Job, changes: Sequence[Change]) -> list[Change]:
    """Return the changes without those that no finding needs: with each of the others taken out,
    something more is over.
    """
    kept = list(changes)
    least = {f.key for f in over_of(changed(job, [c.command for c in kept]))}
    for number in reversed(range(len(kept))):
        fewer = [*kept[:number], *kept[number + 1 :]]
        over = {f.key for f in over_of(changed(job, [c.command for c in fewer]))}
        if over <= least:
            kept, least = fewer, over
    return kept


def _laid_over(over: Sequence[Finding]) -> bool:
    """Whether something is over that laying anew could clear."""
    stations = {"heater", "spot", "pipes", "fuel", "air", "coolant", "power"}
    return any(finding.station in stations for finding in over)


def _cures(job: Job, most: int) -> Iterator[Change]:
    """Single changes, each of which clears something and puts nothing else over."""
    hopeless: set[Key] = set()
    done = 0
    while done < most:
        finding = next((f for f in over_of(job) if f.key not in hopeless and _curable(f)), None)
        if finding is None:
            return
        done += 1
        remedies = remedies_for(job, finding)
        if not remedies:
            hopeless.add(finding.key)
            continue
        job = changed(job, [remedies[0].command])
        yield Change("", finding.station, remedies[0].sentence, remedies[0].command)


def _curable(finding: Finding) -> bool:
    rule = rule_of(finding)
    return rule is not None and bool(rule.remedies)


def _anew(job: Job) -> tuple[list[Change], tuple[str, ...]]:
    """The changes that lay the heater and all that leads to it anew: where it stands if that can
    be, else elsewhere; with another heater where none can be laid with this one, or it does not
    meet the need. Where nothing clears all of it, what comes nearest.
    """
    best: tuple[int, list[Change]] | None = None
    why: tuple[str, ...] = ()
    for wanted in _heaters(job):
        there = changed(job, [wanted.command]) if wanted is not None else job
        first = [wanted] if wanted is not None else []
        for laid in _laid(with_heater(there)):
            if isinstance(laid, Stopped):
                why = (*why, laid.sentence)
                continue
            count = len(over_of(laid))
            if best is None or count < best[0]:
                best = (count, [*first, *_differences(there, laid)])
            if count == 0:
                return best[1], ()
    return (best[1] if best is not None else []), tuple(dict.fromkeys(why))[:MOST_WHY]


def _heaters(job: Job) -> Iterator[Change | None]:
    """The heaters to try: the recommended one where this one is over, this one, then the others, by
    how little speaks against each.
    """
    others = [
        each
        for each in judgements(job)
        if each.right_medium and each.sheet.id != job.plan.heater.sheet
    ]
    told = [(each, _choosing(each.sheet)) for each in others]
    is_over = any(f.station == "heater" for f in over_of(job))
    yield from (change for each, change in told if each.recommended and is_over)
    yield None
    yield from (change for each, change in told if not (each.recommended and is_over))


def _choosing(sheet: HeaterSheet) -> Change:
    return Change("", "heater", f"Choose the {sheet.label}", ChooseHeater(sheet=sheet.id))


def _laid(job: Job) -> Iterator[Job | Stopped]:
    """The job laid out from where the heater stands, then from the first few places from which the
    pipes find a way; why not, from where they find none.
    """
    searched = job_to_search(bare_job(job))
    fitter = Fitter(searched, job.plan.coolant, patient=True, lenient=True)
    standing = searched.with_parts(spot=job.plan.spot)
    done = 0
    nodes = spread_out(choices_of(standing)[1], job.catalogue.planner.search.apart_mm)
    for node in nodes[:MOST_TRIED]:
        result = fitter.layout(node)
        yield result if isinstance(result, Stopped) else as_it_is(job, result)
        done += not isinstance(result, Stopped)
        if done == MOST_LAID:
            return


def _differences(before: Job, after: Job) -> Iterator[Change]:
    """What makes one plan of another, a change for each thing that is laid."""
    spot = after.plan.spot
    if spot is not None and spot != before.plan.spot:
        place = {"x_mm": spot.x_mm, "y_mm": spot.y_mm, "yaw_deg": spot.yaw_deg}
        words = "Put the heater where it is clear"
        yield Change("", "spot", words, PlaceHeater(**place, mount=spot.mount))
    for tube, words in TUBE_CHANGES:
        route = after.plan.pipes.route(tube)
        if route != before.plan.pipes.route(tube):
            yield Change("", "pipes", words, _running(tube, route))
    for part in PARTS:
        value = getattr(after.plan, part)
        if value != getattr(before.plan, part):
            laying = TakeLayout(name=PART_WORDS[part].lower(), **{part: value})
            yield Change("", part, PART_WORDS[part], laying)


def _running(tube: Tube, route: Route | None) -> Command:
    return TakeRun(tube=tube, route=route) if route is not None else RemoveRun(tube=tube)


def _told(job: Job, changes: Sequence[Change]) -> Iterator[Change]:
    """The changes with what each clears, numbered; those of one station together would be as they
    come.
    """
    for number, change in enumerate(changes, 1):
        before = {f.key: f.title for f in over_of(job)}
        job = changed(job, [change.command])
        now = {f.key for f in over_of(job)}
        clears = tuple(dict.fromkeys(title for key, title in before.items() if key not in now))
        yield replace(change, id=str(number), clears=clears)


def _why(finding: Finding) -> str:
    return NO_REMEDY if _curable(finding) else NEEDS_HANDS
