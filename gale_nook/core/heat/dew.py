"""Where moisture settles: surface and interface temperatures against the dew point."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.errors import BadInput
from gale_nook.core.heat.envelope import flow_of
from gale_nook.core.heat.film import INSIDE_FILM_M2K_W
from gale_nook.core.heat.loss import HeatLoss


def saturation_pressure_pa(celsius: float) -> float:
    """Return the saturation pressure of water vapour, over ice below 0 °C.

    Source: ISO 13788:2012, annex E (E.7, E.8); good to 0.5 % from −40 to 50 °C.

    >>> round(saturation_pressure_pa(20.0))
    2337
    """
    if celsius >= 0:
        return 610.5 * math.exp(17.269 * celsius / (237.3 + celsius))
    return 610.5 * math.exp(21.875 * celsius / (265.5 + celsius))


def dew_point_c(celsius: float, humidity_percent: float) -> float:
    """Return the temperature at which air of a relative humidity begins to drop its water.

    Source: ISO 13788:2012, annex E (E.9, E.10), the inverse of the above.

    Raises:
        BadInput: humidity outside 1 to 100 %.
    """
    if not 1 <= humidity_percent <= 100:
        raise BadInput("humidity", humidity_percent, "Relative humidity from 1 to 100 % is taken.")
    ratio = math.log(saturation_pressure_pa(celsius) * humidity_percent / 100 / 610.5)
    return 237.3 * ratio / (17.269 - ratio) if ratio >= 0 else 265.5 * ratio / (21.875 - ratio)


@dataclass(frozen=True, slots=True)
class ColdSpot:
    """A surface, or an interface inside a build-up, with its temperature and how far that lies
    above the dew point.

    Attributes:
        element: id of the heat loss's element that it belongs to.
    """

    element: str
    face: str
    name: str
    where: str
    celsius: float
    above_dew_k: float


def cold_spots(loss: HeatLoss, inside_c: float, humidity_percent: float) -> tuple[ColdSpot, ...]:
    """Return the inside surface of every element and the first interface of each build-up that is
    below the dew point.

    Coldest first. One-dimensional, steady, at the outside temperature of `loss`; the metal of ribs
    is not judged.
    """
    dew = dew_point_c(inside_c, humidity_percent)
    results = []
    for element in loss.elements:
        if element.u_w_m2k is None:
            continue
        film = (
            element.build_up.rows[0].resistance_m2k_w
            if element.build_up is not None
            else INSIDE_FILM_M2K_W[flow_of(element.face)]
        )
        watts_m2 = element.u_w_m2k * element.difference_k
        surface = inside_c - watts_m2 * film
        results.append(
            ColdSpot(
                element.id, element.face, element.name, "inside surface", surface, surface - dew
            )
        )
        if element.build_up is None or surface < dew:
            continue
        reached = surface
        for row, behind in zip(element.build_up.rows[1:-1], element.build_up.rows[2:], strict=True):
            reached -= watts_m2 * row.resistance_m2k_w
            if reached < dew:
                results.append(
                    ColdSpot(
                        element.id,
                        element.face,
                        element.name,
                        f"between {row.label} and {behind.label}",
                        reached,
                        reached - dew,
                    )
                )
                break
    return tuple(sorted(results, key=lambda spot: spot.celsius))
