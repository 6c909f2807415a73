"""The order of work as cards: each step with its stretch, its time, tools, waits, and whether it is
done.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from gale_nook.core.build.lists import steps
from gale_nook.core.catalogue.work import WorkBook, WorkKind
from gale_nook.core.job import Job
from gale_nook.core.plan.build import DoneCard
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.pipes import Tube
from gale_nook.core.station import CutLine, Step

BUILT_ADDRESSES: dict[str, tuple[str, ...]] = {
    "cut-holes": ("spot.x_mm", "spot.y_mm"),
    "set-heater": ("spot.yaw_deg",),
    "controller": ("power.controller.x_mm", "power.controller.y_mm", "power.controller.z_mm"),
    "fit-tank": ("fuel.tank.x_mm", "fuel.tank.y_mm", "fuel.tank.z_mm"),
}


@dataclass(frozen=True)
class Card:
    """One card.

    Attributes:
        number: in the order of work, from 1.
        minutes: (least, most), by as many people as work on it.
        waits_for: titles of cards that come before it and are not done.
        done: what was ticked; None for nothing.
        is_last: no other of its kind comes after it.
    """

    number: int
    step: Step
    kind: WorkKind
    group: str
    minutes: tuple[float, float]
    waits_for: tuple[str, ...]
    done: DoneCard | None
    is_last: bool

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
    told = steps(job)
    for number, step in enumerate(told, 1):
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
                all(after.kind != step.kind for after in told[number:]),
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
    kind, plan = card.step.kind, job.plan
    if kind == "hang-exhaust" and not card.is_last:
        return ()  # a card for each piece of it
    told = TOLD.get(kind)
    if told is not None:
        return told(plan, card.step.about)
    missing = {"fit-tank": plan.fuel.tank, "controller": plan.power.controller}
    if kind in missing and missing[kind] is None:
        return ()
    return BUILT_ADDRESSES.get(kind, ())


def _alarm(_plan: Plan, about: str) -> tuple[str, ...]:
    return _place(f"power.alarms.{about}")


def _line(plan: Plan, _about: str) -> tuple[str, ...]:
    parts = plan.fuel.line.parts if plan.fuel.line is not None else ()
    return _along("fuel.line", (p.id for p in parts if p.kind in {"pump", "filter"}))


def _duct(plan: Plan, about: str) -> tuple[str, ...]:
    duct = next((duct for duct in plan.air.ducts if duct.id == about), None)
    ends = duct.nodes[-1:] if duct is not None else ()
    return tuple(a for end in ends for a in _place(f"air.ducts.{about}.nodes.{end.id}"))


def _leads(plan: Plan, _about: str) -> tuple[str, ...]:
    return tuple(
        address
        for lead in plan.power.leads
        for address in _along(
            f"power.leads.{lead.id}", (p.id for p in lead.parts if p.kind in {"hole", "fuse"})
        )
    )


def _hoses(plan: Plan, _about: str) -> tuple[str, ...]:
    return tuple(
        address
        for hose in plan.coolant.hoses
        for address in _along(f"coolant.hoses.{hose.id}", (p.id for p in hose.of_kind("hole")))
    )


def _of_pipe(plan: Plan, tube: Tube) -> tuple[str, ...]:
    """Of a burner's pipe: its mouth, and what it hangs on."""
    route = plan.pipes.route(tube)
    if route is None or not route.nodes:
        return ()
    held = (fitting.id for fitting in route.of_kind("support") if fitting.feature is None)
    mouth = _place(f"pipes.{tube}.nodes.{route.nodes[-1].id}")
    return (*mouth, *(f"pipes.{tube}.fittings.{each}.at_mm" for each in held))


def _place(address: str) -> tuple[str, ...]:
    return tuple(f"{address}.{leaf}" for leaf in ("x_mm", "y_mm", "z_mm"))


def _along(address: str, parts: Iterable[str]) -> tuple[str, ...]:
    return tuple(f"{address}.parts.{part}.at_mm" for part in parts)


TOLD: dict[str, Callable[[Plan, str], tuple[str, ...]]] = {
    "alarm": _alarm,
    "lay-line": _line,
    "hang-exhaust": lambda plan, _: _of_pipe(plan, "exhaust"),
    "hang-intake": lambda plan, _: _of_pipe(plan, "intake"),
    "lay-duct": _duct,
    "lay-leads": _leads,
    "lay-hoses": _hoses,
}


def cuts_of(card: Card, lines: tuple[CutLine, ...]) -> tuple[CutLine, ...]:
    """Return the lengths of the cutting list that are cut for this card."""
    return tuple(line for line in lines if line.card == card.id)
