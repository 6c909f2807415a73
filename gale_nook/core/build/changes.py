"""What of the work has changed between two plans of a job: holes, lengths, parts and steps."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import TypeVar

from gale_nook.core.build.lists import PartLine, cuts, holes_to_cut, parts_list, steps
from gale_nook.core.heater.chosen import chosen_mount, heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.station import CutLine, HoleLine

LEAST_MM = 0.5  # that a place or a length has to change, to be told
T = TypeVar("T")


def changes(before: Job, after: Job) -> tuple[str, ...]:
    """Return a sentence for each thing of the work that is otherwise, the holes first."""
    return (
        *_heater(before, after),
        *_holes(before, after),
        *_cuts(before, after),
        *_parts(before, after),
        *_steps(before, after),
    )


def _heater(before: Job, after: Job) -> Iterator[str]:
    for words, read in (("Heater", heater_sheet), ("Mount", chosen_mount)):
        old, new = read(before), read(after)
        then, now = (each.label if each is not None else "none" for each in (old, new))
        if then != now:
            yield f"{words}: {now}; it was {then}."


def _numbered(items: Iterable[T], names: Iterable[str]) -> dict[tuple[str, int], T]:
    """Things by their name; of one name several, by their number too."""
    results: dict[tuple[str, int], T] = {}
    counts: dict[str, int] = {}
    for item, name in zip(items, names, strict=True):
        counts[name] = counts.get(name, 0) + 1
        results[name, counts[name]] = item
    return results


def _pairs(
    old: dict[tuple[str, int], T], new: dict[tuple[str, int], T]
) -> Iterator[tuple[str, T | None, T | None]]:
    for key in dict.fromkeys([*new, *old]):
        yield capital(key[0]), old.get(key), new.get(key)


def _holes(before: Job, after: Job) -> Iterator[str]:
    def named(holes: Sequence[HoleLine]) -> dict[tuple[str, int], HoleLine]:
        return _numbered(holes, (hole.name for hole in holes))

    for name, old, new in _pairs(named(holes_to_cut(before)), named(holes_to_cut(after))):
        if new is None:
            yield f"{name}: not to be drilled any more."
        elif old is None:
            yield f"{name}: new, {_place(new)}."
        elif old.diameter_mm != new.diameter_mm or old.saw != new.saw:
            yield f"{name}: {new.saw} now; it was {old.saw}."
        elif _apart(old, new) > LEAST_MM:
            yield f"{name}: {_place(new)} now; it was {_place(old)}."


def _apart(old: HoleLine, new: HoleLine) -> float:
    heights = abs((old.z_mm or 0.0) - (new.z_mm or 0.0))
    return max(abs(old.x_mm - new.x_mm), abs(old.y_mm - new.y_mm), heights)


def _place(hole: HoleLine) -> str:
    side = "right" if hole.y_mm >= 0 else "left"
    high = f", {q(round(hole.z_mm))} up" if hole.z_mm is not None else ""
    return f"{q(round(hole.x_mm))} behind, {q(round(abs(hole.y_mm)))} {side}{high}"


def _cuts(before: Job, after: Job) -> Iterator[str]:
    def named(lines: Sequence[CutLine]) -> dict[tuple[str, int], CutLine]:
        return _numbered(lines, (line.id for line in lines))

    for _, old, new in _pairs(named(cuts(before)), named(cuts(after))):
        if new is None and old is not None:
            yield f"{capital(old.label)}: not to be cut any more."
        elif new is not None and old is None:
            yield f"{capital(new.label)}: new, {q(round(new.length_mm))}."
        elif new is not None and old is not None and _differ(old, new):
            now, then = q(round(new.length_mm)), q(round(old.length_mm))
            yield f"{capital(new.label)}: cut to {now} now; it was {then}."


def _differ(old: CutLine, new: CutLine) -> bool:
    return abs(old.length_mm - new.length_mm) > LEAST_MM


def _parts(before: Job, after: Job) -> Iterator[str]:
    old = {line.part: line for line in parts_list(before)}
    new = {line.part: line for line in parts_list(after)}
    for part in dict.fromkeys([*new, *old]):
        then, now = _needed(old.get(part)), _needed(new.get(part))
        if then != now:
            label = (new.get(part) or old[part]).label
            yield f"{capital(label)}: {now} needed; it was {then}."


def _needed(line: PartLine | None) -> str:
    if line is None or line.needed == 0:
        return "none"
    return q(round(line.needed)) if line.unit == "mm" else f"{line.needed:g}"


def _steps(before: Job, after: Job) -> Iterator[str]:
    old, new = ({step.id: step.title for step in steps(job)} for job in (before, after))
    for step, title in new.items():
        if step not in old:
            yield f"New step: {title}."
    for step, title in old.items():
        if step not in new:
            yield f"No step any more: {title}."
