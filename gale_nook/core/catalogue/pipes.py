"""Burner pipes, and the constants of their heat and flow."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from gale_nook.core.base.sourced import Sourced


class PipeKind(Sourced):
    """A kind of burner pipe.

    Attributes:
        roughness_mm: equivalent sand roughness of its corrugation.
        emissivity: of its skin.
        corrugation_gain: how many times as much heat its wall takes from the gas as a smooth one:
            the upper end of what is measured, so that the skin is rather too hot.
        silencer_k: loss of the silencer on it, in velocity heads.
    """

    wall_mm: Annotated[float, Field(gt=0, le=5)]
    roughness_mm: Annotated[float, Field(ge=0, le=5)]
    emissivity: Annotated[float, Field(gt=0, le=1)]
    corrugation_gain: Annotated[float, Field(ge=1, le=5)] = 1.0
    silencer_k: Annotated[float, Field(ge=0, le=50)] = 0.0


class PipePhysics(Sourced):
    """What the heat and the flow of a burner's pipes are worked out with.

    Attributes:
        lagging_mm: thickness of one layer.
        shield_emissivity: of both faces of a bright shield.
        neighbour_emissivity, neighbour_film_w_m2k: of whatever is near a hot pipe, in still air.
        warm_day_c: air under the vehicle on a warm day, when neighbours get hottest.
        entry_k, cap_k, joint_k, filter_k: losses in velocity heads.
        collar_emissivity: of the metal collar in a mount's hole.
        clamp_mm: by which a clamp is thicker than its pipe, all round.
        sleeve_mm, grommet_mm: what a bulkhead fitting keeps between the panel's edge and an
            exhaust, and a cool pipe.
        spray_reach_mm, spray_rise_deg, spray_spread_deg: how far, how steep and how wide a wheel
            throws what it picks up.
        silencer_mm, air_filter_mm: how thick they are.
    """

    lagging_mm: Annotated[float, Field(gt=0, le=50)]
    lagging_w_mk: Annotated[float, Field(gt=0.01, le=1)]
    lagging_emissivity: Annotated[float, Field(gt=0, le=1)]
    shield_emissivity: Annotated[float, Field(gt=0, le=1)]
    neighbour_emissivity: Annotated[float, Field(gt=0, le=1)]
    neighbour_film_w_m2k: Annotated[float, Field(gt=0, le=50)]
    collar_emissivity: Annotated[float, Field(gt=0, le=1)]
    warm_day_c: Annotated[float, Field(ge=-20, le=60)]
    entry_k: Annotated[float, Field(ge=0, le=10)]
    cap_k: Annotated[float, Field(ge=0, le=50)]
    joint_k: Annotated[float, Field(ge=0, le=10)]
    filter_k: Annotated[float, Field(ge=0, le=50)]
    clamp_mm: Annotated[float, Field(ge=1, le=40)]
    sleeve_mm: Annotated[float, Field(ge=5, le=200)]
    grommet_mm: Annotated[float, Field(ge=0, le=50)]
    spray_reach_mm: Annotated[float, Field(ge=100, le=5000)]
    spray_rise_deg: Annotated[float, Field(gt=0, lt=80)]
    spray_spread_deg: Annotated[float, Field(ge=0, lt=60)]
    silencer_mm: Annotated[float, Field(ge=10, le=300)]
    air_filter_mm: Annotated[float, Field(ge=10, le=300)]
