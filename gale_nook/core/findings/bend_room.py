"""Bends that do not fit: what is said of them, and candidate cures."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import Change, SetValues
from gale_nook.core.findings.rule import Remedy
from gale_nook.core.geometry.route import RouteGeometry, Straight
from gale_nook.core.plan.pipes import RouteNode
from gale_nook.core.quantities.sentences import q


def bend_room_words(straight: Straight) -> str:
    """Return what is left of a stretch once the bends at its ends have theirs."""
    number = straight.index + 1
    if straight.room_mm < 0:
        return f"The bends of stretch {number} need {q(round(-straight.room_mm))} more than it has."
    return f"{q(round(straight.room_mm))} of stretch {number} are left straight."


def tighter_bends(nodes: Sequence[RouteNode], collection: str, least_mm: float) -> Iterator[Remedy]:
    """Yield every bend as tight as it may be, where one is wider."""
    changes = tuple(
        Change(address=f"{collection}.{node.id}.radius_mm", value=least_mm)
        for node in nodes
        if node.radius_mm > least_mm
    )
    if changes:
        yield Remedy(f"Bend it with {q(least_mm)}, as tight as it may.", SetValues(changes=changes))


def room_for_bends_of(
    geometry: RouteGeometry, nodes: Sequence[RouteNode], collection: str, least_mm: float
) -> Iterator[Remedy]:
    """Yield bends as tight as they may be, and each bend at the worst stretch taken out.

    Args:
        collection: address of the nodes.
        least_mm: radius that a bend may have.
    """
    yield from tighter_bends(nodes, collection, least_mm)
    worst = min(geometry.straights, key=lambda straight: straight.room_mm)
    for number in (worst.index, worst.index + 1):
        if 1 <= number <= len(nodes):
            remove = RemoveItem(collection=collection, item_id=nodes[number - 1].id)
            yield Remedy(f"Take corner {number} out.", remove)
