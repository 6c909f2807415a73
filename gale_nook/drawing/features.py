"""Named features, pilots, and where the hole comes out below, on the plan."""

from __future__ import annotations

import math
from collections.abc import Iterator

from gale_nook.core.job import Job
from gale_nook.core.plan.document import Plan
from gale_nook.core.spot.transfer import Transfer
from gale_nook.core.vehicle.old_openings import AXES, middle_of
from gale_nook.drawing.mapping import Mapping
from gale_nook.drawing.scene import Circle, Group, Line, Node, Project, Strokes, Text

CORNERS = 48


def feature_nodes(plan: Plan, m: Mapping, below: bool, named: bool) -> Iterator[Node]:
    """Yield a mark for each feature where it was measured on the side that is shown."""
    for feature in plan.vehicle.features:
        at = feature.below if below else feature.inside
        if at is None:
            continue
        y_mm = -at[1] if below and plan.vehicle.below_mirrored else at[1]
        x, y = m.plan(at[0], y_mm)
        cls = "feature fixing" if feature.fixing else "feature"
        shape: list[Node] = [
            Line([(x, y - 5), (x + 5, y), (x, y + 5), (x - 5, y)], cls, closed=True)
        ]
        if named:
            shape.append(Text((x + 8, y + 4), feature.name, "feature-name", halo=True))
        yield Group(shape, {"class": "part", "data-feature": feature.id}, title=feature.name)


def old_opening_nodes(job: Job, project: Project, board: str) -> Iterator[Node]:
    """Yield the openings that were there before: their outline where their face is seen, a stroke
    where it is seen end on.
    """
    for opening in job.plan.vehicle.old_openings:
        middle = middle_of(job, opening)
        along, up, _ = AXES[opening.face]
        half = (
            opening.length_mm / 2,
            opening.length_mm / 2 if opening.is_round else opening.height_mm / 2,
        )
        corners = []
        for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1)):
            at = list(middle)
            at[along] += a * half[0]
            at[up] += b * half[1]
            corners.append(project((at[0], at[1], at[2])))
        cls = "old-opening old-open" if opening.use == "open" else "old-opening"
        title = f"{opening.name}: {opening.use}"
        shape: list[Node] = [Line(corners, cls, closed=True)]
        group = {"class": "part", "id": f"old-{board}-{opening.id}"}
        yield Group(shape, group, title=title)


def pilot_nodes(plan: Plan, m: Mapping) -> Iterator[Node]:
    """Yield a cross where each pilot came out."""
    for pilot in plan.pilots:
        came_out = pilot.came_out_mm
        if came_out is None:
            continue
        x, y = m.plan(*came_out)
        cross = [((x - 4, y - 4), (x + 4, y + 4)), ((x - 4, y + 4), (x + 4, y - 4))]
        yield Group(
            [Strokes(cross, "pilot")],
            {"class": "part", "data-pilot": pilot.id},
            title=f"pilot at {pilot.hole}",
        )


def transfer_nodes(transfer: Transfer, m: Mapping) -> Iterator[Node]:
    """Yield the ellipse in which the heater's place lies below, 95 of 100 times, with its size."""
    ellipse = transfer.here
    if ellipse is None:
        return
    a = math.radians(ellipse.turn_deg)
    ring = []
    for step in range(CORNERS):
        turn = 2 * math.pi * step / CORNERS
        along, across = ellipse.long_mm * math.cos(turn), ellipse.short_mm * math.sin(turn)
        x_mm = ellipse.centre[0] + along * math.cos(a) - across * math.sin(a)
        y_mm = ellipse.centre[1] + along * math.sin(a) + across * math.cos(a)
        ring.append(m.plan(x_mm, y_mm))
    x, y = m.plan(*ellipse.centre)
    words = f"±{ellipse.long_mm:.0f} mm"
    label = Text((x + 10, y + 30), words, "transfer-name", halo=True)
    sizes = f"{ellipse.long_mm:.0f} by {ellipse.short_mm:.0f} mm"
    shape: list[Node] = [
        Line(ring, "transfer", closed=True),
        Circle((x, y), 2.0, "transfer-centre"),
        label,
    ]
    yield Group(
        shape,
        {"class": "part", "id": "transfer"},
        title=f"where the place lies below: within {sizes}, 95 of 100 times",
    )
