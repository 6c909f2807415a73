"""The work itself on the board: the heater, its holes and ports."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.geometry.frames import turn_xy
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.job import Job
from gale_nook.core.spot.face_rules import hole_axis
from gale_nook.core.spot.placement import (
    FaceHole,
    PlacedHole,
    PortName,
    body_corners,
    face_holes,
    floor_holes,
    heater_body,
    heater_port,
    heater_underside_z_mm,
    mount_plane_z_mm,
    port_point,
)
from gale_nook.core.spot.plate import Extent, adapter_plate, mount_plate
from gale_nook.drawing.arrows import arrow_head
from gale_nook.drawing.line_grips import movable
from gale_nook.drawing.mapping import Mapping
from gale_nook.drawing.scene import Circle, Group, Line, Node, Project, Rect

PORTS: tuple[PortName, ...] = ("exhaust", "intake", "fuel")


def in_plan(m: Mapping) -> Project:
    return lambda p: m.plan(p[0], p[1])


def in_elevation(m: Mapping) -> Project:
    return lambda p: m.elevation(p[0], p[2])


def heater_in_plan(job: Job, m: Mapping, editable: bool) -> Iterator[Node]:
    """Yield the body with its ends marked, the holes and the ports."""
    sheet = heater_sheet(job)
    spot, corners = job.plan.spot, body_corners(job)
    if spot is None or corners is None or sheet is None:
        return
    low, high = corners
    box = [
        m.plan(x, y)
        for x, y in ((low[0], low[1]), (high[0], low[1]), (high[0], high[1]), (low[0], high[1]))
    ]
    inner: list[Node] = [Line(box, "heater-body", closed=True), *_warm_end(job, m)]
    inner += [
        Line(_outline(plate, m), "mount-plate", closed=True, title=title)
        for plate, title in _plates(job)
    ]
    inner += [_hole(hole, m) for hole in floor_holes(job)]
    inner += [_face_hole_in_plan(job, hole, m) for hole in face_holes(job)]
    for name in PORTS:
        port = heater_port(job, name)
        x, y, _ = port_point(job, port)
        inner.append(
            Circle(
                m.plan(x, y),
                max(m.px(port.diameter_mm / 2), 2.0),
                f"port port-{name}",
                title=f"{name} port",
            )
        )
    inner.append(Circle(m.plan(spot.x_mm, spot.y_mm), 2.2, "mount-centre"))
    yield Group(
        inner,
        _grip("heater", f"heater {sheet.label}", editable),
        title=f"{sheet.label}",
    )


def _outline(plate: Extent, m: Mapping) -> list[tuple[float, float]]:
    low, high = (plate.low_x_mm, plate.low_y_mm), (plate.high_x_mm, plate.high_y_mm)
    return [m.plan(*low), m.plan(high[0], low[1]), m.plan(*high), m.plan(low[0], high[1])]


def _plates(job: Job) -> list[tuple[Extent, str]]:
    """The adapter plate over an opening, and the mount's own."""
    plates = ((adapter_plate(job), "adapter plate"), (mount_plate(job), "the mount's plate"))
    return [(plate, title) for plate, title in plates if plate is not None]


def _hole(hole: PlacedHole, m: Mapping) -> Node:
    u, v = m.plan(hole.x_mm, hole.y_mm)
    if not hole.is_cut:
        return Circle(
            (u, v),
            m.px(hole.diameter_mm / 2),
            "hole",
            title=f"{hole.name}, {hole.diameter_mm:g} mm",
        )
    half_u, half_v = m.px(hole.half_x_mm), m.px(hole.half_y_mm)
    size = f"{2 * hole.half_x_mm:g} × {2 * hole.half_y_mm:g} mm"
    return Rect(
        (u - half_u, v - half_v), (2 * half_u, 2 * half_v), "hole", title=f"{hole.name}, {size}"
    )


def _face_hole_in_plan(job: Job, hole: FaceHole, m: Mapping) -> Node:
    start, end = hole_axis(job, hole, 0.0)
    line = [m.plan(start[0], start[1]), m.plan(end[0], end[1])]
    return Line(
        line,
        "face-hole",
        width=max(m.px(hole.diameter_mm), 2.0),
        title=f"{hole.name}, {hole.diameter_mm:g} mm",
    )


def _face_hole_in_elevation(job: Job, hole: FaceHole, m: Mapping) -> Node:
    start, end = hole_axis(job, hole, 0.0)
    if hole.face == "bulkhead":
        line = [m.elevation(start[0], start[2]), m.elevation(end[0], end[2])]
        return Line(line, "face-hole", width=max(m.px(hole.diameter_mm), 2.0), title=hole.name)
    return Circle(
        m.elevation(start[0], start[2]), m.px(hole.diameter_mm / 2), "hole", title=hole.name
    )


def _warm_end(job: Job, m: Mapping) -> Iterator[Node]:
    """An arrow out of the warm end, and a bar at the inlet end."""
    spot, sheet = job.plan.spot, heater_sheet(job)
    if spot is None or sheet is None or sheet.medium != "air":
        return
    body = heater_body(job)
    ends = []
    for sign, reach in ((1, 90.0), (-1, 0.0)):
        dx, dy = turn_xy(body.x_mm + sign * (body.length_mm / 2 + reach), 0.0, spot.yaw_deg)
        bx, by = turn_xy(body.x_mm + sign * body.length_mm / 2, 0.0, spot.yaw_deg)
        ends.append(((spot.x_mm + bx, spot.y_mm + by), (spot.x_mm + dx, spot.y_mm + dy)))
    (start, tip), (inlet, _) = ends
    yield Line([m.plan(*start), m.plan(*tip)], "warm-air")
    yield Line(arrow_head(m.plan(*start), m.plan(*tip)), "warm-air-head", closed=True)
    wx, wy = turn_xy(0.0, body.width_mm / 2 - 8, spot.yaw_deg)
    yield Line(
        [m.plan(inlet[0] - wx, inlet[1] - wy), m.plan(inlet[0] + wx, inlet[1] + wy)], "inlet-end"
    )


def heater_in_elevation(job: Job, m: Mapping, editable: bool) -> Iterator[Node]:
    """Yield the body and the mount's collar through the floor."""
    sheet = heater_sheet(job)
    corners = body_corners(job)
    if corners is None or sheet is None:
        return
    low, high = corners
    inner: list[Node] = [
        Rect(
            m.elevation(low[0], high[2]),
            (m.px(high[0] - low[0]), m.px(high[2] - low[2])),
            "heater-body",
        )
    ]
    for hole in floor_holes(job):
        x, d = hole.x_mm, 2 * hole.reach_mm[0]
        depth = mount_plane_z_mm(job) - heater_underside_z_mm(job)
        inner.append(
            Rect(m.elevation(x - d / 2, mount_plane_z_mm(job)), (m.px(d), m.px(depth)), "collar")
        )
    inner += [_face_hole_in_elevation(job, hole, m) for hole in face_holes(job)]
    yield Group(
        inner,
        _grip("heater-side", f"heater {sheet.label}, seen from the side", editable),
        title=sheet.label,
    )


def _grip(name: str, label: str, editable: bool, board: str = "plan") -> dict[str, str]:
    if not editable:
        return {"class": "part"}
    where = "side" if name.endswith("-side") or board == "side" else "plan"
    target = name.removesuffix("-side")
    return {
        "class": f"part grip grip-{'node' if target.startswith('node') else 'heater'}",
        "data-drag": target,
        "data-board": where,
        "tabindex": "0",
        "role": "button",
        "aria-label": movable(label),
        "id": f"grip-{where}-{target}",
    }
