"""The night simulation against a generic adaptive solver on the same network with the same heater
output.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from scipy.integrate import solve_ivp

from benchmarks.timing import Figure, compare
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.heat.burner import Burner, derated_w
from gale_nook.core.heat.load_space import STEP_S, LoadSpace, load_space
from gale_nook.core.heat.loss import LossModel, heat_loss
from gale_nook.core.heat.night import go_on, set_temperature_c, simulate_night
from gale_nook.core.heat.season import heater_season, idle_share, season
from gale_nook.demo.load import demo_plan


def figures() -> Iterator[tuple[Figure, str]]:
    book, plan = load_catalogue(), demo_plan("heron")
    sheet = book.heaters["bothy-40"]
    most_w = derated_w(sheet.output, plan.heat.altitude_m)

    def ours() -> None:
        simulate_night(plan, book, sheet, most_w)

    outputs = _outputs()
    network, _ = load_space(plan, book)
    fixed = network.heat_from_fixed_w([plan.heat.outside_c, plan.heat.cab_c or plan.heat.outside_c])
    conductance = (
        np.diag(network.links_w_k.sum(axis=1) + network.fixed_w_k.sum(axis=1)) - network.links_w_k
    )

    def generic() -> None:
        temperatures = np.full(3, plan.heat.outside_c)
        for heat_w in outputs:
            into = fixed + np.array([heat_w, 0.0, 0.0])

            def slope(_: float, t: np.ndarray, into: np.ndarray = into) -> np.ndarray:
                return (into - conductance @ t) / network.capacities_j_k

            temperatures = solve_ivp(slope, (0, STEP_S), temperatures, rtol=1e-6).y[:, -1]

    yield (
        compare("a 14-hour night", ours, "scipy's adaptive RK45, rtol 1e-6", generic, 3),
        "under 20 ms, under 0.05 ×",
    )

    def every_heater() -> None:
        for each in book.heaters.values():
            simulate_night(plan, book, each, derated_w(each.output, plan.heat.altitude_m))

    yield compare("the night of all five heaters", every_heater, "one heater's", ours, 10), "-"

    def every_season() -> None:
        bins = season(plan, book)
        for each in book.heaters.values():
            heater_season(each, derated_w(each.output, plan.heat.altitude_m), bins)
            idle_share(plan, LossModel(plan, book), each.output.minimum_w)

    def one_loss() -> None:
        heat_loss(plan, book)

    yield (
        compare("all heaters over a season", every_season, "one heat loss", one_loss, 10),
        "under 300 ms",
    )


def _outputs() -> list[float]:
    """The heater's output in each step of Heron's night."""
    book, plan = load_catalogue(), demo_plan("heron")
    sheet = book.heaters["bothy-40"]
    room, burner, found = (
        LoadSpace(plan, book),
        Burner(sheet, derated_w(sheet.output, plan.heat.altitude_m)),
        [],
    )
    for step in range(round(plan.heat.night.hours_h * 3600 / STEP_S)):
        hour = plan.heat.night.start_h + step * STEP_S / 3600
        go_on(room, burner, set_temperature_c(plan.heat.night, plan.heat.inside_c, hour), 1)
        found.append(burner.output_w)
    return found
