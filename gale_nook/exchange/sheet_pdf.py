"""The build sheet as a PDF on A4."""

from __future__ import annotations

import io
from collections.abc import Iterator, Sequence
from functools import partial
from typing import Any
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    Frame,
    NextPageTemplate,
    PageBreak,
    PageTemplate,
    Paragraph,
    Spacer,
    Table,
)

from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import check
from gale_nook.core.plan.document import Plan
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.exchange.finding_cards import FindingCard
from gale_nook.exchange.paper import BOLD, FONT, Drawn, draw_scene, use_fonts
from gale_nook.exchange.sheet import Sheet, Since, sheet
from gale_nook.exchange.take_along import dense_table, take_along

LEFT, RIGHT, TOP, FOOT = 15 * mm, 15 * mm, 14 * mm, 16 * mm
WIDTH, HEIGHT = A4[0] - LEFT - RIGHT, A4[1] - TOP - FOOT
GUTTER = 6 * mm
SECTION_WIDTH, GAUGE_WIDTH = 80 * mm, 60 * mm
INK, RULE = HexColor("#1d2b2c"), HexColor("#b9b3a0")
BARS = {
    "clear": "#2b6a4d",
    "over": "#a3241c",
    "tight": "#8a5a00",
    "accepted": "#4a4f8a",
    "unknown": "#4a4f8a",
}

_BASE = {"fontName": FONT, "textColor": INK}
BODY = ParagraphStyle("body", fontSize=9, leading=12.2, spaceAfter=3, **_BASE)
SMALL = ParagraphStyle("small", fontSize=8, leading=10.6, **_BASE)
ITEM = ParagraphStyle("item", parent=BODY, leftIndent=5 * mm, bulletIndent=0, spaceAfter=2)
INNER = ParagraphStyle("inner", parent=BODY, leftIndent=10 * mm, bulletIndent=5 * mm, spaceAfter=2)
CELL = ParagraphStyle("cell", parent=BODY, spaceAfter=0)
NUMBER = ParagraphStyle("number", parent=CELL, alignment=2)
TITLE = ParagraphStyle("title", fontName=BOLD, fontSize=18, leading=22, textColor=INK, spaceAfter=4)
HEADING = ParagraphStyle(
    "heading", fontName=BOLD, fontSize=12, leading=15, textColor=INK, spaceBefore=4 * mm
)


def build_pdf(
    plan: Plan,
    catalogue: Catalogue,
    system: UnitSystem = UnitSystem.METRIC,
    edit: int | None = None,
    since: Since | None = None,
) -> bytes:
    """Return the build sheet as a PDF on A4.

    Args:
        edit: number of the plan's revision, at the foot of each page; None where there is none.
        since: what has changed since another was printed; None where none was.
    """
    use_fonts()
    shown = sheet(check(plan, catalogue), system, since)
    out = io.BytesIO()
    document = BaseDocTemplate(
        out, pagesize=A4, title=f"{plan.name}: build sheet", leftMargin=LEFT, rightMargin=RIGHT
    )
    column = (WIDTH - GUTTER) / 2
    document.addPageTemplates(
        [
            PageTemplate("wide", [_frame(LEFT, WIDTH)]),
            PageTemplate("columns", [_frame(LEFT, column), _frame(LEFT + column + GUTTER, column)]),
        ]
    )
    document.build(list(_story(shown, column)), canvasmaker=partial(_Numbered, _foot(plan, edit)))
    return out.getvalue()


def _foot(plan: Plan, edit: int | None) -> str:
    """What stands at the foot of each page."""
    of = f", edit {edit}" if edit is not None else ""
    return f"Gale Nook build sheet: {plan.name}{of}"


def _frame(left: float, width: float) -> Frame:
    return Frame(
        left, FOOT, width, HEIGHT, leftPadding=0, rightPadding=0, topPadding=0, bottomPadding=0
    )


def _story(shown: Sheet, column: float) -> Iterator[Flowable]:
    yield from take_along(shown, WIDTH, HEIGHT)
    yield from _header(shown)
    yield from _since(shown)
    yield from _steps(shown)
    yield from _holes(shown)
    yield from _wiring(shown)
    yield from _parts(shown)
    yield NextPageTemplate("columns")
    yield PageBreak()
    yield from _heading("What was checked and needs a look", column)
    for card in shown.open_cards:
        yield Finding(card, column)
    if not shown.open_cards:
        yield Paragraph(_plain(shown.no_open), BODY)
    yield NextPageTemplate("wide")
    yield PageBreak()
    yield from _heading("What was checked and is clear")
    yield from _clear(shown)


def _clear(shown: Sheet) -> Iterator[Flowable]:
    """What is clear, a line each."""
    rows = [
        [_plain(text) for text in (c.title, c.measured, c.limit, c.margin, c.whose)]
        for c in shown.clear_cards
    ]
    head = [f"<b>{text}</b>" for text in ("Check", "measured", "limit", "margin", "whose")]
    yield dense_table([head, *rows], [0.42, 0.14, 0.19, 0.12, 0.13], WIDTH)


