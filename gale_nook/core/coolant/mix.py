"""Water with glycol: its properties, how it freezes, and how volume and mass belong together."""

from __future__ import annotations

import math
from bisect import bisect_right
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, NamedTuple

import numpy as np

from gale_nook.core.catalogue.coolant import CoolantEquipment, Fluid, MixRow
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
    values: tuple[tuple[float, float, float, float], ...]

    def at(self, celsius: float) -> Properties:
        """Return the properties; below freezing and beyond the table those at its edge."""
        inside = min(max(celsius, self.celsius[0]), self.celsius[-1])
        high = min(max(bisect_right(self.celsius, inside), 1), len(self.celsius) - 1)
        low_c, high_c = self.celsius[high - 1], self.celsius[high]
        share = (inside - low_c) / (high_c - low_c)
        density, capacity, logarithm, conductivity = (
            a + share * (b - a)
            for a, b in zip(self.values[high - 1], self.values[high], strict=True)
        )
        return Properties(density, capacity, math.exp(logarithm), conductivity)


def mix_of(works: CoolantEquipment, fluid: Fluid, percent: float) -> Mix:
    """Return a mix by volume, straight between the strengths of the table."""
    celsius, percents, values, freezes = _grid(works.mixes, fluid)
    high = int(np.clip(np.searchsorted(percents, percent), 1, len(percents) - 1))
    share = (percent - percents[high - 1]) / (percents[high] - percents[high - 1])
    between = (1 - share) * values[high - 1] + share * values[high]
    table = tuple((float(r), float(c), float(v), float(k)) for r, c, v, k in between)
    return Mix(fluid, percent, float(np.interp(percent, percents, freezes)), celsius, table)


@lru_cache(maxsize=4)
def _grid(rows: tuple[MixRow, ...], fluid: Fluid) -> tuple[Any, Any, Any, Any]:
    """The table of a fluid: temperatures, strengths, (strengths, temperatures, 4), freezing."""
    of_it = [row for row in rows if row.fluid == fluid]
    celsius = sorted({row.celsius for row in of_it})
    percents = sorted({row.percent for row in of_it})
    place = {(row.percent, row.celsius): row for row in of_it}
    values = np.array(
        [
            [
                (
                    place[p, c].density_kg_m3,
                    place[p, c].heat_capacity_j_kgk,
                    np.log(place[p, c].viscosity_pa_s),
                    place[p, c].conductivity_w_mk,
                )
                for c in celsius
            ]
            for p in percents
        ]
    )
    freezes = np.array([place[p, celsius[0]].freezes_c for p in percents])
    return tuple(celsius), np.array(percents), values, freezes


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
