"""The kinds of long work: what each does, what its result depends on, and how that is written down.

Each is a function of a plan, the catalogue and a few arguments; it knows neither queue nor
database.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter

import gale_nook
from gale_nook.core.air.tree_proposals import TreeSearch, find_trees
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.commands import AnyCommand
from gale_nook.core.findings.rule import Remedy
from gale_nook.core.fuel.line_proposals import LineProposal, line_proposals
from gale_nook.core.job import Job
from gale_nook.core.pipes.route_search import RouteSearch, search_routes, search_steps
from gale_nook.core.pipes.way_from import WayFrom, exhaust_way_from
from gale_nook.core.plan.document import Plan, compact
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.plan.spot import Spot
from gale_nook.core.planner.clearing import Clearing, clear_over
from gale_nook.core.planner.fitting import bare_job
from gale_nook.core.planner.search import LayoutSearch, find_layouts
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.remedies import remedies_for
from gale_nook.core.spot.costs import Weights
from gale_nook.core.spot.floor_map import FloorMap, Progress, map_key
from gale_nook.core.spot.search import (
    BestSpot,
    LookedAt,
    best_spots,
    look_at_kept,
    nearest_clear,
    without_runs,
)
from gale_nook.core.stations import BY_WORD, RULES, STATIONS
from gale_nook.drawing.floor_picture import floor_picture
from gale_nook.exchange.sheet import Since
from gale_nook.exchange.sheet_pdf import build_pdf

SHORT, LONG = "works", "works-long"
PLANNED = STATIONS.index(BY_WORD["pipes"]) + 1  # what is planned after the pipes, and may be there
Arguments = Mapping[str, Any]
# done, of how many steps, what is being done, what there is so far
Report = Callable[[int, int, str, Any], None]


@dataclass(frozen=True, slots=True)
class Offer:
    """A remedy as it is written down."""

    sentence: str
    command: AnyCommand


def _offers(remedies: Iterable[Remedy]) -> tuple[Offer, ...]:
    return tuple(Offer(remedy.sentence, remedy.command) for remedy in remedies)


@dataclass(frozen=True)
class Kind:
    """One kind of long work.

    Attributes:
        words: what is being done, for whoever waits.
        run: returns the result.
        content: returns all that the result depends on, besides the arguments.
        result: how a result is written and read; None for bytes.
        seconds, memory_bytes: what it may take, beyond what its process begins with.
        queue: that it waits on: what takes minutes never stands before what takes seconds.
    """

    words: str
    run: Callable[[Plan, Catalogue, Arguments, Report], Any]
    content: Callable[[Plan, Catalogue], str]
    result: TypeAdapter[Any] | None = None
    seconds: float = 120.0
    memory_bytes: int = 1_500_000_000
    queue: str = SHORT

    def write(self, found: Any) -> bytes:
        """Return a result as bytes."""
        return bytes(found) if self.result is None else self.result.dump_json(found)

    def read(self, raw: bytes) -> Any:
        """Return the result that bytes stand for."""
        return raw if self.result is None else self.result.validate_json(raw)


def whole_plan(plan: Plan, _book: Catalogue) -> str:
    """All of the plan."""
    return compact(plan)


def unnamed_plan(plan: Plan, _book: Catalogue) -> str:
    """All of the plan but what it is called: no distance depends on that."""
    return compact(plan.model_copy(update={"name": "-", "note": ""}))


def without_layout(plan: Plan, book: Catalogue) -> str:
    """All of the plan but its name and what a layout lays."""
    return unnamed_plan(bare_job(Job(plan, book)).plan, book)


def floor_content(plan: Plan, book: Catalogue) -> str:
    """What the floor's map depends on; where the heater stands is not part of it."""
    return map_key(Job(plan, book))


def best_content(plan: Plan, book: Catalogue) -> str:
    """What the best spots depend on: the map, and the holes that are there already."""
    job = Job(plan.model_copy(update={"acceptances": ()}), book)
    return map_key(job) + repr(plan.vehicle.features) + repr(plan.settings)


def _telling(report: Report, words: str) -> Progress:
    return lambda done, of: report(done, of, words, None)


def _print(plan: Plan, book: Catalogue, arguments: Arguments, _report: Report) -> bytes:
    since = arguments.get("since")
    before = Since(since["edit"], tuple(since["changes"])) if since else None
    return build_pdf(plan, book, UnitSystem(arguments["system"]), arguments.get("edit"), before)


TURN_BY_TURN = "looking over the floor, turn by turn"


def _floor(plan: Plan, book: Catalogue, arguments: Arguments, report: Report) -> bytes:
    turn = None if arguments["turn"] == "best" else int(arguments["turn"])
    floor = FloorMap(Job(plan, book), told=_telling(report, TURN_BY_TURN))
    shown = floor.shown(turn)
    return floor_picture(*shown, arguments["plan"] == "below")


def _best(
    plan: Plan, book: Catalogue, arguments: Arguments, report: Report
) -> tuple[BestSpot, ...]:
    told = _telling(report, TURN_BY_TURN)
    return best_spots(Job(plan, book), Weights(**arguments), told, RULES)


