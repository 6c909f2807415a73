"""A scene: what is drawn, as data, in paper units (px at 1:1). Renderers turn it into SVG."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from gale_nook.core.geometry.frames import Vec3

Point = tuple[float, float]
Project = Callable[[Vec3], Point]  # from the vehicle's frame (mm) onto paper


@dataclass(frozen=True, slots=True)
class Line:
    """A polyline; `closed` fills it."""

    points: Sequence[Point]
    cls: str
    closed: bool = False
    width: float | None = None
    title: str = ""


@dataclass(frozen=True, slots=True)
class Strokes:
    """Many separate straight strokes of one kind (hatching, tape ticks)."""

    pairs: Sequence[tuple[Point, Point]]
    cls: str


@dataclass(frozen=True, slots=True)
class Circle:
    centre: Point
    radius: float
    cls: str
    title: str = ""


@dataclass(frozen=True, slots=True)
class Rect:
    low: Point
    size: tuple[float, float]
    cls: str
    rounded: float = 0.0
    title: str = ""


@dataclass(frozen=True, slots=True)
class Text:
    """`anchor` is start, middle or end; `turn` in degrees about the point; `halo` puts the same in
    paper's colour under it, so that lines do not run through it.
    """

    at: Point
    text: str
    cls: str
    anchor: str = "start"
    turn: float = 0.0
    halo: bool = False


@dataclass(frozen=True, slots=True)
class Badge:
    """A number in a ring."""

    at: Point
    text: str
    cls: str
    radius: float = 9.0


@dataclass(frozen=True, slots=True)
class Group:
    """Children with attributes (id, class, data-*, tabindex, aria-label, clip)."""

    children: Sequence[Node]
    attributes: Mapping[str, str] = field(default_factory=dict)
    title: str = ""


@dataclass(frozen=True, slots=True)
class Picture:
    """A raster picture from an address, stretched over a rectangle."""

    href: str
    low: Point
    size: tuple[float, float]
    cls: str


@dataclass(frozen=True, slots=True)
class Clip:
    """A clipping rectangle that groups refer to by `clip-path`."""

    id: str
    low: Point
    size: tuple[float, float]


Node = Line | Strokes | Circle | Rect | Text | Badge | Group | Clip | Picture


@dataclass(frozen=True, slots=True)
class Scene:
    """A whole drawing.

    Attributes:
        label: what it shows, for those who cannot see it.
        size: width and height in paper units.
    """

    label: str
    size: tuple[float, float]
    nodes: Sequence[Node]
    attributes: Mapping[str, str] = field(default_factory=dict)
