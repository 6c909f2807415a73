"""The six sources of fuel: which of them there can be, what each needs, risks, leaves and lasts."""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.fitted.night import fitted_night
from gale_nook.core.fuel.line import supply, vehicle_tank
from gale_nook.core.fuel.tank import vessel_of_solid
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job, fact
from gale_nook.core.plan.fuel import OWN_TANKS, FuelSource
from gale_nook.core.plan.vehicle import VehicleFuel
from gale_nook.core.plan.words import SOURCE_WORDS

NEEDS: dict[FuelSource, str] = {
    "take-off": "The spare pipe on the tank's sender unit, found and open.",
    "stand-pipe": (
        "A hole in the tank's top: empty the tank first, support it, never alone under it."
    ),
    "tee-feed": (
        "The line between tank and lift pump, which is not under pressure; clamps on all "
        "three ends."
    ),
    "tee-return": "The line back to the tank, where fuel always flows; clamps on all three ends.",
    "tee-auxiliary": (
        "The auxiliary line's way and bore up to the tee, and what its heater draws; a check valve "
        "in each branch."
    ),
    "tank-outside": "A bracket, a vent, a guard against stones and sun, a filler in reach.",
    "tank-inside": "A vent led outside, a filler that does not spill indoors, a tray below.",
}
UNDER_PRESSURE = {
    "tank": "The vehicle's lift pump sits in the tank: the feed is under pressure all the way.",
    "unknown": (
        "Find out first where the vehicle's lift pump sits: one in the tank puts the whole "
        "feed under pressure."
    ),
}
RISKS: dict[FuelSource, str] = {
    "take-off": "Some end so high that half a tank stays in it: dip it.",
    "stand-pipe": "A leak on top of the tank is seen late.",
    "tee-feed": "The engine can draw air through the heater's line.",
    "tee-return": "Runs dry when the engine stands; surges while it runs.",
    "tee-auxiliary": "Two pumps on one pipe: the weaker one draws air.",
    "tank-outside": "Stones, frost in the line, and another fuel to keep.",
    "tank-inside": "Every drop spilt is smelt for weeks.",
}


@dataclass(frozen=True, slots=True)
class Offer:
    """One source.

    Attributes:
        against: why it cannot be; empty where it can.
        usable_l: of a full tank; None where that is not known yet.
        leaves_l: what stays in a full tank: under the pick-up, or kept to drive on.
        nights: that it lasts at the coldest night's use.
    """

    source: FuelSource
    words: str
    needs: str
    risks: str
    against: str
    usable_l: float | None
    leaves_l: float | None
    nights: float | None


def offers(job: Job, per_night_l: float | None) -> tuple[Offer, ...]:
    """Return all six, those that cannot be with the reason.

    Args:
        per_night_l: what `night_fuel_l` gives.
    """
    results = []
    for source, words in SOURCE_WORDS.items():
        shares = shares_l(job, source)
        usable, leaves = shares if shares is not None else (None, None)
        nights = usable / per_night_l if usable is not None and per_night_l else None
        results.append(
            Offer(
                source,
                words,
                NEEDS[source],
                RISKS[source],
                against(job, source),
                usable,
                leaves,
                nights,
            )
        )
    return tuple(results)


def against(job: Job, source: FuelSource) -> str:
    """Return why a source cannot be used here; empty where it can."""
    sheet = heater_sheet(job)
    vehicle, fuel = job.plan.vehicle, job.plan.fuel
    if source in {"tank-outside", "tank-inside"}:
        return ""
    if vehicle.fuel is not VehicleFuel.DIESEL:
        return {
            VehicleFuel.PETROL: "The vehicle runs on petrol.",
            VehicleFuel.ELECTRIC: "The vehicle has no fuel tank.",
        }.get(vehicle.fuel, "The body has no fuel of its own; nothing is tied to what carries it.")
    if source in {"take-off", "stand-pipe", "tee-auxiliary"}:
        return (
            ""
            if vehicle_tank(job) is not None
            else "No fuel tank is surveyed, or it is not said which."
        )
    if sheet is not None and not sheet.tee_allowed:
        return f"The sheet of {sheet.label} forbids a tee in a fuel line."
    if source == "tee-feed" and fuel.lift_pump != "engine":
        return UNDER_PRESSURE[fuel.lift_pump]
    wanted = {"tee-feed": "feed", "tee-return": "return"}[source]
    return (
        ""
        if fuel.tee == wanted
        else "The job does not want this line tapped: it is left to the settings below."
    )


def shares_l(job: Job, source: FuelSource) -> tuple[float, float] | None:
    """Return what a full tank gives the heater, and what it leaves: under the tip, or the reserve
    of a vehicle's tank.
    """
    fuel = job.plan.fuel
    if source == fuel.source:
        taken = supply(job)
        if taken is None or taken.vessel is None:
            return None
        vessel = taken.vessel
        kept = taken.unusable_l if taken.own else max(taken.unusable_l, fuel.reserve_l)
    else:
        solid = vehicle_tank(job) if source not in OWN_TANKS else None
        result = vessel_of_solid(solid, fuel.tank_wall_mm) if solid is not None else None
        if result is None:
            return None
        piped = source in {"take-off", "stand-pipe", "tee-auxiliary"}
        vessel = result
        kept = max(
            vessel.litres(vessel.bottom_mm + fuel.stand_pipe_mm) if piped else 0.0, fuel.reserve_l
        )
    return max(vessel.full_l - kept, 0.0), min(kept, vessel.full_l)


@fact
def night_fuel_l(job: Job) -> float | None:
    """Return the fuel of the coldest night, as simulated; None without a heater."""
    sheet = heater_sheet(job)
    if sheet is None:
        return None
    return fitted_night(job, sheet.id).fuel_l
