"""The two pages of the build sheet that are taken along: one with the drawings, one with steps and
holes.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import (
    Flowable,
    KeepInFrame,
    PageBreak,
    Paragraph,
    Table,
)

from gale_nook.exchange.paper import BOLD, FONT, Drawn
from gale_nook.exchange.sheet import Sheet

INK, RULE = HexColor("#1d2b2c"), HexColor("#b9b3a0")
TITLE = ParagraphStyle("along-title", fontName=BOLD, fontSize=13, leading=16, textColor=INK)
SMALL = ParagraphStyle("along", fontName=FONT, fontSize=7.6, leading=9.4, textColor=INK)
STANDS = (
    "Stands under it, never only a jack; battery off; look before you drill. All cautions: behind."
)
MOST_WORDS = 190  # of a step's text, that go along; the whole of it is behind
MOST_CHANGES = 8
SECTION_SHARE = 0.55


def take_along(shown: Sheet, width: float, height: float) -> Iterator[Flowable]:
    """Yield the two pages, each shrunk to fit where there is much on it.

    Args:
        width, height: of a page's frame, in points.
    """
    drawings: list[Flowable] = [_title(shown, "drawings"), Paragraph(escape(STANDS), SMALL)]
    for title, scene in shown.scenes:
        drawings += [Drawn(scene, width), Paragraph(escape(title), SMALL)]
    section = shown.section_scene
    if section is not None:
        drawings.append(Drawn(section, width * SECTION_SHARE))
    yield KeepInFrame(width, height, drawings, mode="shrink")
    yield PageBreak()
    yield KeepInFrame(width, height, list(_work(shown, width)), mode="shrink")
    yield PageBreak()


def _title(shown: Sheet, words: str) -> Paragraph:
    return Paragraph(f"{escape(shown.plan.name)}: {words}", TITLE)


def _work(shown: Sheet, width: float) -> Iterator[Flowable]:
    """Steps with a box to tick, then every hole."""
    yield _title(shown, "steps and holes")
    yield Paragraph(escape(STANDS), SMALL)
    if shown.since is not None:
        told = " ".join(shown.say(line) for line in shown.since.lines[:MOST_CHANGES])
        more = len(shown.since.lines) - MOST_CHANGES
        rest = f" And {more} more, behind." if more > 0 else ""
        yield Paragraph(f"<b>{escape(shown.since.title)}:</b> {escape(told + rest)}", SMALL)
    rows = [
        ["", str(number), f"<b>{escape(step.title)}.</b> {escape(_short(shown.say(step.text)))}"]
        for number, step in enumerate(shown.steps, 1)
    ]
    if rows:
        yield dense_table(rows, [0.03, 0.04, 0.93], width, boxed=0)
    else:
        yield Paragraph(shown.no_steps, SMALL)
    holes = [
        [
            escape(hole.name),
            shown.amount(hole.x_mm, "mm"),
            shown.amount(hole.y_mm, "mm"),
            shown.amount(hole.z_mm, "mm") if hole.z_mm is not None else "",
            f"⌀ {shown.amount(hole.diameter_mm, 'mm')}",
            escape(shown.say(hole.saw)),
        ]
        for hole in shown.holes
    ]
    if holes:
        head = ["<b>Hole</b>", "behind datum", "right of centre", "above floor", "size", "with"]
        yield dense_table([head, *holes], [0.36, 0.12, 0.13, 0.11, 0.1, 0.18], width)


def _short(text: str) -> str:
    """The beginning of a text, up to the end of a word."""
    if len(text) <= MOST_WORDS:
        return text
    return text[:MOST_WORDS].rsplit(" ", 1)[0] + " …"


def dense_table(
    rows: Sequence[Sequence[str]],
    shares: Sequence[float],
    width: float,
    boxed: int | None = None,
) -> Table:
    """Return a table of small print; its cells are in the writer's markup.

    Args:
        shares: of the width, by column.
        boxed: a column of boxes to tick; None for none.
    """
    cells = [[Paragraph(_bold(text), SMALL) if text else "" for text in row] for row in rows]
    style: list[tuple[object, ...]] = [
        ("LINEBELOW", (0, 0), (-1, -1), 0.4, RULE),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LEFTPADDING", (0, 0), (-1, -1), 1),
        ("RIGHTPADDING", (0, 0), (-1, -1), 1 * mm),
        ("TOPPADDING", (0, 0), (-1, -1), 0.5 * mm),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 0.5 * mm),
    ]
    if boxed is not None:
        style.append(("BOX", (boxed, 0), (boxed, -1), 0.8, INK))
        style.append(("INNERGRID", (boxed, 0), (boxed, -1), 0.8, INK))
    return Table(cells, colWidths=[share * width for share in shares], style=style)


def _bold(text: str) -> str:
    return text.replace("<b>", f'<font name="{BOLD}">').replace("</b>", "</font>")
