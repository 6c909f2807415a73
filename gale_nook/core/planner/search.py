"""Looking for whole layouts: the choices with the lowest bounds first, one after another laid out
whole; a choice whose bound cannot beat what was found is passed over.

The same plan, wishes and effort give the same layouts: nothing depends on a clock.
"""

from __future__ import annotations

import heapq
import math
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace

from gale_nook.core.catalogue.planner import Effort, SearchLimits
from gale_nook.core.errors import BadInput
from gale_nook.core.heater.choice import judgements
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.plan.spot import Spot
from gale_nook.core.planner.fitting import Fitter, Stopped, bare_job
from gale_nook.core.planner.layouts import Kind, Layout, best_of, layout_of
from gale_nook.core.planner.places import (
    MappedMount,
    Node,
    fuel_options,
    mapped,
    mounts_to_try,
    nodes_of,
    order,
    pinned_nodes,
    shelves,
    usable_mounts,
)
from gale_nook.core.planner.reasons import Reason, why_none
from gale_nook.core.planner.wished import (
    as_it_is,
    broken_wishes,
    every_wish,
    job_to_search,
    with_wishes,
    without,
)
from gale_nook.core.spot.search import at_place

# of the weighted measure, by which a choice is put back: what stopped near by; each few that were
# like it in what stopped them; and each layout on its mount with the exhaust to the same side
DISAPPOINTS, ALIKE, A_FEW, HAS_ONE = 1.0, 4.0, 3, 4.0
LAID_IN_TURN = ("spot", "pipes", "fuel", "air", "coolant", "power", "planner")
BELIEVED = 0.8  # of what bounds left out so far
MAPPING = "looking over the floor"
LAYING = "laying out one choice after another"
ASKING = "finding out what stops them"
NO_HEATER = (
    "Choose a heater first, or say what is to be heated: none of those known meets the need."
)


@dataclass(frozen=True)
class LayoutSearch:
    """What was found.

    Attributes:
        layouts: the best first.
        reasons: where there is none, the smallest sets of wishes and limits that forbid it.
        choices, tried: how many there were, and how many were laid out or came to a stop.
        stops: how many of these stopped at each station.
        proved: every choice was tried, or has a bound that beats none that is shown.
        heater: label of the heater, where it was chosen here.
    """

    layouts: tuple[Layout, ...] = ()
    reasons: tuple[Reason, ...] = ()
    choices: int = 0
    tried: int = 0
    stops: dict[str, int] = field(default_factory=dict)
    proved: bool = False
    heater: str = ""


Told = Callable[[int, int, str, LayoutSearch | None], None]


def nothing_told(_done: int, _of: int, _words: str, _found: LayoutSearch | None) -> None:
    """Tell nobody."""


def find_layouts(
    job: Job, effort: Effort = "usual", told: Told = nothing_told, most: int | None = None
) -> LayoutSearch:
    """Return up to five layouts that differ in kind, each put before every check.

    Args:
        most: layouts after which it ends; left out, it goes on for better ones.
        told: called with how far it is, of how much, what is done, and what there is so far.

    Raises:
        BadInput: what is needed to begin is missing.
    """
    job = with_heater(asked := job)
    limits = job.catalogue.planner.search
    budget = limits.efforts[effort]
    told(0, budget, MAPPING, None)
    bare = bare_job(job)
    searched = job_to_search(bare)
    maps, nodes = choices_of(searched, job.plan.spot)
    for patient in (False, True):
        hunt = _Hunt(asked, job, bare, searched, limits, nodes, patient)
        for spent in hunt.run(limits.efforts["thorough"] if patient else budget):
            told(min(spent, budget), budget, LAYING, hunt.found)
            if most is not None and len(hunt.found.layouts) >= most:
                break
        if hunt.found.layouts or not hunt.at_end:
            break
    found = hunt.found
    if found.layouts:
        return found
    told(budget, budget, ASKING, found)
    if maps and not nodes:  # of the vehicle as it is: what is wished empty is no thing in it
        maps = tuple(mapped(bare, mount) for mount in mounts_to_try(bare))
    freed = tuple(_without_each(asked, job, limits)) if nodes else ()
    return replace(found, reasons=(*freed, *why_none(job, maps, nodes, hunt.stopped)))


