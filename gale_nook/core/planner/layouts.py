"""A whole layout as it is shown, compared and taken."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from gale_nook.core.catalogue.planner import PlannerBook
from gale_nook.core.checking import checked
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.job import Job
from gale_nook.core.pipes.proposals import EDGE_WORDS
from gale_nook.core.plan.fuel import FuelSource
from gale_nook.core.plan.wishes import Weights
from gale_nook.core.plan.words import SOURCE_WORDS
from gale_nook.core.planner.commands import TakeLayout, taking
from gale_nook.core.planner.measures import dominated, measures_of, score
from gale_nook.core.planner.wished import broken_wishes
from gale_nook.core.quantities.sentences import q
from gale_nook.core.spot.placement import body_corners

LETTERS = "ABCDEFGHI"
WORDS_OF_EDGE: dict[str, str] = {
    **{str(edge): f"to {words}" for edge, words in EDGE_WORDS.items()},
    "wall": "through the wall",
}


@dataclass(frozen=True, slots=True)
class Tightest:
    """The check with the least margin of a layout."""

    title: str
    margin: float
    unit: str
    sentence: str


@dataclass(frozen=True, slots=True)
class Kind:
    """By what layouts differ in kind.

    Attributes:
        x_mm, y_mm: of the heater.
        tank: place of a tank of one's own, in mm; (0, 0) for none.
    """

    x_mm: float
    y_mm: float
    mount: str
    edge: str
    source: FuelSource | None
    tank: tuple[float, float] = (0.0, 0.0)

    def like(self, other: Kind, apart_mm: float) -> bool:
        """Return whether another is the same in kind."""
        if (self.mount, self.edge, self.source) != (other.mount, other.edge, other.source):
            return False
        near = math.dist((self.x_mm, self.y_mm), (other.x_mm, other.y_mm)) < apart_mm
        return near and math.dist(self.tank, other.tank) < apart_mm


@dataclass(frozen=True)
class Layout:
    """One layout, put before every check.

    Attributes:
        letter: by its place in the list; empty before.
        where: it stands and leads, in words with marked quantities.
        command: that takes it.
        measures: by their ids.
        score: the weighted measure; less is better.
        tally: of its findings by verdict.
        to_measure: titles of what nobody has looked at.
    """

    letter: str
    kind: Kind
    where: str
    command: TakeLayout
    measures: dict[str, float]
    score: float
    tally: dict[str, int]
    tightest: Tightest | None
    to_measure: tuple[str, ...]
    accepted: tuple[str, ...] = ()


def layout_of(before: Job, bare: Job, after: Job, kind: Kind) -> Layout | None:
    """Return the layout of a job that was laid out; None where it breaks a limit that is kept
    without any layout, or a wish.
    """
    found = checked(after)
    known = {f.key for f in checked(bare).findings if f.verdict is Verdict.OVER}
    if any(f.verdict is Verdict.OVER and f.key not in known for f in found.findings):
        return None
    if broken_wishes(after):
        return None
    values = measures_of(after)
    weights = before.plan.wishes.weights
    near = [f for f in found.findings if f.margin is not None and f.unit in {"mm", "deg", "C"}]
    near = [f for f in near if f.verdict in {Verdict.TIGHT, Verdict.CLEAR}]
    least = min(near, key=lambda f: (f.margin or 0.0, f.rule, f.subject), default=None)
    where = _where(after, kind)
    return Layout(
        "",
        kind,
        where,
        taking("a layout", before.plan, after.plan),
        values,
        score(after.catalogue.planner, weights, values),
        found.tally(),
        Tightest(least.title, least.margin or 0.0, least.unit, least.sentence) if least else None,
        tuple(f.title for f in found.findings if f.verdict is Verdict.UNKNOWN),
        tuple(f.title for f in found.findings if f.verdict is Verdict.ACCEPTED),
    )


def _where(job: Job, kind: Kind) -> str:
    """Where a layout stands and leads."""
    corners = body_corners(job)
    middle = (corners[0][1] + corners[1][1]) / 2 if corners is not None else kind.y_mm
    side = "left" if middle < 0 else "right"
    sheet = job.catalogue.heaters.get(job.plan.heater.sheet or "")
    mount = sheet.mount(kind.mount) if sheet is not None else None
    at = f"{q(kind.x_mm)} behind the {job.plan.vehicle.datum}, {q(abs(middle))} {side}"
    words = [f"Heater {at}, {mount.label if mount is not None else kind.mount}"]
    words.append(
        f"exhaust {WORDS_OF_EDGE[kind.edge]}" if kind.edge in WORDS_OF_EDGE else "exhaust as it is"
    )
    if kind.source is not None:
        words.append(f"fuel from {SOURCE_WORDS[kind.source]}")
    return "; ".join(words)


def best_of(book: PlannerBook, weights: Weights, found: Iterable[Layout]) -> tuple[Layout, ...]:
    """Return up to as many layouts as are shown, the best by the weights first: of each kind the
    best, and none that another is as good as in everything and better than in something.
    """
    limits = book.search
    anew = [replace(each, score=score(book, weights, each.measures)) for each in found]
    ordered = sorted(anew, key=_order)
    kept: list[Layout] = []
    for each in ordered:
        if any(each.kind.like(other.kind, limits.apart_mm) for other in kept):
            continue
        kept.append(each)
    front = [
        each
        for each in kept
        if not any(dominated(each.measures, other.measures) for other in kept if other is not each)
    ]
    return _lettered(front[: limits.most_layouts])


def _order(layout: Layout) -> tuple[object, ...]:
    kind = layout.kind
    at = (kind.x_mm, kind.y_mm, kind.mount, kind.edge, str(kind.source), kind.tank)
    return (len(layout.to_measure) > 0 and _unseen(layout), round(layout.score, 9), *at)


def _unseen(layout: Layout) -> bool:
    """Whether nobody has looked where it is laid; it comes after those where somebody has."""
    return any("Look" in title for title in layout.to_measure)


def _lettered(layouts: Sequence[Layout]) -> tuple[Layout, ...]:
    results = []
    for letter, each in zip(LETTERS, layouts, strict=False):
        command = each.command.model_copy(update={"name": f"layout {letter}"})
        results.append(replace(each, letter=letter, command=command))
    return tuple(results)
