"""What of the warm air does not change while throttles are turned: ducts cut into pieces, walls,
openings, and where each duct leads.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from gale_nook.core.catalogue.air import DuctKind
from gale_nook.core.ducts.convector import convector_fan, ducted_convector, ducts_wanted
from gale_nook.core.ducts.ends import cold_end, warm_end
from gale_nook.core.ducts.fan import FanValues, fan_values
from gale_nook.core.ducts.friction import friction_load
from gale_nook.core.ducts.network import Bore
from gale_nook.core.ducts.places import CAB, OUTSIDE, place_of, set_c
from gale_nook.core.ducts.returns import return_openings
from gale_nook.core.ducts.tree import DuctRun, Piece, duct_runs, pieces_of, reducer_k, return_run
from gale_nook.core.ducts.warmth import Wall
from gale_nook.core.heat.burner import derated_w
from gale_nook.core.heat.film import pressure_pa
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.physics.air import density_kg_m3, viscosity_pa_s
from gale_nook.core.plan.air import LIVING, ReturnOpening

LEAST_AREA_M2 = 1e-6  # of an opening that is covered all over: air hardly passes
OPEN_END_K = 1.0  # the velocity head of what leaves
SHARP_EDGED_K = 2.8  # of a gap: 1/0.6², any hydraulics text
TIGHT_DIVIDERS = ("door", "panel")  # through which air passes only where there is an opening
WIND_SHARE = 0.5  # of the wind that the underside of a vehicle sees, as in the heat loss


@dataclass(frozen=True, slots=True)
class DuctPiece:
    """A piece of one of several ducts.

    Attributes:
        duct: number of the duct.
        loss_k: of what is in it, velocity heads.
        place: whose air is around it.
    """

    duct: int
    length_m: float
    bore: Bore
    loss_k: float
    wall: Wall
    place: str


@dataclass(frozen=True, slots=True)
class WayBack:
    """How the air comes back to the heater.

    Attributes:
        area_m2: free area of all openings; None where it breathes freely, or nobody has said.
        loss: Pa per (kg/s)² at 1 kg/m³, of the openings.
        inlet_c: temperature at which it is drawn in.
        zones: whose air that is.
        known: whether enough was said of it to tell.
    """

    area_m2: float | None
    loss: float
    inlet_c: float
    zones: tuple[str, ...]
    known: bool


@dataclass(frozen=True)
class Layout:
    """The warm air of a job, all throttles open.

    Attributes:
        most_w, least_w: that the heater gives at the place.
        air_pa: pressure of the place's air.
        runs: the ducts, each after the one that it comes from; none where it blows free or through
            a panel.
        pieces: of them, in their order.
        own_k: of each outlet fully open in velocity heads of its duct, by duct.
        place: in whose air the heater stands.
        gaps_m2: opening of each zone that air passes out of only there.
        panel_loss, panel_area_m2: of a panel that it blows through: Pa per (kg/s)² at 1 kg/m³, and
            its open area; 0 for none.
        outlet_bore_mm: of each duct that ends in an outlet.
        zone_c: temperature that each place is to have.
    """

    fan: FanValues
    most_w: float
    least_w: float
    air_pa: float
    reference_kg_m3: float
    runs: tuple[DuctRun, ...]
    pieces: tuple[DuctPiece, ...]
    own_k: dict[str, float]
    place: str
    back: WayBack
    back_duct: tuple[DuctPiece, ...]
    gaps_m2: dict[str, float]
    panel_loss: float
    panel_area_m2: float
    outlet_bore_mm: dict[str, float]
    zone_c: dict[str, float]

    def density_kg_m3(self, celsius: float) -> float:
        """Return the density of air of some temperature at the place's pressure."""
        return float(density_kg_m3(self.air_pa, celsius))

    def factor(self, run: DuctRun, flow_kg_s: float, celsius: float, bore_mm: float) -> float:
        """Return the friction factor of a duct at a flow, with another bore."""
        viscosity = float(viscosity_pa_s(celsius))
        reynolds = 4 * flow_kg_s / (math.pi * bore_mm / 1000 * viscosity)
        load, _ = friction_load(reynolds, run.kind.roughness_mm / bore_mm)
        return load / reynolds**2

    @property
    def children(self) -> dict[str | None, tuple[str, ...]]:
        """Ids of the ducts that go on from each, by its id."""
        result: dict[str | None, tuple[str, ...]] = {}
        for run in self.runs:
            before = run.duct.comes_from
            result[before] = (*result.get(before, ()), run.duct.id)
        return result


