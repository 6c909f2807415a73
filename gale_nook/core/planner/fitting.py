"""From a choice of place, exhaust's side and fuel to a whole layout: each station is laid in turn
by what looks for its ways, then what is still over is cured, and the whole is put before every
check.
"""

from __future__ import annotations

import contextlib
import itertools
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

from pydantic import ValidationError

from gale_nook.core.air.commands import TakeTree
from gale_nook.core.air.fitting_out import fitted_out
from gale_nook.core.air.start import FIRST_MM, nodes_to, starting_duct, usual_ducts
from gale_nook.core.air.tree_proposals import find_trees, outlets_to_lead_to, tree_kind
from gale_nook.core.apply import applied
from gale_nook.core.checking import checked
from gale_nook.core.coolant.laying import laid_out
from gale_nook.core.coolant.start import USUAL, usual_loop
from gale_nook.core.ducts.ends import warm_end
from gale_nook.core.edits.command import Command
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.findings.judging import over_findings
from gale_nook.core.fuel.line_search import searched_lines
from gale_nook.core.fuel.start import line_kind, tried_lines
from gale_nook.core.heater.limits import least_of
from gale_nook.core.job import Job
from gale_nook.core.ledger.body import Body
from gale_nook.core.pipes.proposals import HASTE, SearchEffort, propose
from gale_nook.core.pipes.route_search import search_routes, search_steps
from gale_nook.core.plan.air import Duct, WantedOutlet
from gale_nook.core.plan.build import Build
from gale_nook.core.plan.coolant import Coolant
from gale_nook.core.plan.firing import Firing
from gale_nook.core.plan.fuel import OWN_TANKS
from gale_nook.core.plan.pipes import EdgeName, Tube
from gale_nook.core.plan.power import LeadKind
from gale_nook.core.planner.places import BESIDE, WALL, Node
from gale_nook.core.power.commands import (
    AddAlarm,
    StartBattery,
    StartController,
    StartLead,
)
from gale_nook.core.power.start import starting_alarm
from gale_nook.core.remedies import remedies_for
from gale_nook.core.routing.proving import first_clear_or_best, proved
from gale_nook.core.spot.search import first_over
from gale_nook.core.stations import BY_WORD, RULES

HASTY = SearchEffort(((8.0, 2.0), (25.0, HASTE)), 15_000)
PATIENT = SearchEffort(((8.0, 2.0), (0.0, 2.0), (25.0, HASTE), (8.0, HASTE)), 60_000)
LEADS: tuple[LeadKind, ...] = ("supply", "pump", "controller", "sensor")
TANK_CURES = 6
MOST_SIMPLE_LINES = 30  # the shortest, where none that was led round things is clear
HOPELESS = 12  # findings over, from which no cures are tried


@dataclass(frozen=True, slots=True)
class Stopped:
    """Why no layout came of a choice.

    Attributes:
        at: the station at which it ended.
        sentence: why, with marked quantities.
        over: findings, where a whole layout was there that breaks limits.
    """

    at: str
    sentence: str
    over: tuple[Finding, ...] = ()


class NoWay(Exception):
    """A station cannot be laid within its limits.

    Args:
        nearest: the job with it laid as near to them as was found.
    """

    def __init__(
        self,
        at: str,
        sentence: str,
        over: tuple[Finding, ...] = (),
        nearest: Job | None = None,
    ) -> None:
        super().__init__(sentence)
        self.stopped = Stopped(at, sentence, over)
        self.nearest = nearest


@dataclass
class Fitter:
    """Fits layouts out from one bare job; what two choices have in common is laid once.

    Attributes:
        job: without what is to be laid.
        coolant: the loop whose parts stay where they stand, and whose hoses are laid anew.
        patient: ways for the exhaust are looked for longer.
        lenient: what comes nearest to its limits is laid where nothing keeps them.
    """

    job: Job
    coolant: Coolant = field(default_factory=Coolant)
    patient: bool = False
    lenient: bool = False
    _piped: dict[tuple[object, ...], Job | Stopped] = field(default_factory=dict)

    def layout(self, node: Node) -> Job | Stopped:
        """Return the job with everything laid and nothing over that was not over before; why there
        is none else.
        """
        try:
            return self._laid(node)
        except NoWay as error:
            return error.stopped
        except BadInput as error:
            return Stopped("planner", str(error))
        except ValidationError:
            return Stopped("planner", "It leads beyond what a plan can hold.")

    def _laid(self, node: Node) -> Job:
        job, pinned = self._with_pipes(node), self.job.plan.wishes.pinned
        if "fuel" not in pinned:
            fuelled = job.with_parts(fuel=node.fuel)
            job = self._nearest(with_line, fuelled)
        if job.plan.heater.medium == "coolant" and "coolant" not in pinned:
            job = with_loop(job, self.coolant)
        if "air" not in pinned:
            job = self._nearest(with_ducts, job)
        if "power" not in pinned:
            job = with_power(job)
        return self._proved(job)

    def _nearest(self, lay: Callable[[Job], Job], job: Job) -> Job:
        """The job with something laid within its limits, or near to them where that will do."""
        try:
            return lay(job)
        except NoWay as error:
            if not self.lenient:
                raise
            return error.nearest or job

    def _with_pipes(self, node: Node) -> Job:
        key = (node.spot, node.edge)
        if key not in self._piped:
            try:
                self._piped[key] = self._pipes(node)
            except NoWay as error:
                self._piped[key] = error.stopped
        found = self._piped[key]
        if isinstance(found, Stopped):
            raise NoWay(found.at, found.sentence, found.over)
        return found

    def _pipes(self, node: Node) -> Job:
        pinned = self.job.plan.wishes.pinned
        stops = None if "spot" in pinned else first_over(self.job, node.spot, BESIDE)
        if stops is not None:
            raise NoWay("spot", stops.sentence, (stops,))
        job = self.job.with_parts(spot=node.spot)
        if "pipes" in pinned:
            return job
        return with_intake(with_exhaust(job, node.edge, patient=self.patient))

    def _proved(self, job: Job) -> Job:
        """The layout with cures for what is still over, put before every check."""
        before = {f.key for f in over_findings(self.job, RULES)}
        job = cured(job, frozenset(before), job.catalogue.planner.search.most_cures)
        over = tuple(f for f in _over(job) if f.key not in before)
        if over and not self.lenient:
            raise NoWay(over[0].station, over[0].sentence, over)
        return job


