"""Heat loss of the load space, element by element."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.catalogue import Catalogue
from gale_nook.core.heat.air import FRESH_AIR_L_S, AirChange, leaks_m3_h, vent_m3_h
from gale_nook.core.heat.film import (
    AIR_HEAT_CAPACITY_J_KGK,
    INSIDE_FILM_M2K_W,
    SHELTERED_WIND_SHARE,
    Flow,
    air_density_kg_m3,
    outside_film_m2k_w,
)
from gale_nook.core.heat.uvalue import BuildUp, build_up
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.vehicle import Opening, Shell

FACE_NAMES = {
    "roof": "Roof",
    "left": "Left side",
    "right": "Right side",
    "rear": "Rear doors' face",
    "bulkhead": "Bulkhead to the cab",
    "floor": "Floor",
}
_FLOW = {"roof": Flow.UP, "floor": Flow.DOWN}


@dataclass(frozen=True, slots=True)
class Element:
    """One path of the heat.

    Attributes:
        id, face: stable id, and the face of the shell that it belongs to ("-" for ribs).
        area_m2, u_w_m2k: None for ribs, which have a length and ψ instead.
        difference_k: temperature difference that drives it.
        build_up: its resistances, where it has layers.
    """

    id: str
    name: str
    face: str
    area_m2: float | None
    u_w_m2k: float | None
    conductance_w_k: float
    difference_k: float
    build_up: BuildUp | None = None

    @property
    def loss_w(self) -> float:
        return self.conductance_w_k * self.difference_k


@dataclass(frozen=True, slots=True)
class HeatLoss:
    """The loss at one outside temperature.

    Attributes:
        elements: largest loss first.
        ventilation_w: heat carried off by the air that is renewed.
        need_w: design loss with the margin added.
        cab_c: temperature of the cab that was counted with.
        air: where the renewed air comes from.
    """

    elements: tuple[Element, ...]
    volume_m3: float
    ventilation_w: float
    design_loss_w: float
    need_w: float
    outside_c: float
    cab_c: float
    air: AirChange


def face_area_m2(shell: Shell, face: str) -> float:
    """Return the gross inside area of a face of the load space."""
    length = shell.rear_x_mm - shell.bulkhead_x_mm
    width, height = shell.floor_width_mm, shell.inside_height_mm
    sides = {
        "roof": (length, width),
        "floor": (length, width),
        "left": (length, height),
        "right": (length, height),
        "rear": (width, height),
        "bulkhead": (width, height),
    }
    return sides[face][0] * sides[face][1] / 1e6


def opening_area_m2(opening: Opening) -> float:
    """Return the area of a window, door or vent."""
    return opening.length_mm * opening.height_mm / 1e6


def heat_loss(plan: Plan, catalogue: Catalogue, outside_c: float | None = None) -> HeatLoss:
    """Return the steady loss of the load space at an outside temperature (the design one when None).

    Model: ISO 6946 transmittances on the inside dimensions, windows and doors taken out of their face,
    ribs as linear bridges, air change by volume; gains from people and appliances are left out.
    The floor sees half the wind; the bulkhead loses to the cab (see `cab_share`). An opening larger
    than its face is a finding of the heat station; the face then counts as none.
    """
    heat = plan.heat
    outside = heat.outside_c if outside_c is None else outside_c
    cab_c = outside + cab_share(plan, catalogue) * (heat.inside_c - outside)
    elements = [*_faces(plan, catalogue, outside, cab_c), *_openings(plan, catalogue, outside)]
    if heat.ribs.length_m > 0:
        ribs = catalogue.rib_kinds[heat.ribs.kind]
        conductance = ribs.psi_w_mk * heat.ribs.length_m
        elements.append(Element("ribs", f"Ribs, {ribs.label}", "-", None, None, conductance, heat.inside_c - outside))
    shell = plan.vehicle.shell
    volume_m3 = face_area_m2(shell, "floor") * shell.inside_height_mm / 1000
    air = air_change(plan, catalogue, volume_m3, outside)
    flow_kg_s = air_density_kg_m3(heat.altitude_m, outside) * air.total_m3_h / 3600
    ventilation_w = flow_kg_s * AIR_HEAT_CAPACITY_J_KGK * (heat.inside_c - outside)
    ordered = tuple(sorted(elements, key=lambda element: (-element.loss_w, element.id)))
    total_w = sum(element.loss_w for element in ordered) + ventilation_w
    need_w = total_w * (1 + heat.margin_percent / 100)
    return HeatLoss(ordered, volume_m3, ventilation_w, total_w, need_w, outside, cab_c, air)


def cab_share(plan: Plan, catalogue: Catalogue) -> float:
    """Return how far the cab's temperature lies between outside (0) and inside (1).

    By balance of what comes through the bulkhead and what the cab loses, where that is given; else from the cab's
    temperature as typed for the coldest night; else 0. Both flows are in proportion to temperature differences, so
    the share holds at every outside temperature.
    """
    heat = plan.heat
    if heat.cab_loss_w_k is not None:
        layers = next(surface.layers for surface in heat.surfaces if surface.id == "bulkhead")
        film = INSIDE_FILM_M2K_W[Flow.SIDEWAYS]
        through = (
            face_area_m2(plan.vehicle.shell, "bulkhead")
            * build_up(layers, catalogue.materials, Flow.SIDEWAYS, film).u_w_m2k
        )
        return through / (through + heat.cab_loss_w_k)
    if heat.cab_c is None:
        return 0.0
    return (heat.cab_c - heat.outside_c) / (heat.inside_c - heat.outside_c)


def air_change(plan: Plan, catalogue: Catalogue, volume_m3: float, outside_c: float) -> AirChange:
    """Return the air renewed: leaks by class or as typed, and the vents and windows left open."""
    heat = plan.heat
    if heat.leakage is None:
        leaks = heat.air_changes_per_h * volume_m3
    else:
        leaks = leaks_m3_h(catalogue.leakage[heat.leakage].changes_per_h, volume_m3, heat.wind_m_s)
    column_m = plan.vehicle.shell.inside_height_mm / 2000
    vents = sum(
        vent_m3_h(opening.open_cm2, column_m, heat.wind_m_s, heat.inside_c, outside_c)
        for opening in plan.vehicle.openings
    )
    return AirChange(leaks, vents, heat.sleepers * FRESH_AIR_L_S * 3.6)


def _faces(plan: Plan, catalogue: Catalogue, outside_c: float, cab_c: float) -> list[Element]:
    heat = plan.heat
    taken: dict[str, float] = {}
    for opening in plan.vehicle.openings:
        taken[opening.face.value] = taken.get(opening.face.value, 0.0) + opening_area_m2(opening)
    layers = {surface.id: surface.layers for surface in heat.surfaces}
    found = []
    for face, face_name in FACE_NAMES.items():
        difference = heat.inside_c - outside_c
        film = outside_film_m2k_w(heat.wind_m_s, outside_c)
        if face == "floor":
            film = outside_film_m2k_w(heat.wind_m_s * SHELTERED_WIND_SHARE, outside_c)
        elif face == "bulkhead":
            film = INSIDE_FILM_M2K_W[Flow.SIDEWAYS]  # its far side is the still air of the cab
            difference = heat.inside_c - cab_c
        stack = plan.vehicle.floor.layers if face == "floor" else layers[face]  # type: ignore[index]
        worked = build_up(stack, catalogue.materials, _FLOW.get(face, Flow.SIDEWAYS), film)
        area = max(face_area_m2(plan.vehicle.shell, face) - taken.get(face, 0.0), 0.0)
        found.append(Element(face, face_name, face, area, worked.u_w_m2k, area * worked.u_w_m2k, difference, worked))
    return found


def _openings(plan: Plan, catalogue: Catalogue, outside_c: float) -> list[Element]:
    found = []
    for opening in plan.vehicle.openings:
        glazing = catalogue.glazings[opening.glazing]
        u_value = glazing.u_covered_w_m2k if opening.covered else glazing.u_w_m2k
        area = opening_area_m2(opening)
        found.append(
            Element(
                f"opening-{opening.id}", opening.name, opening.face.value, area, u_value, area * u_value,
                plan.heat.inside_c - outside_c,
            )
        )  # fmt: skip
    return found
