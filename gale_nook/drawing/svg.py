"""Scene to SVG text."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from pathlib import Path

from markupsafe import escape

from gale_nook.drawing.scene import (
    Badge,
    Circle,
    Clip,
    Group,
    Line,
    Node,
    Picture,
    Point,
    Rect,
    Scene,
    Strokes,
    Text,
)

STYLES = Path(__file__).with_name("drawing.css")

Part = tuple[Point, tuple[float, float]]  # low corner and size, in paper units


@lru_cache(maxsize=1)
def styles() -> str:
    """Return the style sheet of the drawings, for a page to serve or a print to read."""
    return STYLES.read_text("utf-8")


def svg(scene: Scene, *, part: Part | None = None) -> str:
    """Return a scene as an SVG element for a page that has the drawings' styles.

    Args:
        part: show only this rectangle of it.
    """
    (x, y), (width, height) = part if part is not None else ((0.0, 0.0), scene.size)
    # what is hidden from those who cannot see it needs no name for them
    told = (
        {}
        if scene.attributes.get("aria-hidden") == "true"
        else {"role": "img", "aria-label": scene.label}
    )
    return (
        f'<svg viewBox="{_n(x)} {_n(y)} {_n(width)} '
        f'{_n(height)}"{_attributes({**told, **scene.attributes})}>'
        f"{nodes(scene.nodes)}</svg>"
    )


def nodes(children: Sequence[Node]) -> str:
    """Return nodes as SVG text without the enclosing element."""
    return "".join(_node(child) for child in children)


def _n(value: float) -> str:
    """A tenth of a paper unit is finer than any line that is drawn."""
    return f"{value:.1f}".removesuffix(".0")


def _attributes(attributes: Mapping[str, str]) -> str:
    return "".join(
        f' {name}="{escape(value)}"' for name, value in attributes.items() if value != ""
    )


def _points(points: Sequence[Point]) -> str:
    return " ".join([f"{x:.1f},{y:.1f}" for x, y in points])


def _close(tag: str, title: str) -> str:
    return f"><title>{escape(title)}</title></{tag}>" if title else "/>"


def _node(node: Node) -> str:
    match node:
        case Group():
            title = f"<title>{escape(node.title)}</title>" if node.title else ""
            return f"<g{_attributes(node.attributes)}>{title}{nodes(node.children)}</g>"
        case Line():
            tag = "polygon" if node.closed else "polyline"
            width = f' stroke-width="{_n(node.width)}"' if node.width is not None else ""
            return f'<{tag} class="{node.cls}" points="{_points(node.points)}"{width}' + _close(
                tag, node.title
            )
        case Strokes():
            path = "".join(f"M{_n(a[0])} {_n(a[1])}L{_n(b[0])} {_n(b[1])}" for a, b in node.pairs)
            return f'<path class="{node.cls}" d="{path}"/>'
        case Circle():
            x, y = node.centre
            return (
                f'<circle class="{node.cls}" cx="{_n(x)}" cy="{_n(y)}" r="{_n(node.radius)}"'
                + _close("circle", node.title)
            )
        case Rect():
            x, y = node.low
            rounded = f' rx="{_n(node.rounded)}"' if node.rounded else ""
            return (
                f'<rect class="{node.cls}" x="{_n(x)}" y="{_n(y)}" '
                f'width="{_n(max(node.size[0], 0))}" '
                f'height="{_n(max(node.size[1], 0))}"{rounded}' + _close("rect", node.title)
            )
        case Text() | Badge():
            return _lettered(node)
        case Clip() | Picture():
            return _boxed(node)


def _lettered(node: Text | Badge) -> str:
    if isinstance(node, Badge):
        return _badge(node)
    return "".join(_text(node, cls) for cls in text_classes(node))


def text_classes(node: Text) -> tuple[str, ...]:
    """Return the classes that a text is drawn with, one after another."""
    return (f"{node.cls} halo", node.cls) if node.halo else (node.cls,)


def _text(node: Text, cls: str) -> str:
    x, y = node.at
    turn = f' transform="rotate({_n(node.turn)} {_n(x)} {_n(y)})"' if node.turn else ""
    return (
        f'<text class="{cls}" x="{_n(x)}" y="{_n(y)}" '
        f'text-anchor="{node.anchor}"{turn}>{escape(node.text)}</text>'
    )


def _badge(node: Badge) -> str:
    x, y = node.at
    return (
        f'<circle class="{node.cls}" cx="{_n(x)}" cy="{_n(y)}" r="{_n(node.radius)}"/>'
        f'<text class="{node.cls}-number" x="{_n(x)}" y="{_n(y + 4)}" '
        f'text-anchor="middle">{escape(node.text)}</text>'
    )


def _boxed(node: Clip | Picture) -> str:
    (x, y), (width, height) = node.low, node.size
    box = f'x="{_n(x)}" y="{_n(y)}" width="{_n(width)}" height="{_n(height)}"'
    if isinstance(node, Clip):
        return f'<clipPath id="{node.id}"><rect {box}/></clipPath>'
    return (
        f'<image class="{node.cls}" href="{escape(node.href)}" {box} preserveAspectRatio="none"/>'
    )
