"""Checks of the filling: header, air, draining, frost, strength, pumps' places."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.findings.finding import Band, Finding, Mark, Whose
from gale_nook.core.findings.rule import Rule, rule
from gale_nook.core.heater.limits import limit_band
from gale_nook.core.job import Job
from gale_nook.core.loop.fill import filling
from gale_nook.core.loop.graph import loop_graph
from gale_nook.core.loop.hoses import hose_runs, kind_of, loop_parts, loop_side, parts_of
from gale_nook.core.loop.mix import filled_mix
from gale_nook.core.loop.pockets import air_pockets, undrained
from gale_nook.core.plan.coolant import LoopPart
from gale_nook.core.quantities.sentences import capital, q


@rule("coolant.header", "A header tank", "yes-no", hazard="burns")
def has_header(job: Job, this: Rule) -> Iterator[Finding]:
    """Coolant expands, and air has to get out."""
    if not job.plan.coolant.hoses:
        return
    has = bool(parts_of(job, "header"))
    yield this.yes_no(
        job,
        answer=has,
        wanted=True,
        source="workshop rule 61: a header tank, vented or with a pressure cap",
        sentence=f"The loop has {'a' if has else 'no'} header tank.",
    )


@rule("coolant.header_high", "Header over everything", "mm")
def header_highest(job: Job, this: Rule) -> Iterator[Finding]:
    """Its coolant stands over every hose and part: air rises to it by itself."""
    band = limit_band(job, "header_over_mm")
    headers = parts_of(job, "header")
    if band is None or not headers:
        return
    header = max(headers, key=lambda part: part.z_mm)
    low = header.z_mm - kind_of(job, header).size_mm[2] / 2
    top, name, at = _highest(job, header)
    yield this.finding(
        job,
        subject=header.id,
        subject_name=header.name,
        measured=round(low - top, 1),
        band=band,
        title=f"The {header.name} over the loop",
        sentence=f"The {header.name} begins {q(round(abs(low - top)))} "
        f"{'over' if low >= top else 'under'} the highest place of the rest, {name}.",
        marks=(Mark((header.x_mm, header.y_mm, low), at),),
    )


def _highest(job: Job, header: LoopPart) -> tuple[float, str, tuple[float, float, float]]:
    """The highest place of all but what leads to the header."""
    best = (-math.inf, "", (0.0, 0.0, 0.0))
    for run in hose_runs(job):
        if header.id in {run.hose.from_part, run.hose.to_part}:
            continue
        top = max(run.geometry.centre_line, key=lambda point: point[2])
        best = max(best, (top[2], f"the {run.name}", top))
    for part, kind in loop_parts(job):
        if kind.kind in {"header", "engine"}:
            continue
        top_z = part.z_mm + max(offset[2] for offset in kind.ports.values())
        best = max(best, (top_z, f"the {part.name}", (part.x_mm, part.y_mm, top_z)))
    return best


@rule("coolant.header_size", "Room in the header", "l")
def header_large_enough(job: Job, this: Rule) -> Iterator[Finding]:
    """For what expands from cold to hot, and never less than a share of all."""
    found, band = filling(job), limit_band(job, "header_share_percent")
    headers = parts_of(job, "header")
    if found is None or band is None or not headers:
        return
    least = max(found.expands_l, (band.minimum or 0.0) / 100 * found.content_l)
    at = (headers[0].x_mm, headers[0].y_mm, headers[0].z_mm)
    yield this.finding(
        job,
        subject=headers[0].id,
        subject_name=headers[0].name,
        measured=round(found.header_l, 2),
        band=Band(round(least, 2), None, Whose.WORKSHOP, source=band.source),
        tolerance=0.05,
        sentence=f"{found.header_l:.1f} l are left in the header when it is cold; "
        f"{found.expands_l:.1f} l of {found.content_l:.1f} l expand.",
        marks=(Mark(at, at),),
    )


@rule("coolant.bleed", "High places are bled", "yes-no")
def high_places_bled(job: Job, this: Rule) -> Iterator[Finding]:
    """Air rises to a bleed or the header by itself, or it stays and stops the flow."""
    if not job.plan.coolant.hoses or loop_graph(job).heater_circuit() is None:
        return
    pockets = air_pockets(job)
    for pocket in pockets:
        run = pocket.hose
        yield this.yes_no(
            job,
            subject=f"{run.hose.id}:{round(pocket.at_mm)}",
            subject_name=run.name,
            answer=False,
            wanted=True,
            source="workshop rule 61: every high place has its bleed",
            title=f"High place at the {run.name}",
            sentence=f"Air stays at the {run.name}, {q(round(pocket.at_mm))} along it: "
            f"{q(round(pocket.height_mm))} over its way to a bleed or the header.",
            marks=(Mark(pocket.at, pocket.at),),
        )
    if not pockets:
        yield this.yes_no(
            job,
            answer=True,
            wanted=True,
            source="workshop rule 61: every high place has its bleed",
            sentence="From every place air rises to a bleed or to the header.",
        )


@rule("coolant.drain", "Low places are drained", "yes-no")
def low_places_drained(job: Job, this: Rule) -> Iterator[Finding]:
    """What runs to no drain by itself stays when the loop is opened."""
    for pocket in undrained(job):
        run = pocket.hose
        yield this.yes_no(
            job,
            subject=f"{run.hose.id}:{round(pocket.at_mm)}",
            subject_name=run.name,
            answer=False,
            wanted=True,
            left_to_taste=True,
            source="workshop rule 61: a drain at each low place",
            title=f"Low place at the {run.name}",
            sentence=f"Coolant stays at the {run.name}, {q(round(pocket.at_mm))} along it: it runs "
            "to no drain by itself.",
            marks=(Mark(pocket.at, pocket.at),),
        )


@rule("coolant.frost", "Freezing point", "C")
def stands_the_frost(job: Job, this: Rule) -> Iterator[Finding]:
    """The first ice, against the coldest night or what was asked for."""
    found, spare = filling(job), limit_band(job, "frost_spare_k")
    if found is None:
        return
    least = found.wanted_c - (spare.minimum or 0.0 if spare is not None else 0.0)
    words = (
        f" {found.least_percent:.0f} % by volume would do."
        if found.least_percent is not None and found.freezes_c > least
        else ""
    )
    yield this.finding(
        job,
        measured=round(found.freezes_c, 1),
        band=Band(None, least, Whose.WORKSHOP, source="the coldest night, less what is spared"),
        tolerance=1.0,
        sentence=f"The filling freezes at {found.freezes_c:.0f} °C; it has to stand "
        f"{found.wanted_c:.0f} °C.{words}",
    )


@rule("coolant.glycol", "Strength of the filling", "%")
def strength(job: Job, this: Rule) -> Iterator[Finding]:
    """Too weak rusts, too strong flows and carries badly, and freezes sooner again."""
    band = limit_band(job, "glycol_percent")
    if band is None or not job.plan.coolant.hoses:
        return
    percent = filled_mix(job).percent
    yield this.finding(
        job,
        measured=round(percent, 1),
        band=band,
        tolerance=1.0,
        sentence=f"{percent:.0f} % of glycol by volume.",
    )


@rule("coolant.pump_flooded", "Pumps stand under coolant", "mm")
def pumps_flooded(job: Job, this: Rule) -> Iterator[Finding]:
    """A pump that stands over the header's coolant runs dry."""
    headers = parts_of(job, "header")
    if not headers:
        return
    header = max(headers, key=lambda part: part.z_mm)
    level = header.z_mm
    for part in parts_of(job, "pump"):
        kind = kind_of(job, part)
        if kind.self_priming:
            continue
        top = part.z_mm + kind.size_mm[2] / 2
        at = (part.x_mm, part.y_mm, top)
        yield this.finding(
            job,
            subject=part.id,
            subject_name=part.name,
            measured=round(level - top, 1),
            band=Band(0.0, None, Whose.SHEET, source=kind.source),
            title=f"{capital(part.name)} under the header's coolant",
            sentence=f"The {part.name} stands {q(round(abs(level - top)))} "
            f"{'under' if level >= top else 'over'} the header's coolant.",
            marks=(Mark(at, at),),
        )


