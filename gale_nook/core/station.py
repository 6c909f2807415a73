"""What a station brings to the core: one object, by which everything else finds it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from gale_nook.core.edits.command import Command, Data
from gale_nook.core.findings.rule import Rule
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.ledger.body import Body

OVER_FLOOR_MM = 20.0  # from which a hole goes through a wall or a panel


@dataclass(frozen=True, slots=True)
class Step:
    """One step of the work: what is done, with its dimensions, and the cautions (ids) of it.

    Attributes:
        kind: of the catalogue's kinds of work; about: which of several of that kind.
        points: that a drawing of it shows; none for no drawing.
        count: how many there are of what takes the time.
    """

    kind: str
    title: str
    text: str
    cautions: tuple[str, ...]
    about: str = ""
    points: tuple[Vec3, ...] = ()
    count: int = 1

    @property
    def id(self) -> str:
        """What its tick is kept by."""
        return f"{self.kind}-{self.about}" if self.about else self.kind


@dataclass(frozen=True, slots=True)
class HoleLine:
    """One hole to cut, where it is, and with what.

    Attributes:
        z_mm: its height, where it does not go through the floor.
        through: the way that what lies in it goes there; empty through the floor.
    """

    name: str
    x_mm: float
    y_mm: float
    diameter_mm: float
    saw: str
    z_mm: float | None = None
    through: tuple[float, ...] = ()


def over_floor_mm(z_mm: float) -> float | None:
    """Return the height of a hole through a wall or a panel; None for one through the floor."""
    return z_mm if z_mm > OVER_FLOOR_MM else None


@dataclass(frozen=True, slots=True)
class CutLine:
    """One length to cut.

    Attributes:
        id: what its cut length is kept by.
        card: id of the step that it is cut for.
    """

    label: str
    length_mm: float
    remark: str
    id: str
    card: str


def nothing(_job: Job) -> tuple[()]:
    """Return nothing, of whatever a station could tell."""
    return ()


def no_parts(_job: Job) -> dict[str, float]:
    """Return that nothing is needed."""
    return {}


def no_number(_job: Job) -> str:
    """Return that there is no number to show."""
    return ""


def always(_job: Job) -> bool:
    """Return that a station is shown in every job."""
    return True


@dataclass(frozen=True)
class Station:
    """A station of the work.

    Attributes:
        word: in addresses, folders and templates.
        key: that leads to it.
        shown: whether a job has it.
        number: its one number for the line of stations.
        number_first: the line shows its number whatever the verdict.
        tells_all: its verdict is that of the whole plan.
        bodies: what it takes room for.
        settle: puts in order what a generic edit left of its part of the plan's plain data,
            (before, after).
        parts: parts that it needs, by their id: pieces, or mm of what is cut.
        holes, cuts, steps: what it brings to the drill list, the cutting list, the order of work.
        report, report_lines: its figures as plain data, and these as lines of text.
    """

    word: str
    label: str
    key: str
    shown: Callable[[Job], bool] = always
    rules: tuple[Rule, ...] = ()
    commands: tuple[type[Command], ...] = ()
    number: Callable[[Job], str] = no_number
    number_first: bool = False
    tells_all: bool = False
    bodies: Callable[[Job], tuple[Body, ...]] = nothing
    settle: Callable[[Data, Data], None] | None = None
    parts: Callable[[Job], dict[str, float]] = no_parts
    holes: Callable[[Job], Iterable[HoleLine]] = nothing
    cuts: Callable[[Job], Iterable[CutLine]] = nothing
    steps: Callable[[Job], Iterable[Step]] = nothing
    report: Callable[[Job], dict[str, Any]] | None = None
    report_lines: Callable[[dict[str, Any]], Iterable[str]] | None = None
