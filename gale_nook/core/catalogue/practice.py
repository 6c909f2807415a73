"""Practice on a running heater: which faults at which level, and what can be looked at."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import CatalogueId, Frozen, Name, unique_ids
from gale_nook.core.base.sourced import Sourced

Text = Annotated[str, Field(min_length=4, max_length=400)]
Level = Literal[1, 2, 3]


class LookKind(Frozen):
    """Something that can be looked at or measured; it takes time.

    Attributes:
        hazard: what is walked past where it is off and nobody looked; empty for none.
    """

    id: CatalogueId
    label: Text
    minutes: Annotated[float, Field(gt=0, le=240)]
    hazard: Annotated[str, Field(max_length=200)] = ""


class FaultCase(Frozen):
    """A fault as an exercise.

    Attributes:
        id: of the simulated heater's fault.
        level: from which it is met.
        symptom: as whoever uses the vehicle tells it; vague: as little as they may say.
        cure: what is done about it.
        shortest: looks that tell it from all others, ids.
    """

    id: CatalogueId
    level: Level
    symptom: Text
    vague: Text
    cure: Text
    shortest: Annotated[tuple[CatalogueId, ...], Field(min_length=1, max_length=4)]


class MistakeKind(Frozen):
    """A mistake that can be put into a plan.

    Attributes:
        level: from which it is met.
        label: what was done; cure: what puts it right.
    """

    id: CatalogueId
    level: Level
    label: Text
    cure: Text


class PracticeBook(Sourced):
    """All of it.

    Attributes:
        levels: what each level is called, from 1.
        mistake_counts: how many mistakes a plan of each level has.
        look_minutes, each_minutes: that a check on a plan takes with tape and torch, and for each
            thing that it looks at; cure_minutes: that putting something right takes.
    """

    levels: Annotated[tuple[Name, ...], Field(min_length=3, max_length=3)]
    looks: Annotated[tuple[LookKind, ...], AfterValidator(unique_ids)]
    cases: Annotated[tuple[FaultCase, ...], AfterValidator(unique_ids)]
    mistake_counts: tuple[int, int, int]
    look_minutes: Annotated[float, Field(gt=0, le=60)]
    each_minutes: Annotated[float, Field(ge=0, le=60)]
    cure_minutes: Annotated[float, Field(gt=0, le=240)]
    mistakes: Annotated[tuple[MistakeKind, ...], AfterValidator(unique_ids)]

    def case(self, fault_id: str) -> FaultCase:
        return next(case for case in self.cases if case.id == fault_id)
