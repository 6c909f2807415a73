"""Candidate cures for outlets, zones and the heater's output; they are tried before they are
offered.
"""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.air.commands import (
    RemoveDuct,
    SetEnd,
    StartDuct,
)
from gale_nook.core.air.hot import shapes_of_runs
from gale_nook.core.air.remedies import moved, name_of, outlets_like, wider, with_kind
from gale_nook.core.air.return_remedies import larger_openings, opened_up
from gale_nook.core.catalogue.air import DuctKind, OutletKind
from gale_nook.core.ducts.tree import DuctRun, run_of
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.findings.finding import Finding
from gale_nook.core.findings.rule import Remedy, remedy_for
from gale_nook.core.fitted.heating import zone_heat
from gale_nook.core.geometry.frames import Vec3, scale
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q

MOVES_MM = (100.0, 200.0, 350.0)
AIMS_DEG = (30.0, -30.0, 45.0, -45.0, 15.0, -15.0)


@remedy_for("air.jet")
@remedy_for("air.outlet_free")
@remedy_for("air.short_circuit")
def turn_or_move(job: Job, finding: Finding) -> Iterator[Remedy]:
    """An outlet turned away by its swivel, moved, or of a kind that swivels."""
    run = shapes_of_runs(job).get(finding.subject)
    if run is None or run.duct.outlet is None:
        return
    works, outlet = job.catalogue.air_equipment, run.duct.outlet
    address = f"air.ducts.{run.duct.id}"
    swivel = works.outlet(outlet.kind).swivel_deg
    for aim in AIMS_DEG:
        if abs(aim) <= swivel:
            side = "right" if aim > 0 else "left"
            yield Remedy(
                f"Turn it {abs(aim):.0f}° to the {side}, seen along the air.",
                set_value(f"{address}.outlet.aim_deg", aim),
            )
    last = len(run.duct.nodes) - 1
    back = scale(run.geometry.mouth_direction, -1.0)
    for step in MOVES_MM:
        by = scale(back, step)
        words = f"End its duct {q(step)} earlier."
        yield Remedy(words, moved(run, address, last, by, False))
    ways: tuple[tuple[str, Vec3], ...] = (
        ("up", (0.0, 0.0, 1.0)),
        ("down", (0.0, 0.0, -1.0)),
        ("to the left", (0.0, -1.0, 0.0)),
        ("to the right", (0.0, 1.0, 0.0)),
        ("rearward", (1.0, 0.0, 0.0)),
        ("forward", (-1.0, 0.0, 0.0)),
    )
    first = max(last - 1, 0)
    for step in MOVES_MM:
        for words, way in ways:
            by = scale(way, step)
            yield Remedy(f"Move it {q(step)} {words}.", moved(run, address, first, by, True))


