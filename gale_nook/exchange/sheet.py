"""The build sheet: one view object for screen and paper."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import ClassVar

from markupsafe import Markup

from gale_nook.core.build.lists import PartLine, cuts, holes_to_cut, parts_list, steps
from gale_nook.core.checking import Check
from gale_nook.core.findings.finding import Verdict
from gale_nook.core.heat.loss import design_loss
from gale_nook.core.heater.chosen import heater_sheet
from gale_nook.core.plan.document import Plan
from gale_nook.core.power.leads import lead_run
from gale_nook.core.power.work import WireRow, wiring_table
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.core.quantities.sentences import say
from gale_nook.core.station import CutLine, HoleLine, Step
from gale_nook.drawing.board import BoardOptions, board
from gale_nook.drawing.mapping import BoardView
from gale_nook.drawing.scene import Scene
from gale_nook.drawing.schematic import schematic
from gale_nook.drawing.section import section
from gale_nook.drawing.svg import svg
from gale_nook.exchange.finding_cards import (
    VERDICT_MARKS,
    VERDICT_WORDS,
    FindingCard,
    finding_cards,
)

TEMPLATES = Path(__file__).with_name("templates")


@dataclass(frozen=True, slots=True)
class Since:
    """What has changed since the sheet was printed last.

    Attributes:
        edit: that was printed.
    """

    edit: int
    changes: tuple[str, ...]

    @property
    def title(self) -> str:
        return f"Changed since edit {self.edit} was printed"

    @property
    def lines(self) -> tuple[str, ...]:
        """A sentence each."""
        return self.changes or ("Nothing of the work: no hole, length, part or step.",)


@dataclass(frozen=True)
class Sheet:
    """Everything the build sheet prints."""

    no_steps: ClassVar[str] = "There is no order of work yet: it begins with a heater and its spot."
    no_cuts: ClassVar[str] = "Nothing to cut yet."
    no_open: ClassVar[str] = "Nothing is over, tight or to be measured in what was checked."
    no_parts: ClassVar[str] = "No parts yet: they follow from the heater, its mount and the pipes."

    check: Check
    system: UnitSystem
    cards: list[FindingCard]
    parts: Sequence[PartLine]
    cuts: Sequence[CutLine]
    holes: Sequence[HoleLine]
    steps: Sequence[Step]
    since: Since | None = None

    @property
    def plan(self) -> Plan:
        return self.check.job.plan

    @property
    def about(self) -> str:
        """Which vehicle, what every length is measured from, and the job's note."""
        vehicle = self.plan.vehicle
        measured = f"Every x is measured from: {vehicle.datum}."
        return f"{vehicle.name}. {measured} {self.plan.note}".strip()

    @property
    def scenes(self) -> list[tuple[str, Scene]]:
        """The board from above with the left side, and from below with the right side, each with
        its title.
        """
        results = []
        for below, side in ((False, "left"), (True, "right")):
            tag = "below-" if below else "above-"
            options = BoardOptions(
                BoardView(below, side), "build", "", self.system, editable=False, tag=tag
            )
            title = (
                "From below, mirrored, and the right side"
                if below
                else "From above, and the left side"
            )
            title += ". The tape reads from the datum."
            results.append((title, board(self.check, options)))
        return results

    @property
    def section_scene(self) -> Scene | None:
        """The section through the mount; None where there is none yet."""
        return section(self.check.job, self.system)

    @property
    def open_cards(self) -> list[FindingCard]:
        """Of what is not clear."""
        return [card for card in self.cards if card.verdict != Verdict.CLEAR.value]

    @property
    def clear_cards(self) -> list[FindingCard]:
        """Of what is clear."""
        return [card for card in self.cards if card.verdict == Verdict.CLEAR.value]

    @property
    def drawings(self) -> list[tuple[str, Markup]]:
        return [(title, Markup(svg(scene))) for title, scene in self.scenes]

    @property
    def section(self) -> Markup:
        scene = self.section_scene
        return Markup(svg(scene)) if scene is not None else Markup("")

    @property
    def wires(self) -> tuple[WireRow, ...]:
        """The wiring, pin by pin; none before the supply is laid."""
        laid = lead_run(self.check.job, "supply") is not None
        return wiring_table(self.check.job) if laid else ()

    @property
    def schematic_scene(self) -> Scene | None:
        return schematic(self.check.job)

    @property
    def schematic(self) -> Markup:
        scene = self.schematic_scene
        return Markup(svg(scene)) if scene is not None else Markup("")

    @property
    def tally(self) -> list[tuple[str, str, str, int]]:
        counts = self.check.tally()
        return [
            (v.value, VERDICT_MARKS[v], VERDICT_WORDS[v], counts[v.value])
            for v in Verdict
            if counts[v.value]
        ]

    @property
    def heater(self) -> str:
        """The heater against the need, and over which one it was taken; empty without one."""
        job, choice = self.check.job, self.plan.heater
        chosen = heater_sheet(job)
        if chosen is None:
            return ""
        need = self.amount(design_loss(job).need_w, "w")
        text = f"Heater: {chosen.label}, for a need of {need}"
        if choice.instead_of is not None:
            over = job.catalogue.heaters.get(choice.instead_of)
            text += (
                f", taken instead of the {over.label if over is not None else choice.instead_of}"
            )
        text += f". {choice.reason}" if choice.reason else "."
        return text

    def caution(self, caution_id: str) -> str:
        return next(c.text for c in self.check.job.catalogue.cautions if c.id == caution_id)

    @property
    def cautions(self) -> list[str]:
        job = self.check.job
        return [c.text for c in job.catalogue.cautions_at("build", job.plan.vehicle.moves)]

    def amount(self, value: float, kind: str) -> str:
        return format_quantity(value, kind, self.system)

    def count(self, line: PartLine, quantity: float) -> str:
        return self.amount(quantity, "mm") if line.unit == "mm" else f"{quantity:g}"

    def say(self, sentence: str) -> str:
        return say(sentence, self.system)


def sheet(done: Check, system: UnitSystem, since: Since | None = None) -> Sheet:
    """Return the build sheet of a checked plan."""
    job = done.job
    listed = finding_cards(done.findings, system)
    return Sheet(
        done,
        system,
        listed,
        parts_list(job),
        cuts(job),
        holes_to_cut(job),
        steps(job),
        since,
    )
