"""What an earlier heater or its owner left: openings, and a gas appliance."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from gale_nook.core.base.models import (
    CatalogueId,
    CoordinateMm,
    Frozen,
    ItemId,
    Name,
    SizeMm,
)
from gale_nook.core.plan.looked import DayText

OldFace = Literal["floor", "left", "right", "rear", "roof", "bulkhead"]
OldUse = Literal["open", "closed", "exhaust", "intake", "fuel", "duct", "hose", "cable"]


class OldOpening(Frozen):
    """An opening that something went through before: a flue, a vent, a grommet, a hatch.

    Attributes:
        along_mm, up_mm: its middle in its face: behind the datum and right of centre in floor and
            roof; behind the datum and above the load floor in a side; right of centre and above it
            at the rear and in the bulkhead.
        length_mm, height_mm: its sides; of a round one both are its diameter.
        edge: stuff of its edge.
        use: what goes through it now.
    """

    id: ItemId
    name: Name
    was: Literal["flue", "vent", "grommet", "hatch", "appliance", "other"] = "other"
    face: OldFace = "floor"
    along_mm: CoordinateMm
    up_mm: CoordinateMm
    length_mm: SizeMm = 60.0
    height_mm: SizeMm = 60.0
    is_round: bool = True
    edge: CatalogueId = "steel"
    use: OldUse = "open"


class OldGas(Frozen):
    """A gas appliance that goes, or that its gas stays for.

    Attributes:
        there: there was or is one whose pipe is touched by this job.
        isolated, capped: the supply is shut off; the pipe's end is closed with its own cap.
        tested_by, tested_on: who tested it for leaks, a competent person, and when.
    """

    there: bool = False
    name: Name = "old gas heater"
    isolated: bool = False
    capped: bool = False
    tested_by: Annotated[str, Field(max_length=80)] = ""
    tested_on: DayText = ""
