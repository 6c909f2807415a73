"""The job's own settings, and the deviations that were accepted."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from gale_nook.core.base.models import (
    Frozen,
    ItemId,
    Name,
    Note,
)


class Acceptance(Frozen):
    """A finding that is over and was accepted: by whom, when and why."""

    id: ItemId
    rule: Annotated[str, Field(pattern=r"^[a-z]+\.[a-z_]+$", max_length=60)]
    subject: Annotated[str, Field(max_length=80)]
    reason: Note = ""
    by: Name
    on: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]


class Settings(Frozen):
    """The job's own settings.

    Attributes:
        tolerance_mm, tolerance_deg: within this of a limit, a value inside it is called tight.
        parked_tilt_deg: nose up or down, left or right, at which the exhaust still has to drain.
    """

    tolerance_mm: Annotated[float, Field(ge=0, le=100)] = 5.0
    tolerance_deg: Annotated[float, Field(ge=0, le=10)] = 0.5
    parked_tilt_deg: Annotated[float, Field(ge=0, le=15)] = 3.0
