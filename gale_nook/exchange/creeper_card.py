"""The card for someone lying under the vehicle."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from jinja2 import Environment, FileSystemLoader, StrictUndefined
from markupsafe import Markup

from gale_nook.core.build.drill import drill_sheet
from gale_nook.core.build.drill_sheet import Offset
from gale_nook.core.checking import Check
from gale_nook.core.job import Job
from gale_nook.core.plan.solids import OutlineSolid, Solid, TubeSolid
from gale_nook.core.plan.words import field_words
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity, write_quantity
from gale_nook.core.spot.placement import floor_holes
from gale_nook.core.spot.transfer import mark_below_mm, next_drilled_mm
from gale_nook.core.vehicle.heights import WORDS as HEIGHT_WORDS
from gale_nook.core.vehicle.heights import height_from_mm
from gale_nook.core.vehicle.parts import surveyed_where
from gale_nook.drawing.board import BoardOptions, board
from gale_nook.drawing.mapping import PAPER_WIDTH, BoardView, Frame, board_mapping, whole_frame
from gale_nook.drawing.svg import styles, svg
from gale_nook.exchange.sheet import TEMPLATES

MEASURED = ("x_mm", "y_mm", "z_mm", "length_mm", "width_mm", "height_mm", "diameter_mm")
_environment = Environment(
    loader=FileSystemLoader(TEMPLATES),
    autoescape=True,
    undefined=StrictUndefined,
    trim_blocks=True,
    lstrip_blocks=True,
)
CARD_ZOOM = 4.0  # of the drawing, against the whole vehicle
CARD_WIDTH = 400.0  # of the drawing, in paper units: a phone shows it without shrinking


@dataclass(frozen=True, slots=True)
class CardOffset:
    """A named feature and how far the middle lies from it, as texts."""

    name: str
    tape: str
    ways: str


@dataclass(frozen=True, slots=True)
class CardHole:
    """A hole of the mount: where its pilot is to be drilled inside, and the mark below that its
    miss is measured from (mm).
    """

    name: str
    drilled: tuple[float, float]
    mark: tuple[float, float]


@dataclass(frozen=True, slots=True)
class CardFeature:
    """A feature to be measured from below, and what was measured before."""

    id: str
    name: str
    known: str


@dataclass(frozen=True, slots=True)
class CardField:
    """A length that can be measured.

    Attributes:
        leaf: of the part's or the run's values.
        label: what it is, without the way that it counts.
        ways: for less and for more than nothing, of a place; empty for a size or a height.
        way: the one that it counts now.
        known: what is known of it; of a height by what it is measured from.
    """

    leaf: str
    label: str
    ways: tuple[str, ...] = ()
    way: str = ""
    known: str = ""
    heights: tuple[tuple[str, str], ...] = ()

    @property
    def is_height(self) -> bool:
        return axis_of(self.leaf) == "z"

    @property
    def told(self) -> str:
        """What it is, with how it counts, for who cannot see the buttons beside it."""
        if self.ways:
            return f"{self.label}, {' or '.join(self.ways)}"
        return f"{self.label}, height" if self.is_height else self.label


def axis_of(leaf: str) -> str:
    """Return the axis that a length lies along: x, y or z; empty for a size.

    >>> axis_of("points.3.2"), axis_of("nodes.n1.x_mm"), axis_of("length_mm")
    ('z', 'x', '')
    """
    last = leaf.rsplit(".", 1)[-1]
    if last.isdigit():
        return "xyz"[int(last)]
    return last[0] if last in {"x_mm", "y_mm", "z_mm"} else ""


WAYS = {"x": ("ahead", "behind"), "y": ("left", "right")}


def _empty(leaf: str, label: str) -> CardField:
    """A length that is asked for, with nothing known of it."""
    ways = WAYS.get(axis_of(leaf), ())
    return CardField(leaf, label, ways, ways[1] if ways else "")


FOUND_BOX = (
    _empty("x_mm", "front edge"),
    _empty("y_mm", "left side"),
    _empty("z_mm", "lower face"),
    _empty("length_mm", "length"),
    _empty("width_mm", "width"),
    _empty("height_mm", "height"),
)
FOUND_TUBE = (
    *(
        _empty(f"points.{number}.{axis}", f"{end}{words}")
        for number, end in enumerate(("front end", "middle", "rear end"))
        for axis, words in enumerate((", from the datum", ", from the centre line", ""))
    ),
    _empty("diameter_mm", "diameter"),
)


@dataclass(frozen=True, slots=True)
class CardPart:
    """A part below the floor, or a run of pipe or line, with its lengths."""

    id: str
    name: str
    fields: tuple[CardField, ...]


@dataclass(frozen=True)
class CreeperCard:
    """Everything that the card shows."""

    job_id: int
    revision: int
    job: str
    units: str
    heights: str
    mount: str
    offsets: tuple[CardOffset, ...]
    doubt: str
    holes: tuple[CardHole, ...]
    features: tuple[CardFeature, ...]
    parts: tuple[CardPart, ...]
    runs: tuple[CardPart, ...]
    kinds: tuple[tuple[str, str], ...]
    mirrored: bool
    drawing: Markup
    drawing_styles: Markup


def creeper_card_of(done: Check, job_id: int, revision: int, system: UnitSystem) -> CreeperCard:
    """Return the card of a checked plan."""
    job = done.job
    plan, sheet = job.plan, drill_sheet(job)
    mirrored = plan.vehicle.below_mirrored
    frame = None
    if plan.spot is not None:
        whole = whole_frame(plan.vehicle.shell)
        width, place = whole.width_mm / CARD_ZOOM, plan.spot
        frame = Frame(place.x_mm, place.y_mm, 0.0, width, whole.plan_px)
    view = BoardView(below=True, side="left", frame=frame)
    m = board_mapping(plan.vehicle.shell, view)
    part = (
        ((PAPER_WIDTH / 2 - CARD_WIDTH / 2, 0.0), (CARD_WIDTH, m.plan_height))
        if plan.spot is not None
        else None
    )
    drawn = svg(
        board(done, BoardOptions(view, "spot", "", system, editable=False, tag="card-")), part=part
    )
    below = sheet.faces[1].offsets if sheet is not None and sheet.faces[1].face == "below" else ()
    return CreeperCard(
        job_id=job_id,
        revision=revision,
        job=plan.name,
        units="in" if system is UnitSystem.IMPERIAL else "mm",
        heights=plan.settings.heights_below,
        mount=sheet.mount if sheet is not None else "",
        offsets=tuple(_offset(offset, system) for offset in below),
        doubt=f"Known to ±{sheet.transfer_mm:.0f} mm (95 %)."
        if sheet is not None and sheet.transfer_mm is not None
        else "",
        holes=card_holes(job),
        features=tuple(
            CardFeature(f.id, f.name, _known(f.below, system)) for f in plan.vehicle.features
        ),
        parts=tuple(_part(job, solid, system) for solid, _, _ in surveyed_where(job, "below")),
        runs=tuple(_runs(job, system)),
        kinds=tuple(
            (kind.id, kind.label)
            for kind in job.catalogue.solid_kinds.values()
            if kind.where == "below"
        ),
        mirrored=mirrored,
        drawing=Markup(drawn),
        drawing_styles=Markup(styles()),
    )


def card_holes(job: Job) -> tuple[CardHole, ...]:
    """Return the holes of the mount, as a card tells of them."""
    return tuple(
        CardHole(hole.name, next_drilled_mm(job, hole), mark_below_mm(job, hole))
        for hole in floor_holes(job)
    )


def _offset(offset: Offset, system: UnitSystem) -> CardOffset:
    def length(value: float) -> str:
        return format_quantity(round(value), "mm", system)

    ways = []
    if round(offset.along_mm):
        ways.append(
            f"{length(abs(offset.along_mm))} to the {'rear' if offset.along_mm > 0 else 'front'}"
        )
    if round(offset.across_mm):
        ways.append(
            f"{length(abs(offset.across_mm))} to the vehicle's "
            f"{'right' if offset.across_mm > 0 else 'left'}"
        )
    return CardOffset(offset.name, length(offset.tape_mm), ", ".join(ways) or "on it")


def _part(job: Job, solid: Solid, system: UnitSystem) -> CardPart:
    fields = tuple(
        _field(job, leaf, _label(leaf), value, system) for leaf, value in measured_leaves(solid)
    )
    return CardPart(solid.id, solid.name, fields)


def measured_leaves(solid: Solid) -> Iterator[tuple[str, float]]:
    """Yield (leaf, value) of every length of a part that can be measured from below."""
    if isinstance(solid, TubeSolid | OutlineSolid):
        name = "points" if isinstance(solid, TubeSolid) else "outline"
        for number, point in enumerate(getattr(solid, name)):
            for axis, value in enumerate(point):
                yield f"{name}.{number}.{axis}", value
    data = solid.model_dump()
    for leaf in MEASURED:
        if leaf in data:
            yield leaf, data[leaf]


def _label(leaf: str) -> str:
    """What a length of a part is, in words."""
    parts = leaf.split(".")
    if len(parts) == 1:
        return {"x_mm": "front edge", "y_mm": "left side", "z_mm": "lower face"}.get(
            leaf, field_words(leaf)
        )
    return f"point {int(parts[1]) + 1}"


def _runs(job: Job, system: UnitSystem) -> Iterator[CardPart]:
    """The corners of what is laid below the floor."""
    pipes, line = job.plan.pipes, job.plan.fuel.line
    runs = (
        ("pipes.exhaust", "exhaust", pipes.exhaust),
        ("pipes.intake", "combustion air", pipes.intake),
        ("fuel.line", "fuel line", line),
    )
    for address, name, run in runs:
        if run is None or not run.nodes:
            continue
        fields = tuple(
            _field(job, f"nodes.{node.id}.{leaf}", f"corner {number}", getattr(node, leaf), system)
            for number, node in enumerate(run.nodes, 1)
            for leaf in ("x_mm", "y_mm", "z_mm")
        )
        yield CardPart(address, name, fields)


def _field(job: Job, leaf: str, label: str, value: float, system: UnitSystem) -> CardField:
    axis = axis_of(leaf)
    if axis == "z":
        heights = tuple(
            (origin, write_quantity(height_from_mm(job, origin, value), "mm", system))
            for origin in HEIGHT_WORDS
        )
        return CardField(leaf, label, heights=heights)
    ways = WAYS.get(axis, ())
    shown = abs(value) if ways else value
    way = ways[value >= 0] if ways else ""
    return CardField(leaf, label, ways, way, write_quantity(shown, "mm", system))


def _known(at: tuple[float, float] | None, system: UnitSystem) -> str:
    return "" if at is None else ", ".join(format_quantity(value, "mm", system) for value in at)


def card_page(card: CreeperCard, style: str = "", script: str = "") -> str:
    """Return the card as a page; with style and script it is one file that needs no server."""
    return _environment.get_template("card.html").render(
        card=card,
        alone=bool(script),
        style=Markup(style),
        script=Markup(script),
        height_words=HEIGHT_WORDS,
        found_box=FOUND_BOX,
        found_tube=FOUND_TUBE,
    )