def _without_each(asked: Job, job: Job, limits: SearchLimits) -> Iterator[Reason]:
    """Each wish without which a layout is found with little effort."""
    for wish in every_wish(job):
        freed = with_wishes(job, without(job.plan.wishes, frozenset({wish.id})))
        bare = bare_job(freed)
        searched = job_to_search(bare)
        _, nodes = choices_of(searched, job.plan.spot)
        hunt = _Hunt(asked, freed, bare, searched, limits, nodes)
        for _ in hunt.run(limits.efforts["quick"]):
            if hunt.found.layouts:
                there = hunt.found.layouts[0].where
                allows = f"Without it there is a layout: {there}."
                yield Reason((wish.id,), f"Wished for is {wish.words}.", allows)
                break


def with_heater(job: Job) -> Job:
    """Return the job with its heater; with the recommended one where none was chosen."""
    if heater_sheet(job) is not None:
        return job
    best = next((each for each in judgements(job) if each.recommended), None)
    if best is None:
        raise BadInput("heater", None, NO_HEATER)
    heater = job.plan.heater.model_copy(update={"sheet": best.sheet.id})
    return job.with_parts(heater=heater)


def choices_of(job: Job, now: Spot | None = None) -> tuple[tuple[MappedMount, ...], list[Node]]:
    """Return the floor's maps, and every choice to try, the lowest bound first: where the floor has
    none, those on what a heater may stand on.

    Args:
        now: where the heater stands, which is a choice like any other.
    """
    fuels = fuel_options(job)
    if "spot" in job.plan.wishes.pinned:
        return (), pinned_nodes(job, fuels)
    mounts = mounts_to_try(job)
    maps = tuple(mapped(job, mount) for mount in mounts)
    usable = usable_mounts(job, maps)
    if not usable:
        tops = (mapped(job, mount, stands_on=top) for top in shelves(job) for mount in mounts)
        usable = usable_mounts(job, tuple(tops))
    here = pinned_nodes(at_place(job, now), fuels) if now is not None else []
    return maps, sorted([*here, *nodes_of(job, usable, fuels)], key=order)


