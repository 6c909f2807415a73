"""How warm the edge of a hole gets through which the hot pipe leads: bare, or behind a metal
collar.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import scipy  # its parts are read when they are first used

from gale_nook.core.catalogue.pipes import PipePhysics
from gale_nook.core.physics.air import conductivity_w_mk
from gale_nook.core.physics.constants import STEFAN_BOLTZMANN, ZERO_C_K
from gale_nook.core.physics.roots import root_of

SOLVED_K = 1e-4
TOUCHING_MM = 5.0  # nearer than that a collar has no room to carry the heat off


@dataclass(frozen=True, slots=True)
class EdgeLayer:
    """One layer of what the hole goes through."""

    thickness_mm: float
    conductivity_w_mk: float


def edge_c(
    skin_c: float,
    pipe_mm: float,
    gap_mm: float,
    layer: EdgeLayer,
    ambient_c: float,
    works: PipePhysics,
) -> float:
    """Return the temperature of a layer's edge round a hot pipe, with still air between.

    The edge takes heat by radiation between the two cylinders and by conduction through the air of
    the gap, as if the gap were everywhere as narrow as where it is narrowest; the layer carries it
    away like a wide disc that one face cools. What the pipe itself loses by that is left out, so
    the edge is rather too hot.

    Args:
        skin_c: of the pipe; pipe_mm: its outside diameter.
        gap_mm: between pipe and edge; what touches has the pipe's temperature.

    Source: H. D. Baehr, K. Stephan, Heat and Mass Transfer, 3rd ed., 2.2.3 (disc fin), 5.5
    (radiation between cylinders).
    """
    if gap_mm <= 0:
        return skin_c
    inner, outer = pipe_mm / 2000, pipe_mm / 2000 + gap_mm / 1000
    emissivity = works.neighbour_emissivity
    # of the pipe as dark as what is round it: rather too much
    between = inner / outer / (1 / emissivity + inner / outer * (1 / emissivity - 1))
    carried = disc_w_m2k(outer, layer, works.neighbour_film_w_m2k)

    def surplus(celsius: float) -> float:
        through = conductivity_w_mk((skin_c + celsius) / 2) / (outer * math.log(outer / inner))
        radiated = between * _radiated(skin_c, celsius)
        return float(radiated + through * (skin_c - celsius) - carried * (celsius - ambient_c))

    return root_of(lambda c: -surplus(c), ambient_c, max(skin_c, ambient_c), SOLVED_K)


def disc_w_m2k(radius_m: float, layer: EdgeLayer, film_w_m2k: float) -> float:
    """Return what a wide disc carries off from the edge of the hole in its middle, per area of that
    edge; one face gives off, the other does not.

    >>> layer = EdgeLayer(thickness_mm=12.0, conductivity_w_mk=0.13)
    >>> round(disc_w_m2k(1000.0, layer, 6.0), 2)  # of a very wide hole: the straight fin's √(h·λ/d)
    8.06
    """
    wave = math.sqrt(film_w_m2k / (layer.conductivity_w_mk * layer.thickness_mm / 1000))
    x = wave * radius_m
    ratio = float(scipy.special.k1e(x) / scipy.special.k0e(x))
    return layer.conductivity_w_mk * wave * ratio


def collar_c(
    skin_c: float,
    pipe_mm: float,
    hole_mm: float,
    gap_mm: float,
    behind: Sequence[EdgeLayer],
    works: PipePhysics,
) -> float:
    """Return the temperature of the metal collar in a hole, which is that of the edges behind it.

    The collar spreads what it takes all round and along, so it has one temperature; the open air of
    its well cools its inside on a warm day, and what it is let into carries heat off like discs.
    The steel of the floor would carry off the most and is left out: nobody knows how well it
    touches. Where the pipe comes nearer to the collar than TOUCHING_MM it is taken to be as hot as
    the pipe.

    Args:
        behind: layers of board and foam that touch the collar.
    """
    if gap_mm < TOUCHING_MM:
        return skin_c
    discs = [
        (layer.thickness_mm, disc_w_m2k(hole_mm / 2000, layer, works.neighbour_film_w_m2k))
        for layer in behind
    ]
    thick = sum(thickness for thickness, _ in discs)
    carried = sum(thickness * each for thickness, each in discs) / thick if thick else 0.0
    ambient, inner, outer = works.warm_day_c, pipe_mm / 2000, hole_mm / 2000
    seen, emissivity = inner / outer, works.collar_emissivity

    def surplus(celsius: float) -> float:
        through = conductivity_w_mk((skin_c + celsius) / 2) / (outer * math.log(outer / inner))
        taken = emissivity * seen * _radiated(skin_c, celsius) + through * (skin_c - celsius)
        film = (works.neighbour_film_w_m2k + carried) * (celsius - ambient)
        return float(taken - film - emissivity * (1 - seen) * _radiated(celsius, ambient))

    return root_of(lambda c: -surplus(c), ambient, max(skin_c, ambient), SOLVED_K)


def _radiated(hot_c: float, cold_c: float) -> float:
    return float(STEFAN_BOLTZMANN * ((hot_c + ZERO_C_K) ** 4 - (cold_c + ZERO_C_K) ** 4))
