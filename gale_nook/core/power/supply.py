"""The supply: every piece between battery and heater, and the voltage ladder of each state."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from gale_nook.core.base.heater_sheet import Electrical, LoadKind
from gale_nook.core.catalogue.power import FuseSize
from gale_nook.core.fitted.night import fitted_night
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.power.batteries import BatteryState, battery_state
from gale_nook.core.power.circuit import Ladder, Load, Piece, ladder
from gale_nook.core.power.copper import resistance_ohm
from gale_nook.core.power.leads import LeadRun, lead_run

State = Literal["glow", "run", "stop"]
STATES: tuple[State, ...] = ("glow", "run", "stop")
STATE_WORDS: dict[State, str] = {
    "glow": "at glow, in the evening",
    "run": "running at most output",
    "stop": "at the second glow of the stop, in the morning",
}
BATTERY = "battery"
HEATER_PIECE, PLUG_PIECE = "cable back", "plug"


@dataclass(frozen=True)
class Supply:
    """The circuit as it is laid.

    Attributes:
        pieces: without the battery, in the order in which the current passes them.
        cable_ohm: of both conductors of the supply cable alone.
    """

    run: LeadRun
    pieces: tuple[Piece, ...]
    cable_ohm: float

    @property
    def wiring_ohm(self) -> float:
        """Everything but the battery."""
        return sum(piece.resistance_ohm for piece in self.pieces)


@fact
def supply(job: Job) -> Supply | None:
    """Return the circuit; None while heater, battery or cable are missing."""
    run, sheet = lead_run(job, "supply"), heater_sheet(job)
    if run is None or sheet is None or job.plan.power.battery is None:
        return None
    return supply_with(job, run, run.lead.area_mm2)


def supply_with(job: Job, run: LeadRun, area_mm2: float) -> Supply:
    """Return the circuit with a cable of another area.

    The heater's own supply lead is the last stretch of the way, there and back; the cable is the
    rest.
    """
    power, works = job.plan.power, job.catalogue.power_equipment
    copper, warm = works.copper, power.surroundings_c
    kit = run.kit
    tail_mm = min(kit.length_mm, run.length_mm) if kit is not None else 0.0
    own_mm = run.length_mm - tail_mm
    cable = resistance_ohm(copper, own_mm, area_mm2, warm)
    tail = resistance_ohm(copper, tail_mm, kit.area_mm2, warm) if kit is not None else 0.0
    terminal, joint = works.contact("terminal"), works.contact("joint")
    fuses = run.lead.of_kind("fuse")
    sizes = {size.rating_a: size for size in works.fuses}
    holder = works.contact("holder").resistance_mohm / 1000
    fuse_ohm = sum(_fuse_mohm(sizes, fuse.rating_a) / 1000 for fuse in fuses)
    joints = len(run.lead.of_kind("joint")) * joint.resistance_mohm / 1000
    back = works.contact("body").resistance_mohm / 1000 if power.body_return else cable
    feed = works.feed(power.feed).contact_mohm / 1000
    pieces = (
        Piece("battery post and feed", terminal.resistance_mohm / 1000 + feed),
        Piece("fuse", fuse_ohm),
        Piece("fuse holder", holder * len(fuses)),
        Piece("cable out", cable + joints),
        Piece(PLUG_PIECE, works.contact("plug").resistance_mohm / 1000),
        Piece("heater's own lead", tail),
        Piece(HEATER_PIECE, back + tail + joints + terminal.resistance_mohm / 1000),
    )
    return Supply(run, pieces, cable + (0.0 if power.body_return else cable))


def _fuse_mohm(sizes: dict[float, FuseSize], rating_a: float) -> float:
    """The resistance of a fuse; of one that is not of the series, that of the next smaller."""
    known = sorted(sizes)
    size = next((r for r in reversed(known) if r <= rating_a), known[0])
    return sizes[size].resistance_mohm


def load_of(electrical: Electrical, state: State) -> Load:
    """Return what the heater draws in a state: the element glows, or it runs at most output."""
    if state == "run":
        return as_load(electrical.run_load, electrical.run_maximum_a, electrical.voltage_v)
    return as_load(electrical.glow_load, electrical.glow_current_a, electrical.voltage_v)


def as_load(kind: LoadKind, current_a: float, at_v: float) -> Load:
    """Return a load of some kind that draws a current at a voltage."""
    if kind == "resistive":
        return Load(conductance_s=current_a / at_v)
    return Load(current_a=current_a) if kind == "current" else Load(power_w=current_a * at_v)


@fact
def battery_now(job: Job) -> BatteryState | None:
    """Return the battery as the night begins."""
    battery = job.plan.power.battery
    if battery is None:
        return None
    return battery_state(battery, job.catalogue.power_equipment.chemistry(battery.chemistry))


@fact
def night_ah(job: Job) -> float | None:
    """Return the charge of the coldest night that the heater takes, at its own voltage, pump and
    controller included; None without a heater.
    """
    sheet = heater_sheet(job)
    if sheet is None:
        return None
    return fitted_night(job, sheet.id).electricity_wh / sheet.electrical.voltage_v


@fact
def battery_in_the_morning(job: Job) -> BatteryState | None:
    """Return the battery after the night, with all that others draw."""
    battery, state, drawn = job.plan.power.battery, battery_now(job), night_ah(job)
    if battery is None or state is None or drawn is None:
        return None
    drawn += sum(load.charge_ah for load in job.plan.power.loads)
    chemistry = job.catalogue.power_equipment.chemistry(battery.chemistry)
    return battery_state(battery, chemistry, state.after(drawn))


@fact
def ladders(job: Job) -> dict[State, Ladder]:
    """Return the voltage ladder of each state; empty while the circuit is not complete."""
    circuit = supply(job)
    return ladders_of(job, circuit) if circuit is not None else {}


def ladders_of(job: Job, circuit: Supply) -> dict[State, Ladder]:
    """Return the ladders of a circuit; empty while heater or battery are missing."""
    sheet, now, morning = heater_sheet(job), battery_now(job), battery_in_the_morning(job)
    if sheet is None or now is None or morning is None:
        return {}
    results: dict[State, Ladder] = {}
    for state in STATES:
        battery = morning if state == "stop" else now
        sag_v = battery.resistance_ohm * job.plan.power.start_load_a
        inner = Piece(BATTERY, battery.resistance_ohm)
        found = ladder(
            battery.open_v - sag_v, (inner, *circuit.pieces), load_of(sheet.electrical, state)
        )
        results[state] = found
    return results


def ladders_with(job: Job, run: LeadRun, area_mm2: float) -> dict[State, Ladder]:
    """Return the ladders with a cable of another area."""
    return ladders_of(job, supply_with(job, run, area_mm2))


def ladder_drop_v(found: Ladder) -> float:
    """Return what is lost between the battery's posts and the heater."""
    return sum(rung.drop_v for rung in found.rungs if rung.name != BATTERY)
