"""Small vehicles for whole layouts: Heron's shell with few things in it, and nothing laid."""

from __future__ import annotations

import random

from gale_nook.core.plan.air import Air
from gale_nook.core.plan.build import Build
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.firing import Firing
from gale_nook.core.plan.wishes import Wishes
from gale_nook.demo.load import demo_plan

ALWAYS = {"tank", "bed", "member-1", "member-3", "rail-left", "rail-right"}


def small_van(seed: int = 0, *, more: int = 3, wishes: Wishes | None = None) -> Plan:
    """Return a surveyed van with little in it, its heater chosen, blowing free, fuel from the
    vehicle's tank.

    Args:
        more: how many of Heron's other parts stand in it, as the seed has them.
    """
    heron = demo_plan("heron")
    others = [solid for solid in heron.vehicle.solids if solid.id not in ALWAYS]
    kept = {solid.id for solid in random.Random(seed).sample(others, more)} | ALWAYS
    solids = tuple(solid for solid in heron.vehicle.solids if solid.id in kept)
    vehicle = heron.vehicle.model_copy(update={"solids": solids, "features": ()})
    return heron.model_copy(
        update={
            "name": f"Small van {seed}",
            "vehicle": vehicle,
            "spot": None,
            "candidates": (),
            "pilots": (),
            "pipes": heron.pipes.model_copy(update={"exhaust": None, "intake": None}),
            "fuel": heron.fuel.model_copy(update={"line": None}),
            "air": Air(),
            "power": heron.power.model_copy(update={"leads": ()}),
            "build": Build(),
            "firing": Firing(),
            "acceptances": (),
            "wishes": wishes if wishes is not None else Wishes(),
        }
    )
