"""Pieces of duct as arrays: some of them, and what they resist."""

from __future__ import annotations

from typing import Any

import numpy as np

from gale_nook.core.ducts.layout import PieceArrays
from gale_nook.core.ducts.network import Resistances


def resistances_of(
    pieces: PieceArrays, density: Any, viscosity: Any, loss_k: Any, branches: int
) -> Resistances:
    """Return pieces as resistances, with air of some density and viscosity in each, (n,)."""
    return Resistances(
        pieces.duct,
        pieces.length_m,
        pieces.bore_m,
        pieces.roughness_m,
        loss_k,
        density,
        viscosity,
        branches,
    )


def pieces_of_ducts(pieces: PieceArrays, ducts: tuple[int, ...]) -> PieceArrays:
    """The pieces of some ducts, these numbered anew."""
    kept = np.flatnonzero(np.isin(pieces.duct, ducts))
    if len(kept) == len(pieces.duct):
        return pieces
    number = {old: new for new, old in enumerate(ducts)}
    walls = pieces.walls
    here = ("ambient_c", "wind_w_m2k")
    fields = ("bore_m", "outer_m", "skin_m", "lagging_mk_w", "emissivity", "heat_gain", *here)
    return PieceArrays(
        np.array([number[int(old)] for old in pieces.duct[kept]]),
        pieces.length_m[kept],
        pieces.bore_m[kept],
        pieces.roughness_m[kept],
        pieces.loss_k[kept],
        type(walls)(**{name: getattr(walls, name)[kept] for name in fields}, air_pa=walls.air_pa),
        tuple(pieces.places[i] for i in kept.tolist()),
    )