@remedy_for("air.velocity")
@remedy_for("air.sound")
def slower(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A wider outlet, on a wider duct where that is needed; or its throttle farther closed."""
    works = job.catalogue.air_equipment
    for run in shapes_of_runs(job).values():
        outlet = run.duct.outlet
        if outlet is None or finding.subject not in {run.duct.id, "-"}:
            continue
        address, now = f"air.ducts.{run.duct.id}", works.outlet(outlet.kind)
        for other in outlets_like(job, outlet.kind):
            if other.bore_mm <= now.bore_mm:
                continue
            changes = [Change(address=f"{address}.outlet.kind", value=other.id)]
            words = f"Take {other.label} instead"
            if other.bore_mm > run.kind.bore_mm:
                kinds = wider(job, run, other.bore_mm)
                if not kinds:
                    continue
                changes += with_kind(job, run, kinds[0]).changes
                words += f", on {kinds[0].label}"
            yield Remedy(f"{words}.", SetValues(changes=tuple(changes)))
        if now.throttle:
            for percent in (70.0, 50.0, 35.0):
                if percent < outlet.open_percent:
                    yield Remedy(
                        f"Close its throttle to {percent:.0f} %.",
                        set_value(f"{address}.outlet.open_percent", percent),
                    )


@remedy_for("air.usable")
@remedy_for("air.closable")
def easier_outlets(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Outlets that cannot be closed, are not shut, and stand open."""
    works = job.catalogue.air_equipment
    for run in shapes_of_runs(job).values():
        outlet = run.duct.outlet
        if outlet is None:
            continue
        address = f"air.ducts.{run.duct.id}.outlet"
        if works.outlet(outlet.kind).closable and finding.rule == "air.closable":
            other = _fixed_like(job, outlet.kind)
            if other is not None:
                words = f"Take {other.label} for {outlet.name}: it cannot be closed."
                yield Remedy(words, set_value(f"{address}.kind", other.id))
        if outlet.shut:
            yield Remedy(f"Open {outlet.name}.", set_value(f"{address}.shut", False))
        if outlet.open_percent < 100:
            words = f"Open the throttle of {outlet.name}."
            yield Remedy(words, set_value(f"{address}.open_percent", 100.0))


def _fixed_like(job: Job, kind: str) -> OutletKind | None:
    """An outlet of the same bore that cannot be closed."""
    bore = job.catalogue.air_equipment.outlet(kind).bore_mm
    fixed = (o for o in outlets_like(job, kind) if not o.closable)
    return next((other for other in fixed if abs(other.bore_mm - bore) < 0.5), None)


@remedy_for("air.usable")
@remedy_for("air.closable")
def easier_way(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Wider ducts, splitters that lose less, a larger way back."""
    works = job.catalogue.air_equipment
    runs = list(shapes_of_runs(job).values())
    for bore in sorted({kind.bore_mm for kind in works.ducts}):
        changes: list[Change] = []
        for run in runs:
            kinds = wider(job, run, bore) if run.kind.bore_mm < bore else []
            changes += with_kind(job, run, kinds[0]).changes if kinds else ()
        if changes:
            words = f"Lay every duct with at least {q(bore)} of bore."
            yield Remedy(words, SetValues(changes=tuple(changes)))
    easier = _easier_splitters(job, runs)
    if easier:
        yield Remedy("Take splitters with the least loss.", SetValues(changes=tuple(easier)))
    yield from larger_openings(job, finding)


def _easier_splitters(job: Job, runs: list[DuctRun]) -> list[Change]:
    best = min(job.catalogue.air_equipment.splitters, key=lambda splitter: splitter.branch_k)
    return [
        Change(address=f"air.ducts.{run.duct.id}.splitter", value=best.id)
        for run in runs
        if run.duct.splitter not in {None, best.id}
    ]


@remedy_for("air.usable")
def all_at_once(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Everything that holds the air back: opened throttles and ways back, wider ducts and outlets.

    Each alone may not be enough.
    """
    del finding
    works = job.catalogue.air_equipment
    runs = list(shapes_of_runs(job).values())
    back = opened_up(job)
    for bore in sorted({kind.bore_mm for kind in works.ducts}):
        changes = [*back, *_easier_splitters(job, runs), *_one_fixed(job, runs, bore)]
        for run in runs:
            kinds = wider(job, run, bore) if run.kind.bore_mm < bore else []
            kind = kinds[0] if kinds else run.kind
            changes += with_kind(job, run, kind).changes if kinds else ()
            changes = [*_wider_outlet(job, run, kind), *changes]
        if changes:
            words = f"Lay every duct with at least {q(bore)} of bore, with outlets as wide, one of "
            words += "which cannot be closed"
            words += ", and open up the way back." if back else "."
            yield Remedy(words, SetValues(changes=tuple(changes)))


def _one_fixed(job: Job, runs: list[DuctRun], bore_mm: float) -> list[Change]:
    """The widest outlet made one that cannot be closed, where every one can; as wide as its duct
    will be.
    """
    works = job.catalogue.air_equipment
    outlets = [(run, run.duct.outlet) for run in runs if run.duct.outlet is not None]
    if any(not works.outlet(outlet.kind).closable for _, outlet in outlets) or not outlets:
        return []
    run, _ = max(outlets, key=lambda pair: pair[0].kind.bore_mm)
    wanted = max(bore_mm, run.kind.bore_mm)
    fixed = [o for o in works.outlets if not o.closable and o.bore_mm <= wanted + 0.5]
    if not fixed:
        return []
    best = max(fixed, key=lambda outlet: (outlet.bore_mm, -outlet.open_k))
    return [Change(address=f"air.ducts.{run.duct.id}.outlet.kind", value=best.id)]


def _wider_outlet(job: Job, run: DuctRun, kind: DuctKind) -> list[Change]:
    """An outlet as wide as a duct, of those that close alike; its throttle open."""
    outlet = run.duct.outlet
    if outlet is None:
        return []
    now = job.catalogue.air_equipment.outlet(outlet.kind)
    alike = [
        o
        for o in job.catalogue.air_equipment.outlets
        if o.closable == now.closable and now.bore_mm < o.bore_mm <= kind.bore_mm + 0.5
    ]
    address = f"air.ducts.{run.duct.id}.outlet"
    changes = [Change(address=f"{address}.open_percent", value=100.0)]
    if alike:
        best = max(alike, key=lambda o: (o.bore_mm, -o.open_k))
        changes.append(Change(address=f"{address}.kind", value=best.id))
    return changes


@remedy_for("air.never_closable")
def fix_one(job: Job, finding: Finding) -> Iterator[Remedy]:
    """An outlet that cannot be closed in the place of one that can; the largest first."""
    del finding
    works = job.catalogue.air_equipment
    runs = [run for run in shapes_of_runs(job).values() if run.duct.outlet is not None]
    for run in sorted(runs, key=lambda run: -run.kind.bore_mm):
        outlet = run.duct.outlet
        if outlet is None:
            continue
        now = works.outlet(outlet.kind)
        for other in outlets_like(job, outlet.kind):
            if not other.closable and abs(other.bore_mm - now.bore_mm) < 0.5:
                words = f"Take {other.label} for {outlet.name}."
                yield Remedy(words, set_value(f"air.ducts.{run.duct.id}.outlet.kind", other.id))
                break


@remedy_for("air.zone")
def more_for_the_zone(job: Job, finding: Finding) -> Iterator[Remedy]:
    """Its throttles open, those of the others closed, wider ducts to it, an outlet of its own."""
    runs = [run for run in shapes_of_runs(job).values() if run.duct.outlet is not None]
    works = job.catalogue.air_equipment
    own = [run for run in runs if run.duct.outlet and run.duct.outlet.zone == finding.subject]
    others = [run for run in runs if run not in own]
    opened = [
        Change(address=f"air.ducts.{run.duct.id}.outlet.open_percent", value=100.0)
        for run in own
        if run.duct.outlet is not None and run.duct.outlet.open_percent < 100
    ]
    if opened:
        yield Remedy("Open the throttles there.", SetValues(changes=tuple(opened)))
    for percent in (80.0, 65.0, 50.0, 35.0):
        closed = [
            Change(address=f"air.ducts.{run.duct.id}.outlet.open_percent", value=percent)
            for run in others
            if run.duct.outlet is not None
            and works.outlet(run.duct.outlet.kind).throttle
            and run.duct.outlet.open_percent > percent
        ]
        if closed:
            words = f"Close the other throttles to {percent:.0f} %."
            yield Remedy(words, SetValues(changes=(*opened, *closed)))
    for run in own:
        for kind in wider(job, run, run.kind.bore_mm + 1)[:2]:
            words = f"Lay {kind.label} to {name_of(run)}."
            yield Remedy(words, with_kind(job, run, kind))
    if not own and any(zone.zone == finding.subject for zone in zone_heat(job)):
        zone = job.plan.air.zone(finding.subject)
        if zone is not None:
            middle = (
                (zone.from_x_mm + zone.to_x_mm) / 2,
                (zone.left_y_mm + zone.right_y_mm) / 2,
                (zone.low_z_mm or 0.0) + 200.0,
            )
            for run in shapes_of_runs(job).values():
                free = {"straight", "branch"} - {
                    d.leg for d in job.plan.air.ducts if d.comes_from == run.duct.id
                }
                for leg in sorted(free) if run.duct.splitter is not None else ():
                    yield Remedy(
                        f"Lead a duct there from the {leg} leg of the splitter.",
                        StartDuct(comes_from=run.duct.id, leg=leg, to=middle, zone=zone.id),
                    )


@remedy_for("air.ducts")
def finish_it(job: Job, finding: Finding) -> Iterator[Remedy]:
    """A duct to begin with; an end for one that has none; a splitter's legs that lead on."""
    if not job.plan.air.ducts:
        yield Remedy("Begin with a duct straight on.", StartDuct())
        yield Remedy("Let it blow free into the room.", set_value("air.warm_end", "free"))
        return
    run = run_of(job, finding.subject)
    if run is None:
        return
    legs = {d.leg for d in job.plan.air.ducts if d.comes_from == run.duct.id}
    if run.duct.splitter is not None and len(legs) == 1:
        yield Remedy(
            "Let the duct go on without a splitter.", SetEnd(duct=run.duct.id, splitter=None)
        )
    for leg in ("straight", "branch"):
        if run.duct.splitter is not None and leg not in legs:
            yield Remedy(
                f"Begin a duct at its {leg} leg.",
                StartDuct(comes_from=run.duct.id, leg=leg),
            )
    if run.duct.comes_from is not None and not legs:
        yield Remedy("Take this duct out.", RemoveDuct(duct=run.duct.id))
