"""Thermal transmittance of a build-up to ISO 6946."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from gale_nook.core.catalogue.envelope import Material
from gale_nook.core.heat.film import INSIDE_FILM_M2K_W, Flow, air_layer_m2k_w, foil_layer_m2k_w
from gale_nook.core.plan.vehicle import Layer


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
) -> BuildUp:
    """Return the resistances of a build-up of homogeneous layers and air layers.

    Ribs are not in it; they are counted apart by their length. Source: ISO 6946:2017, 6.7.1.
    """
    rows = [LayerResistance("inside film", None, INSIDE_FILM_M2K_W[flow])]
    for layer in layers:
        material = materials[layer.material]
        if material.facing_emissivity is not None:
            resistance = foil_layer_m2k_w(layer.thickness_mm, flow, material.facing_emissivity)
        elif material.conductivity_w_mk is None:
            resistance = air_layer_m2k_w(layer.thickness_mm, flow)
        else:
            resistance = layer.thickness_mm / 1000.0 / material.conductivity_w_mk
        rows.append(LayerResistance(material.label, layer.thickness_mm, resistance))
    rows.append(LayerResistance("outside film", None, outside_film_m2k_w))
    return BuildUp(tuple(rows))