@rule("coolant.run_dry", "A pump for the heater", "yes-no", hazard="burns")
def heater_is_pumped(job: Job, this: Rule) -> Iterator[Finding]:
    """Its own, or one in its circuit: without flow it boils its coolant."""
    side = loop_side(job)
    if side is None or not job.plan.coolant.hoses:
        return
    has = bool(side.pump) or any(part.level_percent > 0 for part in parts_of(job, "pump"))
    yield this.yes_no(
        job,
        answer=has,
        wanted=True,
        source="workshop rule 63: no burner without circulation",
        sentence="The heater's circuit has a pump." if has else "Nothing pumps the loop.",
    )


@rule("coolant.mixed", "Floor loops behind a mixing valve", "yes-no")
def floors_mixed(job: Job, this: Rule) -> Iterator[Finding]:
    """Straight from the heater a floor becomes far too hot."""
    floors = parts_of(job, "floor")
    if not floors:
        return
    has = bool(parts_of(job, "mixer"))
    at = (floors[0].x_mm, floors[0].y_mm, floors[0].z_mm)
    yield this.yes_no(
        job,
        answer=has,
        wanted=True,
        source="workshop rule 64: floor loops",
        sentence=f"The floor loops are {'' if has else 'not '}behind a mixing valve.",
        marks=(Mark(at, at),),
    )
