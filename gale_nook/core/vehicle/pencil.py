"""Pencilled values: what nobody has typed or measured yet. Typing one, or saying that it is right,
inks it.
"""

from __future__ import annotations

from collections.abc import Iterable

from gale_nook.core.edits import address as addresses
from gale_nook.core.edits.command import Data
from gale_nook.core.errors import BadInput
from gale_nook.core.plan.heat import HeatNeed
from gale_nook.core.plan.solids import Solid
from gale_nook.core.plan.vehicle import Vehicle

DIMENSIONS = (
    "x_mm",
    "y_mm",
    "z_mm",
    "length_mm",
    "width_mm",
    "height_mm",
    "diameter_mm",
    "points",
    "outline",
    "material",
)
MAIN_FACES = ("roof", "left", "right", "rear", "bulkhead")
OPENING_LEAVES = ("start_mm", "base_mm", "length_mm", "height_mm", "glazing")


def part_addresses(solid: Solid, drawn: Iterable[str] = ()) -> tuple[str, ...]:
    """Return the addresses of what makes a part where and how large it is.

    Args:
        drawn: fields that are left out.
    """
    here, data = f"vehicle.solids.{solid.id}", solid.model_dump(mode="json")
    left = [name for name in DIMENSIONS if name in data and name not in set(drawn)]
    return tuple(
        address for name in left for address in addresses.leaves(data[name], f"{here}.{name}")
    )


def body_addresses(vehicle: Vehicle) -> tuple[str, ...]:
    """Return the addresses of all that a body type gives: main dimensions, floor and openings."""
    data = vehicle.model_dump(mode="json")
    shell = [f"vehicle.shell.{name}" for name, value in data["shell"].items() if value is not None]
    floor = [
        address
        for address, value in addresses.leaves(data["floor"], "vehicle.floor").items()
        if value is not None and not address.endswith((".id", addresses.ORDER))
    ]
    openings = [
        f"vehicle.openings.{opening.id}.{leaf}"
        for opening in vehicle.openings
        for leaf in OPENING_LEAVES
    ]
    return (*shell, *floor, *openings)


def heat_addresses(heat: HeatNeed) -> tuple[str, ...]:
    """Return the addresses of what a new job takes for granted of its heat: build-ups of the main
    faces, ribs, leaks, and the coldest night.
    """
    layers = [
        f"heat.surfaces.{surface.id}.layers.{layer.id}.{leaf}"
        for surface in heat.surfaces
        if surface.id in MAIN_FACES
        for layer in surface.layers
        for leaf in ("material", "thickness_mm")
    ]
    ribs = ["heat.ribs.kind", *(["heat.ribs.pitch_mm"] if heat.ribs.pitch_mm is not None else [])]
    return (*layers, *ribs, "heat.air_changes_per_h", "heat.outside_c")


def ink(data: Data, typed: Iterable[str]) -> None:
    """Take out of a plan's pencilled values those that were typed, and those that are gone.

    Args:
        data: of the plan, changed in place.
        typed: addresses of values, or of what holds some.
    """
    pencilled = data["vehicle"]["pencilled"]
    if not pencilled:
        return
    inked = tuple(typed)
    data["vehicle"]["pencilled"] = [
        address
        for address in pencilled
        if not any(address == each or address.startswith(f"{each}.") for each in inked)
        and _is_there(data, address)
    ]


def _is_there(data: Data, address: str) -> bool:
    try:
        addresses.find(data, address)
    except BadInput:
        return False
    return True
