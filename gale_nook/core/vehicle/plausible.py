"""Questions about numbers that are hardly ever so: what was typed is kept, and asked about."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.edits.values import set_value
from gale_nook.core.findings.finding import Band, Finding, Whose
from gale_nook.core.findings.rule import Remedy, Rule, remedy_for, rule
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.solids import OutlineSolid, Solid, TubeSolid
from gale_nook.core.quantities.sentences import capital, q
from gale_nook.core.vehicle.commands import Confirm
from gale_nook.core.vehicle.parts import surveyed_parts

# what was typed may have been meant in metres, feet, inches, centimetres, or the other way about
FACTORS = (1000.0, 304.8, 25.4, 10.0, 0.1, 1 / 25.4, 0.01, 0.001)


@dataclass(frozen=True, slots=True)
class Unlikely:
    """A value that is hardly ever so.

    Attributes:
        address: of it; item, name: what it belongs to; empty for the vehicle.
        least_mm, most_mm: between which it nearly always is; None for what is no length.
    """

    address: str
    value: float | str
    label: str
    sentence: str
    least_mm: float | None = None
    most_mm: float | None = None


@rule("vehicle.plausible", "Is this number meant?", "mm")
def numbers_plausible(job: Job, this: Rule) -> Iterator[Finding]:
    """A slip of the tape, or of the unit, is asked about and kept until somebody answers."""
    for unlikely in unlikely_values(job):
        band = Band(
            unlikely.least_mm,
            unlikely.most_mm,
            Whose.WORKSHOP,
            source="what is usual: workshop rule 35",
        )
        yield this.finding(
            job,
            subject=unlikely.address.removeprefix("vehicle."),
            subject_name=unlikely.label,
            measured=None,
            band=band,
            title=f"{capital(unlikely.label)}: is this meant?",
            sentence=unlikely.sentence,
        )


@fact
def unlikely_values(job: Job) -> tuple[Unlikely, ...]:
    """Return the values of the survey that are hardly ever so and that nobody has confirmed."""
    confirmed = {entry.address: entry.value for entry in job.plan.vehicle.confirmed}
    return tuple(
        unlikely
        for unlikely in (*_dimensions(job), *_parts(job))
        if confirmed.get(unlikely.address) != unlikely.value
    )


def _dimensions(job: Job) -> Iterator[Unlikely]:
    vehicle, usual = job.plan.vehicle, job.catalogue.usual_values
    values = [
        (f"vehicle.shell.{name}", name, getattr(vehicle.shell, name))
        for name in type(vehicle.shell).model_fields
    ]
    values += [
        (f"vehicle.floor.{name}", name, getattr(vehicle.floor, name))
        for name in ("corrugation_mm", "pitch_mm")
    ]
    values += [
        (f"vehicle.floor.layers.{layer.id}.thickness_mm", "thickness_mm", layer.thickness_mm)
        for layer in vehicle.floor.layers
    ]
    for address, name, value in values:
        if value is not None and name in usual:
            entry = usual[name]
            if not entry.least_mm <= value <= entry.most_mm:
                span = (entry.least_mm, entry.most_mm)
                yield Unlikely(address, value, entry.label, _asked(entry.label, value, span), *span)


def _asked(label: str, value: float, span: tuple[float, float]) -> str:
    much = "very much" if value > span[1] else "very little"
    if value < 0 or span[0] < 0:
        much = "unusual"
    return f"{q(value)} is {much} for the {label}. Usual is {q(span[0])} to {q(span[1])}."


def _parts(job: Job) -> Iterator[Unlikely]:
    for solid, _, _ in surveyed_parts(job):
        kind = job.catalogue.solid_kinds[solid.kind]
        yield from _of_part(job, solid, kind)


def _of_part(job: Job, solid: Solid, kind: SolidKind) -> Iterator[Unlikely]:
    usual, here = kind.usual, f"vehicle.solids.{solid.id}"
    if usual.shapes and solid.shape not in usual.shapes:
        shapes = " or ".join(usual.shapes)
        size = " × ".join(q(size) for _, size in _sizes(solid))
        yield Unlikely(
            f"{here}.shape",
            solid.shape,
            solid.name,
            f"{solid.name} was entered as a {solid.shape} of {size}. A {kind.label} is usually a "
            f"{shapes}.",
        )
    if usual.materials and solid.material not in usual.materials:
        made = job.catalogue.solid_materials
        names = [made[each].label if each in made else each for each in usual.materials]
        given = made[solid.material].label if solid.material in made else solid.material
        yield Unlikely(
            f"{here}.material",
            solid.material,
            solid.name,
            f"{solid.name} is of {given}. A {kind.label} is usually of {' or '.join(names)}.",
        )
    yield from _of_size(solid, kind)


def _of_size(solid: Solid, kind: SolidKind) -> Iterator[Unlikely]:
    sizes, usual, here = _sizes(solid), kind.usual, f"vehicle.solids.{solid.id}"
    if not sizes:
        return
    by_size = sorted(sizes, key=lambda each: each[1])
    asked = []
    if usual.thick_mm is not None:
        asked.append((by_size[0], usual.thick_mm, "thick"))
    if usual.longest_mm is not None and not isinstance(solid, TubeSolid):
        asked.append((by_size[-1], usual.longest_mm, "long"))
    for (leaf, value), (least, most), word in asked:
        if not least <= value <= most:
            yield Unlikely(
                f"{here}.{leaf}",
                value,
                solid.name,
                f"{solid.name} is {q(value)} {word}. A {kind.label} is usually {q(least)} to "
                f"{q(most)}.",
                least,
                most,
            )


def _sizes(solid: Solid) -> list[tuple[str, float]]:
    """The sizes of a part by their field; of an outline its height only."""
    if isinstance(solid, TubeSolid):
        return [("diameter_mm", solid.diameter_mm)]
    if isinstance(solid, OutlineSolid):
        return []
    names = ("length_mm", "width_mm", "height_mm", "diameter_mm")
    return [(name, getattr(solid, name)) for name in names if hasattr(solid, name)]


def _asked_about(job: Job, finding: Finding) -> Unlikely | None:
    address = f"vehicle.{finding.subject}"
    return next((each for each in unlikely_values(job) if each.address == address), None)


@remedy_for("vehicle.plausible")
def in_another_unit(job: Job, finding: Finding) -> Iterator[Remedy]:
    """What the number would be in another unit, where that is usual."""
    unlikely = _asked_about(job, finding)
    if unlikely is None or unlikely.least_mm is None or unlikely.most_mm is None:
        return
    for factor in FACTORS:
        meant = round(float(unlikely.value) * factor, 1)
        if unlikely.least_mm <= meant <= unlikely.most_mm and meant != 0:
            yield Remedy(f"Take {q(meant)}.", set_value(unlikely.address, meant))


@remedy_for("vehicle.plausible")
def it_is_right(job: Job, finding: Finding) -> Iterator[Remedy]:
    """It is so, and is not asked about again."""
    unlikely = _asked_about(job, finding)
    if unlikely is not None:
        shown = q(unlikely.value) if isinstance(unlikely.value, float) else unlikely.value
        yield Remedy(f"{shown} is right; ask no more.", Confirm(address=unlikely.address))