@fact
def layout(job: Job) -> Layout | None:
    """Return the warm air's layout; None without a placed air heater or a ducted convector, and
    where that is to blow into ducts and there are none.

    What a convector gives is not the layout's: its output counts for nothing here.
    """
    sheet, end, fan = heater_sheet(job), warm_end(job), fan_of(job)
    if sheet is None or fan is None or end is None:
        return None
    runs = duct_runs(job) if ducts_wanted(job) else ()
    if ducts_wanted(job) and not runs:
        return None
    return Layout(
        fan=fan,
        most_w=derated_w(sheet.output, job.plan.heat.altitude_m),
        least_w=sheet.output.minimum_w,
        air_pa=pressure_pa(job.plan.heat.altitude_m),
        reference_kg_m3=job.catalogue.air_equipment.physics.fan_reference_kg_m3,
        runs=runs,
        pieces=_blown_pieces(job) if runs else (),
        own_k={run.duct.id: _end_k(job, run) for run in runs},
        place=place_of(job, end[0]),
        back=way_back(job),
        back_duct=_back_pieces(job),
        gaps_m2=_gaps(job),
        panel_loss=_panel_loss(job),
        panel_area_m2=panel_area_m2(job),
        outlet_bore_mm=_outlet_bores(job, runs),
        zone_c={place: set_c(job, place) for place in _places(job)},
    )


def fan_of(job: Job) -> FanValues | None:
    """Return the fan that blows: the heater's, or that of the convector that ducts begin at, as it
    is set; None without one.
    """
    if (found := ducted_convector(job)) is not None:
        return convector_fan(job, found[0].fan)
    sheet = heater_sheet(job)
    return fan_values(sheet, job.catalogue.air_equipment.typical) if sheet is not None else None


def free_area_m2(job: Job, opening: ReturnOpening) -> float:
    """Return the free area of an opening: the share of its grille, less what is covered."""
    grille = job.catalogue.air_equipment.grille(opening.grille)
    whole = opening.width_mm * opening.height_mm / 1e6
    return whole * grille.open_share * (1 - opening.covered_percent / 100)


@fact
def way_back(job: Job) -> WayBack:
    """Return how the air comes back to the heater, by what was said of its cold end."""
    air, end = job.plan.air, cold_end(job)
    here = place_of(job, end[0]) if end is not None else OUTSIDE
    if air.cold_end == "free":
        return WayBack(None, 0.0, set_c(job, here), (here,), known=True)
    openings = return_openings(job)
    if not openings:
        known = air.cold_end == "duct" and air.return_duct is not None
        run = return_run(job)
        there = place_of(job, run.geometry.mouth) if run is not None else here
        return WayBack(None, 0.0, set_c(job, there), (there,), known)
    areas = [max(free_area_m2(job, opening), LEAST_AREA_M2) for opening in openings]
    losses = [
        job.catalogue.air_equipment.grille(opening.grille).loss_k / (2 * area**2)
        for opening, area in zip(openings, areas, strict=True)
    ]
    # openings side by side: at one pressure the flows add up
    shares = [loss**-0.5 for loss in losses]
    whole = sum(shares)
    inlet = sum(
        share / whole * _space_c(job, opening)
        for share, opening in zip(shares, openings, strict=True)
    )
    zones = tuple(dict.fromkeys(o.zone if o.space == "room" else OUTSIDE for o in openings))
    return WayBack(sum(free_area_m2(job, o) for o in openings), whole**-2, inlet, zones, True)


def _space_c(job: Job, opening: ReturnOpening) -> float:
    outside = opening.space in {"outside", "engine-bay"}
    return set_c(job, OUTSIDE if outside else opening.zone)


def _first_losses(job: Job, runs: Sequence[DuctRun], fan: FanValues) -> Iterator[tuple[str, float]]:
    """What each duct loses where it begins, in velocity heads of its own: the splitter's leg, and
    the step from the bore before it.
    """
    known = {run.duct.id: run for run in runs}
    for run in runs:
        before = known.get(run.duct.comes_from or "")
        bore = before.kind.bore_mm if before is not None else fan.bore_mm
        loss = reducer_k(bore, run.kind.bore_mm)
        if before is not None and before.duct.splitter is not None:
            splitter = job.catalogue.air_equipment.splitter(before.duct.splitter)
            loss += splitter.branch_k if run.duct.leg == "branch" else splitter.straight_k
        yield run.duct.id, loss


