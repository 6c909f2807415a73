"""Two or three heaters side by side, ready to print; the better figure of each row is marked."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from gale_nook.core.heat.night import NightResult
from gale_nook.core.heat.season import SeasonBin, heater_season, season
from gale_nook.core.heater.choice import Judgement
from gale_nook.core.job import Job
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.web.stations.heater.nights import night_of

MOST_BESIDE = 3


@dataclass(frozen=True, slots=True)
class BesideRow:
    """One figure of every heater shown: its texts, and which of them is the best (None where that
    means nothing).
    """

    label: str
    texts: tuple[str, ...]
    best: int | None


def picked(
    judged: Sequence[Judgement], chosen: str | None, named: Sequence[str]
) -> list[Judgement]:
    """Return the heaters to show: those named; else the recommended, the chosen and the next."""
    if named:
        return [j for j in judged if j.sheet.id in named][:MOST_BESIDE]
    first = [j for j in judged if j.recommended or j.sheet.id == chosen]
    rest = [j for j in judged if j not in first and j.right_medium]
    return [*first, *rest][:MOST_BESIDE]


def side_by_side(job: Job, shown: Sequence[Judgement], system: UnitSystem) -> list[BesideRow]:
    """Return the rows of the comparison."""
    bins = season(job.plan, job.catalogue)
    return [
        *_of_the_night(job, shown, system),
        *(_of_the_season(shown, bins) if bins else ()),
        *_of_the_sheet(shown, system),
    ]


def _of_the_night(job: Job, shown: Sequence[Judgement], system: UnitSystem) -> Iterator[BesideRow]:
    nights = [night_of(job, j.sheet) for j in shown]
    fuel, current = [n.fuel_l for n in nights], [n.electricity_wh for n in nights]
    starts, lowest = [float(n.starts) for n in nights], [n.lowest_c for n in nights]
    yield _row("least output", [j.least_w for j in shown], _amount("w", system), min)
    yield _row("most output here", [j.most_w for j in shown], _amount("w", system), None)
    yield _row("warm after a cold start", [_minutes(night) for night in nights], _or_never, min)
    yield _row("fuel on the coldest night", fuel, lambda v: f"{v:.1f} l", min)
    yield _row("current on that night", current, lambda v: f"{v:.0f} Wh", min)
    yield _row("starts on that night", starts, lambda v: f"{v:.0f}", min)
    yield _row("coldest after it was warm", lowest, _amount("c", system), max)


def _of_the_season(shown: Sequence[Judgement], bins: Sequence[SeasonBin]) -> Iterator[BesideRow]:
    seasons = [heater_season(j.sheet, j.most_w, bins) for j in shown]
    cycling, short = [float(s.cycling_h) for s in seasons], [float(s.short_h) for s in seasons]
    yield _row("hours of the season cycling", cycling, lambda v: f"{v:.0f} h", min)
    yield _row("hours of the season falling short", short, lambda v: f"{v:.0f} h", min)


def _of_the_sheet(shown: Sequence[Judgement], system: UnitSystem) -> Iterator[BesideRow]:
    sheets = [j.sheet for j in shown]
    glow = [s.electrical.glow_current_a for s in sheets]
    sizes, litres = tuple(_size(j, system) for j in shown), [_litres(j) for j in shown]
    yield _row("current to start", glow, lambda v: f"{v:g} A", min)
    yield BesideRow("body", sizes, _least(litres))
    yield _row("mass", [s.body.mass_kg for s in sheets], lambda v: f"{v:g} kg", min)
    yield _row("noise", [s.noise_db for s in sheets], lambda v: f"{v:g} dB", min)
    yield BesideRow("at the place", tuple(_at_place(j) for j in shown), None)


def _amount(kind: str, system: UnitSystem) -> Callable[[float], str]:
    return lambda value: format_quantity(value, kind, system)


Best = Callable[[list[float]], float]


def _row(
    label: str, values: Sequence[float | None], text: Callable[[float], str], best: Best | None
) -> BesideRow:
    known = [value for value in values if value is not None]
    winner = None
    if best is not None and len(known) > 1 and min(known) != max(known):
        winner = list(values).index(best(known))
    return BesideRow(
        label, tuple("not in its sheet" if v is None else text(v) for v in values), winner
    )


def _least(values: Sequence[float]) -> int | None:
    return (
        list(values).index(min(values)) if len(values) > 1 and min(values) != max(values) else None
    )


def _minutes(night: NightResult) -> float:
    return night.to_target_s / 60 if night.to_target_s is not None else float("inf")


def _or_never(minutes: float) -> str:
    return "never" if minutes == float("inf") else f"{minutes:.0f} min"


def _litres(judged: Judgement) -> float:
    body = judged.sheet.body
    return body.length_mm * body.width_mm * body.height_mm / 1e6


def _size(judged: Judgement, system: UnitSystem) -> str:
    body = judged.sheet.body
    sizes = (body.length_mm, body.width_mm, body.height_mm)
    return (
        f"{' × '.join(format_quantity(mm, 'mm', system, unit=False) for mm in sizes)}, "
        f"{_litres(judged):.1f} l"
    )


def _at_place(judged: Judgement) -> str:
    if not judged.right_medium:
        return "not looked at"
    if judged.spot_over is None:
        return "no place yet"
    return f"checks over: {judged.spot_over}" if judged.spot_over else "fits"
