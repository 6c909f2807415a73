"""Water with glycol: its properties, how it freezes, and how volume and mass belong together."""

from __future__ import annotations

import math
from bisect import bisect_right
from dataclasses import dataclass
from typing import NamedTuple

from gale_nook.core.catalogue.coolant import CoolantEquipment, Fluid, MixValues
from gale_nook.core.job import Job, fact


class Properties(NamedTuple):
    """Of a mix at a temperature."""

    density_kg_m3: float
    heat_capacity_j_kgk: float
    viscosity_pa_s: float
    conductivity_w_mk: float


@dataclass(frozen=True)
class Mix:
    """A mix of one strength.

    Attributes:
        percent: by volume.
        freezes_c: first ice.
        celsius, values: temperatures of the table, rising, and properties there, with the
            viscosity's logarithm.
    """

    fluid: Fluid
    percent: float
    freezes_c: float
    celsius: tuple[float, ...]
    values: tuple[MixValues, ...]

    def at(self, celsius: float) -> Properties:
        """Return the properties; below freezing and beyond the table those at its edge."""
        inside = min(max(celsius, self.celsius[0]), self.celsius[-1])
        high = min(max(bisect_right(self.celsius, inside), 1), len(self.celsius) - 1)
        low_c, high_c = self.celsius[high - 1], self.celsius[high]
        share = (inside - low_c) / (high_c - low_c)
        density, capacity, logarithm, conductivity = _between(
            self.values[high - 1], self.values[high], share
        )
        return Properties(density, capacity, math.exp(logarithm), conductivity)


def mix_of(works: CoolantEquipment, fluid: Fluid, percent: float) -> Mix:
    """Return a mix by volume, straight between the strengths of the table."""
    table = works.mix_tables[fluid]
    high = min(max(bisect_right(table.percents, percent), 1), len(table.percents) - 1)
    low_p, high_p = table.percents[high - 1], table.percents[high]
    share = min(max((percent - low_p) / (high_p - low_p), 0.0), 1.0)
    values = tuple(
        _between(weak, strong, share)
        for weak, strong in zip(table.values[high - 1], table.values[high], strict=True)
    )
    weak_c, strong_c = table.freezes_c[high - 1], table.freezes_c[high]
    return Mix(fluid, percent, weak_c + share * (strong_c - weak_c), table.celsius, values)


def _between(one: MixValues, other: MixValues, share: float) -> MixValues:
    a, b, c, d = (x + share * (y - x) for x, y in zip(one, other, strict=True))
    return (a, b, c, d)


def by_volume(works: CoolantEquipment, fluid: Fluid, mass_percent: float) -> float:
    """Return the strength by volume of one by mass, of the pure liquids before they are mixed.

    >>> from types import SimpleNamespace
    >>> works = SimpleNamespace(pure_density={"ethylene": 1113.5, "water": 998.2})
    >>> round(by_volume(works, "ethylene", 50.0), 1)
    47.3
    """
    glycol = mass_percent / works.pure_density[fluid]
    water = (100.0 - mass_percent) / works.pure_density["water"]
    return 100.0 * glycol / (glycol + water)


@fact
def filled_mix(job: Job) -> Mix:
    """Return what the plan's loop is filled with."""
    works, coolant = job.catalogue.coolant_equipment, job.plan.coolant
    percent = coolant.glycol_percent
    if coolant.glycol_by == "mass":
        percent = by_volume(works, coolant.fluid, percent)
    return mix_of(works, coolant.fluid, percent)
