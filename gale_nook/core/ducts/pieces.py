"""The pieces of some ducts, and how they resist with the air that is in them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from gale_nook.core.ducts.layout import DuctPiece
from gale_nook.core.ducts.network import Resistance
from gale_nook.core.physics.air import density_kg_m3, viscosity_pa_s


def resistances_of(
    pieces: Iterable[DuctPiece], loss_k: Iterable[float], air_c: Iterable[float], air_pa: float
) -> list[Resistance]:
    """Return pieces as resistances: each with its loss in velocity heads and its air."""
    return [
        piece.bore.resistance(
            piece.duct, loss, float(density_kg_m3(air_pa, celsius)), float(viscosity_pa_s(celsius))
        )
        for piece, loss, celsius in zip(pieces, loss_k, air_c, strict=True)
    ]


def pieces_of_ducts(pieces: Sequence[DuctPiece], ducts: Sequence[int]) -> tuple[DuctPiece, ...]:
    """The pieces of some ducts, these numbered anew."""
    number = {old: new for new, old in enumerate(ducts)}
    return tuple(
        piece if number[piece.duct] == piece.duct else replace(piece, duct=number[piece.duct])
        for piece in pieces
        if piece.duct in number
    )
