"""Things that take room without being surveyed, and which things may share room."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field

from gale_nook.core.base.models import CatalogueId, Frozen, Name
from gale_nook.core.base.sourced import Sourced


class Thing(Sourced):
    """A kind of thing that is planned, or belongs to the body, and takes room.

    Attributes:
        keeps: which of the gaps of a surveyed kind it keeps from parts of that kind.
        like: the surveyed kind whose gaps are kept from it.
    """

    keeps: Literal["body_mm", "exhaust_mm", "intake_mm"] | None = None
    like: CatalogueId | None = None


class UsualWheel(Sourced):
    """A wheel that was not surveyed: its width, its travel with the suspension; and how far any
    front wheel steers to each side.
    """

    width_mm: Annotated[float, Field(ge=50, le=600)]
    up_mm: Annotated[float, Field(ge=0, le=300)]
    down_mm: Annotated[float, Field(ge=0, le=300)]
    steer_deg: Annotated[float, Field(ge=0, le=60)]


class SharedRoom(Frozen):
    """Kinds of things that may touch or pass one another: any of one list with any of the other.

    Attributes:
        deep_mm: how far they may reach into one another; None for any depth.
    """

    these: Annotated[tuple[CatalogueId, ...], Field(min_length=1)]
    those: Annotated[tuple[CatalogueId, ...], Field(min_length=1)]
    reason: Name
    deep_mm: Annotated[float, Field(ge=0, le=500)] | None = None


class WithoutRoom(Frozen):
    """A kind of item of the plan that has no body of its own, and why."""

    kind: CatalogueId
    reason: Name


class ToldBy(Frozen):
    """A rule that says more of a pair than that it is in one place.

    Attributes:
        run: that its finding is about; empty for a rule of no run or of one only.
        these, those: kinds of the pair; any where none is given.
        by: its finding names one of the pair as its subject, or by its name; "kind": there is
            only one such pair.
    """

    rule: Name
    run: Literal["", "exhaust", "intake", "fuel"] = ""
    these: tuple[CatalogueId, ...] = ()
    those: tuple[CatalogueId, ...] = ()
    by: Literal["subject", "name", "kind"] = "subject"

    def is_about(self, one: str, other: str) -> bool:
        """Return whether a pair of kinds is one that the rule looks at."""

        def fits(first: str, second: str) -> bool:
            return first in (self.these or (first,)) and second in (self.those or (second,))

        return fits(one, other) or fits(other, one)


class RoomFile(Frozen):
    """The data file."""

    wheel: UsualWheel
    things: tuple[Thing, ...]
    shared: tuple[SharedRoom, ...]
    without: tuple[WithoutRoom, ...]
    told: tuple[ToldBy, ...]


@dataclass(frozen=True)
class RoomBook:
    """Things, pairs that may share room, and what has no room of its own."""

    wheel: UsualWheel
    things: dict[str, Thing]
    shared: tuple[SharedRoom, ...]
    without: dict[str, str]
    told: tuple[ToldBy, ...]

    @cached_property
    def pairs(self) -> dict[tuple[str, str], SharedRoom]:
        """What two kinds may share, by the pair both ways round."""
        results = {}
        for entry in self.shared:
            for one in entry.these:
                for other in entry.those:
                    results[(one, other)] = results[(other, one)] = entry
        return results
