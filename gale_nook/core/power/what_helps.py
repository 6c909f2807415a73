"""What would raise the voltage at glow, one change at a time, ranked by what it gives."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from gale_nook.core.job import Job, fact
from gale_nook.core.plan.power import Power
from gale_nook.core.power.choice import cable_offers
from gale_nook.core.power.circuit import Piece
from gale_nook.core.power.leads import lead_run
from gale_nook.core.power.supply import PLUG_PIECE, ladders, ladders_of, supply

SHORTER_MM, WARMER_K = 1000.0, 10.0
LEAST_GAIN_V = 0.005


@dataclass(frozen=True, slots=True)
class Gain:
    """A change, and by how much it raises the voltage at the heater at glow."""

    words: str
    volts: float


@fact
def what_helps(job: Job) -> tuple[Gain, ...]:
    """Return single changes that raise it, the largest gain first; none without a ladder."""
    now = ladders(job).get("glow")
    if now is None or now.collapses:
        return ()
    results = []
    for words, power in _changes(job):
        there = job.with_parts(power=power)
        then = ladders(there).get("glow")
        if then is not None and then.heater_v - now.heater_v >= LEAST_GAIN_V:
            results.append(Gain(words, then.heater_v - now.heater_v))
    plug = _with_good_plug(job)
    if plug is not None and plug - now.heater_v >= LEAST_GAIN_V:
        results.append(Gain("a plug as good as a crimped joint", plug - now.heater_v))
    return tuple(sorted(results, key=lambda gain: -gain.volts))


def _with_good_plug(job: Job) -> float | None:
    """The voltage at glow with the plug's contacts as good as a crimped joint."""
    circuit, joint = supply(job), job.catalogue.power_equipment.contact("joint")
    if circuit is None:
        return None
    good = Piece(PLUG_PIECE, joint.resistance_mohm / 1000)
    pieces = tuple(good if piece.name == PLUG_PIECE else piece for piece in circuit.pieces)
    found = ladders_of(job, replace(circuit, pieces=pieces)).get("glow")
    return found.heater_v if found is not None else None


def _changes(job: Job) -> Iterator[tuple[str, Power]]:
    power, run = job.plan.power, lead_run(job, "supply")
    battery = power.battery
    if run is None or battery is None:
        return
    thicker = next((o for o in cable_offers(job) if o.cable.area_mm2 > run.lead.area_mm2), None)
    if thicker is not None:
        words = f"the next thicker cable, {thicker.cable.label}"
        yield words, _with_supply(power, area_mm2=thicker.cable.area_mm2)
    if run.length_mm > 2 * SHORTER_MM:
        yield "one metre less way", _with_supply(power, one_way_mm=run.length_mm - SHORTER_MM)
    joints = run.lead.of_kind("joint")
    if joints:
        parts = tuple(part for part in run.lead.parts if part.kind != "joint")
        yield "no joint in the cable", _with_supply(power, parts=parts)
    if power.feed != "posts":
        yield "fed at the battery's posts", power.model_copy(update={"feed": "posts"})
    if power.body_return:
        yield "a cable back", power.model_copy(update={"body_return": False})
    for words, changes in (
        (f"a battery {WARMER_K:g} K warmer", {"temperature_c": battery.temperature_c + WARMER_K}),
        ("a battery twice as large", {"capacity_ah": min(2 * battery.capacity_ah, 2000.0)}),
        ("a new battery", {"age_years": 0.0}),
        ("a full battery", {"charge_percent": 100.0, "open_v": None}),
    ):
        changed = battery.model_copy(update=changes)
        yield words, power.model_copy(update={"battery": changed})


def _with_supply(power: Power, **changes: object) -> Power:
    leads = tuple(
        lead.model_copy(update=changes) if lead.id == "supply" else lead for lead in power.leads
    )
    return power.model_copy(update={"leads": leads})
