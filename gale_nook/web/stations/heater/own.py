"""Heaters of one's own: from a dozen values, and the mounts that people make or buy for them."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query
from fastapi.responses import HTMLResponse, Response
from markupsafe import Markup
from pydantic import ConfigDict, Field, ValidationError

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.mount import Mount
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.heater.commands import PutSheet
from gale_nook.core.heater.mount_fit import PORT_WORDS, ports_blocked
from gale_nook.core.heater.quick_sheet import QuickHeater, quick_sheet
from gale_nook.core.heater.sheets import contradictions
from gale_nook.core.plan.document import Plan, places_of
from gale_nook.core.plan.words import field_words
from gale_nook.core.quantities.measures import parse_quantity, write_quantity
from gale_nook.drawing.mount import mount_drawing
from gale_nook.drawing.svg import svg
from gale_nook.store.jobs import JobHead
from gale_nook.web.context import EditRequest, JobId, Read, ReadRequest, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import PageForm, ShortText, Text, extra_text
from gale_nook.web.stations.heater.fresh import fresh_heater_id
from gale_nook.web.stations.heater.quick_fields import QUICK

router = APIRouter(default_response_class=HTMLResponse)
HOLE_FIELDS = {
    "x_mm": "towards the warm end",
    "y_mm": "to its right",
    "diameter_mm": "diameter",
    "length_mm": "cut, length",
    "width_mm": "cut, width",
}
PLATE_FIELDS = {
    "length_mm": "its plate, length",
    "width_mm": "its plate, width",
    "thickness_mm": "its plate, thick",
    "x_mm": "plate's middle towards the warm end",
    "y_mm": "plate's middle to its right",
}
PLACES = (("inside", "stands on the floor, or on a bench"), ("below", "hangs below the floor"))


class QuickForm(PageForm):
    """A heater of one's own, from a dozen values."""

    model_config = ConfigDict(frozen=True, extra="allow")

    label: ShortText = ""
    source: ShortText = ""
    medium: Literal["air", "coolant"] = "air"


@router.post("/jobs/{job_id}/heater/quick")
def quick(
    ask: Annotated[EditRequest[QuickForm], edit_request(QuickForm)], job_id: JobId
) -> Response:
    """Make a heater of one's own from the values that decide first."""
    form = ask.form
    if not form.label.strip():
        raise BadInput("name of the heater", "", "Type what the heater is called.")
    values = {}
    for name, words, kind in QUICK:
        text = extra_text(form, name, 40)
        if not text.strip():
            raise BadInput(words, "", "Type it from the heater's sheet, or measure the heater.")
        values[name] = parse_quantity(text, kind, ask.system, words)
        if values[name] <= 0 and name not in {"exhaust_x_mm", "exhaust_y_mm"}:
            raise BadInput(words, text, "It has to be more than 0.")
    source = form.source.strip() or "its own sheet"
    given = QuickHeater(form.label.strip(), source, form.medium, **values)
    plan = ask.db.head(job_id).plan
    heater_id = fresh_heater_id(plan, ask.book, given.label)
    return edited(ask, job_id, "heater", PutSheet(sheet=_made(ask, given, heater_id)))


def _made(ask: EditRequest[QuickForm], given: QuickHeater, heater_id: str) -> HeaterSheet:
    asked = {name: words for name, words, _ in QUICK}
    try:
        sheet = quick_sheet(given, heater_id, ask.book)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        leaf = place.rsplit(".", 1)[-1]
        raise BadInput(asked.get(leaf, field_words(place)), None, problem) from None
    for path, value, problem in contradictions(sheet, ask.book.limit_bands, ask.book.parts):
        words = asked["exhaust_longest_mm"] if "exhaust_length" in path else field_words(path)
        raise BadInput(words, value, problem)
    return sheet


def _own(plan: Plan, sheet_id: str) -> HeaterSheet:
    sheet = next((s for s in plan.heater.own_sheets if s.id == sheet_id), None)
    if sheet is None:
        raise Gone("heater of your own", sheet_id)
    return sheet


@router.get("/jobs/{job_id}/heater/mounts")
def show_mounts(
    read: Read, job_id: JobId, sheet: Annotated[str, Query(max_length=60)] = ""
) -> Response:
    """The mounts of a heater of one's own, to be changed."""
    head = read.db.head(job_id)
    return _mounts(read, head, _own(head.plan, sheet))


def _mounts(read: ReadRequest, head: JobHead, sheet: HeaterSheet) -> Response:
    def text(value: float | None) -> str:
        shown = write_quantity(value, "mm", read.system) if value is not None else ""
        return shown.replace("−", "-")

    return render(
        "heater/mounts.html",
        sheet=sheet,
        job_id=head.job_id,
        revision=head.number,
        text=text,
        places=PLACES,
        hole_fields=HOLE_FIELDS,
        plate_fields=PLATE_FIELDS,
        blocked=[
            [(PORT_WORDS[name], text(mm)) for name, mm in ports_blocked(sheet, mount)]
            for mount in sheet.mounts
        ],
        drawings=[Markup(svg(mount_drawing(sheet, m, read.system))) for m in sheet.mounts],
    )


class MountForm(PageForm):
    """A mount as it is typed; of its nth hole the fields `hole-n-…`."""

    model_config = ConfigDict(frozen=True, extra="allow")

    sheet: Annotated[Text, Field(max_length=60)] = ""
    mount: Annotated[Text, Field(max_length=60)] = ""
    do: Annotated[Text, Field(max_length=20)] = "keep"
    label: ShortText = ""
    place: Literal["inside", "below"] = "inside"
    collar: bool = False
    holes: Annotated[int, Field(ge=0, le=12)] = 0


