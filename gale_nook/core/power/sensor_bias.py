"""How wrong a sensor reads where it hangs: in a jet, beside the heater, on a wall, in the sun."""

from __future__ import annotations

import math
from dataclasses import dataclass

from gale_nook.core.air.hot import Jet, jets
from gale_nook.core.geometry.frames import Vec3, dot, norm, scale, sub
from gale_nook.core.geometry.shapes import box_shape, separation
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.job import Job, fact
from gale_nook.core.power.leads import sensor_place
from gale_nook.core.spot.placement import heater_body_shape

CASING_K = 35.0  # of a heater's casing over the room, at most output; workshop assumption
CASING_REACH_MM = 500.0
SUN_K = 6.0  # what low winter sun adds on a dark housing; workshop assumption


@dataclass(frozen=True, slots=True)
class Bias:
    """What a sensor reads over the room's air.

    Attributes:
        kelvin: more (the room stays colder than it is set to), or less.
        reasons: what adds to it.
        night_percent: by which a night takes more heat for it; negative for less.
    """

    kelvin: float
    reasons: tuple[str, ...]
    night_percent: float


@fact
def sensor_bias(job: Job) -> Bias | None:
    """Return it; None while nobody has said where the sensor hangs."""
    place, controller = sensor_place(job), job.plan.power.controller
    if place is None or controller is None:
        return None
    parts: list[tuple[str, float]] = [
        (f"in the air of {jet.name}", in_jet_k(jet, place)) for jet in jets(job)
    ]
    if controller.sensor != "heater":
        parts.append(("beside the heater", beside_heater_k(job, place)))
    if controller.sensor == "controller":
        if controller.mounted == "outer-wall":
            parts.append(("on a cold outer wall", on_wall_k(job, place)))
        if controller.sun:
            parts.append(("in the sun", SUN_K))
    felt = [(words, kelvin) for words, kelvin in parts if abs(kelvin) >= 0.1]
    total = sum(kelvin for _, kelvin in felt)
    heat = job.plan.heat
    difference_k = max(heat.inside_c - heat.outside_c, 1.0)
    return Bias(total, tuple(words for words, _ in felt), -100 * total / difference_k)


def in_jet_k(jet: Jet, point: Vec3) -> float:
    """Return how much warmer than the room an outlet's jet is at a point: its axis's excess,
    falling off across it as a bell. Source: any text on free round jets.
    """
    way = sub(point, jet.at)
    ahead = dot(way, jet.along)
    if ahead <= 0:
        return 0.0
    aside = norm(sub(way, scale(jet.along, ahead)))
    wide = jet.radius_at(ahead)
    return (jet.celsius_at(ahead) - jet.room_c) * math.exp(-((aside / wide) ** 2) * math.log(20))


def beside_heater_k(job: Job, point: Vec3) -> float:
    """Return what the heater's casing adds: falling in a straight line to nothing."""
    body = heater_body_shape(job)
    if body is None:
        return 0.0
    away = max(separation(body, box_shape(point, (1.0, 1.0, 1.0))).distance_mm, 0.0)
    return CASING_K * max(1 - away / CASING_REACH_MM, 0.0) ** 2


def on_wall_k(job: Job, point: Vec3) -> float:
    """Return how much too cold a sensor on an outer wall reads on the coldest night: it feels a
    share of the way from the air to the wall's surface, U × Rsi × (inside - outside). Source: ISO
    13788 for the surface.
    """
    works, heat = job.catalogue.power_equipment, job.plan.heat
    side = "left" if point[1] < 0 else "right"
    elements = design_loss(job).elements
    u = next((e.u_w_m2k for e in elements if e.face == side and e.build_up is not None), None)
    if u is None:
        return 0.0
    below_k = u * works.air_film_m2k_w * (heat.inside_c - heat.outside_c)
    return -works.wall_share * below_k
