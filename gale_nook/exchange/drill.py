"""The drill sheet at 1:1: as a PDF on A4, in tiles where it is larger, and as DXF
in millimetres.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ezdxf import units
from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new
from ezdxf.layouts.layout import Modelspace
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from gale_nook.core.build.drill import PILOT_DRILL_MM
from gale_nook.core.build.drill_sheet import DrillFace, DrillHole, DrillSheet
from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity
from gale_nook.core.quantities.sentences import say
from gale_nook.core.spot.transfer import known_words

TILE_MM = (182.0, 182.0)  # of drawing on a page
OVERLAP_MM = 10.0
MARGIN_MM = 25.0  # round the holes: flange and sealant
CHECK_MM = 100.0
CENTRE_CROSS_MM = 8.0
FONT_PATHS = (
    "/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf",
    "/usr/share/fonts/truetype/dejavu/DejaVuSans-Bold.ttf",
)
CORNERS = ((-1, -1), (1, -1), (1, 1), (-1, 1))
LAYERS = {"HOLES": 1, "CENTRES": 5, "CHECK": 3, "TEXT": 7, "DIRECTION": 8}


@dataclass(frozen=True, slots=True)
class Tile:
    """One page's part of the drawing: its middle, and its place among the tiles."""

    x_mm: float
    y_mm: float
    column: int
    row: int
    columns: int
    rows: int


def tiles(sheet: DrillSheet) -> tuple[Tile, ...]:
    """Return the pages that a face needs; neighbours overlap by OVERLAP_MM."""
    spans = [2 * (half + MARGIN_MM) for half in sheet.half_size_mm]
    counts = []
    for span, tile in zip(spans, TILE_MM, strict=True):
        counts.append(1 if span <= tile else math.ceil((span - OVERLAP_MM) / (tile - OVERLAP_MM)))
    steps = [tile - OVERLAP_MM for tile in TILE_MM]
    return tuple(
        Tile(
            (column - (counts[0] - 1) / 2) * steps[0],
            (row - (counts[1] - 1) / 2) * steps[1],
            column,
            row,
            counts[0],
            counts[1],
        )
        for row in range(counts[1])
        for column in range(counts[0])
    )


def drill_pdf(
    sheets: Sequence[DrillSheet], cautions: tuple[str, ...], system: UnitSystem = UnitSystem.METRIC
) -> bytes:
    """Return drill sheets as a PDF: every tile of each face, to be printed without scaling."""
    _fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4, pageCompression=0)
    canvas.setTitle(f"Drill sheet, {sheets[0].job}")
    canvas.setViewerPreference("PrintScaling", "None")
    for sheet in sheets:
        for face in sheet.faces:
            for tile in tiles(sheet):
                _page(canvas, sheet, face, tile, system)
                _words(canvas, sheet, face, cautions, system)
                canvas.showPage()
    canvas.save()
    return out.getvalue()


def _fonts() -> None:
    for name, path in zip(("Drill", "Drill-Bold"), FONT_PATHS, strict=True):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, path))


