"""Spot station: its page, putting a heater down for the first time, and the nearest clear place."""

from __future__ import annotations

from fastapi.responses import Response

from gale_nook.core.checking import check
from gale_nook.core.edits.commands import PlaceHeater
from gale_nook.core.errors import BadInput
from gale_nook.core.quantities.length import parse_length_mm
from gale_nook.core.spot.search import nearest_clear
from gale_nook.store.jobs import head_of
from gale_nook.web.context import Asked, Book, Db, JobId, Units, render
from gale_nook.web.editing import edited
from gale_nook.web.forms import text_of
from gale_nook.web.stations.page import by_word, station_router

router = station_router(by_word("spot"))
REACH_MM = 30_000


@router.post("/jobs/{job_id}/spot/place")
def place(ask: Asked, job_id: JobId) -> Response:
    """Put the heater where the two typed lengths say."""
    x = parse_length_mm(text_of(ask.form, "x"), ask.system, "behind the datum")
    y = parse_length_mm(text_of(ask.form, "y"), ask.system, "right of centre")
    for name, value in (("behind the datum", x), ("right of centre", y)):
        if abs(value) > REACH_MM:
            raise BadInput(name, value, f"Up to {REACH_MM / 1000:.0f} m from the datum are taken.")
    return edited(ask, job_id, "spot", PlaceHeater(x_mm=x, y_mm=y))


@router.get("/jobs/{job_id}/spot/nearest")
def nearest(db: Db, book: Book, system: Units, job_id: JobId) -> Response:
    """Show the nearest place at which no spot check is over."""
    done = check(head_of(db, job_id).plan, book)
    found = nearest_clear(done.derived)
    offered = (found,) if found is not None else ()
    return render("remedies.html", offered=offered, desk_url=f"/jobs/{job_id}/spot", system=system, searched=True)
