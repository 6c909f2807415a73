"""Up to three trees of ducts from the spot to outlets that were only pointed at, each fitted out
and put before the whole check.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from gale_nook.core.air import flow_rules, heat_rules, hole_rules, run_rules
from gale_nook.core.air.commands import TakeTree
from gale_nook.core.air.run_rules import counted_mm, ways
from gale_nook.core.air.start import DUCTS_FIRST, kind_for, usual_ducts
from gale_nook.core.air.together import AIR_TOGETHER
from gale_nook.core.air.tree_fitting import duct_id_of, ducts_of, throttled, with_ducts
from gale_nook.core.air.tree_obstructions import TreeHint, hint_for
from gale_nook.core.air.tree_search import SHORT_FIRST_MM, Known, NoWay, TreeOptions, find_tree
from gale_nook.core.ducts.air_state import OutletState
from gale_nook.core.ducts.ends import warm_end
from gale_nook.core.ducts.layout import fan_of
from gale_nook.core.ducts.tree import DuctRun, duct_runs
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Rule, rules_of
from gale_nook.core.fitted.usable import usable
from gale_nook.core.heater.limits import least_of
from gale_nook.core.job import Job
from gale_nook.core.plan.air import MOST_WANTED, Duct, WantedOutlet
from gale_nook.core.quantities.sentences import q
from gale_nook.core.routing.proving import Proved, RunKind, best_that_differ, proved

MOST_TREES = 3
MOST_ORDERS = 6
HEAT_RULES = {"air.heat", "air.touch"}
HOLE_COSTS_MM = 150.0
DIFFERENT_MM, SAMPLES = 100.0, 24
OUTLET_FITS_MM = 0.5
MOVED_MM = 5.0  # by less an outlet is where it was pointed at
TREE_CHECKS = (*rules_of(flow_rules, run_rules, heat_rules, hole_rules), AIR_TOGETHER)
Told = Callable[[int, int], None]


@dataclass(frozen=True, slots=True)
class TreeCandidate:
    """A tree that may be proposed: its ducts, as fitted out."""

    ducts: tuple[Duct, ...]
    wanted: tuple[WantedOutlet, ...]


@dataclass(frozen=True)
class TreeProposal:
    """One tree.

    Attributes:
        where: it leads and splits, in words with marked quantities.
        counted_mm: the longest way as the sheet counts it.
        holes: that are cut for it.
        usable_w: the heater's usable output through it.
        outlets: (name, flow in m³/h, °C, W) of each.
        moved: of outlets that are not just where they were pointed at, in words.
        over: limits that it breaks.
    """

    where: str
    ducts: tuple[Duct, ...]
    length_mm: float
    counted_mm: float
    holes: int
    usable_w: float
    outlets: tuple[tuple[str, float, float, float], ...]
    moved: tuple[str, ...]
    over: tuple[Finding, ...]

    @property
    def command(self) -> TakeTree:
        return TakeTree(ducts=self.ducts)


@dataclass(frozen=True)
class TreeSearch:
    """What was found; where there is no tree, what stops it."""

    trees: tuple[TreeProposal, ...] = ()
    hints: tuple[TreeHint, ...] = ()


def outlets_to_lead_to(job: Job) -> tuple[WantedOutlet, ...]:
    """Return the outlets that were pointed at; without any, those of the ducts that there are."""
    if job.plan.air.wanted:
        return job.plan.air.wanted
    results = []
    for run in duct_runs(job):
        if run.duct.outlet is not None:
            x, y, z = run.geometry.mouth
            outlet = WantedOutlet(
                id=run.duct.id,
                name=run.duct.outlet.name,
                x_mm=x,
                y_mm=y,
                z_mm=z,
                zone=run.duct.outlet.zone,
                kind=run.duct.outlet.kind,
            )
            results.append(outlet)
    return tuple(results)


def ready_for_trees(job: Job) -> tuple[WantedOutlet, ...]:
    """Return the outlets to lead to.

    Raises:
        BadInput: the heater or its spot are missing, or outlets; or there are too many.
    """
    wanted = outlets_to_lead_to(job)
    if warm_end(job) is None or fan_of(job) is None:
        raise BadInput("duct", None, DUCTS_FIRST)
    if not wanted:
        raise BadInput("outlet", None, "Point first at where the warm air should come out.")
    if len(wanted) > MOST_WANTED:
        most = f"Trees are looked for to up to {MOST_WANTED} outlets."
        raise BadInput("outlet", len(wanted), most)
    return wanted


def find_trees(
    job: Job,
    beside: tuple[Rule, ...] = (AIR_TOGETHER,),
    told: Told | None = None,
    most: int = MOST_TREES,
    *,
    says_why: bool = True,
) -> TreeSearch:
    """Return up to `most` trees, those that break the fewest limits first, then the shorter.

    Args:
        beside: checks of all else, of which a tree may put nothing over that was not.
        told: is told how many of how many trees were tried.
        says_why: where there is none, what stops it is looked for.

    Raises:
        BadInput: as `ready_for_trees`.
    """
    wanted = ready_for_trees(job)
    kind = tree_kind(job, beside)
    results: list[Proved[TreeCandidate]] = []
    without: list[tuple[NoWay, TreeOptions]] = []
    every, known = list(_options(job, wanted)), Known()
    for number, options in enumerate(every):
        if told is not None:
            told(number, len(every))
        if _enough(kind, results, options, most):
            break
        tree = find_tree(job, wanted, options, known)
        if isinstance(tree, NoWay):
            without.append((tree, options))
            continue
        results += _proved(job, kind, TreeCandidate(ducts_of(job, tree, options, wanted), wanted))
    kept = best_that_differ(kind, results, most)
    if not kept and not says_why:
        return TreeSearch()
    if not kept:
        return TreeSearch(hints=_hints(job, wanted, without))
    return TreeSearch(tuple(_proposal(kind, each) for each in kept))


def tree_kind(job: Job, beside: tuple[Rule, ...]) -> RunKind[TreeCandidate]:
    """Return how trees are proved: by every check of ducts, and by those of all else, of which
    nothing may be over that is not without any duct.
    """
    own = {rule.id for rule in TREE_CHECKS}
    return RunKind(
        fit_out=lambda candidate: with_ducts(job, candidate.ducts),
        checks=TREE_CHECKS,
        cost=_cost_mm,
        differ=lambda one, other: _differ(job, one, other),
        before=with_ducts(job, ()),
        beside=tuple(rule for rule in beside if rule.id not in own),
    )


def _cost_mm(candidate: TreeCandidate) -> float:
    """Roughly its length, with so much for each hole."""
    holes = sum(len(duct.of_kind("panel")) for duct in candidate.ducts)
    lagged = sum(part.length_mm for duct in candidate.ducts for part in duct.of_kind("lagging"))
    return lagged + HOLE_COSTS_MM * holes


def _options(job: Job, wanted: Sequence[WantedOutlet]) -> Iterator[TreeOptions]:
    """Yield the ways in which trees are looked for, the plainest first."""
    main, branch = kind_for(job, main=True), kind_for(job, main=False)
    ducts = usual_ducts(job.catalogue.air_equipment)
    wider = sorted((k for k in ducts if k.bore_mm > main.bore_mm), key=lambda k: (k.bore_mm, k.id))
    bores = [(main, branch), (main, main), *((kind, main) for kind in wider[:1])]
    if len(wanted) == 1:  # all the air goes through it: it is a main duct up to its outlet
        bores = [(main, main), *((kind, kind) for kind in wider)]
    least_mm = _widest_outlet_mm(job, wanted)
    if branch.bore_mm < least_mm - OUTLET_FITS_MM:  # an outlet that was chosen asks for more
        wide = [k for k in [main, *wider] if k.bore_mm >= least_mm - OUTLET_FITS_MM]
        bores = [(kind, kind) for kind in wide] or bores
    bores = list(dict.fromkeys(pair for pair in bores if pair[1].bore_mm <= pair[0].bore_mm))
    whole = least_of(job, "duct_first_straight_mm", 0.0) + job.plan.settings.tolerance_mm
    computed = job.plan.air.first_straight == "computed"
    first_mm = SHORT_FIRST_MM if computed else whole
    orders = list(_orders(job, wanted))
    for layers, (one, other), order in itertools.product((1, 2), bores, orders):
        yield TreeOptions(order, one, other, layers, first_mm)


def _widest_outlet_mm(job: Job, wanted: Sequence[WantedOutlet]) -> float:
    """Bore of the widest outlet whose kind was chosen; 0 where none was."""
    works = job.catalogue.air_equipment
    return max((works.outlet(w.kind).bore_mm for w in wanted if w.kind is not None), default=0.0)


def _orders(job: Job, wanted: Sequence[WantedOutlet]) -> Iterator[tuple[str, ...]]:
    """Yield orders in which outlets are led to: all of a few, else from the farthest on, from the
    nearest on, and turned round.
    """
    end = warm_end(job)
    start = end[0] if end is not None else (0.0, 0.0, 0.0)
    near = [w.id for w in sorted(wanted, key=lambda w: math.dist(w.at, start))]
    if len(near) <= 3:
        yield from itertools.permutations(reversed(near))
        return
    turned = [(*line[i:], *line[:i]) for line in (near[::-1], near) for i in range(len(near))]
    yield from list(dict.fromkeys(turned))[:MOST_ORDERS]


def _enough(
    kind: RunKind[TreeCandidate],
    results: Sequence[Proved[TreeCandidate]],
    options: TreeOptions,
    most: int,
) -> bool:
    """Whether there are as many clear trees as are shown. Thicker lagging is only tried where none
    is clear and heat stands in the way of one.
    """
    clear = [each for each in results if not each.over]
    if options.layers > 1:
        hot = any(f.rule in HEAT_RULES for each in results for f in each.over)
        return bool(clear) or not hot
    return len(clear) >= most and len(best_that_differ(kind, clear, most)) >= most


def _proved(
    job: Job, kind: RunKind[TreeCandidate], candidate: TreeCandidate
) -> Iterator[Proved[TreeCandidate]]:
    """The tree with open throttles; with them set by need where a zone gets too little."""
    for plain in proved(kind, [candidate]):
        yield plain
        if any(finding.rule == "air.zone" for finding in plain.over):
            ducts = throttled(job, candidate.ducts)
            yield from proved(kind, [TreeCandidate(ducts, candidate.wanted)])


def _differ(job: Job, one: TreeCandidate, other: TreeCandidate) -> bool:
    """Whether the way to some outlet runs elsewhere, on average."""
    here, there = (_ways_of(job, each) for each in (one, other))
    return any(
        sum(math.dist(a, b) for a, b in zip(here[name], there[name], strict=True)) / SAMPLES
        >= DIFFERENT_MM
        for name in here
        if name in there
    )


def _ways_of(job: Job, candidate: TreeCandidate) -> dict[str, list[tuple[float, float, float]]]:
    """Points at even shares of the way to each outlet."""
    results = {}
    for way in ways(with_ducts(job, candidate.ducts)):
        whole = sum(run.length_mm for run in way)
        marks = [whole * (number + 0.5) / SAMPLES for number in range(SAMPLES)]
        results[way[-1].duct.id] = [_on_way(way, mark) for mark in marks]
    return results


def _on_way(way: Sequence[DuctRun], at_mm: float) -> tuple[float, float, float]:
    for run in way:
        if at_mm <= run.length_mm:
            return run.geometry.point_at(at_mm)
        at_mm -= run.length_mm
    return way[-1].geometry.mouth


def _proposal(kind: RunKind[TreeCandidate], tried: Proved[TreeCandidate]) -> TreeProposal:
    job, candidate = tried.job, tried.candidate
    found = usable(job)
    outlets: tuple[OutletState, ...] = (
        found.at.outlets if found is not None and found.at is not None else ()
    )
    return TreeProposal(
        where=_where(candidate.ducts),
        ducts=candidate.ducts,
        length_mm=sum(run.length_mm for run in duct_runs(job)),
        counted_mm=max((counted_mm(job, way) for way in ways(job)), default=0.0),
        holes=sum(len(duct.of_kind("panel")) for duct in candidate.ducts),
        usable_w=found.usable_w if found is not None else 0.0,
        outlets=tuple((o.name, o.flow_m3_h, o.temperature_c, o.heat_w) for o in outlets),
        moved=tuple(_moved(job, candidate.wanted)),
        over=tuple(kind.over(job, all_of_it=True)),
    )


def _where(ducts: Sequence[Duct]) -> str:
    """How a tree splits, from the heater on."""
    if len(ducts) == 1:
        return f"one duct to {_outlet_names(ducts, ducts[0])}"
    words, at = [], ducts[0]
    while at.outlet is None:
        after = {duct.leg: duct for duct in ducts if duct.comes_from == at.id}
        words.append(f"splits off for {_outlet_names(ducts, after['branch'])}")
        at = after["straight"]
    return f"{', then '.join(words)}; goes on to {_outlet_names(ducts, at)}"


def _outlet_names(ducts: Sequence[Duct], duct: Duct) -> str:
    if duct.outlet is not None:
        return duct.outlet.name
    names = [_outlet_names(ducts, d) for d in ducts if d.comes_from == duct.id]
    return " and ".join(names)


def _moved(job: Job, wanted: Sequence[WantedOutlet]) -> Iterator[str]:
    mouths = {run.duct.id: run.geometry.mouth for run in duct_runs(job)}
    for outlet in wanted:
        away = math.dist(mouths[duct_id_of(outlet, wanted)], outlet.at)
        if away > MOVED_MM:
            yield f"{outlet.name}: {q(round(away))} from where it was pointed at"


def _hints(
    job: Job, wanted: Sequence[WantedOutlet], without: Sequence[tuple[NoWay, TreeOptions]]
) -> tuple[TreeHint, ...]:
    """What stops the way to each outlet that was not reached, by the freest search for it."""
    freest: dict[str, TreeOptions] = {}
    for no_way, options in without:
        known = freest.setdefault(no_way.outlet.id, options)
        if _width_mm(options) < _width_mm(known):
            freest[no_way.outlet.id] = options
    by_id = {outlet.id: outlet for outlet in wanted}
    return tuple(hint_for(job, wanted, by_id[name], freest[name]) for name in freest)


def _width_mm(options: TreeOptions) -> tuple[int, float, float]:
    return options.layers, options.branch.bore_mm, options.main.bore_mm
