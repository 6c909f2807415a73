"""What is usual at a first firing: times, spreads, what is looked at, and where to look when a
reading is off.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from gale_nook.core.base.models import CatalogueId, Frozen, Name, unique_ids
from gale_nook.core.base.phases import PhaseWord
from gale_nook.core.base.sourced import Sourced

Share = Annotated[float, Field(gt=0, lt=1)]
Range = tuple[Annotated[float, Field(ge=0, le=36_000)], Annotated[float, Field(ge=0, le=36_000)]]
ReadQuantity = Literal[
    "began_s", "voltage_v", "current_a", "pump_hz", "outlet_c", "smoke", "full", "code"
]
Side = Literal["low", "high"]
Text = Annotated[str, Field(min_length=4, max_length=400)]


class PhaseTold(Frozen):
    """A phase in words: what is seen, smelt and heard in it."""

    id: PhaseWord
    label: Name
    sees: Text
    smoke: Text
    sound: Text


class PreCheck(Frozen):
    """Something to look at before the heater is switched on.

    Attributes:
        when: what the job has to have for it; always where it is empty.
        caution: id of the caution that belongs to it; none where it is empty.
    """

    id: CatalogueId
    text: Text
    when: Literal["", "air", "coolant", "vehicle-tank", "own-tank", "drain", "alarm", "cap"] = ""
    caution: Annotated[str, Field(max_length=60)] = ""


class LookFirst(Frozen):
    """Where to look, in order, when a reading lies below or above what is expected.

    Attributes:
        phases: in which it is so; any where there are none.
    """

    id: CatalogueId
    quantity: ReadQuantity
    side: Side
    phases: tuple[PhaseWord, ...] = ()
    looks: Annotated[tuple[Text, ...], Field(min_length=1, max_length=8)]


class FaultKind(Frozen):
    """A fault of the simulated heater, and what it does.

    Attributes:
        harness_times, battery_times: on the resistance of wiring and battery.
        rest_less_v: off the voltage at rest of each block of 12 V.
        line_air_share: of what the line holds from the tank on, that is air as it starts.
        bubble_share: of the fuel that still comes while a bubble passes; 1 for no bubbles.
        fuel_most_share: of the fuel of most output, that can come at the most.
        pump_share: of each stroke that arrives.
        air_share: of the combustion air that comes at once; late_air_share: in the end.
        shut: outlets or valves that can be closed are.
        co_ppm_min: of carbon monoxide that comes inside for each minute of burning.
        sensor_share: of how much hotter the outlet is than the room, that the sensor feels.
        power_off_s: into the after-run, when the power is cut; None for never.
    """

    id: CatalogueId
    label: Name
    tells: Text
    harness_times: Annotated[float, Field(ge=1, le=20)] = 1.0
    battery_times: Annotated[float, Field(ge=1, le=20)] = 1.0
    rest_less_v: Annotated[float, Field(ge=0, le=3)] = 0.0
    line_air_share: Annotated[float, Field(ge=0, le=1)] = 0.0
    bubble_share: Annotated[float, Field(ge=0, le=1)] = 1.0
    fuel_most_share: Annotated[float, Field(gt=0, le=1)] = 1.0
    pump_share: Annotated[float, Field(ge=0, le=1)] = 1.0
    air_share: Annotated[float, Field(gt=0, le=1)] = 1.0
    late_air_share: Annotated[float, Field(gt=0, le=1)] = 1.0
    shut: bool = False
    co_ppm_min: Annotated[float, Field(ge=0, le=100)] = 0.0
    sensor_share: Annotated[float, Field(ge=0, le=1)] = 0.0
    power_off_s: Annotated[float, Field(ge=0, le=600)] | None = None


class Simulation(Frozen):
    """How the simulated heater behaves where no sheet says it.

    Attributes:
        check_s: of the fan check; ramp_s: from least to most output.
        element_c, ignites_c, element_tau_s: of the glowing element: where it ends at its nominal
            voltage, at which the fuel lights, how fast it follows.
        pump_after_s: of glowing, when the pump begins; at least output.
        flame_hold_s: for how long it glows on after the flame.
        try_s, tries: until it gives up without a flame, and how often it tries.
        chamber_tau_s: how fast the heat follows the fuel.
        starves_s: without enough fuel until the flame is out.
        lean, rich: excess air over and under which no flame burns; thick, some: under which it
            smokes so.
        under_voltage_s: under the cut-out until it stops.
        over_limit_k: over the outlet's limit, where it stops.
        snow_s: from when to when late_air_share builds up.
        bubble_s, bubble_every_s: how long a bubble passes, and about how often.
    """

    check_s: Annotated[float, Field(gt=0, le=60)]
    ramp_s: Annotated[float, Field(gt=0, le=900)]
    element_c: Annotated[float, Field(gt=300, le=1500)]
    ignites_c: Annotated[float, Field(gt=300, le=1200)]
    element_tau_s: Annotated[float, Field(gt=1, le=120)]
    pump_after_s: Annotated[float, Field(gt=0, le=180)]
    flame_hold_s: Annotated[float, Field(gt=0, le=120)]
    try_s: Annotated[float, Field(gt=30, le=600)]
    tries: Annotated[int, Field(ge=1, le=5)]
    chamber_tau_s: Annotated[float, Field(gt=1, le=300)]
    starves_s: Annotated[float, Field(gt=0, le=60)]
    lean: Annotated[float, Field(gt=1, le=10)]
    rich: Annotated[float, Field(gt=0.3, lt=1)]
    thick: Annotated[float, Field(gt=0.5, lt=2)]
    some: Annotated[float, Field(gt=0.5, lt=2)]
    under_voltage_s: Annotated[float, Field(gt=0, le=120)]
    over_limit_k: Annotated[float, Field(gt=0, le=60)]
    snow_s: Range
    bubble_s: Annotated[float, Field(gt=0, le=60)]
    bubble_every_s: Annotated[float, Field(gt=1, le=600)]
    faults: Annotated[tuple[FaultKind, ...], AfterValidator(unique_ids)]


class FiringBook(Sourced):
    """Times and spreads of a first firing.

    Attributes:
        check_s, flame_s: when glowing begins and when the flame is there, from switching on.
        flame_lasts_s, ramp_s: how long flame and ramp take.
        full_min: for how long the first run is at full.
        smoke_min: until when after the flame there is smoke.
        after_run_spread, wiring_spread, load_spread, pump_spread, rise_spread, skin_spread: shares
            by which what is computed may be off.
        rest_v, measured_v: by which a battery's voltage may be off, nobody having measured it, and
            measured; of a block of 12 V.
        coolant_k: by which a coolant's temperature may be off.
        long_run_min: how long the first long run takes at least; rechecks: what is looked at
            again after it.
    """

    check_s: Range
    flame_s: Range
    flame_lasts_s: Range
    ramp_s: Range
    full_min: Range
    smoke_min: Range
    after_run_spread: Share
    wiring_spread: Share
    load_spread: Share
    pump_spread: Share
    rise_spread: Share
    skin_spread: Share
    rest_v: Annotated[float, Field(gt=0, le=1)]
    measured_v: Annotated[float, Field(gt=0, le=0.5)]
    coolant_k: Annotated[float, Field(gt=0, le=20)]
    phases: Annotated[tuple[PhaseTold, ...], AfterValidator(unique_ids)]
    checks: Annotated[tuple[PreCheck, ...], AfterValidator(unique_ids)]
    long_run_min: Annotated[float, Field(gt=0, le=600)]
    rechecks: Annotated[tuple[PreCheck, ...], AfterValidator(unique_ids)]
    looks: Annotated[tuple[LookFirst, ...], AfterValidator(unique_ids)]
    simulation: Simulation

    def phase(self, phase: str) -> PhaseTold:
        return next(told for told in self.phases if told.id == phase)
