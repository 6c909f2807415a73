"""The work: its kinds in their order, how long each takes, with what, and what it waits for."""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import CatalogueId, Frozen, Name, unique_ids
from gale_nook.core.base.sourced import Sourced

Minutes = Annotated[float, Field(ge=0, le=3000)]


class WorkGroup(Frozen):
    """A stretch of the work; its kinds follow one another."""

    id: CatalogueId
    label: Name


class WorkKind(Frozen):
    """One kind of work.

    Attributes:
        group: of the stretch that it belongs to.
        minutes, each_minutes: (least, most) for one person: of the whole, and of each of what there
            are several of.
        tools: to lay ready.
        helper: a second person is needed.
        daylight: it is not done by a lamp.
        wait_h, wait_for: after it, before what hangs on it goes on, and what is waited for.
        drivable: whether the vehicle can be driven after it.
        by: what is told of who may do it; anybody where it is empty.
    """

    id: CatalogueId
    group: CatalogueId
    minutes: tuple[Minutes, Minutes]
    each_minutes: tuple[Minutes, Minutes] = (0.0, 0.0)
    tools: tuple[Name, ...] = ()
    helper: bool = False
    daylight: bool = False
    wait_h: Annotated[float, Field(ge=0, le=168)] = 0.0
    wait_for: Annotated[str, Field(max_length=80)] = ""
    drivable: bool = True
    by: Annotated[str, Field(max_length=120)] = ""


class WorkBook(Sourced):
    """All of the work.

    Attributes:
        shops: kinds of shops, in the order in which they are gone to.
        helps_share: of the time that a second person takes off.
    """

    helps_share: Annotated[float, Field(gt=0, lt=1)]
    groups: Annotated[tuple[WorkGroup, ...], AfterValidator(unique_ids)]
    kinds: Annotated[tuple[WorkKind, ...], AfterValidator(unique_ids)]
    shops: Annotated[tuple[WorkGroup, ...], AfterValidator(unique_ids)]

    def kind(self, kind_id: str) -> WorkKind:
        return next(kind for kind in self.kinds if kind.id == kind_id)

    def group(self, group_id: str) -> WorkGroup:
        return next(group for group in self.groups if group.id == group_id)