def _heading(text: str, width: float = WIDTH) -> list[Flowable]:
    results: list[Flowable] = [Paragraph(_plain(text), HEADING), _Rule(width), Spacer(0, 1.6 * mm)]
    for part in results:
        part.keepWithNext = 1  # never alone at the foot of a page
    return results


def _plain(text: str) -> str:
    """A text as it is, in the writer's markup."""
    return escape(text).replace("\n", "<br/>")


def _header(shown: Sheet) -> Iterator[Flowable]:
    plan = shown.plan
    yield Paragraph(_plain(plan.name), TITLE)
    yield Paragraph(_plain(shown.about), BODY)
    if shown.heater:
        yield Paragraph(_plain(shown.heater), BODY)
    counts = ", ".join(f"{mark} {count} {word}" for _, mark, word, count in shown.tally)
    limits = "Only what was surveyed was checked; stations not listed here were not."
    yield Paragraph(_plain(f"{counts}. {limits}"), BODY)
    cautions = [Paragraph("Before you start", HEADING), *(_item(text) for text in shown.cautions)]
    box = [
        ("BOX", (0, 0), (-1, -1), 1.2, INK),
        ("LEFTPADDING", (0, 0), (-1, -1), 3 * mm),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 2 * mm),
    ]
    yield Table([[cautions]], colWidths=[WIDTH], style=box)


def _since(shown: Sheet) -> Iterator[Flowable]:
    """What has changed since the last print, for whoever has that one in hand."""
    if shown.since is None:
        return
    yield from _heading(shown.since.title)
    for line in shown.since.lines:
        yield _item(shown.say(line))


def _item(text: str, style: ParagraphStyle = ITEM, bullet: str = "•") -> Paragraph:
    return Paragraph(_plain(text), style, bulletText=bullet)


def _steps(shown: Sheet) -> Iterator[Flowable]:
    yield from _heading("Order of work")
    if not shown.steps:
        yield Paragraph(shown.no_steps, BODY)
    for number, step in enumerate(shown.steps, 1):
        told = f"<b>{_plain(step.title)}.</b> {_plain(shown.say(step.text))}"
        yield Paragraph(
            told.replace("<b>", f'<font name="{BOLD}">').replace("</b>", "</font>"),
            ITEM,
            bulletText=f"{number}.",
        )
        for caution in step.cautions:
            yield _item(shown.caution(caution), INNER)


def _holes(shown: Sheet) -> Iterator[Flowable]:
    yield from _heading("Holes and cuts")
    rows = []
    for hole in shown.holes:
        high = (
            f", {shown.amount(hole.z_mm, 'mm')} above the load floor"
            if hole.z_mm is not None
            else ""
        )
        places = (shown.amount(hole.x_mm, "mm"), shown.amount(hole.y_mm, "mm"))
        diameter = f"⌀ {shown.amount(hole.diameter_mm, 'mm')}"
        rows.append([f"{hole.name}{high}", *places, diameter, shown.say(hole.saw)])
    rows += [
        [cut.label, "", "", shown.amount(cut.length_mm, "mm"), cut.remark] for cut in shown.cuts
    ]
    if not rows:
        yield Paragraph(shown.no_cuts, BODY)
        return
    head = ["What", "Behind datum", "Right of centre", "Size", "With"]
    yield _table([head, *rows], [0.3, 0.16, 0.17, 0.13, 0.24], numbers={1, 2, 3})


def _wiring(shown: Sheet) -> Iterator[Flowable]:
    if not shown.wires:
        return
    yield from _heading("Wiring")
    scene = shown.schematic_scene
    if scene is not None:
        yield Drawn(scene, SECTION_WIDTH)
    rows = [
        [f"{row.plug} {row.pin}", row.colour, row.function, shown.say(row.done)]
        for row in shown.wires
    ]
    yield _table(
        [["Plug, pin", "Colour", "For", "What is done"], *rows], [0.2, 0.2, 0.26, 0.34], set()
    )


def _parts(shown: Sheet) -> Iterator[Flowable]:
    yield from _heading("Parts so far")
    if not shown.parts:
        yield Paragraph(shown.no_parts, BODY)
        return
    rows = [
        [
            line.label,
            shown.count(line, line.needed),
            shown.count(line, line.in_kit),
            shown.count(line, line.to_buy) if line.to_buy else "–",
            line.use,
        ]
        for line in shown.parts
    ]
    yield _table(
        [["Part", "Needed", "In the kit", "To buy", "For"], *rows],
        [0.34, 0.13, 0.13, 0.13, 0.27],
        {1, 2, 3},
    )


