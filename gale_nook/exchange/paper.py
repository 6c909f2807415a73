"""A scene on a PDF page, in the styles of the screen."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from reportlab.lib.colors import HexColor
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable

from gale_nook.drawing.scene import (
    Circle,
    Clip,
    Group,
    Line,
    Node,
    Point,
    Rect,
    Scene,
    Strokes,
    Text,
)
from gale_nook.drawing.style import Chain, style_of
from gale_nook.drawing.svg import text_classes

FONT, BOLD = "Paper", "Paper-Bold"
FONT_FILES = {FONT: "DejaVuSans.ttf", BOLD: "DejaVuSans-Bold.ttf"}
FONT_FOLDER = "/usr/share/fonts/truetype/dejavu"
FONT_SIZE = 11.5
CAPS = {"butt": 0, "round": 1, "square": 2}
JOINS = {"miter": 0, "round": 1, "bevel": 2}
FILL_THEN_STROKE, FILL, STROKE = 2, 0, 1  # PDF's text rendering modes


def use_fonts() -> None:
    """Make the fonts known to the PDF writer."""
    for name, file in FONT_FILES.items():
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, f"{FONT_FOLDER}/{file}"))


class Drawn(Flowable):  # type: ignore[misc]
    """A scene in the flow of a page.

    Args:
        width: on paper, in points.
    """

    def __init__(self, scene: Scene, width: float) -> None:
        super().__init__()
        self.scene = scene
        self.width = width
        self.height = width * scene.size[1] / scene.size[0]

    def wrap(self, *_: object) -> tuple[float, float]:
        return self.width, self.height

    def draw(self) -> None:
        draw_scene(self.canv, self.scene, self.width)


def draw_scene(canvas: Canvas, scene: Scene, width: float) -> None:
    """Draw a scene with its lower left corner at the origin, `width` points wide."""
    scale = width / scene.size[0]
    canvas.saveState()
    canvas.transform(scale, 0, 0, -scale, 0, scale * scene.size[1])  # a scene's y runs down
    clips: dict[str, Clip] = {}
    _nodes(canvas, scene.nodes, (_classes(scene.attributes.get("class", "")),), clips)
    canvas.restoreState()


def _classes(text: str) -> frozenset[str]:
    return frozenset(text.split())


def _nodes(canvas: Canvas, nodes: Sequence[Node], around: Chain, clips: dict[str, Clip]) -> None:
    for node in nodes:
        if isinstance(node, Clip):
            clips[node.id] = node
        elif isinstance(node, Group):
            _group(canvas, node, around, clips)
        elif isinstance(node, Text):
            for cls in text_classes(node):
                _text(canvas, node, style_of((*around, _classes(cls) | {"text"})))
        elif isinstance(node, Line | Strokes | Circle | Rect):
            _shape(canvas, node, style_of((*around, _classes(node.cls))))


def _group(canvas: Canvas, group: Group, around: Chain, clips: dict[str, Clip]) -> None:
    clip = clips.get(group.attributes.get("clip-path", "").removeprefix("url(#").removesuffix(")"))
    canvas.saveState()
    if clip is not None:
        path = canvas.beginPath()
        path.rect(*clip.low, *clip.size)
        canvas.clipPath(path, stroke=0, fill=0)
    _nodes(canvas, group.children, (*around, _classes(group.attributes.get("class", ""))), clips)
    canvas.restoreState()


def _shape(canvas: Canvas, node: Line | Strokes | Circle | Rect, style: Mapping[str, str]) -> None:
    fill, stroke = style.get("fill", "#000000"), style.get("stroke", "none")
    own_width = node.width if isinstance(node, Line) else None
    width = float(style.get("stroke-width", own_width if own_width is not None else 1))
    canvas.saveState()
    if fill != "none":
        canvas.setFillColor(HexColor(fill))
        canvas.setFillAlpha(float(style.get("fill-opacity", 1)))
    if stroke != "none":
        canvas.setStrokeColor(HexColor(stroke))
        canvas.setStrokeAlpha(float(style.get("stroke-opacity", 1)))
        canvas.setLineWidth(width)
        canvas.setLineCap(CAPS[style.get("stroke-linecap", "butt")])
        canvas.setLineJoin(JOINS[style.get("stroke-linejoin", "miter")])
        dash = style.get("stroke-dasharray", "none")
        if dash != "none":
            canvas.setDash([float(part) for part in dash.split()])
    path = canvas.beginPath()
    _trace(path, node)
    canvas.drawPath(path, stroke=int(stroke != "none" and width > 0), fill=int(fill != "none"))
    canvas.restoreState()


def _trace(path: Any, node: Line | Strokes | Circle | Rect) -> None:
    match node:
        case Line():
            _polyline(path, node.points)
            if node.closed:
                path.close()
        case Strokes():
            for pair in node.pairs:
                _polyline(path, pair)
        case Circle():
            path.circle(*node.centre, node.radius)
        case Rect():
            size = (max(node.size[0], 0.0), max(node.size[1], 0.0))
            if node.rounded:
                path.roundRect(*node.low, *size, min(node.rounded, *(side / 2 for side in size)))
            else:
                path.rect(*node.low, *size)


def _polyline(path: Any, points: Sequence[Point]) -> None:
    for index, point in enumerate(points):
        (path.lineTo if index else path.moveTo)(*point)


def _text(canvas: Canvas, node: Text, style: Mapping[str, str]) -> None:
    font = BOLD if style.get("font-weight", "400") >= "600" else FONT
    size = float(style.get("font-size", f"{FONT_SIZE}px").removesuffix("px"))
    long = pdfmetrics.stringWidth(node.text, font, size)
    stroke = style.get("stroke", "none")
    canvas.saveState()
    canvas.translate(*node.at)
    canvas.rotate(node.turn)
    canvas.scale(1, -1)
    canvas.setFillColor(HexColor(style.get("fill", "#000000")))
    modes = [FILL]
    if stroke != "none":
        canvas.setStrokeColor(HexColor(stroke))
        canvas.setLineWidth(float(style.get("stroke-width", 1)))
        canvas.setLineJoin(1)
        modes = [STROKE, FILL] if style.get("paint-order") == "stroke" else [FILL_THEN_STROKE]
    for mode in modes:
        text = canvas.beginText(-long * {"start": 0.0, "middle": 0.5, "end": 1.0}[node.anchor], 0)
        text.setFont(font, size)
        text.setTextRenderMode(mode)
        text.textOut(node.text)
        canvas.drawText(text)
    canvas.restoreState()