def _inlet_k(run: DuctRun, fan: FanValues) -> float:
    """Of a return duct: its step to the inlet's bore, in velocity heads of its own."""
    bore, own = fan.inlet_mm, run.kind.bore_mm
    return reducer_k(own, bore) * (own / bore) ** 4


def _end_k(job: Job, run: DuctRun) -> float:
    """The outlet's loss fully open, in velocity heads of its duct; of an open end the head that
    leaves.
    """
    if run.duct.outlet is None:
        return OPEN_END_K
    outlet, own = job.catalogue.air_equipment.outlet(run.duct.outlet.kind), run.kind.bore_mm
    return (reducer_k(own, outlet.bore_mm) + outlet.open_k) * (own / outlet.bore_mm) ** 4


def _gaps(job: Job) -> dict[str, float]:
    """Opening of each zone behind a door or panels, which is not the one that the air is drawn
    from.
    """
    drawn = set(way_back(job).zones)
    return {
        zone.id: max(zone.opening_cm2 / 1e4, LEAST_AREA_M2)
        for zone in job.plan.air.zones
        if zone.divider in TIGHT_DIVIDERS and zone.id not in drawn
    }


def panel_area_m2(job: Job) -> float:
    """Return the open area of the panel that the heater blows through; 0 where it does not."""
    air = job.plan.air
    if air.warm_end != "panel" or ducted_convector(job) is not None:
        return 0.0
    grille = job.catalogue.air_equipment.grille(air.panel_grille)
    return air.panel_width_mm * air.panel_height_mm / 1e6 * grille.open_share


def _panel_loss(job: Job) -> float:
    area = panel_area_m2(job)
    if area <= 0:
        return 0.0
    grille = job.catalogue.air_equipment.grille(job.plan.air.panel_grille)
    return grille.loss_k / (2 * area**2)


def _outlet_bores(job: Job, runs: Iterable[DuctRun]) -> dict[str, float]:
    outlets = ((run.duct.id, run.duct.outlet) for run in runs)
    works = job.catalogue.air_equipment
    return {name: works.outlet(outlet.kind).bore_mm for name, outlet in outlets if outlet}


def _places(job: Job) -> tuple[str, ...]:
    return (LIVING, CAB, OUTSIDE, *(zone.id for zone in job.plan.air.zones))


@fact
def _blown_pieces(job: Job) -> tuple[DuctPiece, ...]:
    """Of the tree's ducts, with what each loses where it begins."""
    runs, fan = duct_runs(job), fan_of(job)
    return _pieces(job, runs, dict(_first_losses(job, runs, fan))) if fan is not None else ()


@fact
def _back_pieces(job: Job) -> tuple[DuctPiece, ...]:
    """Of the duct that brings air back; none without one."""
    run, fan = return_run(job), fan_of(job)
    if run is None or fan is None:
        return ()
    return _pieces(job, (run,), {run.duct.id: _inlet_k(run, fan)})


def _pieces(
    job: Job, runs: Iterable[DuctRun], first_k: Mapping[str, float]
) -> tuple[DuctPiece, ...]:
    return tuple(
        DuctPiece(
            number,
            piece.length_mm / 1000,
            Bore.of(piece.length_mm / 1000, run.kind.bore_mm / 1000, run.kind.roughness_mm / 1000),
            piece.loss_k + (first_k[run.duct.id] if index == 0 else 0.0),
            _wall(job, run.kind, piece),
            piece.place,
        )
        for number, run in enumerate(runs)
        for index, piece in enumerate(pieces_of(job, run))
    )


def _wall(job: Job, kind: DuctKind, piece: Piece) -> Wall:
    works = job.catalogue.air_equipment.physics
    wind = 4 + 4 * job.plan.heat.wind_m_s * WIND_SHARE  # ISO 6946:2017, annex C
    outer_mm = kind.outer_mm
    skin_mm = outer_mm + 2 * piece.layers * works.lagging_mm
    return Wall(
        bore_m=kind.bore_mm / 1000,
        skin_m=skin_mm / 1000,
        lagging_mk_w=math.log(skin_mm / outer_mm) / (2 * math.pi * works.lagging_w_mk),
        emissivity=works.lagging_emissivity if piece.layers else kind.emissivity,
        heat_gain=kind.heat_gain,
        ambient_c=set_c(job, piece.place),
        wind_w_m2k=wind if piece.place == OUTSIDE else 0.0,
        air_pa=pressure_pa(job.plan.heat.altitude_m),
    )
