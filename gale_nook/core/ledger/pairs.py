"""Every pair of bodies: which may share room, and how far apart the others are."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from gale_nook.core.catalogue.room import RoomBook
from gale_nook.core.geometry.shapes import Separation, separation
from gale_nook.core.ledger.body import Body, gap_mm

TOUCHING_MM = 0.05  # what rounding makes of two things that touch


@dataclass(frozen=True, slots=True)
class Pair:
    """Two bodies nearer to one another than they may be."""

    one: Body
    other: Body
    gap_mm: float
    near: Separation

    @property
    def margin_mm(self) -> float:
        return self.near.distance_mm - self.gap_mm


def least_gap_mm(room: RoomBook, one: Body, other: Body) -> float:
    """Return how far apart two bodies have to be; less than 0 where they may share room, to that
    depth.
    """
    if one.owner and one.owner == other.owner:
        return -math.inf  # one thing
    if one.id in other.passes or other.id in one.passes:
        return -math.inf  # in a fitting made for that
    shared = room.pairs.get((one.kind, other.kind))
    if shared is None:
        return gap_mm(one, other)
    return -math.inf if shared.deep_mm is None else -shared.deep_mm


def too_near(
    room: RoomBook, these: Sequence[Body], those: Sequence[Body], *, within: bool = False
) -> Iterator[Pair]:
    """Yield the pairs of one of each list that are nearer than they may be.

    Args:
        within: the lists are the same one: each pair is looked at once, none with itself.
    """
    for one, other, gap in _meeting(room, these, those, within):
        near = separation(one.shape, other.shape)
        # what was surveyed may be off, but is not for that in one place with its neighbour
        off = one.uncertainty_mm + other.uncertainty_mm if within else 0.0
        if near.distance_mm + off < gap - TOUCHING_MM:
            yield Pair(one, other, gap, near)


def _meeting(
    room: RoomBook, these: Sequence[Body], those: Sequence[Body], within: bool
) -> Iterator[tuple[Body, Body, float]]:
    """The pairs whose bounds come as near as the gap that they have to keep."""
    if not these or not those:
        return
    a, b = (np.array([body.shape.bounds for body in bodies]) for bodies in (these, those))
    low, high = a[:, None, :3], a[:, None, 3:]
    apart = np.maximum(low - b[None, :, 3:], b[None, :, :3] - high).max(axis=2)
    for i, j in np.argwhere(apart < _reach_mm(these, those) - TOUCHING_MM).tolist():
        if within and j <= i:
            continue
        one, other = these[i], those[j]
        gap = least_gap_mm(room, one, other)
        if apart[i, j] < gap - TOUCHING_MM:
            yield one, other, gap


def _reach_mm(these: Sequence[Body], those: Sequence[Body]) -> float:
    """Return a gap that no pair of the lists asks for more than."""
    if not any(body.keeps for body in (*these, *those)):
        return 0.0
    asked = (body.gaps for body in (*these, *those) if body.gaps is not None)
    return max(
        (
            max(gaps.exhaust_mm or 0.0, gaps.covered_mm or 0.0, gaps.body_mm, gaps.intake_mm)
            for gaps in asked
        ),
        default=0.0,
    )
