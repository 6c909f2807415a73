"""The cable and the fuse that do: the smallest of each, and what the next ones would give."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.catalogue.power import CableSize
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.heater.limits import least_of, most_of
from gale_nook.core.job import Job, fact
from gale_nook.core.power.copper import ampacity_a, awg_at_least, awg_words, grouped
from gale_nook.core.power.leads import LeadRun, lead_run
from gale_nook.core.power.supply import ladder_drop_v, ladders_with

DROP_PERCENT, MARGIN_V = 3.0, 0.3


@dataclass(frozen=True, slots=True)
class CableOffer:
    """A standard cable on the way that is drawn.

    Attributes:
        awg: the gauge that is not thinner.
        drop_v, drop_percent: between battery and heater, running at most output.
        glow_v, stop_v: at the heater at glow in the evening and at the stop in the morning.
        ampacity_a: warm, and with others beside it.
        mass_kg, price: of both conductors.
        why_not: what it does not do; empty where it does.
    """

    cable: CableSize
    awg: str
    drop_v: float
    drop_percent: float
    glow_v: float
    stop_v: float
    ampacity_a: float
    mass_kg: float
    price: float
    why_not: str

    @property
    def does(self) -> bool:
        return not self.why_not


def carries_a(job: Job, area_mm2: float) -> float:
    """Return the current that a conductor carries where it lies; between standard areas that of the
    next thinner, 0 below the thinnest.
    """
    power, works = job.plan.power, job.catalogue.power_equipment
    thinner = [c for c in works.cables if c.area_mm2 <= area_mm2 + 1e-6]
    if not thinner:
        return 0.0
    cable = max(thinner, key=lambda c: c.area_mm2)
    alone = ampacity_a(cable, power.insulation_c, power.surroundings_c, works.ampacity_at_c)
    return alone * grouped(works.groupings, power.bundle)


def most_current_a(job: Job) -> float:
    """Return the largest current that the heater draws for minutes; 0 without a heater."""
    sheet = heater_sheet(job)
    if sheet is None:
        return 0.0
    return max(sheet.electrical.glow_current_a, sheet.electrical.run_maximum_a)


@fact
def cable_offers(job: Job) -> tuple[CableOffer, ...]:
    """Return every standard cable, the thinnest first; none while the circuit is not complete."""
    run = lead_run(job, "supply")
    if run is None or not ladders_with(job, run, run.lead.area_mm2):
        return ()
    return tuple(_offer(job, run, cable) for cable in job.catalogue.power_equipment.cables)


@fact
def smallest_cable(job: Job) -> CableOffer | None:
    """Return the thinnest standard cable that does; None where none does."""
    return next((offer for offer in cable_offers(job) if offer.does), None)


def _offer(job: Job, run: LeadRun, cable: CableSize) -> CableOffer:
    sheet, works = heater_sheet(job), job.catalogue.power_equipment
    if sheet is None:
        raise ValueError("there is no heater yet")
    found = ladders_with(job, run, cable.area_mm2)
    drop_v = ladder_drop_v(found["run"])
    percent = 100 * drop_v / sheet.electrical.voltage_v
    carries = carries_a(job, cable.area_mm2)
    metres = 2 * run.length_mm / 1000
    mass = works.copper.density_kg_m3 * cable.area_mm2 * 1e-6 * metres
    glow, stop = found["glow"].heater_v, found["stop"].heater_v
    least_v = sheet.electrical.cut_out_v + least_of(job, "cut_out_margin_v", MARGIN_V)
    reasons = ["the voltage collapses"] if any(each.collapses for each in found.values()) else []
    if percent > most_of(job, "run_drop_percent", DROP_PERCENT):
        reasons.append("drops too much running")
    if min(glow, stop) < least_v:
        reasons.append("sags too low at glow")
    if carries < most_current_a(job):
        reasons.append("does not carry the start")
    return CableOffer(
        cable,
        awg_words(awg_at_least(cable.area_mm2)),
        drop_v,
        percent,
        glow,
        stop,
        carries,
        mass,
        cable.price_per_m * metres,
        ", ".join(reasons),
    )


def thinnest_mm2(run: LeadRun) -> float:
    """Return the thinnest conductor of the supply: the cable's, or the heater's own lead's."""
    own = run.kit.area_mm2 if run.kit is not None else run.lead.area_mm2
    return min(own, run.lead.area_mm2)


def fitting_fuses(job: Job) -> tuple[float, ...]:
    """Return the standard ratings between what the heater draws and what its thinnest conductor
    carries, the smallest first; none without a cable.
    """
    run = lead_run(job, "supply")
    if run is None:
        return ()
    least, most = most_current_a(job), carries_a(job, thinnest_mm2(run))
    return tuple(
        size.rating_a
        for size in job.catalogue.power_equipment.fuses
        if least <= size.rating_a <= most
    )
