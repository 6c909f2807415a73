"""Build-ups, openings, air tightness, cab and weather: what heat loss is computed with."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from gale_nook.core.base.models import CatalogueId
from gale_nook.core.base.sourced import Sourced


class BuildUpPreset(Sourced):
    """A usual build-up to start from: pairs of material and thickness (mm), from
    inside to outside.
    """

    layers: Annotated[
        tuple[tuple[CatalogueId, Annotated[float, Field(gt=0, le=300)]], ...], Field(min_length=1)
    ]


class Leakage(Sourced):
    """How tight a body is: changes of air an hour at 4 m/s of wind."""

    changes_per_h: Annotated[float, Field(gt=0, le=20)]


class CabGuess(Sourced):
    """A usual cab, where its loss is not measured: how much of its length is cab, its height, glass
    and air.
    """

    length_share: Annotated[float, Field(gt=0, le=1)]
    height_mm: Annotated[float, Field(gt=500, le=3000)]
    glass_share: Annotated[float, Field(ge=0, le=1)]
    u_glass_w_m2k: Annotated[float, Field(gt=0.2, le=8)]
    u_shell_w_m2k: Annotated[float, Field(gt=0.2, le=8)]
    changes_per_h: Annotated[float, Field(ge=0, le=20)]


class Region(Sourced):
    """A made-up region: the mean of each month from January on, and the spread of its hours."""

    mean_c: Annotated[
        tuple[Annotated[float, Field(ge=-50, le=45)], ...], Field(min_length=12, max_length=12)
    ]
    spread_k: Annotated[float, Field(gt=0.5, le=15)]


class Glazing(Sourced):
    """A kind of window, door or vent; `u_covered_w_m2k` holds with its insulating cover on."""

    u_w_m2k: Annotated[float, Field(ge=0.2, le=8)]
    u_covered_w_m2k: Annotated[float, Field(ge=0.2, le=8)]


class RibKind(Sourced):
    """A kind of thermal bridge along a rib."""

    psi_w_mk: Annotated[float, Field(ge=0, le=3)]
