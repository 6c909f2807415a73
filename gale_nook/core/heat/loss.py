"""Heat loss of the load space, element by element."""

from __future__ import annotations

from dataclasses import dataclass, replace

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.air import FRESH_AIR_L_S, AirChange, leaks_m3_h, vent_m3_h
from gale_nook.core.heat.cab import cab_loss_w_k, cab_share
from gale_nook.core.heat.envelope import (
    FACE_NAMES,
    flow_of,
    opening_area_m2,
    partition,
    rib_length_m,
    surface_areas_m2,
    volume_m3,
)
from gale_nook.core.heat.film import (
    AIR_HEAT_CAPACITY_J_KGK,
    INSIDE_FILM_M2K_W,
    SHELTERED_WIND_SHARE,
    Flow,
    air_density_kg_m3,
    outside_film_m2k_w,
)
from gale_nook.core.heat.uvalue import BuildUp, LayerResistance, build_up
from gale_nook.core.job import Job, fact, with_own_book
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.heat import HeatNeed
from gale_nook.core.plan.vehicle import Vehicle

SHELTERED = {"floor", "arches"}


@dataclass(frozen=True, slots=True)
class Element:
    """One path of the heat.

    Attributes:
        id, face: stable id, and the face of the shell that it belongs to ("-" for ribs).
        area_m2, u_w_m2k: None for ribs, which have a length and ψ instead, and for a cab that is
            heated too.
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


def heat_loss(plan: Plan, catalogue: Catalogue, outside_c: float | None = None) -> HeatLoss:
    """Return the steady loss of the load space at an outside temperature (the design one when
    None).

    Model: ISO 6946 transmittances on the inside dimensions, windows and doors taken out of their
    face, ribs as linear bridges, air change by volume; gains from people and appliances are left
    out. Floor and wheel arches see half the wind; bulkhead or curtain lose to the cab (see
    `cab_share`), which is heated with its own loss where nothing is between. An opening larger than
    its face is a finding of the heat station; the face then counts as none.
    """
    catalogue = with_own_book(plan, catalogue)
    return LossModel(plan, catalogue).at(plan.heat.outside_c if outside_c is None else outside_c)


@dataclass(frozen=True, slots=True)
class _Face:
    """What of a face does not depend on the outside temperature."""

    id: str
    area_m2: float
    rows: tuple[LayerResistance, ...]
    inner_m2k_w: float


class LossModel:
    """The loss of one plan as a function of the outside temperature; what does not depend on it is
    worked out once. Air layers are taken as on the coldest night, when they insulate least.
    """

    def __init__(self, plan: Plan, catalogue: Catalogue) -> None:
        self._vehicle, self._catalogue, self._heat = plan.vehicle, catalogue, plan.heat
        self._share = cab_share(plan, catalogue)
        self._space_m3 = volume_m3(plan.vehicle)
        self._faces = [
            self._face(face, area)
            for face, area in surface_areas_m2(plan.vehicle, plan.heat).items()
        ]
        self._rest = [*_openings(plan, catalogue), *_bridges(plan, catalogue)]

    def _face(self, face: str, area_m2: float) -> _Face:
        stacks = {surface.id: surface.layers for surface in self._heat.surfaces}
        layers = self._vehicle.floor.layers if face == "floor" else stacks[face]  # type: ignore[index]
        difference = self._heat.inside_c - self._heat.outside_c
        difference *= 1 - self._share if face in {"bulkhead", "curtain"} else 1.0
        rows = build_up(layers, self._catalogue.materials, flow_of(face), 0.0, difference).rows[:-1]
        return _Face(face, area_m2, rows, sum(row.resistance_m2k_w for row in rows))

    def at(self, outside_c: float) -> HeatLoss:
        """Return the loss at an outside temperature."""
        heat = self._heat
        difference = heat.inside_c - outside_c
        cab_c = outside_c + self._share * difference
        films = {
            "open": outside_film_m2k_w(heat.wind_m_s, outside_c),
            "sheltered": outside_film_m2k_w(heat.wind_m_s * SHELTERED_WIND_SHARE, outside_c),
            "cab": INSIDE_FILM_M2K_W[Flow.SIDEWAYS],  # the still air of the cab
        }
        elements = [
            self._element(face, films, difference, heat.inside_c - cab_c) for face in self._faces
        ]
        elements += [
            Element(id_, name, face, area, u_value, conductance, difference)
            for id_, name, face, area, u_value, conductance in self._rest
        ]
        if heat.learned.loss != 1.0:
            elements = [_times(element, heat.learned.loss) for element in elements]
        air = air_change(self._vehicle, self._heat, self._catalogue, self._space_m3, outside_c)
        flow_kg_s = air_density_kg_m3(heat.altitude_m, outside_c) * air.total_m3_h / 3600
        flow_kg_s *= heat.learned.air
        ventilation_w = flow_kg_s * AIR_HEAT_CAPACITY_J_KGK * difference
        ordered = tuple(sorted(elements, key=lambda element: (-element.loss_w, element.id)))
        total_w = sum(element.loss_w for element in ordered) + ventilation_w
        need_w = total_w * (1 + heat.margin_percent / 100)
        return HeatLoss(
            ordered, self._space_m3, ventilation_w, total_w, need_w, outside_c, cab_c, air
        )

    @staticmethod
    def _element(
        face: _Face, films: dict[str, float], difference_k: float, to_cab_k: float
    ) -> Element:
        side = (
            "cab"
            if face.id in {"bulkhead", "curtain"}
            else "sheltered"
            if face.id in SHELTERED
            else "open"
        )
        film = films[side]
        u_value = 1.0 / (face.inner_m2k_w + film)
        worked = BuildUp((*face.rows, LayerResistance("outside film", None, film)))
        by = to_cab_k if side == "cab" else difference_k
        return Element(
            face.id,
            FACE_NAMES[face.id],
            face.id,
            face.area_m2,
            u_value,
            face.area_m2 * u_value,
            by,
            worked,
        )


@fact
def loss_model(job: Job) -> LossModel:
    """Return the loss as a function of the outside temperature."""
    return LossModel(job.plan, job.catalogue)


@fact
def design_loss(job: Job) -> HeatLoss:
    """Return the loss on the coldest night."""
    return loss_model(job).at(job.plan.heat.outside_c)


@fact
def mild_night_loss(job: Job) -> HeatLoss:
    """Return the loss on the mild night, where the heater should still burn clean."""
    return loss_model(job).at(job.plan.heat.mild_outside_c)


def air_change(
    vehicle: Vehicle, heat: HeatNeed, catalogue: Catalogue, space_m3: float, outside_c: float
) -> AirChange:
    """Return the air renewed: leaks by class or as typed, and the vents and windows left open."""
    if heat.leakage is None:
        leaks = heat.air_changes_per_h * space_m3
    else:
        leaks = leaks_m3_h(catalogue.leakage[heat.leakage].changes_per_h, space_m3, heat.wind_m_s)
    column_m = vehicle.shell.inside_height_mm / 2000
    vents = sum(
        vent_m3_h(opening.open_cm2, column_m, heat.wind_m_s, heat.inside_c, outside_c)
        for opening in vehicle.openings
        if opening.open_cm2 > 0
    )
    return AirChange(leaks, vents, heat.sleepers * FRESH_AIR_L_S * 3.6)


def _times(element: Element, factor: float) -> Element:
    """An element that loses so many times as much."""
    return replace(
        element,
        u_w_m2k=element.u_w_m2k * factor if element.u_w_m2k is not None else None,
        conductance_w_k=element.conductance_w_k * factor,
    )


_Plain = tuple[
    str, str, str, float | None, float | None, float
]  # id, name, face, area, U, conductance


def _openings(plan: Plan, catalogue: Catalogue) -> list[_Plain]:
    results: list[_Plain] = []
    for opening in plan.vehicle.openings:
        glazing = catalogue.glazings[opening.glazing]
        u_value = glazing.u_covered_w_m2k if opening.covered else glazing.u_w_m2k
        area = opening_area_m2(opening)
        results.append(
            (
                f"opening-{opening.id}",
                opening.name,
                opening.face.value,
                area,
                u_value,
                area * u_value,
            )
        )
    return results


def _bridges(plan: Plan, catalogue: Catalogue) -> list[_Plain]:
    """Return the ribs, and the cab where it is heated too: they have a conductance, but no
    build-up.
    """
    heat, result = plan.heat, list[_Plain]()
    length_m = rib_length_m(plan.vehicle, heat)
    if length_m > 0:
        ribs = catalogue.rib_kinds[heat.ribs.kind]
        result.append(("ribs", f"Ribs, {ribs.label}", "-", None, None, ribs.psi_w_mk * length_m))
    if partition(heat) is None:
        result.append(
            ("cab", "Cab, heated too", "bulkhead", None, None, cab_loss_w_k(plan, catalogue))
        )
    return result