def _page(
    canvas: Canvas, sheet: DrillSheet, face: DrillFace, tile: Tile, system: UnitSystem
) -> None:
    """Draw one tile in the page's upper part, as the face is seen."""
    left, bottom = (A4[0] / mm - TILE_MM[0]) / 2, A4[1] / mm - 18 - TILE_MM[1]
    canvas.saveState()
    frame = canvas.beginPath()
    frame.rect(left * mm, bottom * mm, TILE_MM[0] * mm, TILE_MM[1] * mm)
    canvas.setLineWidth(0.4)
    canvas.rect(left * mm, bottom * mm, TILE_MM[0] * mm, TILE_MM[1] * mm)
    canvas.clipPath(frame, stroke=0)
    canvas.translate(
        (left + TILE_MM[0] / 2 - tile.x_mm) * mm, (bottom + TILE_MM[1] / 2 - tile.y_mm) * mm
    )
    canvas.setLineWidth(0.8)
    for hole in sheet.holes:
        x, y = face.along_sign * hole.x_mm * mm, face.across_sign * hole.y_mm * mm
        if hole.half_x_mm:
            canvas.rect(
                x - hole.half_x_mm * mm,
                y - hole.half_y_mm * mm,
                2 * hole.half_x_mm * mm,
                2 * hole.half_y_mm * mm,
            )
        else:
            canvas.circle(x, y, hole.diameter_mm / 2 * mm)
        _cross(canvas, x, y)
        canvas.setFont("Drill", 8)
        canvas.drawString(x + 3 * mm, y + 3 * mm, f"{hole.order}: {_size(hole)}")
    canvas.setDash(4, 3)
    canvas.setLineWidth(0.3)
    canvas.line(-2000, 0, 2000, 0)
    canvas.line(0, -2000, 0, 2000)
    canvas.restoreState()
    _directions(canvas, left, bottom, face)
    if tile.columns * tile.rows > 1:
        canvas.setFont("Drill-Bold", 10)
        place = (
            f"tile {tile.column + 1} of {tile.columns} across, {tile.row + 1} of {tile.rows} "
            f"up; overlap {OVERLAP_MM:g} mm"
        )
        canvas.drawRightString((left + TILE_MM[0]) * mm, (bottom - 5) * mm, place)


def _size(hole: DrillHole) -> str:
    return (
        f"{2 * hole.half_x_mm:g} × {2 * hole.half_y_mm:g}"
        if hole.half_x_mm
        else f"⌀{hole.diameter_mm:g}"
    )


def _cross(canvas: Canvas, x: float, y: float) -> None:
    half = CENTRE_CROSS_MM / 2 * mm
    canvas.line(x - half, y, x + half, y)
    canvas.line(x, y - half, x, y + half)


def _directions(canvas: Canvas, left: float, bottom: float, face: DrillFace) -> None:
    """Write which way is which along the frame."""
    middle_x, middle_y = (left + TILE_MM[0] / 2) * mm, (bottom + TILE_MM[1] / 2) * mm
    top, foot, least, most = face.sides
    canvas.setFont("Drill-Bold", 9)
    canvas.drawCentredString(middle_x, (bottom + TILE_MM[1] - 5) * mm, top)
    canvas.drawCentredString(middle_x, (bottom + 2.5) * mm, foot)
    ends = (least, most) if face.along_sign > 0 else (most, least)
    for x, words in zip((left + 4, left + TILE_MM[0] - 2), ends, strict=True):
        canvas.saveState()
        canvas.translate(x * mm, middle_y)
        canvas.rotate(90)
        canvas.drawCentredString(0, 0, words)
        canvas.restoreState()


def _words(
    canvas: Canvas,
    sheet: DrillSheet,
    face: DrillFace,
    cautions: tuple[str, ...],
    system: UnitSystem,
) -> None:
    canvas.setFont("Drill-Bold", 12)
    canvas.drawString(15 * mm, A4[1] - 11 * mm, f"{sheet.job}: drill sheet 1:1. {face.title}")
    y = A4[1] / mm - 18 - TILE_MM[1] - 12
    canvas.setLineWidth(1.2)
    canvas.line(15 * mm, y * mm, (15 + CHECK_MM) * mm, y * mm)
    for end in (15, 15 + CHECK_MM):
        canvas.line(end * mm, (y - 2) * mm, end * mm, (y + 2) * mm)
    canvas.setFont("Drill", 8)
    canvas.drawString(
        (19 + CHECK_MM) * mm, (y - 1) * mm, "is 100 mm. If not, print again without scaling."
    )
    canvas.setFont("Drill", 8.5)
    y -= 3
    for line in _lines(sheet, face, system):
        y -= 4.6
        canvas.drawString(15 * mm, y * mm, say(line, system))
    canvas.setFont("Drill", 7)
    for line in _wrapped(canvas, " ".join(cautions), (A4[0] / mm - 30) * mm):
        y -= 3.4
        canvas.drawString(15 * mm, y * mm, line)


