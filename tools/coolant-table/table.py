"""Prints properties of water with glycol, by volume, as CSV: the rows of the catalogue's table."""

from __future__ import annotations

import csv
import sys
from typing import Any

PERCENTS = (0, 10, 15, 20, 25, 30, 35, 40, 45, 50, 55, 60)
CELSIUS = tuple(range(-35, 101, 5))
FLUIDS = {"ethylene": "AEG", "propylene": "APG"}  # tables by volume, after ASHRAE
PRESSURE_PA = 2e5
HEAD = (
    "fluid",
    "percent",
    "celsius",
    "density_kg_m3",
    "heat_capacity_j_kgk",
    "viscosity_pa_s",
    "conductivity_w_mk",
    "freezes_c",
)


def row(fluid: str, percent: int, celsius: int) -> list[Any]:
    """Return a row; below freezing it holds what the mix has as it freezes."""
    from CoolProp.CoolProp import PropsSI  # type: ignore[import-not-found]  # noqa: PLC0415

    if percent == 0:
        name, freezes = "INCOMP::Water", 0.0
    else:
        name = f"INCOMP::{FLUIDS[fluid]}[{percent / 100}]"
        freezes = PropsSI("T_freeze", "T", 300, "P", PRESSURE_PA, name) - 273.15
    at = min(max(celsius, freezes + 0.01, -34.99), 99.9) + 273.15
    found = [PropsSI(what, "T", at, "P", PRESSURE_PA, name) for what in "DCVL"]
    return [fluid, percent, celsius, *(f"{value:.6g}" for value in found), f"{freezes:.2f}"]


def main() -> None:
    """Write all rows."""
    writer = csv.writer(sys.stdout, lineterminator="\n")
    writer.writerow(HEAD)
    for fluid in FLUIDS:
        for percent in PERCENTS:
            writer.writerows(row(fluid, percent, celsius) for celsius in CELSIUS)


if __name__ == "__main__":
    main()