@router.post("/jobs/{job_id}/heater/mount")
def keep_mount(
    ask: Annotated[EditRequest[MountForm], edit_request(MountForm)], job_id: JobId
) -> Response:
    """Keep a mount as it is typed, with a hole more or less; copy it, or take it out."""
    sheet = _own(ask.db.head(job_id).plan, ask.form.sheet)
    mount = sheet.mount(ask.form.mount)
    if mount is None:
        raise Gone("mount", ask.form.mount)
    mounts = _changed(ask, sheet, mount)
    try:
        changed = HeaterSheet.model_validate(
            {**sheet.model_dump(), "mounts": mounts, "sources": {}}
        )
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(f"mount, {field_words(place)}", None, problem) from None
    kept = {path: s for path, s in sheet.sources.items() if not path.startswith("mounts.")}
    changed = changed.model_copy(update={"sources": kept})
    for path, value, problem in contradictions(changed, ask.book.limit_bands, ask.book.parts):
        raise BadInput(field_words(path), value, problem)
    ask.db.save(job_id, ask.form.revision, PutSheet(sheet=changed), ask.book)
    return _mounts(ask, ask.db.head(job_id), changed)


def _changed(ask: EditRequest[MountForm], sheet: HeaterSheet, mount: Mount) -> list[dict[str, Any]]:
    """The sheet's mounts, this one as it was typed."""
    mounts = [each.model_dump() for each in sheet.mounts]
    at = next(i for i, each in enumerate(sheet.mounts) if each.id == mount.id)
    if ask.form.do == "remove":
        if len(mounts) == 1:
            raise BadInput("mount", mount.label, "A heater needs one mount at least.")
        return mounts[:at] + mounts[at + 1 :]
    mounts[at] = _typed(ask, mount)
    if ask.form.do == "copy":
        copy = {**mounts[at], "id": fresh_id(sheet.mounts, "own")}
        mounts.insert(at + 1, {**copy, "label": f"{copy['label'][:72]}, copy"})
    return mounts


def _typed(ask: EditRequest[MountForm], mount: Mount) -> dict[str, Any]:
    form, data = ask.form, mount.model_dump()
    data |= {"label": form.label.strip() or mount.label, "collar": form.collar}
    if mount.through == "floor":
        data["place"] = form.place
    ends = {end: _length(ask, f"stack-{end}", f"floor stack, {end}") for end in ("least", "most")}
    data["plate"] = _plate(ask)
    source = form_source(mount)
    data["stack"] = {"minimum": ends["least"], "maximum": ends["most"], "source": source}
    holes = [_hole(ask, number, mount) for number in range(form.holes)]
    gone = form.do.removeprefix("drop-")
    if gone.isdigit() and int(gone) < len(holes):
        del holes[int(gone)]
    elif form.do in {"hole", "stud", "cut"}:
        holes.append(_new_hole(form.do, len(holes) + 1, mount))
    data["holes"] = holes
    return data


def _plate(ask: EditRequest[MountForm]) -> dict[str, float] | None:
    """The plate as it is typed; None where neither its length nor its width is."""
    values = {leaf: _length(ask, f"plate-{leaf}", words) for leaf, words in PLATE_FIELDS.items()}
    if values["length_mm"] is None and values["width_mm"] is None:
        return None
    for leaf in ("length_mm", "width_mm"):
        if values[leaf] is None:
            raise BadInput(PLATE_FIELDS[leaf], "", "A plate has a length and a width: type both.")
    return {leaf: value for leaf, value in values.items() if value is not None}


def form_source(mount: Mount) -> str:
    """Return whose word the mount's floor stack is."""
    return mount.stack.source or "your own mount"


def _hole(ask: EditRequest[MountForm], number: int, mount: Mount) -> dict[str, Any]:
    name = extra_text(ask.form, f"hole-{number}-name", 80).strip() or f"hole {number + 1}"
    values = {
        leaf: _length(ask, f"hole-{number}-{leaf}", f"{name}, {field_words(leaf)}")
        for leaf in HOLE_FIELDS
    }
    for leaf in ("x_mm", "y_mm", "diameter_mm"):
        if values[leaf] is None:
            raise BadInput(f"{name}, {field_words(leaf)}", "", "Type a length.")
    old = next((hole for hole in mount.holes if hole.name == name), None)
    z = old.z_mm if old is not None else None
    if mount.through != "floor" and z is None:
        z = 0.0
    return {"name": name, **values, "z_mm": z}


def _length(ask: EditRequest[MountForm], field: str, words: str) -> float | None:
    text = extra_text(ask.form, field, 40)
    return parse_quantity(text, "mm", ask.system, words) if text.strip() else None


def _new_hole(kind: str, number: int, mount: Mount) -> dict[str, Any]:
    z = None if mount.through == "floor" else 0.0
    hole = {"name": f"hole {number}", "x_mm": 0.0, "y_mm": 0.0, "diameter_mm": 40.0, "z_mm": z}
    if kind == "stud":
        return {**hole, "name": f"stud {number}", "diameter_mm": 7.0, "x_mm": 60.0, "y_mm": 40.0}
    if kind == "cut":
        size = {"diameter_mm": 12.0, "length_mm": 160.0, "width_mm": 110.0}
        return {**hole, "name": f"cut {number}", **size}
    return hole
