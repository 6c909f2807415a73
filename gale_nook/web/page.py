"""A station's page: one job as one user sees it at one station. Templates print from it and decide
nothing.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from markupsafe import Markup

from gale_nook.core.catalogue.items import Caution
from gale_nook.core.checking import checked
from gale_nook.core.edits.address import find
from gale_nook.core.errors import BadInput
from gale_nook.core.findings.finding import Finding, Verdict
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.job import Job
from gale_nook.core.plan.words import field_words
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity, quantity_of, write_quantity
from gale_nook.core.quantities.sentences import say
from gale_nook.core.spot.placement import body_corners
from gale_nook.core.station import Station
from gale_nook.core.vehicle.heights import WORDS as HEIGHT_WORDS
from gale_nook.core.vehicle.heights import as_measured_mm, measured_from
from gale_nook.drawing.board import BoardOptions, LaidPhoto, board
from gale_nook.drawing.finding_marks import frame_of
from gale_nook.drawing.inset import inset
from gale_nook.drawing.mapping import BoardView, Frame, frame_round
from gale_nook.drawing.svg import svg
from gale_nook.exchange.finding_cards import (
    VERDICT_MARKS,
    VERDICT_WORDS,
    FindingCard,
    anchor_of,
    finding_cards,
)
from gale_nook.store.jobs import JobHead
from gale_nook.web.stationline import LineNode, station_line
from gale_nook.web.view_state import ViewState

COORDINATES = ("x_mm", "y_mm", "z_mm")
SPOT_LEAVES = ("x_mm", "y_mm", "yaw_deg")


@dataclass(frozen=True, slots=True)
class SwitchOption:
    """One choice of a switch over the board: its text, where it leads, whether it is chosen, and
    the key that flips to it.
    """

    text: str
    url: str
    chosen: bool
    flip: str = ""


@dataclass(frozen=True, slots=True)
class Switch:
    """Choices over the board, of which one holds."""

    label: str
    options: tuple[SwitchOption, ...]


class StationPage:
    """A job's head with the user's units and view; everything else is derived when asked for.

    Args:
        alone: check this station only, for what changes while something is dragged.
    """

    has_board = False
    board_hint = ""  # what can be done on it
    opens_close = False  # the board opens on what the station is about, not on the whole vehicle
    has_style = False  # a style sheet beside its templates
    scripts: tuple[str, ...] = ()  # modules that only this station's page needs
    is_titled = False  # its centre begins with a main heading of its own
    scrolls = False  # its centre is read like paper, by keys too

    def __init__(
        self,
        head: JobHead,
        job: Job,
        system: UnitSystem,
        station: Station,
        view: ViewState,
        *,
        alone: bool = False,
    ) -> None:
        self.head = head
        self.job_id = head.job_id
        self.job = job
        self.plan = job.plan
        self.catalogue = job.catalogue
        self.system = system
        self.station = station
        self.view = view
        self.check = checked(job, frozenset({station.word}) if alone else None)

    @property
    def url(self) -> str:
        """Address of this station of this job."""
        return f"/jobs/{self.job_id}/{self.station.word}"

    def looking(self, **changes: str) -> str:
        """Address of this station with the look changed."""
        query = self.view.query(**changes)
        return f"{self.url}?{query}" if query else self.url

    @cached_property
    def _data(self) -> dict[str, Any]:
        return self.plan.model_dump(mode="json")

    def value(self, address: str) -> Any:
        """The plain value at an address; None where there is nothing."""
        try:
            return find(self._data, address)
        except BadInput:
            return None

    @property
    def length_unit(self) -> str:
        return "in" if self.system is UnitSystem.IMPERIAL else "mm"

    def text(self, address: str, unit: bool = True) -> str:
        """The value at an address as its field shows it; without the unit in tables that name it in
        their head.
        """
        value, kind = self.value(address), quantity_of(address)
        if value is None:
            return ""
        if kind == "text" or isinstance(value, str | bool):
            return str(value)
        shown = as_measured_mm(self.job, address, float(value))
        return write_quantity(shown, kind, self.system, unit).replace("−", "-")

    def words(self, address: str) -> str:
        origin = measured_from(self.job, address)
        return HEIGHT_WORDS[origin] if origin != "floor" else field_words(address)

    @cached_property
    def _pencilled(self) -> frozenset[str]:
        return frozenset(self.plan.vehicle.pencilled)

    def is_pencilled(self, address: str) -> bool:
        """Whether nobody has typed or measured a value yet."""
        return address in self._pencilled

    def amount(self, value: float, kind: str) -> str:
        return format_quantity(value, kind, self.system)

    def in_other_units(self, power_w: float) -> str:
        """A power in the unit system that is not the user's."""
        metric = self.system is UnitSystem.METRIC
        return format_quantity(power_w, "w", UnitSystem.IMPERIAL if metric else UnitSystem.METRIC)

    def bare(self, length_mm: float) -> str:
        """A length without its unit."""
        return format_quantity(length_mm, "mm", self.system, unit=False)

    def say(self, sentence: str) -> str:
        return say(sentence, self.system)

    @cached_property
    def line(self) -> list[LineNode]:
        return station_line(self.check)

    @property
    def tally(self) -> list[tuple[str, str, str, int]]:
        """(verdict, word, mark, count) of the whole plan; what does not occur is left out, clear
        excepted.
        """
        counts = self.check.tally()
        return [
            (v.value, VERDICT_WORDS[v], VERDICT_MARKS[v], counts[v.value])
            for v in Verdict
            if counts[v.value] or v is Verdict.CLEAR
        ]

    @cached_property
    def finding_cards(self) -> list[FindingCard]:
        return finding_cards(
            self.check.of(self.station.word), self.system, self.catalogue.limit_bands
        )

    @property
    def open_cards(self) -> list[FindingCard]:
        """Of what is not clear, worst first."""
        return [card for card in self.finding_cards if card.verdict != Verdict.CLEAR.value]

    @property
    def cautions(self) -> list[Caution]:
        moves = self.plan.vehicle.moves
        return list(self.catalogue.cautions_at(self.station.word, moves))

    @cached_property
    def board(self) -> Markup:
        return Markup(svg(board(self.check, self.board_options)))

    @property
    def folder(self) -> str:
        """Whose templates stand in the centre and in the panel."""
        return self.station.word

    @property
    def switches(self) -> list[Switch]:
        """What can be chosen over the board."""
        sides = (("left", "Left"), ("right", "Right"))
        return [
            self.switch("Plan", "plan", (("above", "Above"), ("below", "Below")), True),
            self.switch("Elevation", "side", sides, True),
        ]

    def switch(
        self, label: str, name: str, options: tuple[tuple[str, str], ...], flips: bool = False
    ) -> Switch:
        """Return a switch that changes one part of the view."""
        now = getattr(self.view, name)
        return Switch(
            label,
            tuple(
                SwitchOption(
                    text, self.looking(**{name: value}), value == now, value if flips else ""
                )
                for value, text in options
            ),
        )

    @property
    def board_options(self) -> BoardOptions:
        """How the board is drawn."""
        view = BoardView(
            self.view.plan == "below",
            self.view.side,
            self.frame,
            self.shows_looked,
        )
        return BoardOptions(
            view,
            self.station.word,
            self.view.item,
            self.system,
            floor_picture=self.floor_picture,
            tube=self.view.tube,
            photos=self.photos,
        )

    @property
    def shows_looked(self) -> bool:
        """Whether the board shows where nobody has looked."""
        return False

    @property
    def photos(self) -> tuple[LaidPhoto, ...]:
        """Photos to scale that lie under the plan."""
        return ()

    @property
    def floor_picture(self) -> str:
        """Address of a picture that lies on the floor; empty for none."""
        return ""

    @property
    def focus_points(self) -> tuple[Vec3, ...]:
        """Points in the vehicle's frame that a close view shows; none for the whole vehicle."""
        corners = body_corners(self.job)
        return corners if corners is not None else ()

    @cached_property
    def frame(self) -> Frame | None:
        """What the board shows; None for the whole vehicle."""
        frame = self.view.frame or ("close" if self.opens_close else "whole")
        chosen = self._chosen_finding
        if not self.view.frame and chosen is not None:
            return frame_of(chosen)
        if frame == "whole":
            return None
        if frame == "close":
            points = self.focus_points
            return frame_round(points) if points else None
        return Frame.of(frame)

    @property
    def _chosen_finding(self) -> Finding | None:
        own = self.check.of(self.station.word)
        return next((f for f in own if anchor_of(f) == self.view.finding), None)

    @property
    def frame_text(self) -> str:
        """The same, for forms: it stays while the plan is edited."""
        return self.frame.text if self.frame is not None else "whole"

    @property
    def inset(self) -> Markup:
        """The whole vehicle, small, with what the board shows of it."""
        shell, view = self.plan.vehicle.shell, self.board_options.view
        return Markup(svg(inset(shell, view)))

    @property
    def exact_addresses(self) -> list[str]:
        """Addresses of values that a grip of the board is moved from."""
        return [f"spot.{leaf}" for leaf in SPOT_LEAVES] if self.plan.spot is not None else []

    @property
    def exact(self) -> list[tuple[str, Any]]:
        """(address, value) of these: a field shows them rounded."""
        return [(address, self.value(address)) for address in self.exact_addresses]

    @property
    def live_texts(self) -> dict[str, str]:
        """Texts that a preview replaces, by the id of their element."""
        return {}

    @property
    def live_values(self) -> dict[str, Any]:
        """What the templates of a preview's parts need besides the page."""
        return {}

    @property
    def undo_title(self) -> str:
        return _title("Undo", self.head.undo_summary, "Ctrl+Z")

    @property
    def redo_title(self) -> str:
        return _title("Redo", self.head.redo_summary, "Ctrl+Y")


def _title(word: str, summary: str | None, keys: str) -> str:
    """What a button does, to what, and by which keys."""
    return f"{word}: {summary} ({keys})" if summary else f"{word} ({keys})"
