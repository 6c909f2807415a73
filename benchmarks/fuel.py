"""The fuel's rules against those of the pipes; ways for the line; the tank's litres against
counting them out by quadrature.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from scipy import integrate

from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.checking import check
from gale_nook.core.fuel.line_proposals import line_proposals
from gale_nook.core.fuel.start import starting_line
from gale_nook.core.fuel.tank import area_below_mm2, dip_stick, vessel_of
from gale_nook.core.job import Job
from gale_nook.demo.load import demo_plan


def figures() -> Iterator[tuple[Figure, str]]:
    book, plan = load_catalogue(), demo_plan("heron")

    def rules() -> None:
        check(plan, book, ("fuel",))

    def pipe_rules() -> None:
        check(plan, book, ("pipes",))

    yield compare("all fuel rules of Heron", rules, "all its pipe rules", pipe_rules), "under 10 ms"
    yield (
        compare(
            "laying Heron's fuel line",
            lambda: starting_line(Job(plan, book)),
            "all its fuel rules",
            rules,
            3,
        ),
        "-",
    )
    ways = "three lines for Heron, each with its pump placed"
    yield (
        compare(ways, lambda: line_proposals(Job(plan, book)), "all its fuel rules", rules, 3),
        "-",
    )
    tank = demo_plan("wren").fuel.tank
    if tank is None:
        return
    vessel = vessel_of(tank)
    half, middle = (vessel.end_mm - vessel.start_mm) / 2, (vessel.top_mm + vessel.bottom_mm) / 2

    def by_quadrature() -> None:
        def area(s: float) -> float:
            t = vessel.section[:, 0] - vessel.middle[1]
            return float(
                area_below_mm2(t, vessel.section[:, 1], np.array([middle + 0.05 * s]), 0.03)[0]
            )

        integrate.quad(area, -half, half, limit=200)

    yield (
        compare(
            "litres of a tank on a slope",
            lambda: vessel.litres(middle, 0.05, 0.03),
            "adaptive quadrature",
            by_quadrature,
        ),
        "-",
    )
    yield (
        compare(
            "dip-stick of Wren's tank",
            lambda: dip_stick(vessel, 10.0),
            "one litre sum",
            lambda: vessel.litres(middle),
        ),
        "-",
    )
