"""Areas that were painted: where the heater is wanted, and what is kept out of where."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.job import Job
from gale_nook.drawing.mapping import Mapping
from gale_nook.drawing.scene import Node, Rect, Text


def area_nodes(job: Job, m: Mapping) -> Iterator[Node]:
    """Yield the areas of the wishes, in plan, with their names."""
    for area in job.plan.wishes.areas:
        one = m.plan(area.from_x_mm, area.left_y_mm)
        other = m.plan(area.to_x_mm, area.right_y_mm)
        low = (min(one[0], other[0]), min(one[1], other[1]))
        size = (abs(other[0] - one[0]), abs(other[1] - one[1]))
        cls = "wish-wanted" if area.wanted else f"wish-kept wish-{area.of}"
        yield Rect(low, size, cls, title=area.name)
        yield Text((low[0] + 5, low[1] + 14), area.name, "wish-name", halo=True)