def _table(rows: Sequence[Sequence[str]], shares: Sequence[float], numbers: set[int]) -> Table:
    cells = [
        [_cell(text, column in numbers, bold=index == 0) for column, text in enumerate(row)]
        for index, row in enumerate(rows)
    ]
    style = [
        ("LINEBELOW", (0, 0), (-1, -1), 0.5, RULE),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LEFTPADDING", (0, 0), (-1, -1), 0),
        ("RIGHTPADDING", (0, 0), (-1, -1), 2 * mm),
        ("TOPPADDING", (0, 0), (-1, -1), 0.8 * mm),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 0.8 * mm),
    ]
    return Table(cells, colWidths=[share * WIDTH for share in shares], style=style, repeatRows=1)


def _cell(text: str, number: bool, bold: bool) -> Paragraph:
    words = f'<font name="{BOLD}">{_plain(text)}</font>' if bold else _plain(text)
    return Paragraph(words, NUMBER if number else CELL)


class _Rule(Flowable):  # type: ignore[misc]
    """The line under a heading."""

    def __init__(self, width: float) -> None:
        super().__init__()
        self.width, self.height = width, 0.4 * mm

    def wrap(self, *_: object) -> tuple[float, float]:
        return self.width, self.height

    def draw(self) -> None:
        self.canv.setStrokeColor(INK)
        self.canv.setLineWidth(1.1)
        self.canv.line(0, 0, self.width, 0)


class Finding(Flowable):  # type: ignore[misc]
    """One finding: a bar whose pattern tells the verdict, its words, its numbers and its gauge.
    Never split.
    """

    PAD = 2.5 * mm
    GAP = 1.6 * mm

    def __init__(self, card: FindingCard, width: float) -> None:
        super().__init__()
        self.card, self.width = card, width
        self.words = Paragraph(_finding_words(card), SMALL)
        self.height = 0.0

    def wrap(self, width: float, _height: float) -> tuple[float, float]:
        inner = self.width - 2 * self.PAD
        _, self._words_height = self.words.wrap(inner, 10_000)
        scene = self.card.gauge_scene
        self._gauge_height = (
            GAUGE_WIDTH * scene.size[1] / scene.size[0] if scene is not None else 0.0
        )
        self.height = self._words_height + self._gauge_height + 2 * mm + self.GAP
        return self.width, self.height

    def draw(self) -> None:
        canvas, top = self.canv, self.height - 1 * mm
        _bar(canvas, self.card.verdict, self.GAP, self.height)
        self.words.drawOn(canvas, self.PAD, top - self._words_height)
        if self.card.gauge_scene is not None:
            canvas.saveState()
            canvas.translate(self.PAD, top - self._words_height - self._gauge_height)
            draw_scene(canvas, self.card.gauge_scene, GAUGE_WIDTH)
            canvas.restoreState()


def _finding_words(card: FindingCard) -> str:
    source = f", {card.source}" if card.source else ""
    heading = f'<font name="{BOLD}">{_plain(f"{card.mark} {card.title}")}</font>'
    parts = [
        heading + _plain(f": {card.word}"),
        _plain(card.sentence),
        _plain(
            f"Measured {card.measured}; limit {card.limit} ({card.whose}{source}); margin "
            f"{card.margin}."
        ),
    ]
    if card.assumed:
        parts.append(_plain(card.assumed))
    if card.lapsed:
        parts.append(_plain(card.lapsed))
    if card.accepted_by:
        parts.append(
            _plain(f"Accepted by {card.accepted_by}: {card.accepted_reason or 'no reason given'}")
        )
    return "<br/>".join(parts)


def _bar(canvas: Canvas, verdict: str, low: float, high: float) -> None:
    """A bar beside a finding: one line, two for over, dashes for what is to be measured."""
    canvas.saveState()
    canvas.setStrokeColor(HexColor(BARS[verdict]))
    at, width = (0.6 * mm,), 1.2 * mm
    if verdict == "over":
        at, width = (0.2 * mm, 1.0 * mm), 0.4 * mm  # type: ignore[assignment]
    if verdict == "unknown":
        canvas.setDash([2.4 * mm, 1.2 * mm])
    canvas.setLineWidth(width)
    for x in at:
        canvas.line(x, low, x, high)
    canvas.restoreState()


class _Numbered(Canvas):  # type: ignore[misc]
    """Writes what it is of and "page / pages" at each foot, when the number of pages is known."""

    def __init__(self, foot: str, *arguments: Any, **options: Any) -> None:
        super().__init__(*arguments, **options)
        self._foot = foot
        self._pages: list[dict[str, Any]] = []

    def showPage(self) -> None:  # noqa: N802 - the name that the writer calls
        self._pages.append(dict(self.__dict__))
        self._startPage()

    def save(self) -> None:
        foot = self._foot
        for number, page in enumerate(self._pages, 1):
            self.__dict__.update(page)
            self.setFont(FONT, 8)
            self.setFillColor(INK)
            self.drawString(LEFT, 9 * mm, foot)
            self.drawRightString(A4[0] - RIGHT, 9 * mm, f"{number} / {len(self._pages)}")
            super().showPage()
        super().save()