@dataclass
class _Hunt:
    """One search.

    Attributes:
        asked: as it is; job: with its heater; bare: without what is to be laid; searched: the
            same, as layouts are looked for in it.
        patient: each way is looked for longer.
        stopped: choices that came to a stop, with why.
        at_end: every choice was tried or passed over.
    """

    asked: Job
    job: Job
    bare: Job
    searched: Job
    limits: SearchLimits
    nodes: list[Node]
    patient: bool = False
    at_end: bool = False
    stopped: list[tuple[Node, Stopped]] = field(default_factory=list)
    _all: list[Layout] = field(default_factory=list)
    _shown: tuple[Layout, ...] = ()
    _tried: int = 0
    _proved: bool = False
    _rest: float = 0.0
    _believed: bool = False
    _worked: set[tuple[object, ...]] = field(default_factory=set)

    def run(self, budget: int) -> Iterator[int]:
        """Yield how much of the effort is spent, after each choice that took some."""
        fitter, spent = Fitter(self.searched, self.job.plan.coolant, self.patient), 0
        waiting = [(node.to_measure, node.bound, n) for n, node in enumerate(self.nodes)]
        heapq.heapify(waiting)
        while waiting and spent < budget:
            unseen, key, number = heapq.heappop(waiting)
            node = self.nodes[number]
            if self._passed_over(node):
                continue
            put_back = node.bound + self._disappointment(node)
            if put_back > key + 1e-9:
                heapq.heappush(waiting, (unseen, put_back, number))
                continue
            result = fitter.layout(node)
            self._tried += 1
            if isinstance(result, Stopped):
                self.stopped.append((node, result))
                spent += self.limits.takes.get(result.at, 1)
            else:
                self._keep(node, as_it_is(self.job, result))
                spent += max(self.limits.takes.values())
            yield spent
        self.at_end = not waiting
        self._proved = self.at_end and not self._believed

    @property
    def found(self) -> LayoutSearch:
        """What there is so far."""
        stops: dict[str, int] = {}
        for _, stopped in self.stopped:
            stops[stopped.at] = stops.get(stopped.at, 0) + 1
        heater = heater_sheet(self.job)
        return LayoutSearch(
            self._shown,
            (),
            len(self.nodes),
            self._tried,
            stops,
            self._proved,
            heater.label if heater is not None else "",
        )

    def _best(self) -> tuple[Layout, ...]:
        book, weights = self.job.catalogue.planner, self.job.plan.wishes.weights
        return best_of(book, weights, self._all)

    def _keep(self, node: Node, after: Job) -> None:
        layout = layout_of(self.asked, self.bare, after, kind_of(node))
        if layout is None:
            broken = broken_wishes(after)
            why = broken[0].sentence if broken else "A limit is broken in the vehicle as it is."
            self.stopped.append((node, Stopped("planner", why)))
        else:
            self._all.append(layout)
            self._worked |= {likeness(node, at) for at in LAID_IN_TURN}
            self._shown = self._best()
            self._rest = min(self._rest or math.inf, layout.score - node.bound)

    def _passed_over(self, node: Node) -> bool:
        """Whether a choice cannot bring anything: there is one of its kind, or there are as many
        as are shown, that its bound does not beat. What a bound leaves out is believed
        to be at least most of the least that it left out of those found: that is no proof.
        """
        like = [e for e in self._all if e.kind.like(kind_of(node), self.limits.apart_mm)]
        full = len(self._shown) >= self.limits.most_layouts
        scores = [each.score for each in (*like, *(self._shown[-1:] if full else ()))]
        passed = any(node.bound + BELIEVED * self._rest >= each for each in scores)
        self._believed |= passed and not any(node.bound >= each for each in scores)
        return passed

    def _disappointment(self, node: Node) -> float:
        """By how much a choice is put back for those before it that came to a stop."""
        spot, apart = node.spot, self.limits.apart_mm
        near = sum(
            1
            for other, _ in self.stopped
            if other.spot.mount == spot.mount
            and math.dist((other.spot.x_mm, other.spot.y_mm), (spot.x_mm, spot.y_mm)) < apart
            and (other.edge == node.edge or other.spot.yaw_deg == spot.yaw_deg)
        )
        alike = [likeness(node, at) for at in dict.fromkeys(s.at for _, s in self.stopped)]
        stops = Counter(likeness(other, stop.at) for other, stop in self.stopped)
        few = sum(stops[each] // A_FEW for each in alike if each not in self._worked)
        kinds = [(each.kind.mount, each.kind.edge) for each in self._all]
        has = kinds.count((spot.mount, str(node.edge)))
        return DISAPPOINTS * near + ALIKE * few + HAS_ONE * has


def likeness(node: Node, at: str) -> tuple[object, ...]:
    """Return what of a choice counts to whether one station can be laid from it: mount and side of
    the vehicle; the exhaust's edge; the fuel's source.
    """
    more = {"pipes": node.edge, "fuel": node.fuel.source}.get(at)
    return (at, node.spot.mount, node.spot.y_mm > 0, more)


def kind_of(node: Node) -> Kind:
    """Return of what kind the layouts from a choice are."""
    tank = node.fuel.tank if node.fuel.tank is not None else None
    at = (tank.x_mm, tank.y_mm) if tank is not None else (0.0, 0.0)
    spot = node.spot
    return Kind(spot.x_mm, spot.y_mm, spot.mount, str(node.edge), node.fuel.source, at)
