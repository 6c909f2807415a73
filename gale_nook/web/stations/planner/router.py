"""Planner: areas painted, weights, layouts found, compared and taken; what is over, cleared."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import Query
from fastapi.responses import HTMLResponse, Response
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError

from gale_nook.core.catalogue.planner import Effort
from gale_nook.core.edits.command import fresh_id
from gale_nook.core.errors import BadInput
from gale_nook.core.job import Job
from gale_nook.core.plan.document import places_of
from gale_nook.core.plan.wishes import Weights, WishArea
from gale_nook.core.planner.clearing import Clearing, changed, over_of
from gale_nook.core.planner.commands import AddWishArea, SetWeights, taking
from gale_nook.core.planner.search import LayoutSearch
from gale_nook.core.planner.station import PLANNER
from gale_nook.core.quantities.length import parse_length_mm
from gale_nook.web.context import EditRequest, JobId, Read, ReadRequest, page_seen, render
from gale_nook.web.edit_request import edit_request
from gale_nook.web.editing import edited
from gale_nook.web.forms import PageForm, ShortText, Text, clean
from gale_nook.web.kept import kept_jobs
from gale_nook.web.stations.planner.found import known_search
from gale_nook.web.stations.planner.page import PlannerPage
from gale_nook.web.stations.routing import station_router
from gale_nook.web.works import ask_for
from gale_nook.worker.works import Works, WorkState

router = station_router(PLANNER)
MOST_COMPARED = 3
LOOK_AGAIN_MS = 700
Letters = Annotated[str, BeforeValidator(clean), Field(max_length=9, pattern="^[A-I]{0,9}$")]


class PaintForm(PageForm):
    """What is asked for: an area, painted on the plan (low x, low y, length, width in mm) or
    typed.
    """

    wanted: ShortText = ""
    of: ShortText = "heater"
    name: ShortText = ""
    drawn: Annotated[Text, Field(max_length=80)] = ""
    from_x: ShortText = ""
    to_x: ShortText = ""
    left_y: ShortText = ""
    right_y: ShortText = ""


@router.post("/jobs/{job_id}/planner/paint")
def paint(
    ask: Annotated[EditRequest[PaintForm], edit_request(PaintForm)], job_id: JobId
) -> Response:
    """Add an area in which the heater is wanted, or that is kept out of."""
    form, wishes = ask.form, ask.db.head(job_id).plan.wishes
    bounds = _drawn(form.drawn) if form.drawn else _typed_bounds(ask)
    wanted = form.wanted in {"yes", "on", "true"}
    area_id = fresh_id(wishes.areas, "wanted" if wanted else "unwanted")
    number = area_id.rsplit("-", 1)[-1]
    data: dict[str, Any] = {
        "id": area_id,
        "name": form.name.strip() or f"{'wanted' if wanted else 'unwanted'} area {number}",
        "wanted": wanted,
        "of": "everything" if form.of == "everything" else "heater",
        **bounds,
    }
    try:
        area = WishArea.model_validate(data)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place or "area", data.get(place), problem) from None
    return edited(ask, job_id, "planner", AddWishArea(item=area))


def _drawn(text: str) -> dict[str, float]:
    try:
        x, y, length, width = (float(part) for part in text.split())
    except ValueError:
        problem = "Four numbers in mm: front, left, length, width."
        raise BadInput("area", text, problem) from None
    return {"from_x_mm": x, "left_y_mm": y, "to_x_mm": x + length, "right_y_mm": y + width}


def _typed_bounds(ask: EditRequest[PaintForm]) -> dict[str, float]:
    form = ask.form
    fields = {
        "from_x_mm": ("front end, behind the datum", form.from_x),
        "to_x_mm": ("rear end, behind the datum", form.to_x),
        "left_y_mm": ("left side, right of centre", form.left_y),
        "right_y_mm": ("right side, right of centre", form.right_y),
    }
    return {
        name: parse_length_mm(text, ask.system, words) for name, (words, text) in fields.items()
    }


class WeighForm(PageForm):
    """What is asked for: how much each measure counts."""

    model_config = ConfigDict(extra="ignore")

    storage: ShortText = "4"
    exhaust: ShortText = "4"
    quiet: ShortText = "4"
    heat: ShortText = "5"
    fuel: ShortText = "3"
    holes: ShortText = "3"
    cost: ShortText = "2"
    hours: ShortText = "2"


@router.post("/jobs/{job_id}/planner/weigh")
def weigh(
    ask: Annotated[EditRequest[WeighForm], edit_request(WeighForm)], job_id: JobId
) -> Response:
    """Say how much each measure counts."""
    typed = {name: getattr(ask.form, name) for name in Weights.model_fields}
    try:
        weights = Weights.model_validate(typed)
    except ValidationError as error:
        place, problem = places_of(error)[0]
        raise BadInput(place, typed.get(place), problem) from None
    return edited(ask, job_id, "planner", SetWeights(weights=weights))


class Searched(BaseModel):
    """Which search is asked about."""

    effort: Effort = "usual"
    anew: bool = False


class FindForm(PageForm):
    """What is asked for: look for layouts."""

    effort: Effort = "usual"


@router.post("/jobs/{job_id}/planner/find")
def find(ask: Annotated[EditRequest[FindForm], edit_request(FindForm)], job_id: JobId) -> Response:
    """Begin to look for layouts."""
    plan = ask.db.head(job_id).plan
    arguments = {"effort": ask.form.effort}
    state = ask_for(ask.request, "layouts", plan, ask.book, arguments, anew=True)
    return _found(ask, job_id, state, ask.form.effort)


@router.get("/jobs/{job_id}/planner/found")
def found(read: Read, job_id: JobId, asked: Annotated[Searched, Query()]) -> Response:
    """How far it is, and what there is so far."""
    plan = read.db.head(job_id).plan
    if asked.anew:
        arguments = {"effort": asked.effort}
        state = ask_for(read.request, "layouts", plan, read.book, arguments, anew=True)
        return _found(read, job_id, state, asked.effort)
    known = known_search(read, plan)
    if known is None:
        return render("planner/begin.html")
    return _found(read, job_id, *known)


def _found(read: ReadRequest, job_id: int, state: WorkState, effort: Effort) -> HTMLResponse:
    page = _page(read, job_id)
    result: LayoutSearch = state.found if state.found is not None else LayoutSearch()
    url = f"{page.url}/found"
    return render(
        "planner/found.html",
        page=page,
        state=state,
        found=result,
        url=f"{url}?effort={effort}",
        again=f"{url}?effort={effort}&anew=yes",
        delay_ms=LOOK_AGAIN_MS * (1 + min(state.ahead, 4)),
        effort=effort,
    )


def _page(read: ReadRequest, job_id: int) -> PlannerPage:
    page = page_seen(read, job_id, "planner")
    if not isinstance(page, PlannerPage):
        raise BadInput("planner", job_id, "This job has no such page.")
    return page


class Compared(BaseModel):
    """Which layouts are compared."""

    letters: Letters = ""


@router.get("/jobs/{job_id}/planner/compare")
def compare(read: Read, job_id: JobId, asked: Annotated[Compared, Query()]) -> HTMLResponse:
    """Two or three layouts side by side, with what differs."""
    page = _page(read, job_id)
    known = known_search(read, page.plan)
    every = known[0].found.layouts if known is not None and known[0].found is not None else ()
    chosen = [each for each in every if each.letter in asked.letters][:MOST_COMPARED]
    if len(chosen) < 2:
        problem = "Tick two or three layouts first; they have to be found with these wishes."
        raise BadInput("layouts", asked.letters or None, problem)
    return render("planner/compare.html", page=page, sides=page.side_by_side(chosen))


@router.post("/jobs/{job_id}/planner/clear")
def clear(ask: Annotated[EditRequest[PageForm], edit_request(PageForm)], job_id: JobId) -> Response:
    """Begin to find what clears what is over."""
    plan = ask.db.head(job_id).plan
    return _cleared(ask, job_id, ask_for(ask.request, "clear", plan, ask.book, {}, anew=True))


@router.get("/jobs/{job_id}/planner/cleared")
def cleared(read: Read, job_id: JobId, anew: bool = False) -> Response:
    """How far it is, and what clears what is over."""
    plan = read.db.head(job_id).plan
    if anew:
        return _cleared(
            read, job_id, ask_for(read.request, "clear", plan, read.book, {}, anew=True)
        )
    works: Works = read.request.app.state.works
    state = works.known("clear", plan, read.book, {})
    return _cleared(read, job_id, state) if state is not None else HTMLResponse("")


def _cleared(read: ReadRequest, job_id: int, state: WorkState) -> HTMLResponse:
    page = _page(read, job_id)
    return render(
        "planner/cleared.html",
        page=page,
        state=state,
        found=state.found,
        url=f"{page.url}/cleared",
        again=f"{page.url}/cleared?anew=yes",
        delay_ms=LOOK_AGAIN_MS,
    )


class TakeChangesForm(PageForm):
    """What is asked for: carry out some of the changes that clear what is over."""

    ids: Annotated[list[ShortText], Field(max_length=200)] = Field(default_factory=list)


def _chosen(read: ReadRequest, job_id: int, ids: list[str]) -> tuple[Job, Job, list[str]]:
    """The job, the job after the chosen changes, and which these are."""
    plan = read.db.head(job_id).plan
    works: Works = read.request.app.state.works
    state = works.known("clear", plan, read.book, {})
    if state is None or not isinstance(state.found, Clearing):
        problem = "The plan has changed since: find again what clears what is over."
        raise BadInput("changes", None, problem)
    job = kept_jobs.of(plan, read.book)
    chosen = [each for each in state.found.changes if each.id in ids]
    if not chosen:
        raise BadInput("changes", None, "Tick at least one change first.")
    return job, changed(job, [each.command for each in chosen]), [each.id for each in chosen]


@router.post("/jobs/{job_id}/planner/effect")
def effect(
    ask: Annotated[EditRequest[TakeChangesForm], edit_request(TakeChangesForm)], job_id: JobId
) -> HTMLResponse:
    """How many findings are over after the ticked changes."""
    job, after, ids = _chosen(ask, job_id, ask.form.ids)
    was, left = over_of(job), over_of(after)
    known = {finding.key for finding in was}
    new = tuple(f.title for f in left if f.key not in known)
    return render("planner/effect.html", before=len(was), left=len(left), count=len(ids), new=new)


@router.post("/jobs/{job_id}/planner/take-changes")
def take_changes(
    ask: Annotated[EditRequest[TakeChangesForm], edit_request(TakeChangesForm)], job_id: JobId
) -> Response:
    """Carry out the ticked changes as one edit."""
    job, after, ids = _chosen(ask, job_id, ask.form.ids)
    name = f"{len(ids)} change{'' if len(ids) == 1 else 's'} that clear what was over"
    return edited(ask, job_id, "planner", taking(name, job.plan, after.plan))