def bare_job(job: Job) -> Job:
    """Return the job without what is to be laid: all but what is pinned. What was built and fired
    is not part of a layout.
    """
    plan, pinned = job.plan, job.plan.wishes.pinned
    changes: dict[str, object] = {"build": Build(), "firing": Firing()}
    if "spot" not in pinned:
        changes["spot"] = None
    if "pipes" not in pinned:
        changes["pipes"] = plan.pipes.model_copy(update={"exhaust": None, "intake": None})
    if "fuel" not in pinned:
        changes["fuel"] = plan.fuel.model_copy(update={"line": None})
    if "air" not in pinned:
        wanted = outlets_to_lead_to(job) if plan.heater.medium == "air" else plan.air.wanted
        air = {"ducts": (), "return_duct": None, "wanted": wanted}
        changes["air"] = plan.air.model_copy(update=air)
    if plan.heater.medium == "coolant" and "coolant" not in pinned:
        changes["coolant"] = plan.coolant.model_copy(update={"hoses": ()})
    if "power" not in pinned:
        changes["power"] = plan.power.model_copy(update={"leads": ()})
    return job.with_parts(**changes)


def with_exhaust(job: Job, edge: EdgeName | str, *, patient: bool) -> Job:
    """Return the job with an exhaust to an edge that every check lets pass; raises NoWay."""
    if edge == WALL:
        return _short(job, "exhaust")
    side: EdgeName = edge  # type: ignore[assignment]
    way = propose(job, side, (), RULES, _bodies(job), PATIENT if patient else HASTY)
    if way is None:
        raise NoWay("pipes", f"The exhaust finds no way to the {edge} within its limits.")
    return _after(job, way.command)


def with_intake(job: Job) -> Job:
    """Return the job with the combustion air's pipe; raises NoWay."""
    return _short(job, "intake")


def _short(job: Job, tube: Tube) -> Job:
    steps = tuple(step for step in search_steps(job, tube) if step.kind in {"short", "way"})
    for _, _, found in search_routes(job, tube, steps, RULES, _bodies(job)):
        if found.ways:
            return _after(job, found.ways[0].command)
    words = "exhaust" if tube == "exhaust" else "combustion air"
    raise NoWay("pipes", f"The {words} finds no way within its limits.")


def with_line(job: Job) -> Job:
    """Return the job with the first fuel line that every check lets pass; raises NoWay with the one
    that breaks the fewest limits, and BadInput.
    """
    if job.plan.fuel.source is None:
        raise NoWay("fuel", "No source of fuel can be used here.")
    if job.plan.fuel.source in OWN_TANKS:
        rules = BY_WORD["fuel"].rules
        for finding in tuple(over_findings(job, rules))[:TANK_CURES]:
            remedies = remedies_for(job, finding)
            job = _after(job, remedies[0].command) if remedies else job
        over = tuple(over_findings(job, rules))
        if over:
            raise NoWay("fuel", over[0].sentence, over, job)
    best = first_clear_or_best(
        itertools.chain(
            proved(line_kind(job, RULES), searched_lines(job)),
            itertools.islice(tried_lines(job, RULES), MOST_SIMPLE_LINES),
        )
    )
    if best is None:
        raise NoWay("fuel", "No line can be drawn from the fuel to the heater.")
    if best.over:
        raise NoWay("fuel", best.over[0].sentence, best.over, best.job)
    return best.job


