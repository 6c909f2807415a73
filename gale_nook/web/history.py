"""The edits of a job: read in words, compared, named, and gone back to."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query
from fastapi.responses import HTMLResponse, Response
from pydantic import BaseModel, ConfigDict, Field

from gale_nook.core.edits.differences import differences
from gale_nook.core.plan.words import field_words, item_id
from gale_nook.store.history import PAGE_SIZE
from gale_nook.web.context import JobId, Read, is_fragment, render
from gale_nook.web.troubles import shown_value

router = APIRouter(default_response_class=HTMLResponse)
Number = Annotated[int, Field(ge=1, le=2**31 - 1)]
MOST_ROWS = 200


class Asked(BaseModel):
    """Which edits are shown: those before one."""

    model_config = ConfigDict(extra="ignore")

    before: Number | None = None


@router.get("/jobs/{job_id}/history")
def history(read: Read, job_id: JobId, asked: Annotated[Asked, Query()]) -> Response:
    """Every edit that is kept, the newest first."""
    return _shown(read, job_id, asked.before)


def _shown(read: Read, job_id: int, before: int | None = None) -> Response:
    head = read.db.head(job_id)
    edits, named = read.db.edits(job_id, before)
    more = edits[PAGE_SIZE - 1].number if len(edits) > PAGE_SIZE else None
    return render(
        "people/history_parts.html" if is_fragment(read.request) else "people/history.html",
        head=head,
        edits=edits[:PAGE_SIZE],
        named=named,
        more=more,
        url=f"/jobs/{job_id}/history",
        system=read.system,
    )


class Compared(BaseModel):
    """Two edits, by their numbers."""

    model_config = ConfigDict(extra="ignore")

    one: Number
    other: Number


@router.get("/jobs/{job_id}/history/compare")
def compare(read: Read, job_id: JobId, asked: Annotated[Compared, Query()]) -> Response:
    """What differs between the plans after two edits, the older first."""
    older, newer = sorted((asked.one, asked.other))
    found = differences(read.db.plan_after(job_id, older), read.db.plan_after(job_id, newer))
    rows = [
        (
            field_words(each.address),
            item_id(each.address),
            shown_value(each.address, each.before, read.system),
            shown_value(each.address, each.after, read.system),
        )
        for each in found[:MOST_ROWS]
    ]
    return render(
        "people/compare.html", rows=rows, older=older, newer=newer, more=len(found) - len(rows)
    )


class NameForm(BaseModel):
    """A name for an edit."""

    model_config = ConfigDict(extra="ignore")

    number: Number
    label: Annotated[str, Field(max_length=200)] = ""


@router.post("/jobs/{job_id}/history/name")
def name_edit(read: Read, job_id: JobId, form: Annotated[NameForm, Form()]) -> Response:
    """Give an edit a name, with which it is kept for good."""
    read.db.name_edit(job_id, form.number, form.label)
    return _shown(read, job_id)


class BackForm(BaseModel):
    """Which edit to go back to, from which."""

    model_config = ConfigDict(extra="ignore")

    number: Number
    base: Number


@router.post("/jobs/{job_id}/history/back")
def go_back(read: Read, job_id: JobId, form: Annotated[BackForm, Form()]) -> Response:
    """Show an earlier plan again, as an edit that can be undone."""
    read.db.go_back(job_id, form.base, form.number)
    return _shown(read, job_id)
