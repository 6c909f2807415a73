"""Properties of glycol mixes by a fluid-property library, in an environment of its own: cases as
JSON on standard input, (fluid, percent by volume, °C); on standard output density, heat capacity,
viscosity, conductivity and freezing point. Run by tests and benchmarks.
"""

from __future__ import annotations

import json
import sys
from typing import Any

FLUIDS = {"ethylene": "AEG", "propylene": "APG"}


def properties(fluid: str, percent: float, celsius: float) -> list[float]:
    """Return them for one mix."""
    from CoolProp.CoolProp import PropsSI  # type: ignore[import-not-found]  # noqa: PLC0415

    name: Any = f"INCOMP::{FLUIDS[fluid]}[{percent / 100}]"
    found = [float(PropsSI(what, "T", celsius + 273.15, "P", 2e5, name)) for what in "DCVL"]
    return [*found, float(PropsSI("T_freeze", "T", 300, "P", 2e5, name)) - 273.15]


if __name__ == "__main__":
    json.dump([properties(*case) for case in json.load(sys.stdin)], sys.stdout)
