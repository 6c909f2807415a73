"""The heat station's drawn breakdown, and the heaters laid over the need."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from gale_nook.core.heat.loss import HeatLoss
from gale_nook.core.heat.season import SeasonBin
from gale_nook.core.heater.choice import Judgement
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.drawing.scene import Line, Node, Rect, Scene, Text

WIDTH = 812.0
NARROW, FIGURES, ROW = 300.0, 122.0, 32.0


def loss_bars(loss: HeatLoss, system: UnitSystem) -> Scene:
    """Return a bar for each path of the heat, the largest first, with its watts and its share of
    the total.
    """
    rows = [(element.name, element.loss_w, "") for element in loss.elements]
    rows.append(("Air change", loss.ventilation_w, " air"))
    rows.sort(key=lambda row: -row[1])
    largest = max((abs(watts) for _, watts, _ in rows), default=1.0) or 1.0
    span = NARROW - FIGURES
    total = loss.design_loss_w or 1.0
    nodes: list[Node] = []
    for index, (name, watts, cls) in enumerate(rows):
        y = index * ROW
        length = max(abs(watts) / largest * span, 1.0)
        nodes.append(Text((0, y + 12), name, "bar-name"))
        nodes.append(Rect((0, y + 16), (length, 11), f"bar{cls}", title=f"{name}: {watts:.0f} W"))
        share = f"{100 * watts / total:.0f} %"
        nodes.append(
            Text(
                (length + 6, y + 26),
                f"{format_quantity(watts, 'w', system)}, {share}",
                "bar-figure",
            )
        )
    return Scene(
        "Heat loss by element, largest first",
        (NARROW, ROW * len(rows)),
        nodes,
        {"class": "drawing bars"},
    )


SEASON_STEP_W = 100.0


def _season_behind(
    bins: Sequence[SeasonBin], u: Callable[[float], float], bottom: float, height: float
) -> Iterator[Node]:
    """Yield a column for every step of loss, as high as its hours."""
    hours: dict[int, float] = {}
    for b in bins:
        slot = int(b.loss_w // SEASON_STEP_W)
        hours[slot] = hours.get(slot, 0.0) + b.hours
    for slot, spent in sorted(hours.items()):
        low, high = u(slot * SEASON_STEP_W), u((slot + 1) * SEASON_STEP_W)
        tall = spent / max(hours.values()) * height
        yield Rect((low, bottom - tall), (high - low, tall), "hours-behind", title=f"{spent:.0f} h")


def heater_ranges(
    judged: Sequence[Judgement],
    need_w: float,
    mild_w: float,
    chosen: str | None,
    system: UnitSystem,
    bins: Sequence[SeasonBin] = (),
) -> Scene:
    """Return each heater as a bar from its least to its most output, with the mild night and the
    need across.

    Behind them the hours of the season by their loss: what stands left of a bar is where that
    heater soots, what stands right of it is where it falls behind.
    """
    left, top = 150.0, 34.0
    largest = max([need_w, mild_w, *(j.most_w for j in judged)], default=1.0) * 1.12
    span = WIDTH - left - 16

    def u(watts: float) -> float:
        return left + watts / largest * span

    bottom = top + 38 * len(judged)
    nodes: list[Node] = [
        *_season_behind(bins, u, bottom, bottom - top),
        *_power_grid(u, largest, (top, bottom), system),
    ]
    for index, judgement in enumerate(judged):
        picked = judgement.sheet.id == chosen
        nodes += _range_bar(judgement, u, (left, top + index * 38), system, picked)
    nodes += _levels(u, need_w, mild_w, (top, bottom), system)
    if bins:
        nodes.append(Text((0, bottom + 16), "shaded: hours", "bar-figure"))
    return Scene(
        "Output ranges of the heaters against the need",
        (WIDTH, bottom + 26),
        nodes,
        {"class": "drawing ranges"},
    )


def _power_grid(
    u: Callable[[float], float], largest_w: float, ends: tuple[float, float], system: UnitSystem
) -> Iterator[Node]:
    top, bottom = ends
    step = 1000 if largest_w < 12000 else 2000
    for tick in range(0, int(largest_w) + 1, step):
        figure = format_quantity(float(tick), "w", system)
        yield Line([(u(tick), top - 4), (u(tick), bottom)], "grid")
        yield Text((u(tick), bottom + 16), figure, "bar-figure", "middle")


def _range_bar(
    judgement: Judgement,
    u: Callable[[float], float],
    corner: tuple[float, float],
    system: UnitSystem,
    picked: bool,
) -> Iterator[Node]:
    """One heater: its name, and the bar from its least to its most output."""
    left, y = corner
    state, mark = "fits" if judgement.meets_need else "misses", " picked" if picked else ""
    low, high = u(judgement.least_w), u(judgement.most_w)
    label = judgement.sheet.label
    yield Text((left - 10, y + 20), label, f"bar-name{mark}", "end")
    yield Rect((low, y + 4), (high - low, 24), f"range {state}{mark}", title=label)
    least, most = (
        format_quantity(watts, "w", system) for watts in (judgement.least_w, judgement.most_w)
    )
    yield Text((low - 5, y + 20), least, "range-figure", "end")
    yield Text((high + 5, y + 20), most, "range-figure")


def _levels(
    u: Callable[[float], float],
    need_w: float,
    mild_w: float,
    ends: tuple[float, float],
    system: UnitSystem,
) -> Iterator[Node]:
    """The mild night and the need, across all bars."""
    top, bottom = ends
    close = abs(u(need_w) - u(mild_w)) < 150
    for watts, words, cls, anchor in (
        (mild_w, "mild night", "mild", "end" if close else "middle"),
        (need_w, "need", "need", "start" if close else "middle"),
    ):
        name = f"{words} {format_quantity(watts, 'w', system)}"
        yield Line([(u(watts), top - 8), (u(watts), bottom)], f"level {cls}")
        yield Text((u(watts), top - 14), name, f"level-name {cls}", anchor)
