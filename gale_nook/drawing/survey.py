"""The surveyed vehicle on the board: shell, floor, openings and solids, in plan
and in elevation.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.geometry.shapes import Shape, box_shape
from gale_nook.core.job import Job
from gale_nook.core.plan.looked import LookedWhere
from gale_nook.core.plan.moves import Space
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, Solid, TubeSolid
from gale_nook.core.plan.vehicle import Opening
from gale_nook.core.vehicle.floor import every_floor, floor_finish_z_mm, floor_underside_z_mm
from gale_nook.core.vehicle.looked import Rect, unlooked, unseen
from gale_nook.core.vehicle.parts import opening_box, surveyed_parts
from gale_nook.drawing.mapping import BoardView, Mapping
from gale_nook.drawing.scene import Circle, Group, Line, Node, Point, Strokes, Text
from gale_nook.drawing.scene import Rect as Box
from gale_nook.drawing.silhouettes import plan_outline, side_outline

PX_PER_LETTER = 6.2
CROSS_PX = 18.0


@dataclass(frozen=True, slots=True)
class Form:
    """How one solid is drawn: its nodes, where its name goes, and how wide and high it is there
    (px).
    """

    nodes: list[Node]
    centre: Point
    room: tuple[float, float]


Entry = tuple[Solid, SolidKind, Form, bool]


def plan_nodes(job: Job, m: Mapping, view: BoardView, selected: str) -> Iterator[Node]:
    """Yield the plan, seen from above, or from below and mirrored."""
    shell = job.plan.vehicle.shell
    inner = shell.floor_width_mm / 2
    yield from plan_outline(job, m)
    floor = [
        (shell.bulkhead_x_mm, -inner),
        (shell.rear_x_mm, -inner),
        (shell.rear_x_mm, inner),
        (shell.bulkhead_x_mm, inner),
    ]
    yield Line([m.plan(x, y) for x, y in floor], "floor", closed=True)
    for area in job.plan.vehicle.floors:
        corners = [
            (area.from_x_mm, area.left_y_mm),
            (area.to_x_mm, area.left_y_mm),
            (area.to_x_mm, area.right_y_mm),
            (area.from_x_mm, area.right_y_mm),
        ]
        yield Line([m.plan(x, y) for x, y in corners], "floor own", closed=True, title=area.name)
    yield Line([m.plan(shell.front_x_mm, 0), m.plan(shell.rear_x_mm, 0)], "centre-line")
    yield from _slide_in_plan(job, m)
    yield from _spaces(job.plan.vehicle.spaces, m, plan=True)
    if view.looked:
        yield from _unlooked_in_plan(job, m, "below" if view.below else "inside")
    near = "below" if view.below else "inside"
    ordered = sorted(
        surveyed_parts(job), key=lambda entry: (entry[1].where == near, entry[2].high_z_mm)
    )
    for opening in job.plan.vehicle.openings:
        if not (view.below and opening.face.value == "roof"):
            yield _opening_in_plan(job, opening, m)
    forms = [
        (solid, kind, _plan_form(solid, shape, m), kind.where == near)
        for solid, kind, shape in ordered
    ]
    pencilled = _pencilled(job)
    yield from (_solid(*form, selected, pencilled) for form in forms)
    yield from _labels(forms)


def _unlooked_in_plan(job: Job, m: Mapping, where: LookedWhere) -> Iterator[Node]:
    """What nobody has looked at, hatched; what is only assumed, outlined."""
    clear = unlooked(job, where)
    for rects, cls in ((unseen(job, where), "assumed-area"), (clear, "unlooked")):
        for low_x, low_y, high_x, high_y in rects:
            if cls == "assumed-area" and (low_x, low_y, high_x, high_y) in clear:
                continue
            corners = [(low_x, low_y), (high_x, low_y), (high_x, high_y), (low_x, high_y)]
            yield Line([m.plan(x, y) for x, y in corners], cls, closed=True, title=TITLES[cls])
            if cls == "unlooked":
                yield Strokes(_rings(m, (low_x, low_y, high_x, high_y)), "unlooked-marks")


TITLES = {
    "unlooked": "nobody has looked here: to measure",
    "assumed-area": "what is here is only assumed",
}


def _rings(m: Mapping, rect: Rect) -> list[tuple[Point, Point]]:
    """Small crosses every so often over a rectangle, in px."""
    (u0, v0), (u1, v1) = m.plan(rect[0], rect[1]), m.plan(rect[2], rect[3])
    left, right, top, bottom = min(u0, u1), max(u0, u1), min(v0, v1), max(v0, v1)
    results: list[tuple[Point, Point]] = []
    columns, rows = int((right - left) // CROSS_PX), int((bottom - top) // CROSS_PX)
    for row in range(rows):
        for column in range(columns):
            u = left + (column + (0.25 if row % 2 else 0.75)) * CROSS_PX
            v = top + (row + 0.5) * CROSS_PX
            results += [((u - 2, v), (u + 2, v)), ((u, v - 2), (u, v + 2))]
    return results


def _slide_in_plan(job: Job, m: Mapping) -> Iterator[Node]:
    """A slide-out as far out as it comes, its inner edge as it is when it is in."""
    slide, shell = job.plan.vehicle.slide, job.plan.vehicle.shell
    if slide is None:
        return
    half, reach = shell.outer_width_mm / 2, slide.travel_mm
    if slide.side == "rear":
        low = (shell.rear_x_mm - slide.inner_mm, slide.from_mm)
        high = (shell.rear_x_mm + reach, slide.to_mm)
    elif slide.side == "left":
        low, high = (slide.from_mm, -half - reach), (slide.to_mm, -half + slide.inner_mm)
    else:
        low, high = (slide.from_mm, half - slide.inner_mm), (slide.to_mm, half + reach)
    corners = [low, (high[0], low[1]), high, (low[0], high[1])]
    yield Line(
        [m.plan(x, y) for x, y in corners],
        "slide-out",
        closed=True,
        title="slide-out, as far as it comes",
    )


def _spaces(spaces: tuple[Space, ...], m: Mapping, *, plan: bool) -> Iterator[Node]:
    """Spaces with a name, dashed."""
    for space in spaces:
        xs = (space.from_x_mm, space.to_x_mm)
        others = (space.left_y_mm, space.right_y_mm) if plan else (space.low_z_mm, space.high_z_mm)
        to_px = m.plan if plan else m.elevation
        corners = [to_px(xs[i], others[j]) for i, j in ((0, 0), (1, 0), (1, 1), (0, 1))]
        yield Line(corners, f"space {space.kind}", closed=True, title=space.name)
        left, top = min(u for u, _ in corners), min(v for _, v in corners)
        yield Text((left + 4, top + 11), space.name, "space-name")


def elevation_nodes(job: Job, m: Mapping, view: BoardView, selected: str) -> Iterator[Node]:
    """Yield the side elevation, nose left; the solids of the chosen flank are inked, the others
    pencilled.
    """
    shell, vehicle = job.plan.vehicle.shell, job.plan.vehicle
    rear, bulk = shell.rear_x_mm, shell.bulkhead_x_mm
    yield from side_outline(job, m)
    yield Box(
        m.elevation(bulk, floor_finish_z_mm(job)),
        (m.px(rear - bulk), m.px(floor_finish_z_mm(job) - floor_underside_z_mm(job))),
        "floor-stack",
    )
    for here in every_floor(job)[1:]:
        area = here.area
        if area is not None:
            size = (area.to_x_mm - area.from_x_mm, here.finish_z_mm - here.underside_z_mm)
            low = m.elevation(area.from_x_mm, here.finish_z_mm)
            yield Box(low, (m.px(size[0]), m.px(size[1])), "floor-stack", title=area.name)
    left = view.side == "left"
    forms: list[Entry] = []
    for solid, kind, shape in surveyed_parts(job):
        middle = (shape.bounds[1] + shape.bounds[4]) / 2
        near = middle <= 60 if left else middle >= -60
        forms.append((solid, kind, _side_form(solid, kind, shape, m), near))
    forms.sort(key=lambda entry: entry[3])
    pencilled = _pencilled(job)
    yield from (_solid(*form, selected, pencilled) for form in forms)
    yield from _labels(forms)
    for opening in job.plan.vehicle.openings:
        if opening.face.value == view.side:
            low = m.elevation(opening.start_mm, opening.base_mm + opening.height_mm)
            size = (m.px(opening.length_mm), m.px(opening.height_mm))
            yield Box(low, size, f"opening {opening.kind}", 3, title=opening.name)
        else:
            yield from _edge_opening(job, opening, m)
    yield from _spaces(vehicle.spaces, m, plan=False)
    for x in () if vehicle.afloat else (shell.front_axle_x_mm, shell.rear_axle_x_mm):
        centre = m.elevation(x, shell.ground_z_mm + shell.wheel_diameter_mm / 2)
        yield Circle(centre, m.px(shell.wheel_diameter_mm / 2), "tyre")


def _edge_opening(job: Job, opening: Opening, m: Mapping) -> Iterator[Node]:
    low, size = opening_box(job, opening)
    if opening.face.value in {"rear", "roof"}:
        yield Box(
            m.elevation(low[0], low[2] + size[2]),
            (max(m.px(size[0]), 3), max(m.px(size[2]), 3)),
            "opening edge",
            title=opening.name,
        )


def _opening_in_plan(job: Job, opening: Opening, m: Mapping) -> Node:
    low, size = opening_box(job, opening)
    x0 = low[0]
    x1 = low[0] + size[0]
    y0 = low[1]
    y1 = low[1] + size[1]
    cls = f"opening {opening.kind}" if opening.face.value == "roof" else "opening edge"
    return Line(
        [m.plan(x, y) for x, y in ((x0, y0), (x1, y0), (x1, y1), (x0, y1))],
        cls,
        closed=True,
        title=opening.name,
    )


def _pencilled(job: Job) -> frozenset[str]:
    """The ids of the parts of which something is only assumed."""
    parts = (address.split(".") for address in job.plan.vehicle.pencilled)
    return frozenset(part[2] for part in parts if part[1] == "solids")


def _solid(
    solid: Solid,
    kind: SolidKind,
    form: Form,
    near: bool,
    selected: str,
    pencilled: frozenset[str],
) -> Node:
    state = " chosen" if solid.id == selected else ""
    state += " pencilled" if solid.id in pencilled else ""
    ink = "near" if near else "far"
    hazard = f" hazard-{kind.hazard}" if kind.hazard else ""
    attributes = {"class": f"solid kind-{kind.id} {ink}{hazard}{state}", "data-item": solid.id}
    return Group(form.nodes, attributes, title=f"{solid.name} ({kind.label})")


def _labels(forms: list[Entry]) -> Iterator[Node]:
    """Yield names last, over everything, where a part is large enough to carry its own; the larger
    part's first.
    """
    for solid, _, form, near in sorted(
        forms, key=lambda entry: -entry[2].room[0] * entry[2].room[1]
    ):
        width = len(solid.name) * PX_PER_LETTER
        if not near or form.room[1] < 13 or width > form.room[0]:
            continue
        x, y = form.centre
        yield Text((x, y + 4), solid.name, "label", "middle", halo=True)


def _plan_form(solid: Solid, shape: Shape, m: Mapping) -> Form:
    b = shape.bounds
    centre = m.plan((b[0] + b[3]) / 2, (b[1] + b[4]) / 2)
    room = (m.px(b[3] - b[0]), m.px(b[4] - b[1]))
    if isinstance(solid, TubeSolid):
        line = [m.plan(x, y) for x, y, _ in solid.points]
        return Form(
            [Line(line, "tube", width=max(m.px(solid.diameter_mm), 1.6))], centre, (0.0, 0.0)
        )
    if isinstance(solid, CylinderSolid) and solid.axis == "z":
        return Form([Circle(centre, m.px(solid.diameter_mm / 2), "body")], centre, room)
    corners = [
        m.plan(float(x), float(y)) for x, y in list(shape.footprint.geometry.exterior.coords)[:-1]
    ]
    return Form([Line(corners, "body", closed=True)], centre, room)


def _side_form(solid: Solid, kind: SolidKind, shape: Shape, m: Mapping) -> Form:
    b = shape.bounds
    centre = m.elevation((b[0] + b[3]) / 2, (b[2] + b[5]) / 2)
    if isinstance(solid, TubeSolid):
        line = [m.elevation(x, z) for x, _, z in solid.points]
        return Form(
            [Line(line, "tube", width=max(m.px(solid.diameter_mm), 1.6))], centre, (0.0, 0.0)
        )
    nodes: list[Node] = []
    if isinstance(solid, BoxSolid) and (solid.travel_up_mm or solid.travel_down_mm):
        nodes.append(Box(m.elevation(b[0], b[5]), (m.px(b[3] - b[0]), m.px(b[5] - b[2])), "travel"))
        size = (solid.length_mm, solid.width_mm, solid.height_mm)
        b = box_shape((solid.x_mm, solid.y_mm, solid.z_mm), size, solid.yaw_deg).bounds
    size_px = (m.px(b[3] - b[0]), m.px(b[5] - b[2]))
    rounded = size_px[1] / 2 if kind.id == "wheel" else 0.0
    nodes.append(Box(m.elevation(b[0], b[5]), size_px, "body", rounded))
    return Form(nodes, centre, size_px)
