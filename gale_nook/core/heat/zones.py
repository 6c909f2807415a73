"""The load space in zones: how much of each element's loss belongs to each, and what heat passes
between a zone and the living space.
"""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.heat.cab import cab_loss_w_k
from gale_nook.core.heat.envelope import RIBBED
from gale_nook.core.heat.load_space import VENTILATION
from gale_nook.core.heat.loss import HeatLoss
from gale_nook.core.plan.air import LIVING, Zone
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.vehicle import Opening, Shell

AT_WALL_MM = 80.0  # a zone that comes this near to a wall, roof or floor has its part of it
TO_CAB = ("bulkhead", "curtain")
Span = tuple[float, float]


@dataclass(frozen=True)
class ZoneShares:
    """How the load space is divided.

    Attributes:
        ids: of the zones, the living space first.
        share: of each element's loss (and VENTILATION) that belongs to a zone: element id -> zone
            id -> share; 1 for each element together.
        exchange_w_k: between each zone and the living space.
        own_w_k: what a zone in the cab loses to the outside by itself.
        floor_share: of the floor's area, by zone.
    """

    ids: tuple[str, ...]
    share: dict[str, dict[str, float]]
    exchange_w_k: dict[str, float]
    own_w_k: dict[str, float]
    floor_share: dict[str, float]

    def of(self, zone: str, element: str) -> float:
        return self.share[element].get(zone, 0.0)


@dataclass(frozen=True)
class _Box:
    """A zone's room inside the load space, mm."""

    x: Span
    y: Span
    z: Span


def zone_shares(plan: Plan, catalogue: Catalogue, loss: HeatLoss) -> ZoneShares:
    """Return how the loss divides among the plan's zones.

    Faces by the area that a zone takes of them, openings by where their middle is, ribs as the
    mean of the faces that have some, the renewed air by volume. A zone ahead of the bulkhead is the
    cab: it has the cab's own loss, and what lies between is its exchange.
    """
    shell = plan.vehicle.shell
    zones = plan.air.zones
    in_cab = {zone.id for zone in zones if _is_cab(zone, shell)}
    boxes = {zone.id: _box(zone, shell) for zone in zones if zone.id not in in_cab}
    faces = {
        name: {z: _face_share(box, name, shell) for z, box in boxes.items()} for name in _FACES
    }
    volume = {z: _volume_share(box, shell) for z, box in boxes.items()}
    share: dict[str, dict[str, float]] = {VENTILATION: volume}
    openings = {f"opening-{o.id}": o for o in plan.vehicle.openings}
    for element in loss.elements:
        if element.id in openings:
            at = _zone_at(openings[element.id], boxes, shell)
            share[element.id] = {at: 1.0} if at is not None else {}
        elif element.id == "ribs":
            share[element.id] = {
                z: sum(faces[face][z] for face in RIBBED) / len(RIBBED) for z in boxes
            }
        else:
            share[element.id] = _of_element(element.id, faces, in_cab)
    for each in share.values():
        each[LIVING] = max(1.0 - sum(each.values()), 0.0)
    exchange = {zone.id: _exchange_w_k(zone, plan, catalogue, loss, in_cab) for zone in zones}
    own = {zone: cab_loss_w_k(plan, catalogue) for zone in in_cab}
    floor = {**faces["floor"], LIVING: max(1.0 - sum(faces["floor"].values()), 0.0)}
    ids = (LIVING, *(zone.id for zone in zones))
    return ZoneShares(ids, share, exchange, own, {z: floor.get(z, 0.0) for z in ids})


_FACES = ("roof", "floor", "left", "right", "rear", "bulkhead")
_LIKE = {"curtain": "bulkhead", "pop-top": "roof", "canvas": "roof", "arches": "floor"}


def _of_element(
    element: str, faces: dict[str, dict[str, float]], in_cab: set[str]
) -> dict[str, float]:
    if in_cab and element in (*TO_CAB, "cab"):
        return {zone: 1.0 for zone in sorted(in_cab)[:1]}
    face = _LIKE.get(element, element)
    return dict(faces[face]) if face in faces else {}


def _is_cab(zone: Zone, shell: Shell) -> bool:
    return zone.to_x_mm <= shell.bulkhead_x_mm + AT_WALL_MM


