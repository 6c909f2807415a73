"""Why no duct leads to a wanted outlet: what it would need, and what is in the way."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from gale_nook.core.air.duct_space import (
    DuctSpace,
    duct_radius_mm,
    in_the_way,
    stretch_boxes,
)
from gale_nook.core.air.tree_search import NoWay, Tree, TreeOptions, find_tree
from gale_nook.core.ducts.ends import warm_end
from gale_nook.core.ducts.places import OUTSIDE, place_of
from gale_nook.core.geometry.frames import add, scale
from gale_nook.core.heater.limits import least_of
from gale_nook.core.job import Job
from gale_nook.core.plan.air import WantedOutlet
from gale_nook.core.plan.solids import Direction, Hollow
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.routing.square_search import Box
from gale_nook.core.vehicle.commands import SetHollow

AHEAD_MM = 300.0
BESIDE_MM, MOST_NAMED = 250.0, 3
DIRECTION_WORDS: dict[Direction, str] = {
    "front": "forward",
    "rear": "rearward",
    "left": "to the left",
    "right": "to the right",
    "up": "up",
    "down": "down",
}


@dataclass(frozen=True, slots=True)
class TreeHint:
    """A sentence about what stops the ducts, with perhaps what would let them through."""

    sentence: str
    command: SetHollow | None = None


def hint_for(
    job: Job, wanted: Sequence[WantedOutlet], outlet: WantedOutlet, options: TreeOptions
) -> TreeHint:
    """Return what stops every way to an outlet, by what a search with less in its way finds."""
    name = outlet.name
    if place_of(job, outlet.at) == OUTSIDE:
        return TreeHint(f"{capital(name)} lies outside: point at a place inside.")
    for look in (_through_furniture, _another_way_round, _blows_at, _nearer, _narrower):
        hint = look(job, wanted, outlet, options)
        if hint is not None:
            return hint
    inside = _holding(job, outlet, options)
    if inside:
        return TreeHint(f"{capital(name)} lies in {inside}, or too close to it.")
    alone = (replace(options, order=(other.id,)) for other in wanted if other.id != outlet.id)
    leaves = any(isinstance(find_tree(job, wanted, each), Tree) for each in alone)
    ahead = "" if leaves else _right_ahead(job, options)
    if ahead:
        return TreeHint(f"No duct can leave the warm end: {ahead} lies right ahead of it.")
    beside = _beside(job, outlet)
    near = f" Beside it are {', '.join(beside)}." if beside else ""
    return TreeHint(f"No way was found to {name}.{near}")


def _reached(
    job: Job, wanted: Sequence[WantedOutlet], outlet: WantedOutlet, options: TreeOptions
) -> Tree | None:
    """The tree as far as to an outlet, those before it with it."""
    order = options.order[: options.order.index(outlet.id) + 1]
    tree = find_tree(job, wanted, replace(options, order=order))
    return None if isinstance(tree, NoWay) else tree


def _through_furniture(
    job: Job, wanted: Sequence[WantedOutlet], outlet: WantedOutlet, options: TreeOptions
) -> TreeHint | None:
    """Furniture of which nobody has said that it is hollow: one piece, or several."""
    closed = {each.body: each.name for each in in_the_way(job) if each.closed}
    for body, name in closed.items():
        if _reached(job, wanted, outlet, replace(options, hollow=frozenset({body}))) is not None:
            return TreeHint(
                f"A way to {outlet.name} leads through {name}, of which nobody has said that it "
                "is hollow. If it is:",
                SetHollow(solid=body, hollow=Hollow()),
            )
    if len(closed) > 1:
        every = replace(options, hollow=frozenset(closed))
        if _reached(job, wanted, outlet, every) is not None:
            return TreeHint(
                f"A way to {outlet.name} leads through several of {', '.join(closed.values())}. "
                "Say on Vehicle which are hollow."
            )
    return None


def _another_way_round(
    job: Job, wanted: Sequence[WantedOutlet], outlet: WantedOutlet, options: TreeOptions
) -> TreeHint | None:
    """It is to blow in a way in which no duct can come to it."""
    if outlet.blows is None:
        return None
    free = outlet.model_copy(update={"blows": None})
    others = [free if each.id == outlet.id else each for each in wanted]
    if _reached(job, others, free, options) is None:
        return None
    return TreeHint(
        f"A duct finds a way to {outlet.name}, but not so that it blows "
        f"{DIRECTION_WORDS[outlet.blows]}."
    )


def _blows_at(
    job: Job, wanted: Sequence[WantedOutlet], outlet: WantedOutlet, options: TreeOptions
) -> TreeHint | None:
    """A duct only comes to it in a way in which it blows at something."""
    if outlet.blows is not None:
        return None
    for way, words in DIRECTION_WORDS.items():
        turned = outlet.model_copy(update={"blows": way})
        others = [turned if each.id == outlet.id else each for each in wanted]
        if _reached(job, others, turned, options) is not None:
            return TreeHint(
                f"A duct comes to {outlet.name} only so that it blows {words}, at "
                "something close in front or that its heat harms."
            )
    return None


def _beside(job: Job, outlet: WantedOutlet) -> list[str]:
    """What is nearest to where an outlet was pointed at."""
    near: dict[str, float] = {}
    for each in in_the_way(job):
        nearest = [min(max(outlet.at[i], each.box[0][i]), each.box[1][i]) for i in range(3)]
        away = math.dist(nearest, outlet.at)
        if away <= BESIDE_MM:
            near[each.name] = min(away, near.get(each.name, away))
    return sorted(near, key=lambda name: near[name])[:MOST_NAMED]


def _nearer(
    job: Job, wanted: Sequence[WantedOutlet], outlet: WantedOutlet, options: TreeOptions
) -> TreeHint | None:
    """It would have to pass nearer to something than its heat allows."""
    tree = _reached(job, wanted, outlet, replace(options, gap_share=0.0))
    if tree is None:
        return None
    radius = duct_radius_mm(job, options.branch, options.layers)
    gaps = DuctSpace(radius, options.branch.least_radius_mm)
    near = {
        each.name
        for each in in_the_way(job)
        if each.gap_mm > 0 and any(_meet(gaps.box(each), box) for box in _boxes(tree))
    }
    if not near:
        return None
    return TreeHint(
        f"A duct to {outlet.name} only passes too near to {', '.join(sorted(near))}: its heat "
        "harms that."
    )


def _narrower(
    job: Job, wanted: Sequence[WantedOutlet], outlet: WantedOutlet, options: TreeOptions
) -> TreeHint | None:
    """Only a narrower duct finds room, or one without lagging."""
    kinds = [k for k in job.catalogue.air_equipment.ducts if k.flexible]
    for kind in sorted(kinds, key=lambda k: (-k.bore_mm, k.id)):
        if kind.bore_mm > options.branch.bore_mm:
            continue
        slim = replace(options, main=kind, branch=kind, layers=0)
        if _reached(job, wanted, outlet, slim) is None:
            continue
        least = least_of(job, "duct_branch_mm", 0.0)
        asked = f" The sheet asks for at least {q(least)}." if kind.bore_mm < least else ""
        return TreeHint(f"Only {kind.label} without lagging finds room to {outlet.name}.{asked}")
    return None


def _holding(job: Job, outlet: WantedOutlet, options: TreeOptions) -> str:
    """What an outlet was pointed at the inside of."""
    space = DuctSpace(duct_radius_mm(job, options.branch, 0), 0.0, gap_share=0.0)
    names = [
        each.name
        for each in in_the_way(job)
        if each.across is None
        and all(space.box(each)[0][i] < outlet.at[i] < space.box(each)[1][i] for i in range(3))
    ]
    return names[0] if names else ""


def _right_ahead(job: Job, options: TreeOptions) -> str:
    """What lies in the first stretch from the warm end."""
    end = warm_end(job)
    if end is None:
        return ""
    points = [end[0], add(end[0], scale(end[1], AHEAD_MM))]
    radius = duct_radius_mm(job, options.main, 0)
    stretch = next(stretch_boxes(points, radius))
    met = [
        (math.dist(each.box[0], end[0]), each.name)
        for each in in_the_way(job)
        if each.body != "spot.heater" and each.across is None and _meet(each.box, stretch)
    ]
    return min(met)[1] if met else ""


def _boxes(tree: Tree) -> Iterator[Box]:
    for leg in tree.legs:
        yield from stretch_boxes(leg.points, 0.5)


def _meet(one: Box, other: Box) -> bool:
    return all(one[0][i] < other[1][i] and other[0][i] < one[1][i] for i in range(3))
