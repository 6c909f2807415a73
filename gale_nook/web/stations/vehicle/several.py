"""Several parts at once: repeated at a pitch; ticked ones moved, taken out, said to be measured,
copied to the other side, or made of another material.
"""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter
from fastapi.responses import HTMLResponse, Response
from pydantic import ConfigDict, Field

from gale_nook.core.edits.command import Command, fresh_ids
from gale_nook.core.errors import BadInput, Gone
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.plan.vehicle import Vehicle
from gale_nook.core.quantities.length import parse_length_mm
from gale_nook.core.vehicle.copies import mirrored, repeated
from gale_nook.core.vehicle.several import (
    MOST_COPIES,
    InkParts,
    MoveParts,
    RemoveParts,
    SetMaterial,
    added,
)
from gale_nook.web.context import EditRequest, JobId
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import PageForm, ShortText, Text

router = APIRouter(default_response_class=HTMLResponse)
TICKED = "part:"
SHIFT_WORDS = ("to the rear", "to the right", "up")


class ShiftForm(PageForm):
    """A shift as it is typed: an empty length is none."""

    rearward: ShortText = ""
    right: ShortText = ""
    up: ShortText = ""


def _shift_mm(ask: EditRequest[Any]) -> Vec3:
    texts = (ask.form.rearward, ask.form.right, ask.form.up)
    x, y, z = (
        parse_length_mm(text, ask.system, words) if text.strip() else 0.0
        for text, words in zip(texts, SHIFT_WORDS, strict=True)
    )
    if not (x or y or z):
        raise BadInput("how far", "", "Type how far: to the rear, to the right or up.")
    return (x, y, z)


class RepeatForm(ShiftForm):
    """What is asked for: more of a part, each at the pitch from the one before."""

    count: ShortText = ""


@router.post("/jobs/{job_id}/vehicle/repeat")
def repeat_part(
    ask: Annotated[EditRequest[RepeatForm], edit_request(RepeatForm)], job_id: JobId
) -> Response:
    """Add more of the chosen part at a pitch."""
    vehicle, wanted = ask.db.head(job_id).plan.vehicle, ask.form.item
    solid = next((s for s in vehicle.solids if s.id == wanted), None)
    if solid is None:
        raise Gone("part", wanted)
    text = ask.form.count.strip()
    if not (text.isascii() and text.isdigit()) or not 1 <= int(text) <= MOST_COPIES:
        raise BadInput("how many more", text, f"Type a whole number from 1 to {MOST_COPIES}.")
    ids = fresh_ids(vehicle.solids, [solid.kind] * int(text))
    return edited(ask, job_id, "vehicle", added(repeated(solid, ids, _shift_mm(ask))))


class SeveralForm(ShiftForm):
    """What is asked for of the parts that are ticked, in fields named `part:<id>`."""

    model_config = ConfigDict(frozen=True, extra="allow")

    do: Annotated[Text, Field(max_length=20)] = ""
    material: Annotated[Text, Field(max_length=60)] = ""

    @property
    def ticked(self) -> tuple[str, ...]:
        names = self.model_extra or {}
        return tuple(n.removeprefix(TICKED) for n in names if n.startswith(TICKED))


@router.post("/jobs/{job_id}/vehicle/several")
def several(
    ask: Annotated[EditRequest[SeveralForm], edit_request(SeveralForm)], job_id: JobId
) -> Response:
    """Do one thing to all parts that are ticked."""
    vehicle = ask.db.head(job_id).plan.vehicle
    known = [solid.id for solid in vehicle.solids]
    ticked = tuple(part for part in known if part in ask.form.ticked)
    if not ticked:
        raise BadInput("parts", "", "No part is ticked. Tick the ones that are meant first.")
    return edited(ask, job_id, "vehicle", _command(ask, vehicle, ticked))


def _command(ask: EditRequest[SeveralForm], vehicle: Vehicle, ticked: tuple[str, ...]) -> Command:
    solids = [solid for solid in vehicle.solids if solid.id in ticked]
    match ask.form.do:
        case "remove":
            return RemoveParts(parts=ticked)
        case "measured":
            return InkParts(parts=ticked)
        case "across":
            ids = fresh_ids(vehicle.solids, [solid.kind for solid in solids])
            return added(tuple(mirrored(s, i) for s, i in zip(solids, ids, strict=True)))
        case "material":
            return SetMaterial(parts=ticked, material=ask.form.material)
        case "move":
            x, y, z = _shift_mm(ask)
            if max(abs(x), abs(y), abs(z)) > 30_000:
                raise BadInput("how far", "", "A part is moved by 30 m at the most.")
            return MoveParts(parts=ticked, rearward_mm=x, right_mm=y, up_mm=z)
    raise BadInput("do", ask.form.do, "Choose what to do with the ticked parts.")
