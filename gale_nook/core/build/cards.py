"""The order of work as cards: each step with its stretch, its time, tools, waits, and whether it is
done.
"""

from __future__ import annotations

from dataclasses import dataclass

from gale_nook.core.build.lists import steps
from gale_nook.core.catalogue.work import WorkBook, WorkKind
from gale_nook.core.job import Job
from gale_nook.core.plan.build import DoneCard
from gale_nook.core.station import CutLine, Step

BUILT_ADDRESSES: dict[str, tuple[str, ...]] = {
    "cut-holes": ("spot.x_mm", "spot.y_mm"),
    "set-heater": ("spot.yaw_deg",),
    "controller": ("power.controller.x_mm", "power.controller.y_mm", "power.controller.z_mm"),
    "fit-tank": ("fuel.tank.x_mm", "fuel.tank.y_mm", "fuel.tank.z_mm"),
}
MOUTH_OF = {"hang-exhaust": "exhaust", "hang-intake": "intake"}


@dataclass(frozen=True)
class Card:
    """One card.

    Attributes:
        number: in the order of work, from 1.
        minutes: (least, most), by as many people as work on it.
        waits_for: titles of cards that come before it and are not done.
        done: what was ticked; None for nothing.
    """

    number: int
    step: Step
    kind: WorkKind
    group: str
    minutes: tuple[float, float]
    waits_for: tuple[str, ...]
    done: DoneCard | None

    @property
    def id(self) -> str:
        return self.step.id

    @property
    def has_flags(self) -> bool:
        """Whether there is something to know of it besides what is done."""
        kind = self.kind
        return bool(kind.helper or kind.daylight or not kind.drivable or kind.wait_h or kind.by)


def cards(job: Job) -> tuple[Card, ...]:
    """Return the cards of this plan, in the order of work."""
    book, build = job.catalogue.work, job.plan.build
    results: list[Card] = []
    open_titles: list[str] = []
    for number, step in enumerate(steps(job), 1):
        kind = book.kind(step.kind)
        done = next((each for each in build.done if each.id == step.id), None)
        results.append(
            Card(
                number,
                step,
                kind,
                book.group(kind.group).label,
                minutes_of(book, kind, step, build.people),
                tuple(open_titles) if done is None else (),
                done,
            )
        )
        if done is None:
            open_titles.append(step.title)
    return tuple(results)


def minutes_of(book: WorkBook, kind: WorkKind, step: Step, people: int) -> tuple[float, float]:
    """Return how long a step takes, least and most; what needs a helper is not shortened by one."""
    low, high = (
        whole + step.count * each
        for whole, each in zip(kind.minutes, kind.each_minutes, strict=True)
    )
    shorter = 1 - book.helps_share if people > 1 and not kind.helper else 1.0
    return (low * shorter, high * shorter)


def built_addresses(job: Job, card: Card) -> tuple[str, ...]:
    """Return the plan's values that are measured on what this card built."""
    kind, about = card.step.kind, card.step.about
    if kind == "alarm":
        return tuple(f"power.alarms.{about}.{leaf}" for leaf in ("x_mm", "y_mm", "z_mm"))
    if kind == "lay-line":
        parts = [*job.plan.fuel.line.parts] if job.plan.fuel.line is not None else []
        return tuple(f"fuel.line.parts.{p.id}.at_mm" for p in parts if p.kind in {"pump", "filter"})
    if kind in MOUTH_OF:
        route = job.plan.pipes.route(MOUTH_OF[kind])  # type: ignore[arg-type]
        last = route.nodes[-1].id if route is not None and route.nodes else None
        leaves = ("x_mm", "y_mm", "z_mm") if last is not None else ()
        return tuple(f"pipes.{MOUTH_OF[kind]}.nodes.{last}.{leaf}" for leaf in leaves)
    if kind == "fit-tank" and job.plan.fuel.tank is None:
        return ()
    if kind == "controller" and job.plan.power.controller is None:
        return ()
    return BUILT_ADDRESSES.get(kind, ())


def cuts_of(card: Card, lines: tuple[CutLine, ...]) -> tuple[CutLine, ...]:
    """Return the lengths of the cutting list that are cut for this card."""
    return tuple(line for line in lines if line.card == card.id)
