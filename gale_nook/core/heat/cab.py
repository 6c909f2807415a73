"""The cab: behind a bulkhead or a curtain as an unheated buffer, or heated with the load space."""

from __future__ import annotations

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.catalogue.envelope import CabGuess
from gale_nook.core.heat.envelope import face_area_m2, partition
from gale_nook.core.heat.film import (
    AIR_HEAT_CAPACITY_J_KGK,
    INSIDE_FILM_M2K_W,
    Flow,
    air_density_kg_m3,
)
from gale_nook.core.heat.uvalue import build_up
from gale_nook.core.job import with_own_book
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.vehicle import Shell


def cab_loss_w_k(plan: Plan, catalogue: Catalogue) -> float:
    """Return what the cab loses to the outside: as typed, else guessed from the shell."""
    catalogue = with_own_book(plan, catalogue)
    typed = plan.heat.cab_loss_w_k
    return typed if typed is not None else guessed_cab_w_k(plan.vehicle.shell, catalogue.cab)


def guessed_cab_w_k(shell: Shell, guess: CabGuess) -> float:
    """Return the loss of a usual cab from the shell's dimensions, W/K.

    A box behind the engine: front, two sides and roof, partly glass; its floor with the shell; air
    at its own rate.
    """
    length = (shell.bulkhead_x_mm - shell.front_x_mm) / 1000 * guess.length_share
    width, height = shell.outer_width_mm / 1000, min(shell.inside_height_mm, guess.height_mm) / 1000
    upright_m2, level_m2 = width * height + 2 * length * height, 2 * length * width
    through = upright_m2 * (
        guess.glass_share * guess.u_glass_w_m2k + (1 - guess.glass_share) * guess.u_shell_w_m2k
    )
    air_kg_s = air_density_kg_m3(0.0, 0.0) * length * width * height * guess.changes_per_h / 3600
    return through + level_m2 * guess.u_shell_w_m2k + air_kg_s * AIR_HEAT_CAPACITY_J_KGK


def cab_share(plan: Plan, catalogue: Catalogue) -> float:
    """Return how far the cab's temperature lies between outside (0) and inside (1).

    By balance of what comes through the partition and what the cab loses, where that is given; else
    from the cab's temperature as typed for the coldest night; else 0. Both flows are in proportion
    to temperature differences, so the share holds at every outside temperature. A cab that is
    heated too is as warm as the inside.
    """
    heat = plan.heat
    between = partition(heat)
    if between is None:
        return 1.0
    if heat.cab_loss_w_k is not None:
        layers = next(surface.layers for surface in heat.surfaces if surface.id == between)
        film = INSIDE_FILM_M2K_W[Flow.SIDEWAYS]  # its far side is the still air of the cab
        worked = build_up(layers, catalogue.materials, Flow.SIDEWAYS, film)
        through = face_area_m2(plan.vehicle.shell, "bulkhead") * worked.u_w_m2k
        return through / (through + heat.cab_loss_w_k)
    if heat.cab_c is None:
        return 0.0
    return (heat.cab_c - heat.outside_c) / (heat.inside_c - heat.outside_c)
