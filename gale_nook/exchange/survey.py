"""The survey as files: CSV with a row for every part, and DXF with layers by kind, both ways, in
millimetres.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from ezdxf import units
from ezdxf.document import Drawing
from ezdxf.filemanagement import new, read
from ezdxf.lldxf.const import DXFError
from pydantic import TypeAdapter, ValidationError

from gale_nook.core.catalogue.survey import SolidKind
from gale_nook.core.errors import PlanUnreadable
from gale_nook.core.plan.document import places_of
from gale_nook.core.plan.solids import BoxSolid, CylinderSolid, OutlineSolid, Solid, TubeSolid
from gale_nook.core.spot.convex_pieces import box_prism
from gale_nook.core.text import delimiter_of, read_text
from gale_nook.exchange.csv_rows import FORMULA_BEGINS

MAX_BYTES = 2_000_000
MAX_DXF_BYTES = 1_000_000  # read in about a second
MAX_ROWS = 2_000
MAX_PARTS = 400
TEXT_MARK = "'"
DXF_UNITS = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}
_UNIT_CODES = {"1": 25.4, "2": 304.8, "4": 1.0, "5": 10.0, "6": 1000.0}  # of a DXF's $INSUNITS
_UNIT = re.compile(r"\$INSUNITS\s*\n\s*70\s*\n\s*(\S+)")
COLUMNS = (
    "id",
    "name",
    "kind",
    "shape",
    "x_mm",
    "y_mm",
    "z_mm",
    "length_mm",
    "width_mm",
    "height_mm",
    "yaw_deg",
    "diameter_mm",
    "axis",
    "material",
    "travel_up_mm",
    "travel_down_mm",
    "points",
    "note",
)
HEIGHT_MM = 50.0  # of a DXF outline that has no thickness
TUBE_MM = 20.0  # of a DXF line that has no width
_SOLID: TypeAdapter[Solid] = TypeAdapter(Solid)


@dataclass(frozen=True)
class Survey:
    """What a file held: the parts that can be taken, and (place, problem) of every
    row that cannot.
    """

    solids: tuple[Solid, ...]
    refused: tuple[tuple[str, str], ...]


def survey_csv(solids: Sequence[Solid]) -> str:
    """Return the parts as CSV; points as `x y z; x y z`. No cell is one that a spreadsheet would
    work out.
    """
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    writer.writeheader()
    for solid in solids:
        data = solid.model_dump(mode="json")
        points = data.get("points") or data.get("outline") or ()
        row = {column: data.get(column, "") for column in COLUMNS}
        row["points"] = "; ".join(" ".join(f"{value:g}" for value in point) for point in points)
        writer.writerow(
            {
                column: _as_text(value) if isinstance(value, str) else value
                for column, value in row.items()
            }
        )
    return out.getvalue()


def _as_text(text: str) -> str:
    """A text that begins like a formula gets a mark in front that spreadsheets show as text;
    `_as_typed` takes it off.
    """
    return TEXT_MARK + text if text.startswith((*FORMULA_BEGINS, TEXT_MARK)) else text


def _as_typed(text: str) -> str:
    return (
        text[1:]
        if text.startswith(TEXT_MARK) and text[1:].startswith((*FORMULA_BEGINS, TEXT_MARK))
        else text
    )


def read_survey_csv(raw: bytes, kinds: dict[str, SolidKind]) -> Survey:
    """Return the parts of a CSV file; rows that cannot be taken are named with their line."""
    text = read_text(raw, MAX_BYTES, "surveys")
    reader = csv.DictReader(io.StringIO(text), delimiter=delimiter_of(text.partition("\n")[0]))
    try:
        named = {name.strip().lower() for name in reader.fieldnames or () if name}
    except csv.Error as error:
        raise PlanUnreadable(
            "The first line cannot be read as the names of columns.", (("line 1", str(error)),)
        ) from None
    if not {"kind", "shape"} <= named:
        raise PlanUnreadable(
            "The first line has to name the columns; at least kind and shape.",
            (("line 1", "columns"),),
        )
    return _collected(_csv_rows(reader), kinds)


def _csv_rows(reader: csv.DictReader[str]) -> Iterator[tuple[str, dict[str, Any] | str]]:
    try:
        for row in reader:
            where = f"line {reader.line_num}"
            clean = {
                str(k).strip().lower(): _as_typed((v or "").strip())
                for k, v in row.items()
                if k is not None and isinstance(v, str | None)
            }
            if any(clean.values()):
                yield where, _csv_solid(clean)
    except csv.Error as error:
        yield f"line {reader.line_num}", str(error)


def _csv_solid(row: dict[str, str]) -> dict[str, Any] | str:
    data: dict[str, Any] = {}
    for column, value in row.items():
        if column not in COLUMNS or value == "":
            continue
        if column.endswith(("_mm", "_deg")):
            try:
                data[column] = float(value.replace(",", "."))
            except ValueError:
                return (
                    f"{column} is '{value[:40]}', a number in "
                    f"{'degrees' if column.endswith('deg') else 'mm'} is taken"
                )
        else:
            data[column] = value
    if "points" in data:
        try:
            points = [
                [float(n.replace(",", ".")) for n in point.split()]
                for point in str(data.pop("points")).split(";")
                if point.strip()
            ]
        except ValueError:
            return "points are given as x y z; x y z"
        data["outline" if data.get("shape") == "outline" else "points"] = points
    return data


def survey_dxf(solids: Sequence[Solid]) -> str:
    """Return the parts as DXF in plan: layers by kind; boxes and outlines as polylines with
    thickness, tubes in space.
    """
    document = new("R2010", units=units.MM)
    space = document.modelspace()
    for kind in sorted({solid.kind for solid in solids}):
        document.layers.add(kind)
    for solid in solids:
        here = {"layer": solid.kind}
        if isinstance(solid, TubeSolid):
            space.add_polyline3d(solid.points, dxfattribs={**here, "thickness": solid.diameter_mm})
        elif isinstance(solid, CylinderSolid) and solid.axis == "z":
            low = solid.z_mm - solid.length_mm / 2
            space.add_circle(
                (solid.x_mm, solid.y_mm, low),
                solid.diameter_mm / 2,
                dxfattribs={**here, "thickness": solid.length_mm},
            )
        else:
            ring, low, height = _ring(solid)
            space.add_lwpolyline(
                ring, close=True, dxfattribs={**here, "elevation": low, "thickness": height}
            )
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def _ring(
    solid: BoxSolid | CylinderSolid | OutlineSolid,
) -> tuple[list[tuple[float, float]], float, float]:
    """Return outline, low z and height of a part; a lying cylinder as the box round it."""
    if isinstance(solid, OutlineSolid):
        return list(solid.outline), solid.z_mm, solid.height_mm
    if isinstance(solid, BoxSolid):
        prism = box_prism(
            (solid.x_mm, solid.y_mm, solid.z_mm),
            (solid.length_mm, solid.width_mm, solid.height_mm),
            solid.yaw_deg,
        )
        return list(prism.corners), solid.z_mm, solid.height_mm
    along = (
        (solid.length_mm, solid.diameter_mm)
        if solid.axis == "x"
        else (solid.diameter_mm, solid.length_mm)
    )
    x0, y0 = solid.x_mm - along[0] / 2, solid.y_mm - along[1] / 2
    ring = [(x0, y0), (x0 + along[0], y0), (x0 + along[0], y0 + along[1]), (x0, y0 + along[1])]
    return ring, solid.z_mm - solid.diameter_mm / 2, solid.diameter_mm


def read_survey_dxf(raw: bytes, kinds: dict[str, SolidKind], unit: str = "") -> Survey:
    """Return the parts of a DXF file: entities on layers named like a kind; what cannot be taken is
    named by its handle.

    Args:
        unit: a key of DXF_UNITS that it is drawn in; empty to take what the file says.

    Raises:
        PlanUnreadable: not a DXF file, or one that does not say its unit while none is given.
    """
    text = read_text(raw, MAX_DXF_BYTES, "drawings")
    try:
        # a unit that is no number would keep the reader from everything else
        document = read(io.StringIO(_UNIT.sub(_as_number, text)))
    except (
        DXFError,
        ValueError,
        KeyError,
        TypeError,
        IndexError,
        AttributeError,
        EOFError,
        RecursionError,
    ) as error:
        raise PlanUnreadable(
            f"This is not a DXF file that can be read: {str(error)[:120] or 'it is damaged'}."
        ) from None
    to_mm = DXF_UNITS[unit] if unit in DXF_UNITS else _unit_said(text)
    return _collected(_dxf_rows(document, kinds, to_mm), kinds)


def _unit_said(text: str) -> float:
    """Return the mm to a unit of a drawing, from its own header: the reader would make one up where
    there is none.
    """
    result = _UNIT.search(text)
    code = result[1] if result is not None else ""
    if code not in _UNIT_CODES:
        strange = code not in {"", "0"}
        said = (
            f" Its header says '{code[:20]}', which is no unit of length known here."
            if strange
            else ""
        )
        raise PlanUnreadable(
            f"The drawing does not say in which unit it is drawn.{said} Choose the unit "
            "beside the "
            "file, then take it in again."
        )
    return _UNIT_CODES[code]


def _as_number(found: re.Match[str]) -> str:
    return (
        found[0]
        if found[1].isascii() and found[1].isdigit()
        else found[0].removesuffix(found[1]) + "0"
    )


def _dxf_rows(
    document: Drawing, kinds: dict[str, SolidKind], to_mm: float
) -> Iterator[tuple[str, dict[str, Any] | str]]:
    for entity in document.modelspace():
        layer = str(entity.dxf.get("layer", "0")).lower()
        where = f"{entity.dxftype()} {entity.dxf.handle}, layer {layer[:40]}"
        reader = _READERS.get(entity.dxftype())
        if reader is None:
            yield where, "lines, polylines and circles are taken"
        elif layer not in kinds:
            yield (
                where,
                f"the layer is not the name of a kind; known are {', '.join(sorted(kinds))}",
            )
        else:
            yield where, _dxf_solid(entity, reader, to_mm, kinds[layer])


def _dxf_solid(
    entity: Any, reader: Callable[[Any, float], dict[str, Any]], to_mm: float, kind: SolidKind
) -> dict[str, Any] | str:
    missing = "a part of it is missing, such as an end, a middle or a radius"
    if not set(_NEEDED.get(entity.dxftype(), ())) <= set(entity.dxf.all_existing_dxf_attribs()):
        return missing
    try:
        read_as = reader(entity, to_mm)
    except (DXFError, AttributeError, TypeError, ValueError, KeyError, IndexError):
        return missing
    return {**read_as, "kind": kind.id, "name": f"{kind.label} {entity.dxf.handle}"[:80]}


def _line(entity: Any, to_mm: float) -> dict[str, Any]:
    ends = [[c * to_mm for c in entity.dxf.start], [c * to_mm for c in entity.dxf.end]]
    return {
        "shape": "tube",
        "points": ends,
        "diameter_mm": (entity.dxf.thickness or 0) * to_mm or TUBE_MM,
    }


def _polyline(entity: Any, to_mm: float) -> dict[str, Any]:
    points = [[c * to_mm for c in vertex.dxf.location] for vertex in entity.vertices]
    return {
        "shape": "tube",
        "points": points,
        "diameter_mm": (entity.dxf.thickness or 0) * to_mm or TUBE_MM,
    }


def _lwpolyline(entity: Any, to_mm: float) -> dict[str, Any]:
    low, height = entity.dxf.elevation * to_mm, (entity.dxf.thickness or 0) * to_mm
    points = [(x * to_mm, y * to_mm) for x, y in entity.get_points("xy")]
    if not entity.closed and len(points) > 1:
        return {
            "shape": "tube",
            "points": [[x, y, low] for x, y in points],
            "diameter_mm": height or TUBE_MM,
        }
    return {"shape": "outline", "outline": points, "z_mm": low, "height_mm": height or HEIGHT_MM}


def _circle(entity: Any, to_mm: float) -> dict[str, Any]:
    x, y, low = (c * to_mm for c in entity.dxf.center)
    height = (entity.dxf.thickness or 0) * to_mm or HEIGHT_MM
    return {
        "shape": "cylinder",
        "axis": "z",
        "x_mm": x,
        "y_mm": y,
        "z_mm": low + height / 2,
        "diameter_mm": 2 * entity.dxf.radius * to_mm,
        "length_mm": height,
    }


_READERS: dict[str, Callable[[Any, float], dict[str, Any]]] = {
    "LINE": _line,
    "POLYLINE": _polyline,
    "LWPOLYLINE": _lwpolyline,
    "CIRCLE": _circle,
}


_NEEDED = {"LINE": ("start", "end"), "CIRCLE": ("center", "radius")}


def _collected(
    rows: Iterator[tuple[str, dict[str, Any] | str]], kinds: dict[str, SolidKind]
) -> Survey:
    """Return what can be taken; ids are made anew where they are missing or stand twice."""
    solids: list[Solid] = []
    refused: list[tuple[str, str]] = []
    taken: set[str] = set()
    for number, (where, row) in enumerate(rows, 1):
        if number > MAX_ROWS:
            refused.append((where, f"only the first {MAX_ROWS} are read"))
            break
        if len(solids) >= MAX_PARTS:
            refused.append(
                (
                    where,
                    (
                        f"a survey holds up to {MAX_PARTS} parts; this one and those after it are "
                        "left out"
                    ),
                )
            )
            break
        problem = row if isinstance(row, str) else _take(row, kinds, solids, taken)
        if problem:
            refused.append((where, problem))
    return Survey(tuple(solids), tuple(refused))


def _take(
    row: dict[str, Any], kinds: dict[str, SolidKind], solids: list[Solid], taken: set[str]
) -> str:
    kind = str(row.get("kind", ""))
    if kind not in kinds:
        return f"there is no kind '{kind[:40]}'; known are {', '.join(sorted(kinds))}"
    data = {"name": kinds[kind].label, **row, "id": _free(str(row.get("id", "")) or kind, taken)}
    try:
        solid = _SOLID.validate_python(data)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        return f"{place.split('.')[-1]}: {problem}"
    solids.append(solid)
    taken.add(solid.id)
    return ""


def _free(wanted: str, taken: set[str]) -> str:
    number = 1
    while f"{wanted[:30]}-{number}" in taken:
        number += 1
    return wanted if wanted not in taken else f"{wanted[:30]}-{number}"
