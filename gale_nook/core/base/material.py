"""A material of a build-up; shared by catalogue and plan."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from gale_nook.core.base.models import CatalogueId
from gale_nook.core.base.sourced import Sourced


class Material(Sourced):
    """A material of a build-up.

    Attributes:
        conductivity_w_mk: design value; None for an unventilated air layer.
        facing_emissivity: of the foil that an air layer faces; None for ordinary surfaces on both
            sides.
        like: material of surveyed parts that stands as much heat; None for what heat does not harm.
    """

    conductivity_w_mk: Annotated[float, Field(ge=0.01, le=500)] | None
    density_kg_m3: Annotated[float, Field(ge=1, le=12_000)]
    heat_capacity_j_kgk: Annotated[float, Field(ge=300, le=5_000)]
    use: Literal["lining", "insulation", "skin", "floor", "air"]
    facing_emissivity: Annotated[float, Field(gt=0, le=1)] | None = None
    like: CatalogueId | None = None
