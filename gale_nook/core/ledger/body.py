"""A thing that takes room."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.catalogue.room import RoomBook, Thing
from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.geometry.shapes import Shape
from gale_nook.core.job import Job


@dataclass(frozen=True, slots=True, eq=False)
class Body:
    """A thing that takes room.

    Attributes:
        id: of the surveyed part; of anything else with a dot in it, so that the two never meet.
        kind: a surveyed kind, or a thing of the catalogue's room.
        gaps: the gaps that are kept from it; None where nothing asks for any.
        keeps: which of the gaps of others it keeps.
        covered: of a hot pipe: lagged, or behind a shield.
        passes: ids of others that it passes in a fitting made for that.
        owner: bodies of one owner are one thing, and not held against each other; empty for a thing
            of one body.
        where: it stands inside, below, outside or in the engine bay: gaps are kept within one of
            these, since floor and walls stand between; None for what leads from one to another.
        uncertainty_mm: that its shape is larger by, as its place is not known exactly.
    """

    id: str
    name: str
    kind: str
    shape: Shape
    gaps: SolidKind | None = None
    keeps: str | None = None
    covered: bool = False
    passes: frozenset[str] = frozenset()
    owner: str = ""
    where: str | None = None
    uncertainty_mm: float = 0.0


def body_of(  # noqa: PLR0913 - what a body is, each named at the call
    job: Job,
    kind: str,
    shape: Shape,
    *,
    thing_id: str,
    name: str = "",
    owner: str = "",
    covered: bool = False,
    passes: frozenset[str] = frozenset(),
    where: str | None = None,
) -> Body:
    """Return the body of a thing of the catalogue's room; KeyError for one that is not there."""
    room: RoomBook = job.catalogue.room
    thing: Thing = room.things[kind]
    gaps = job.catalogue.solid_kinds[thing.like] if thing.like is not None else None
    return Body(
        thing_id,
        name or thing.label,
        kind,
        shape,
        gaps,
        thing.keeps,
        covered,
        passes,
        owner,
        where,
    )


def gap_mm(one: Body, other: Body) -> float:
    """Return the gap that has to be between two bodies: the largest that either asks of the other;
    0 where they may touch.
    """
    return max(_kept_mm(one, other), _kept_mm(other, one))


def asking(one: Body, other: Body) -> SolidKind | None:
    """Return the kind that asks for the gap between two bodies; None where none does."""
    here, there = _kept_mm(one, other), _kept_mm(other, one)
    if max(here, there) <= 0:
        return None
    return other.gaps if here >= there else one.gaps


def _kept_mm(who: Body, other: Body) -> float:
    """What one keeps from another."""
    gaps = other.gaps
    if who.keeps is None or gaps is None:
        return 0.0
    if who.where is not None and other.where is not None and who.where != other.where:
        return 0.0
    if who.keeps == "exhaust_mm":
        bare = gaps.exhaust_mm or 0.0
        return gaps.covered_mm if who.covered and gaps.covered_mm is not None else bare
    return gaps.body_mm if who.keeps == "body_mm" else gaps.intake_mm
