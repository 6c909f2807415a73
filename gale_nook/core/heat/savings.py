"""What matters most: single changes to the envelope, each with what it saves."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.apply import apply
from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.values import Change, SetValues, set_value
from gale_nook.core.fitted.installed import night_with
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heat.commands import AddLayer
from gale_nook.core.heat.envelope import FACE_NAMES, partition, rib_length_m, surface_areas_m2
from gale_nook.core.heat.loss import heat_loss
from gale_nook.core.job import Job, with_own_book
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.vehicle import Layer
from gale_nook.core.quantities.sentences import q

MORE_MM = 20.0
LESS_AIR_PER_H = 0.5
LEAST_AIR_PER_H = 0.3
NEW_INSULATION = "xps"


@dataclass(frozen=True, slots=True)
class Saving:
    """One change, what it saves on the design night, and the heater that would then do.

    Attributes:
        saved_fuel_l: over the simulated night with the heater in hand; None without one.
        heater: label of the smallest heater that covers the need afterwards; empty when none does.
    """

    sentence: str
    command: Command
    saved_w: float
    saved_fuel_l: float | None
    heater: str


def savings(plan: Plan, catalogue: Catalogue) -> tuple[Saving, ...]:
    """Return the changes that save something, the largest saving first."""
    catalogue = with_own_book(plan, catalogue)
    sheet = catalogue.heaters.get(plan.heater.sheet) if plan.heater.sheet is not None else None
    before_w, before_l = heat_loss(plan, catalogue).need_w, _fuel_l(plan, catalogue, sheet)
    results = []
    for sentence, command in _changes(plan, catalogue):
        after = apply(plan, command, catalogue)
        need_w, fuel_l = heat_loss(after, catalogue).need_w, _fuel_l(after, catalogue, sheet)
        if before_w - need_w > 0.5:
            saved_l = before_l - fuel_l if before_l is not None and fuel_l is not None else None
            results.append(
                Saving(
                    sentence,
                    command,
                    before_w - need_w,
                    saved_l,
                    _smallest(after, catalogue, need_w),
                )
            )
    return tuple(sorted(results, key=lambda saving: -saving.saved_w))


def _fuel_l(plan: Plan, catalogue: Catalogue, sheet: HeaterSheet | None) -> float | None:
    if sheet is None:
        return None
    return night_with(Job(plan, catalogue), sheet.id).fuel_l


def _smallest(plan: Plan, catalogue: Catalogue, need_w: float) -> str:
    strong = [
        s
        for s in catalogue.heaters.values()
        if derated_w(s.output, plan.heat.altitude_m) >= need_w and s.medium == plan.heater.medium
    ]
    return min(strong, key=lambda s: s.output.maximum_w).label if strong else ""


def _changes(plan: Plan, catalogue: Catalogue) -> Iterator[tuple[str, Command]]:
    for face, collection, layers in _stacks(plan):
        yield _thicker(face, collection, layers, catalogue)
    bare = [opening for opening in plan.vehicle.openings if not opening.covered]
    if bare:
        changes = tuple(
            Change(address=f"vehicle.openings.{opening.id}.covered", value=True) for opening in bare
        )
        yield "Covers on every window, door and vent at night.", SetValues(changes=changes)
    if partition(plan.heat) is None:
        yield "A quilted curtain between load space and cab.", set_value("heat.cab", "curtain")
    top = plan.vehicle.pop_top
    if top is not None and top.raised:
        yield (
            "The pop-top kept shut on the coldest nights.",
            set_value("vehicle.pop_top.raised", False),
        )
    for opening in plan.vehicle.openings:
        if opening.open_cm2 > 0:
            yield (
                f"Shut at night: {opening.name}.",
                set_value(f"vehicle.openings.{opening.id}.open_cm2", 0),
            )
    better = [
        r
        for r in catalogue.rib_kinds.values()
        if r.psi_w_mk < catalogue.rib_kinds[plan.heat.ribs.kind].psi_w_mk
    ]
    if better and rib_length_m(plan.vehicle, plan.heat) > 0:
        kind = max(better, key=lambda rib: rib.psi_w_mk)
        yield f"Ribs {kind.label}.", set_value("heat.ribs.kind", kind.id)
    if plan.heat.leakage is not None:
        return
    air = max(plan.heat.air_changes_per_h - LESS_AIR_PER_H, LEAST_AIR_PER_H)
    if air < plan.heat.air_changes_per_h:
        yield (
            (
                f"Draughts stopped: {q(air, 'per_h')} changes of air, never less than people and "
                "flames need."
            ),
            set_value("heat.air_changes_per_h", air),
        )


def _stacks(plan: Plan) -> Iterator[tuple[str, str, tuple[Layer, ...]]]:
    present = surface_areas_m2(plan.vehicle, plan.heat)
    for surface in plan.heat.surfaces:
        if surface.id not in present or surface.id == "canvas":
            continue  # nobody thickens canvas
        yield surface.id, f"heat.surfaces.{surface.id}.layers", surface.layers
    yield "floor", "vehicle.floor.layers", plan.vehicle.floor.layers


def _thicker(
    face: str, collection: str, layers: tuple[Layer, ...], catalogue: Catalogue
) -> tuple[str, Command]:
    name = FACE_NAMES[face].lower()
    for layer in layers:
        material = catalogue.materials[layer.material]
        if material.use == "insulation":
            address = f"{collection}.{layer.id}.thickness_mm"
            return f"{q(MORE_MM)} more {material.label} in: {name}.", set_value(
                address, layer.thickness_mm + MORE_MM
            )
    fresh = Layer(id="l-added", material=NEW_INSULATION, thickness_mm=MORE_MM)
    after = layers[-2].id if len(layers) > 1 else None
    words = f"{q(MORE_MM)} of {catalogue.materials[NEW_INSULATION].label} in: {name}."
    return words, AddLayer(collection=collection, item=fresh, first=len(layers) == 1, after=after)