def _box(zone: Zone, shell: Shell) -> _Box:
    half, top = shell.floor_width_mm / 2, shell.inside_height_mm
    low = zone.low_z_mm if zone.low_z_mm is not None else 0.0
    high = zone.high_z_mm if zone.high_z_mm is not None else top

    def inside(start: float, end: float, least: float, most: float) -> Span:
        return min(max(start, least), most), min(max(end, least), most)

    return _Box(
        inside(zone.from_x_mm, zone.to_x_mm, shell.bulkhead_x_mm, shell.rear_x_mm),
        inside(zone.left_y_mm, zone.right_y_mm, -half, half),
        inside(low, high, 0.0, top),
    )


def _long(span: Span) -> float:
    return span[1] - span[0]


def _face_share(box: _Box, face: str, shell: Shell) -> float:
    """The share of a face's area that lies in a zone."""
    half, top = shell.floor_width_mm / 2, shell.inside_height_mm
    length = shell.rear_x_mm - shell.bulkhead_x_mm
    along, across, up = _long(box.x) / length, _long(box.y) / (2 * half), _long(box.z) / top
    touches = {
        "roof": box.z[1] >= top - AT_WALL_MM,
        "floor": box.z[0] <= AT_WALL_MM,
        "left": box.y[0] <= -half + AT_WALL_MM,
        "right": box.y[1] >= half - AT_WALL_MM,
        "rear": box.x[1] >= shell.rear_x_mm - AT_WALL_MM,
        "bulkhead": box.x[0] <= shell.bulkhead_x_mm + AT_WALL_MM,
    }
    if not touches[face]:
        return 0.0
    if face in {"roof", "floor"}:
        return along * across
    return along * up if face in {"left", "right"} else across * up


def _volume_share(box: _Box, shell: Shell) -> float:
    whole = (shell.rear_x_mm - shell.bulkhead_x_mm) * shell.floor_width_mm * shell.inside_height_mm
    return _long(box.x) * _long(box.y) * _long(box.z) / whole


def _zone_at(opening: Opening, boxes: dict[str, _Box], shell: Shell) -> str | None:
    """The zone in whose wall the middle of an opening lies."""
    start, base = opening.start_mm, opening.base_mm
    along, up = start + opening.length_mm / 2, base + opening.height_mm / 2
    half = shell.floor_width_mm / 2
    points = {
        "left": (along, -half, up),
        "right": (along, half, up),
        "rear": (shell.rear_x_mm, along, up),
        "roof": (along, up, shell.inside_height_mm),
    }
    point = points[opening.face.value]
    for zone, box in boxes.items():
        spans = (box.x, box.y, box.z)
        if all(
            s[0] - AT_WALL_MM <= p <= s[1] + AT_WALL_MM for s, p in zip(spans, point, strict=True)
        ):
            return zone
    return None


def _exchange_w_k(
    zone: Zone, plan: Plan, catalogue: Catalogue, loss: HeatLoss, in_cab: set[str]
) -> float:
    """Between a zone and the living space: by what divides them and the area of that; of the cab by
    the partition.
    """
    divider = catalogue.air_equipment.divider(zone.divider)
    if zone.id in in_cab:
        between = [e.conductance_w_k for e in loss.elements if e.id in TO_CAB]
        shell = plan.vehicle.shell
        area = shell.floor_width_mm * shell.inside_height_mm / 1e6
        return sum(between) if between else divider.u_w_m2k * area
    return divider.u_w_m2k * divider_area_m2(zone, plan.vehicle.shell)


def divider_area_m2(zone: Zone, shell: Shell) -> float:
    """Return the area of a zone's faces that no wall, roof, floor or bulkhead of the vehicle
    covers.
    """
    box = _box(zone, shell)
    along, across, up = _long(box.x) / 1000, _long(box.y) / 1000, _long(box.z) / 1000
    free = {
        "roof": along * across,
        "floor": along * across,
        "left": along * up,
        "right": along * up,
        "rear": across * up,
        "bulkhead": across * up,
    }
    return sum(area for face, area in free.items() if _face_share(box, face, shell) == 0.0)
