"""Where to point the thermometer after 5 and 20 minutes at full, and what to expect there."""

from __future__ import annotations

import re
from dataclasses import dataclass

from gale_nook.core.fitted.usable import usable
from gale_nook.core.job import Job, fact
from gale_nook.core.pipes.report import first_firing, protections
from gale_nook.core.plan.firing import PlaceReading
from gale_nook.core.quantities.sentences import q

_NOT_ID = re.compile(r"[^a-z0-9]+")
LONGEST_ID, LONGEST_NAME = 36, 80


@dataclass(frozen=True, slots=True)
class SurveyedPlace:
    """A place of the temperature survey.

    Attributes:
        expected_c: computed, at full output.
        most_c: that is allowed there; None where nothing limits it but what was computed.
        how: where it is, and whose limit that is.
    """

    id: str
    name: str
    expected_c: float
    most_c: float | None
    how: str


@fact
def surveyed_places(job: Job) -> tuple[SurveyedPlace, ...]:
    """Return the places: along the exhaust, what lies beside it, each outlet of the warm air."""
    found: list[tuple[str, float, float | None, str]] = [
        (
            f"exhaust, {place.name}",
            place.skin_c,
            None,
            f"the pipe's skin {q(round(place.distance_mm))} from the port",
        )
        for place in first_firing(job)
        if not place.name.startswith("beside ")
    ]
    found += [
        (
            each.name,
            each.now_c,
            each.most_c,
            f"{q(round(each.gap_mm))} from the exhaust, {each.cover}, on a warm day",
        )
        for each in protections(job)
    ]
    air = usable(job)
    limit_c = air.limit_c if air is not None else None
    for outlet in air.at.outlets if air is not None and air.at is not None else ():
        how = f"the air out of it, {round(outlet.flow_m3_h)} m³/h"
        found.append((f"outlet, {outlet.name}", outlet.temperature_c, limit_c, how))
    taken: dict[str, int] = {}
    return tuple(
        SurveyedPlace(_id(name, taken), name, celsius, most, how)
        for name, celsius, most, how in found
    )


def survey_begun(job: Job) -> tuple[PlaceReading, ...]:
    """Return the places of the survey, nothing read at them yet."""
    return tuple(
        PlaceReading(id=place.id, name=place.name[:LONGEST_NAME]) for place in surveyed_places(job)
    )


def _id(name: str, taken: dict[str, int]) -> str:
    """An id made of a name; numbered where another place has it already."""
    stem = _NOT_ID.sub("-", name.lower()).strip("-")[:LONGEST_ID].strip("-")
    stem = stem if stem[:1].isalpha() else f"place-{stem}".rstrip("-")
    taken[stem] = taken.get(stem, 0) + 1
    return stem if taken[stem] == 1 else f"{stem}-{taken[stem]}"
