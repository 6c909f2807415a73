"""A mount from above: its holes, the heater's ports and its body, to one scale."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.mount import Mount, MountHole, PortName
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.scene import Circle, Line, Node, Rect, Scene, Text

WIDTH, HEIGHT, EDGE = 360.0, 200.0, 22.0
Xy = tuple[float, float]


def mount_drawing(sheet: HeaterSheet, mount: Mount, system: UnitSystem) -> Scene:
    """Return the drawing: the warm end on the right, the heater's right at the bottom."""
    body = mount.body or sheet.body
    ports = {name: mount.ports.get(name) or getattr(sheet, name) for name in PORTS}
    corners: list[Xy] = [
        (body.x_mm - body.length_mm / 2, body.y_mm - body.width_mm / 2),
        (body.x_mm + body.length_mm / 2, body.y_mm + body.width_mm / 2),
        *(each for hole in mount.holes for each in _ends(hole)),
        *_plate_ends(mount),
    ]
    low = [min(corner[axis] for corner in corners) for axis in (0, 1)]
    high = [max(corner[axis] for corner in corners) for axis in (0, 1)]
    scale = min((WIDTH - 2 * EDGE) / (high[0] - low[0]), (HEIGHT - 2 * EDGE) / (high[1] - low[1]))
    x0 = WIDTH / 2 - scale * (low[0] + high[0]) / 2
    y0 = HEIGHT / 2 - scale * (low[1] + high[1]) / 2

    def at(x: float, y: float) -> Xy:
        return (x0 + scale * x, y0 + scale * y)

    nodes: list[Node] = [
        Rect(at(*corners[0]), (scale * body.length_mm, scale * body.width_mm), "heater-body"),
        Line([at(low[0], 0), at(high[0], 0)], "centre-line"),
        Line([at(0, low[1]), at(0, high[1])], "centre-line"),
    ]
    if mount.plate is not None:
        (low_x, low_y), _ = _plate_ends(mount)
        size = (scale * mount.plate.length_mm, scale * mount.plate.width_mm)
        nodes.append(Rect(at(low_x, low_y), size, "mount-plate", title="its plate"))
    for hole in mount.holes:
        nodes.extend(_hole(hole, at, scale, system))
    for name, port in ports.items():
        nodes.append(Circle(at(port.x_mm, port.y_mm), scale * port.diameter_mm / 2, PORTS[name]))
    nodes.append(Text((WIDTH - 6, HEIGHT - 6), "warm end →", "view-name", "end"))
    title = f"{mount.label}, from above: holes, ports and body"
    return Scene(title, (WIDTH, HEIGHT), nodes, {"class": "drawing", "role": "img"})


PORTS: dict[PortName, str] = {
    "exhaust": "port-exhaust",
    "intake": "port-intake",
    "fuel": "port-fuel",
}


def _plate_ends(mount: Mount) -> list[Xy]:
    plate = mount.plate
    if plate is None:
        return []
    half_x, half_y = plate.length_mm / 2, plate.width_mm / 2
    return [
        (plate.x_mm - half_x, plate.y_mm - half_y),
        (plate.x_mm + half_x, plate.y_mm + half_y),
    ]


def _ends(hole: MountHole) -> tuple[Xy, Xy]:
    half_x, half_y = hole.half_mm(0)
    reach_x, reach_y = half_x or hole.diameter_mm / 2, half_y or hole.diameter_mm / 2
    return (hole.x_mm - reach_x, hole.y_mm - reach_y), (hole.x_mm + reach_x, hole.y_mm + reach_y)


def _hole(
    hole: MountHole, at: Callable[[float, float], Xy], scale: float, system: UnitSystem
) -> Iterator[Node]:
    place = at(hole.x_mm, hole.y_mm)
    (low_x, low_y), (high_x, high_y) = _ends(hole)
    size = format_quantity(hole.diameter_mm, "mm", system)
    if hole.length_mm is None:
        radius = scale * hole.diameter_mm / 2
        yield Circle(place, radius, "mount-hole", title=f"{hole.name}, {size}")
        return
    cut = (scale * (high_x - low_x), scale * (high_y - low_y))
    yield Rect(at(low_x, low_y), cut, "mount-hole", title=hole.name)