def _kept(
    plan: Plan, book: Catalogue, _arguments: Arguments, _report: Report
) -> tuple[LookedAt, ...]:
    return look_at_kept(Job(plan, book))


def _nearest(
    plan: Plan, book: Catalogue, _arguments: Arguments, _report: Report
) -> tuple[Offer, ...]:
    result = nearest_clear(Job(plan, book), RULES)
    return _offers((result,)) if result is not None else ()


def _remedies(
    plan: Plan, book: Catalogue, arguments: Arguments, report: Report
) -> tuple[Offer, ...]:
    done = check(plan, book)
    finding = done.find(arguments["rule"], arguments["subject"], arguments["run"])
    told = _telling(report, "trying one thing after another")
    return _offers(remedies_for(done.job, finding, told)) if finding is not None else ()


def _lines(
    plan: Plan, book: Catalogue, _arguments: Arguments, _report: Report
) -> tuple[LineProposal, ...]:
    return line_proposals(Job(plan, book), RULES)


def _trees(plan: Plan, book: Catalogue, _arguments: Arguments, report: Report) -> TreeSearch:
    return find_trees(Job(plan, book), RULES, _telling(report, "laying one tree after another"))


def _ways(plan: Plan, book: Catalogue, arguments: Arguments, report: Report) -> RouteSearch:
    tube: Tube = arguments["tube"]
    job = Job(plan, book)
    steps, result = search_steps(job, tube), RouteSearch()
    others = tuple(body for station in STATIONS[PLANNED:] for body in station.bodies(job))
    for number, words, result in search_routes(job, tube, steps, RULES, others):
        report(number, len(steps), words, result)
    return result


def _way_from(plan: Plan, book: Catalogue, arguments: Arguments, _report: Report) -> WayFrom:
    job, spot = Job(plan, book), Spot.model_validate(arguments)
    bare = without_runs(job)
    others = tuple(body for station in STATIONS[PLANNED:] for body in station.bodies(bare))
    return exhaust_way_from(job, spot, RULES, others)


def without_place(plan: Plan, book: Catalogue) -> str:
    """All of the plan but its name, the heater's place, and what leads to it."""
    bare = without_runs(Job(plan, book)).plan
    return unnamed_plan(bare.model_copy(update={"spot": None}), book)


def _layouts(plan: Plan, book: Catalogue, arguments: Arguments, report: Report) -> LayoutSearch:
    return find_layouts(Job(plan, book), arguments["effort"], report)


def _clear(plan: Plan, book: Catalogue, _arguments: Arguments, report: Report) -> Clearing:
    return clear_over(Job(plan, book), lambda done, of, words: report(done, of, words, None))


OVER_THE_FLOOR = "Looking over the whole floor"
KINDS: dict[str, Kind] = {
    "print": Kind("Printing the build sheet", _print, whole_plan),
    "floor": Kind(OVER_THE_FLOOR, _floor, floor_content),
    "best": Kind(OVER_THE_FLOOR, _best, best_content, TypeAdapter(tuple[BestSpot, ...])),
    "kept": Kind(
        "Looking at the spots that were kept",
        _kept,
        unnamed_plan,
        TypeAdapter(tuple[LookedAt, ...]),
    ),
    "nearest": Kind(
        "Looking for the nearest clear place",
        _nearest,
        unnamed_plan,
        TypeAdapter(tuple[Offer, ...]),
    ),
    "remedies": Kind(
        "Trying what would clear it", _remedies, unnamed_plan, TypeAdapter(tuple[Offer, ...])
    ),
    "lines": Kind("Looking for lines", _lines, unnamed_plan, TypeAdapter(tuple[LineProposal, ...])),
    "trees": Kind(
        "Looking for ways to lay the ducts",
        _trees,
        unnamed_plan,
        TypeAdapter(TreeSearch),
        seconds=300.0,
    ),
    "ways": Kind("Looking for a way", _ways, unnamed_plan, TypeAdapter(RouteSearch)),
    "way-from": Kind(
        "Looking for a way for the exhaust", _way_from, without_place, TypeAdapter(WayFrom)
    ),
    "layouts": Kind(
        "Looking for whole layouts",
        _layouts,
        without_layout,
        TypeAdapter(LayoutSearch),
        seconds=1800.0,
        queue=LONG,
    ),
    "clear": Kind(
        "Finding what clears what is over",
        _clear,
        unnamed_plan,
        TypeAdapter(Clearing),
        seconds=1800.0,
        queue=LONG,
    ),
}


def key_of(name: str, plan: Plan, book: Catalogue, arguments: Arguments) -> str:
    """Return the name of a result: of its kind, its arguments, all that it depends on, and the code
    that makes it.
    """
    told = (
        name,
        json.dumps(dict(arguments), sort_keys=True),
        KINDS[name].content(plan, book),
        code_version(),
    )
    return hashlib.sha256("\n".join(told).encode()).hexdigest()


@cache
def code_version() -> str:
    """Return a digest of the application's own code and data, so that no result outlives what made
    it.
    """
    digest = hashlib.sha256()
    folder = Path(gale_nook.__file__).parent
    for path in sorted([*folder.rglob("*.py"), *folder.rglob("*.yaml")]):
        digest.update(path.read_bytes())
    return digest.hexdigest()
