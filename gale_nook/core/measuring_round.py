"""The measuring round: just the measurements that decide something, in the order in which a person
walks and crawls round the vehicle.

A measurement decides where a check that rests on it is not clear, or clear by less than what an
assumed value may be wrong by. What would change nothing is not asked for.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Literal

from gale_nook.core.checking import Check
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.plan.looked import LookedWhere
from gale_nook.core.plan.solids import Solid
from gale_nook.core.vehicle.looked import unlooked
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.core.vehicle.rules import WHEEL_VALUES

PART_WRONG_MM = 150.0  # what the place of a part that nobody has measured may be wrong by
BODY_WRONG_MM = 80.0  # the same for a main dimension, which comes with the body type
WRONG_SHARE = 0.25  # of a limit that is no length

Where = Literal["outside", "inside", "engine-bay", "below"]
ORDER: tuple[Where, ...] = ("outside", "inside", "engine-bay", "below")
BODY_PLACES: dict[str, Where] = {
    "ground": "outside",
    "sill": "outside",
    "width-outside": "outside",
    "ends": "outside",
    "wheels": "outside",
    "openings": "outside",
    "floor-width": "inside",
    "height-inside": "inside",
    "floor-stack": "inside",
    "engine-bay": "engine-bay",
}


@dataclass(frozen=True, slots=True)
class Measurement:
    """One thing to measure.

    Attributes:
        id: in addresses.
        where: of the vehicle one stands or lies for it.
        addresses: of the values that are asked for.
        marks: addresses that are measured then: these, and that there is such a part.
        part: id of the part that it is of; empty for a main dimension.
        settles: titles of the checks that rest on it and that it may decide, worst first.
        look: it is no measurement, but a look at all that is there.
    """

    id: str
    name: str
    where: Where
    addresses: tuple[str, ...]
    marks: tuple[str, ...]
    part: str
    settles: tuple[str, ...]
    look: LookedWhere | None = None


def measuring_round(check: Check) -> tuple[Measurement, ...]:
    """Return what is still to be measured, in the order of the round."""
    found = [*_of_the_body(check), *_of_parts(check), *_looks(check)]
    deciding = [(key, each) for key, each in found if each.settles]
    return tuple(each for _, each in sorted(deciding, key=lambda pair: pair[0]))


Key = tuple[int, float, str]
LOOKS: dict[LookedWhere, str] = {
    "inside": "everything that stands inside",
    "below": "everything that is under the floor",
}


def _of_the_body(check: Check) -> Iterator[tuple[Key, Measurement]]:
    pencilled = check.job.plan.vehicle.pencilled
    for number, entry in enumerate(check.job.catalogue.rests_on):
        where = BODY_PLACES.get(entry.id)
        if where is None:
            continue
        starts = [f"vehicle.{value}" for value in entry.values]
        open_ones = tuple(
            a for a in pencilled if any(a == s or a.startswith(f"{s}.") for s in starts)
        )
        asked = _asked_for(open_ones)
        if asked:
            settled = _settled(check.findings, entry.label, BODY_WRONG_MM)
            if any(value.removeprefix("shell.") in WHEEL_VALUES for value in entry.values):
                settled = (*_wheels_asked_for(check), *settled)
            yield (
                (ORDER.index(where), float("-inf"), f"{number:03d}"),
                Measurement(entry.id, entry.label, where, asked, asked, "", settled),
            )


def _wheels_asked_for(check: Check) -> tuple[str, ...]:
    """The wheels are drawn from main dimensions."""
    asked = check.find("vehicle.asked_for", "wheel")
    return (asked.title,) if asked is not None else ()


def _of_parts(check: Check) -> Iterator[tuple[Key, Measurement]]:
    job = check.job
    for solid, kind, shape in surveyed_parts(job):
        here = f"vehicle.solids.{solid.id}"
        open_ones = tuple(a for a in job.plan.vehicle.pencilled if a.startswith(f"{here}."))
        numbers = _asked_for(open_ones)
        if not numbers:
            continue
        settled = _settled(check.findings, solid.name, PART_WRONG_MM)
        asked = [f.title for f in check.findings if _asks_for(f, solid)]
        yield (
            (ORDER.index(kind.where), shape.bounds[0], solid.id),
            Measurement(
                solid.id,
                solid.name,
                kind.where,
                numbers,
                tuple(a for a in open_ones if a in numbers or a == f"{here}.kind"),
                solid.id,
                tuple(dict.fromkeys((*asked, *settled))),
            ),
        )


def _looks(check: Check) -> Iterator[tuple[Key, Measurement]]:
    """A look at the whole of what nobody has looked at yet, after what is measured there."""
    for where, name in LOOKS.items():
        if unlooked(check.job, where):
            told = f"what is clear {'below the floor' if where == 'below' else 'inside'}"
            asked = Measurement(f"look-{where}", name, where, (), (), "", (told,), where)
            yield (ORDER.index(where), float("inf"), where), asked


def _asked_for(addresses: Iterable[str]) -> tuple[str, ...]:
    """Those that a person there can tell, with a tape or by looking; what a part is follows from
    that it is there.
    """
    return tuple(a for a in addresses if not a.endswith(".kind"))


def _asks_for(finding: Finding, solid: Solid) -> bool:
    """Whether a check asks for such a part, of which nobody has measured any."""
    return finding.rule == "vehicle.asked_for" and finding.subject == solid.kind


def _settled(findings: Iterable[Finding], name: str, wrong_mm: float) -> tuple[str, ...]:
    resting = (finding for finding in findings if name in finding.assumed)
    return tuple(dict.fromkeys(f.title for f in resting if _may_change(f, wrong_mm)))


def _may_change(finding: Finding, wrong_mm: float) -> bool:
    if finding.verdict is not Verdict.CLEAR:
        return True
    if finding.margin is None:  # a question that is answered
        return False
    if finding.unit == "mm":
        return finding.margin < wrong_mm
    ends = [end for end in (finding.band.minimum, finding.band.maximum) if end is not None]
    return any(finding.margin < WRONG_SHARE * abs(end) for end in ends)