def _lines(sheet: DrillSheet, face: DrillFace, system: UnitSystem) -> Iterator[str]:
    def length(value: float) -> str:
        return format_quantity(value, "mm", system)

    yield f"{sheet.heater}, {sheet.mount}. The dashed cross is {sheet.cross}. Measure to it:"
    along, against, across, back = face.ways
    for offset in face.offsets:
        ways = (
            [f"{length(abs(offset.along_mm))} {along if offset.along_mm > 0 else against}"]
            if offset.along_mm
            else []
        )
        ways += (
            [f"{length(abs(offset.across_mm))} {across if offset.across_mm > 0 else back}"]
            if offset.across_mm
            else []
        )
        yield (
            f"from {offset.name}: {', '.join(ways) or 'on it'}; straight tape "
            f"{length(offset.tape_mm)}"
        )
    holes = "; ".join(f"{h.order}. {h.name}: {say(h.saw, system)}" for h in sheet.holes)
    if not sheet.look:
        yield f"Then {holes}."
        yield f"{sheet.passes}. File and paint the edge."
        return
    yield f"Pilots of {PILOT_DRILL_MM:g} mm first, all of them; look {sheet.look}; then {holes}."
    doubt = f" {known_words(sheet.transfer_mm)}" if sheet.transfer_mm is not None else ""
    depth = length(sheet.depth_mm) if sheet.depth_mm is not None else "measure it"
    yield f"{sheet.passes}: {depth}. File and paint every edge, then seal.{doubt}"


def _wrapped(canvas: Canvas, text: str, width: float) -> list[str]:
    lines, line = [], ""
    for word in text.split():
        longer = f"{line} {word}".strip()
        if canvas.stringWidth(longer, "Drill", 7) > width and line:
            lines.append(line)
            longer = word
        line = longer
    return [*lines, line]


def drill_dxf(sheet: DrillSheet, face: DrillFace) -> str:
    """Return one face as DXF text, in millimetres about the mount's middle, layers by what is on
    them.
    """
    document = new("R2010", units=units.MM)
    space = document.modelspace()
    for name, colour in LAYERS.items():
        document.layers.add(name, color=colour)
    for hole in sheet.holes:
        centre = (face.along_sign * hole.x_mm, face.across_sign * hole.y_mm)
        if hole.half_x_mm:
            ring = [
                (centre[0] + sx * hole.half_x_mm, centre[1] + sy * hole.half_y_mm)
                for sx, sy in CORNERS
            ]
            space.add_lwpolyline(ring, close=True, dxfattribs={"layer": "HOLES"})
        else:
            space.add_circle(centre, hole.diameter_mm / 2, dxfattribs={"layer": "HOLES"})
        space.add_point(centre, dxfattribs={"layer": "CENTRES"})
        _dxf_text(space, f"{hole.order} {hole.name} {_size(hole)}", (centre[0], centre[1] + 4))
    low = -sheet.half_size_mm[1] - MARGIN_MM
    space.add_line((-CHECK_MM / 2, low), (CHECK_MM / 2, low), dxfattribs={"layer": "CHECK"})
    _dxf_text(space, "check: 100 mm", (0, low - 6))
    to_the_right = face.sides[3 if face.along_sign > 0 else 2].lower()
    _dxf_text(
        space,
        f"{face.title}; up: {face.sides[0].lower()}, to the right: {to_the_right}",
        (0, -low + 4),
        "DIRECTION",
    )
    for number, offset in enumerate(face.offsets):
        away = f"{offset.along_mm:.0f} {face.ways[0]}, {offset.across_mm:.0f} {face.ways[2]}"
        words = f"from {offset.name}: {away}, tape {offset.tape_mm:.0f}"
        _dxf_text(space, words, (0, low - 14 - 6 * number))
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def _dxf_text(space: Modelspace, words: str, at: tuple[float, float], layer: str = "TEXT") -> None:
    text = space.add_text(words, height=3.5, dxfattribs={"layer": layer})
    text.set_placement(at, align=TextEntityAlignment.MIDDLE_CENTER)