def with_ducts(job: Job) -> Job:
    """Return the job with ducts to every outlet that is wanted; without any it blows free."""
    if job.plan.heater.medium != "air" or not job.plan.air.wanted:
        return job
    plain = _plain_duct(job)
    if plain is not None:
        return plain
    found = find_trees(job, RULES, most=1, says_why=False)
    if not found.trees:
        raise NoWay("air", "No tree of ducts reaches every outlet from there.")
    over = found.trees[0].over
    if over:
        raise NoWay("air", over[0].sentence, over, _after(job, found.trees[0].command))
    return _after(job, found.trees[0].command)


def _plain_duct(job: Job) -> Job | None:
    """The job with one straight or square duct to the only outlet that is wanted, where every check
    lets it pass.
    """
    if len(job.plan.air.wanted) != 1:
        return None
    kind = tree_kind(job, RULES)
    for duct in _plain_ducts(job, job.plan.air.wanted[0]):
        there = _after(job, TakeTree(ducts=(duct,)))
        if next(kind.over(there), None) is None:
            return there
    return None


def _plain_ducts(job: Job, wanted: WantedOutlet) -> Iterator[Duct]:
    """The duct that is begun with, and one that turns square as soon as it is level with the
    outlet; with the outlet that is wanted, and its bore.
    """
    try:
        duct = starting_duct(job, None, "straight", wanted.at, wanted.zone)
    except (BadInput, ValidationError):
        return
    works, end = job.catalogue.air_equipment, warm_end(job)
    if duct.outlet is not None and wanted.kind is not None:
        outlet = duct.outlet.model_copy(update={"name": wanted.name, "kind": wanted.kind})
        bore = works.outlet(wanted.kind).bore_mm
        wide = [k.id for k in usual_ducts(works) if abs(k.bore_mm - bore) < 1.0] or [duct.kind]
        duct = duct.model_copy(update={"outlet": outlet, "kind": wide[0]})
    radius = works.duct(duct.kind).least_radius_mm
    if end is None:
        return
    ahead = sum((t - s) * d for t, s, d in zip(wanted.at, *end, strict=True))
    for first_mm in (least_of(job, "duct_first_straight_mm", FIRST_MM), max(ahead, radius)):
        nodes = nodes_to(end[0], end[1], wanted.at, first_mm, radius)
        with contextlib.suppress(ValidationError):
            yield fitted_out(job, duct.model_copy(update={"nodes": nodes, "parts": ()}))


def with_loop(job: Job, coolant: Coolant) -> Job:
    """Return the job with the hoses of a loop laid anew; with a usual loop where it has none."""
    laid = laid_out(job, coolant) if coolant.hoses else usual_loop(job, USUAL["convector"][1])
    return job.with_parts(coolant=laid)


def with_power(job: Job) -> Job:
    """Return the job with battery, controller, alarm and every lead that has both its ends."""
    power = job.plan.power
    first: list[Command] = []
    if power.battery is None:
        first.append(StartBattery())
    if power.controller is None:
        first.append(StartController())
    for command in first:
        job = _after(job, command)
    if not any(alarm.kind == "co" for alarm in power.alarms):
        job = _after(job, AddAlarm(collection="power.alarms", item=starting_alarm(job)))
    for lead in LEADS:
        job = _clearest(job, _leads(job, lead))
    return job


def _leads(job: Job, lead: LeadKind) -> Iterator[Job]:
    for wall in (None, "left", "right"):
        try:
            yield _after(job, StartLead(lead=lead, wall=wall))
        except BadInput:
            return


def _clearest(job: Job, tried: Iterator[Job]) -> Job:
    """The first after which nothing of the electrics is over that was not; else the one after which
    the least is.
    """
    rules = BY_WORD["power"].rules
    before = {f.key for f in over_findings(job, rules)}
    best: tuple[int, Job] | None = None
    for each in tried:
        count = sum(1 for f in over_findings(each, rules) if f.key not in before)
        if best is None or count < best[0]:
            best = (count, each)
        if count == 0:
            break
    return best[1] if best is not None else job


def cured(
    job: Job,
    before: frozenset[tuple[str, str, str]],
    most: int,
    told: Callable[[Finding], None] | None = None,
) -> Job:
    """Return the job after remedies for what is over and was not over before: each was tried, and
    puts nothing else over.
    """
    hopeless: set[tuple[str, str, str]] = set(before)
    for _ in range(most):
        over = [f for f in _over(job) if f.key not in hopeless]
        if not over or len(over) > HOPELESS:
            return job
        finding = over[0]
        if told is not None:
            told(finding)
        remedies = remedies_for(job, finding)
        if remedies:
            job = _after(job, remedies[0].command)
        else:
            hopeless.add(finding.key)
    return job


def _over(job: Job) -> tuple[Finding, ...]:
    return tuple(f for f in checked(job).findings if f.verdict is Verdict.OVER)


def _after(job: Job, command: Command) -> Job:
    return job.with_plan(applied(job, command))


def _bodies(job: Job) -> tuple[Body, ...]:
    """What is laid already besides the pipes."""
    return tuple(
        body for word in ("fuel", "air", "coolant", "power") for body in BY_WORD[word].bodies(job)
    )
