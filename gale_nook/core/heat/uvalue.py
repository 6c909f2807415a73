"""Thermal transmittance of a build-up to ISO 6946."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from gale_nook.core.base.material import Material
from gale_nook.core.heat.film import (
    INSIDE_FILM_M2K_W,
    SMALL_DIFFERENCE_K,
    Flow,
    gap_m2k_w,
)
from gale_nook.core.plan.vehicle import Layer

ROUNDS = 12  # of the search for the differences across the air layers


@dataclass(frozen=True, slots=True)
class LayerResistance:
    """One row of a build-up's sum: what it is, its thickness and its resistance in m²K/W."""

    label: str
    thickness_mm: float | None
    resistance_m2k_w: float


@dataclass(frozen=True, slots=True)
class BuildUp:
    """A worked-out build-up: every resistance from inside to outside, and U in W/(m²K)."""

    rows: tuple[LayerResistance, ...]

    @property
    def resistance_m2k_w(self) -> float:
        return sum(row.resistance_m2k_w for row in self.rows)

    @property
    def u_w_m2k(self) -> float:
        return 1.0 / self.resistance_m2k_w


def build_up(
    layers: Sequence[Layer],
    materials: Mapping[str, Material],
    flow: Flow,
    outside_film_m2k_w: float,
    difference_k: float = 0.0,
) -> BuildUp:
    """Return the resistances of a build-up of homogeneous layers and air layers.

    Ribs are not in it; they are counted apart by their length. Source: ISO 6946:2017, 6.7.1.

    Args:
        difference_k: from inside to outside; an air layer across which more than 5 K fall
            insulates less.
    """
    result = _built(layers, materials, flow, outside_film_m2k_w, {})
    gaps = [n for n, layer in enumerate(layers) if _is_gap(materials[layer.material])]
    for _ in range(ROUNDS if gaps else 0):
        share = difference_k / result.resistance_m2k_w
        across = {n: share * result.rows[n + 1].resistance_m2k_w for n in gaps}
        if max(across.values()) <= SMALL_DIFFERENCE_K:
            break
        result = _built(layers, materials, flow, outside_film_m2k_w, across)
    return result


def _is_gap(material: Material) -> bool:
    return material.conductivity_w_mk is None or material.facing_emissivity is not None


def _built(
    layers: Sequence[Layer],
    materials: Mapping[str, Material],
    flow: Flow,
    outside_film_m2k_w: float,
    across_k: Mapping[int, float],
) -> BuildUp:
    rows = [LayerResistance("inside film", None, INSIDE_FILM_M2K_W[flow])]
    for number, layer in enumerate(layers):
        material = materials[layer.material]
        if _is_gap(material):
            across = across_k.get(number, 0.0)
            resistance = gap_m2k_w(layer.thickness_mm, flow, across, material.facing_emissivity)
        else:
            resistance = layer.thickness_mm / 1000.0 / (material.conductivity_w_mk or 1.0)
        rows.append(LayerResistance(material.label, layer.thickness_mm, resistance))
    rows.append(LayerResistance("outside film", None, outside_film_m2k_w))
    return BuildUp(tuple(rows))
