"""The plan's references into the catalogue, checked in one place so that no rule meets an unknown
id.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from gale_nook.core.book.troubles import taken_troubles
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.heater.sheets import contradictions
from gale_nook.core.job import with_own_book
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.solids import BoxSolid
from gale_nook.core.plan.vehicle import Vehicle


def check_references(plan: Plan, catalogue: Catalogue) -> Plan:
    """Return the plan; raises PlanUnreadable naming every id in it that the catalogue does not
    know.
    """
    places = tuple(_unknown(plan, catalogue))
    if places:
        raise PlanUnreadable("The plan names things that are not in the catalogue.", places[:12])
    return plan


def materials_named(plan: Plan, catalogue: Catalogue) -> Iterator[str]:
    """Yield the id of every material that the plan's build-ups are of."""
    for _, entry_id, table in _references(plan, catalogue):
        if table is catalogue.materials:
            yield entry_id


def _unknown(plan: Plan, catalogue: Catalogue) -> Iterator[tuple[str, str]]:
    for where, problem in taken_troubles(plan.book, catalogue):
        yield f"book.{where}", problem
    for place, entry_id, table in _references(plan, with_own_book(plan, catalogue)):
        if entry_id not in table:
            yield place, f"there is no '{entry_id}'; known are {', '.join(sorted(table))}"
    for sheet in plan.heater.own_sheets:
        where = f"heater.own_sheets.{sheet.id}"
        if sheet.id in catalogue.heaters:
            yield f"{where}.id", f"the catalogue has a heater '{sheet.id}' already"
        for path, value, problem in contradictions(sheet, catalogue.limit_bands, catalogue.parts):
            yield f"{where}.{path}", f"{problem} (given: {value})"
    for own in plan.heater.own_limits:
        band = catalogue.limit_bands.get(own.id)
        for end in (own.minimum, own.maximum):
            if band is not None and end is not None and not band.lowest <= end <= band.highest:
                believable = f"{band.lowest:g} to {band.highest:g} {band.unit}"
                yield (
                    f"heater.own_limits.{own.id}",
                    f"{end:g} is not believable for {band.label}; {believable} are taken",
                )


def _of_floors(
    vehicle: Vehicle, catalogue: Catalogue
) -> Iterator[tuple[str, str, Mapping[str, object]]]:
    floors = [("vehicle.floor", vehicle.floor)]
    floors += [(f"vehicle.floors.{area.id}", area) for area in vehicle.floors]
    for where, floor in floors:
        for layer in floor.layers:
            yield f"{where}.layers.{layer.id}.material", layer.material, catalogue.materials


def _references(
    plan: Plan, catalogue: Catalogue
) -> Iterator[tuple[str, str, Mapping[str, object]]]:
    yield from _of_spot(plan, catalogue)
    vehicle = plan.vehicle
    yield from _of_floors(vehicle, catalogue)
    for surface in plan.heat.surfaces:
        for layer in surface.layers:
            yield (
                f"heat.surfaces.{surface.id}.layers.{layer.id}.material",
                layer.material,
                catalogue.materials,
            )
    for opening in vehicle.openings:
        yield f"vehicle.openings.{opening.id}.glazing", opening.glazing, catalogue.glazings
    for solid in vehicle.solids:
        yield f"vehicle.solids.{solid.id}.kind", solid.kind, catalogue.solid_kinds
    for old in vehicle.old_openings:
        yield f"vehicle.old_openings.{old.id}.edge", old.edge, catalogue.solid_materials
    if plan.heat.leakage is not None:
        yield "heat.leakage", plan.heat.leakage, catalogue.leakage
    yield "heat.ribs.kind", plan.heat.ribs.kind, catalogue.rib_kinds
    yield from _of_fuel(plan, catalogue)
    yield from _of_air(plan, catalogue)
    yield from _of_coolant(plan, catalogue)
    if plan.power.battery is not None:
        chemistries = {entry.id: entry for entry in catalogue.power_equipment.chemistries}
        yield "power.battery.chemistry", plan.power.battery.chemistry, chemistries
    if plan.heater.sheet is not None:
        yield "heater.sheet", plan.heater.sheet, catalogue.heaters
    for limit in plan.heater.own_limits:
        yield f"heater.own_limits.{limit.id}", limit.id, catalogue.limit_bands


def _of_fuel(plan: Plan, catalogue: Catalogue) -> Iterator[tuple[str, str, Mapping[str, object]]]:
    works, line = catalogue.fuel_equipment, plan.fuel.line
    yield "fuel.grade", plan.fuel.grade, {grade.id: grade for grade in works.grades}
    if plan.fuel.take_off is not None:
        yield "fuel.take_off", plan.fuel.take_off, {kind.id: kind for kind in works.take_offs}
    if line is not None:
        known = {kind.id: kind for kind in works.lines}
        yield "fuel.line.suction", line.suction, known
        yield "fuel.line.pressure", line.pressure, known


def _of_air(plan: Plan, catalogue: Catalogue) -> Iterator[tuple[str, str, Mapping[str, object]]]:
    air, works = plan.air, catalogue.air_equipment
    for solid in plan.vehicle.solids:
        hollow = solid.hollow if isinstance(solid, BoxSolid) else None
        for panel in hollow.openings if hollow is not None else ():
            where = f"vehicle.solids.{solid.id}.hollow.openings.{panel.id}.grille"
            yield where, panel.grille, {grille.id: grille for grille in works.grilles}
    ducts, splitters = {d.id: d for d in works.ducts}, {s.id: s for s in works.splitters}
    outlets, grilles = {o.id: o for o in works.outlets}, {g.id: g for g in works.grilles}
    clips = {clip.id: clip for clip in works.clips}
    for duct in (*air.ducts, *((air.return_duct,) if air.return_duct is not None else ())):
        where = f"air.ducts.{duct.id}"
        yield f"{where}.kind", duct.kind, ducts
        if duct.splitter is not None:
            yield f"{where}.splitter", duct.splitter, splitters
        if duct.outlet is not None:
            yield f"{where}.outlet.kind", duct.outlet.kind, outlets
        for part in duct.of_kind("clip"):
            yield f"{where}.parts.{part.id}.stuff", part.stuff, clips
    for wanted in air.wanted:
        if wanted.kind is not None:
            yield f"air.wanted.{wanted.id}.kind", wanted.kind, outlets
    for opening in air.returns:
        yield f"air.returns.{opening.id}.grille", opening.grille, grilles
    yield "air.panel_grille", air.panel_grille, grilles


def _of_coolant(
    plan: Plan, catalogue: Catalogue
) -> Iterator[tuple[str, str, Mapping[str, object]]]:
    works = catalogue.coolant_equipment
    parts, hoses = {p.id: p for p in works.parts}, {h.id: h for h in works.hoses}
    for part in plan.coolant.parts:
        yield f"coolant.parts.{part.id}.kind", part.kind, parts
    for hose in plan.coolant.hoses:
        yield f"coolant.hoses.{hose.id}.kind", hose.kind, hoses


def _of_spot(plan: Plan, catalogue: Catalogue) -> Iterator[tuple[str, str, Mapping[str, object]]]:
    if plan.spot is not None and plan.spot.packing is not None:
        yield "spot.packing", plan.spot.packing, catalogue.materials
