"""The workshop's own book on screen: entries, their effect on jobs, keeping it, roles."""

from __future__ import annotations

import io
import json
import re
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi import FastAPI
from sqlalchemy import text
from sqlalchemy.orm import Session

from gale_nook.core.book.document import read_book, write_book
from gale_nook.demo.load import demo_book
from gale_nook.exchange.heater_sheets import write_sheet
from gale_nook.store import books, people
from gale_nook.web.app import create_app
from tests.web.conftest import Answer, Page

pytestmark = pytest.mark.store
WORDS = "four cold hands under a floor"
CLIPS = {"limit": "fuel_clip_mm", "most": "250", "source": "our rule"}


@pytest.fixture(autouse=True)
def empty_book(app: FastAPI) -> Iterator[None]:
    _empty(app)
    yield
    _empty(app)


def _empty(app: FastAPI) -> None:
    with Session(app.state.engine) as db, db.begin():
        db.execute(text("TRUNCATE book_edits, book_drafts RESTART IDENTITY"))


def _shown(page: Page) -> Any:
    with Session(page.app.state.engine) as db:
        return books.shown(db)


def _held(page: Page) -> Any:
    with Session(page.app.state.engine) as db:
        return books.held(db)


def _seen(page: Page) -> str:
    found = re.search(r'name="seen" value="(\w*)"', page.get("/book/effect").text)
    assert found is not None
    return found[1]


def _keep(page: Page, *jobs: int) -> Answer:
    told = [f"{job}:{page.head(job).number}" for job in jobs]
    return page.post("/book/keep", {"seen": _seen(page), "job": told})


def test_a_limit_waits_shows_its_effect_and_is_taken(page: Page) -> None:
    job, other = page.new("heron"), page.new("heron")
    told = page.post("/book/limit", CLIPS).text
    assert "at most 250 mm (our rule)" in told
    assert _held(page).edit == 0
    row = page.get(f"/book/effect/{job}?seen={_seen(page)}").text
    assert "1 finding over by it" in row
    assert re.search(r"Clips of the line</strong>\s*: clear by .16 mm → over by .34 mm", row)
    kept = _keep(page, job).text
    assert "Edit 1 of the book holds from now on." in kept
    assert "Heron has taken it." in kept
    assert [each.id for each in page.head(job).plan.book.limits] == ["fuel_clip_mm"]
    assert page.head(job).undo_summary == "took edit 1 of the workshop's book"
    assert page.head(other).plan.book.edit == 0
    finding = page.get(f"/jobs/{job}/fuel").text
    assert "our rule" in finding
    page.post(f"/jobs/{job}/fuel/undo", {"base": "2"})
    assert page.head(job).plan.book.edit == 0


def test_a_job_that_was_changed_meanwhile_does_not_take_it(page: Page) -> None:
    job = page.new("heron")
    page.post("/book/limit", CLIPS)
    seen = _seen(page)
    page.set(job, "heat", 1, heat__altitude_m="900")
    told = page.post("/book/keep", {"seen": seen, "job": [f"{job}:1"]}).text
    assert "Heron was changed meanwhile, and has not taken it" in told
    assert page.head(job).plan.book.edit == 0
    assert _held(page).edit == 1


def test_a_book_that_was_changed_meanwhile_is_not_kept(page: Page) -> None:
    job = page.new("heron")
    page.post("/book/limit", CLIPS)
    seen = _seen(page)
    page.post("/book/limit", {**CLIPS, "most": "240"})
    stale = page.get(f"/book/effect/{job}?seen={seen}").text
    assert "Somebody changed the book meanwhile" in stale
    assert "checkbox" not in stale
    answer = page.post("/book/keep", {"seen": seen, "job": [f"{job}:1"]})
    assert (answer.status_code, "meanwhile" in answer.text) == (422, True)
    assert (_held(page).edit, page.head(job).plan.book.edit) == (0, 0)


BAD = [
    ("/book/limit", {**CLIPS, "most": "much"}, "most of clips"),
    ("/book/limit", {**CLIPS, "most": "20000"}, "believable"),
    ("/book/limit", {**CLIPS, "most": ""}, "minimum or a maximum"),
    ("/book/limit", {**CLIPS, "least": "300"}, "above its maximum"),
    ("/book/limit", {**CLIPS, "source": " "}, "where the value comes from"),
    ("/book/limit", {**CLIPS, "limit": "moon"}, "no limit of this name"),
    ("/book/limit", {**CLIPS, "school": "gone"}, "not in the book any more"),
    ("/book/school", {"label": "", "source": "x"}, "name"),
    ("/book/material", {"label": "a", "source": "x"}, "conductivity"),
    (
        "/book/material",
        {
            "label": "a",
            "source": "x",
            "conductivity": "9e9",
            "density": "9",
            "heat_capacity": "900",
        },
        "conductivity",
    ),
    ("/book/material", {"label": "a", "source": "x", "like": "moon"}, "from the list"),
    ("/book/price", {"part": "silencer", "price": "-1", "source": "x"}, "price"),
    ("/book/price", {"part": "moon", "price": "1", "source": "x"}, "part"),
    ("/book/price", {"part": "silencer", "price": "", "source": "x"}, "price"),
    ("/book/wishes", {"label": "a", "source": "x", "quiet": "99"}, "quiet"),
    ("/book/wishes", {"label": "a", "source": "x", "side": "top"}, "side"),
    ("/book/vehicle", {"id": "gone", "label": "a", "source": "x"}, "not in the book"),
    ("/book/drop", {"section": "limits", "id": "gone"}, "not in the book"),
    ("/book/drop", {"section": "moon", "id": "gone"}, "section"),
    ("/book/keep", {"seen": "", "job": "nonsense"}, "which job"),
    ("/book/earlier", {"number": "7"}, "not kept any more"),
    ("/book/heater", {"base_sheet": "moon"}, "no heater of that name"),
    ("/book/heater", {"base_sheet": "bothy-22", "label": "x", "source": ""}, "name"),
]


@pytest.mark.parametrize(("url", "form", "said"), BAD)
def test_what_cannot_be_is_told_and_nothing_waits(
    url: str, form: dict[str, str], said: str, page: Page
) -> None:
    answer = page.post(url, form)
    assert answer.status_code == 422
    assert said in answer.text.lower()
    assert _shown(page) == type(_shown(page))()


def test_each_kind_of_entry_is_put_changed_and_taken_out(page: Page) -> None:
    page.post("/book/school", {"label": "Forest tracks", "source": "agreed"})
    page.post("/book/limit", {**CLIPS, "school": "forest-tracks"})
    cork = {
        "label": "cork panel",
        "conductivity": "0.042",
        "density": "120",
        "heat_capacity": "1560",
        "like": "wood",
        "source": "sheet 3",
    }
    page.post("/book/material", cork)
    page.post("/book/material", {**cork, "id": "cork-panel", "density": "130"})
    page.post("/book/material", {**cork, "id": "xps", "label": "our board"})
    page.post("/book/price", {"part": "silencer", "price": "38", "source": "list"})
    page.post("/book/wishes", {"label": "Quiet", "source": "us", "quiet": "9", "most_hole": "60"})
    book = _shown(page)
    assert [(s.id, s.limits[0].maximum) for s in book.schools] == [("forest-tracks", 250)]
    assert [(m.id, m.density_kg_m3) for m in book.materials] == [("cork-panel", 130), ("xps", 120)]
    assert (book.wishes[0].wishes.most_hole_mm, book.wishes[0].wishes.weights.quiet) == (60, 9)
    page.post("/book/drop", {"id": "fuel_clip_mm", "school": "forest-tracks"})
    assert _shown(page).schools[0].limits == ()
    for section, entry in (
        ("schools", "forest-tracks"),
        ("materials", "cork-panel"),
        ("materials", "xps"),
        ("prices", "silencer"),
        ("wishes", "quiet"),
    ):
        page.post("/book/drop", {"section": section, "id": entry})
    assert _shown(page) == type(book)()


def test_limits_are_typed_and_shown_in_inches(page: Page) -> None:
    page.client.cookies.set("units", "imperial")
    page.post("/book/limit", {**CLIPS, "most": "10"})
    assert _shown(page).limits[0].maximum == pytest.approx(254)
    assert 'name="most" value="10&#34;"' in page.get("/book").text
    page.client.cookies.delete("units")


def test_the_book_goes_out_and_comes_back_as_a_file(page: Page) -> None:
    raw = write_book(demo_book()).encode()
    page.post("/book/import", files={"file": ("book.json", io.BytesIO(raw), "application/json")})
    assert _shown(page) == demo_book()
    assert read_book(page.get("/book.json").content) == demo_book()
    assert json.loads(page.get("/book.schema.json").content)["title"].startswith("Gale Nook book")
    odd = raw.replace(b'"fuel_clip_mm"', b'"moon_mm"')
    answer = page.post("/book/import", files={"file": ("b.json", io.BytesIO(odd), "x/y")})
    assert answer.status_code == 422
    assert "limits.moon_mm" in answer.text
    assert page.post("/book/import").status_code == 422


def test_prices_go_out_and_come_back_as_csv(page: Page) -> None:
    page.post("/book/price", {"part": "silencer", "price": "38", "source": "=1+1"})
    sent = page.get("/book/prices.csv").content.decode()
    assert "silencer,exhaust silencer,piece,38, =1+1" in sent
    filled = sent.replace("co-alarm,CO alarm for vehicles,piece,,", "co-alarm,CO,piece,29.5,")
    file = {"file": ("p.csv", io.BytesIO(filled.encode()), "text/csv")}
    page.post("/book/prices", {"source": "list"}, file)
    prices = {each.id: (each.price, each.source) for each in _shown(page).prices}
    assert prices == {"silencer": (38, "=1+1"), "co-alarm": (29.5, "list")}
    for bad in ("part,price\nmoon,1\n", "part,price\nsilencer,x\n", "a,b\n", "part,price\n"):
        file = {"file": ("p.csv", io.BytesIO(bad.encode()), "text/csv")}
        assert page.post("/book/prices", {"source": "x"}, file).status_code == 422


def test_a_heater_is_put_in_by_its_form_and_by_file(page: Page) -> None:
    form = _filled(page.get("/book/heater?sheet=bothy-22").text)
    form |= {"label": "Bothy 22 bench", "source": "our bench", "value:noise_db": "51"}
    assert page.post("/book/heater", form).status_code == 200
    sheet = _shown(page).heaters[0]
    assert (sheet.id, sheet.noise_db) == ("book-bothy-22-bench", 51)
    again = _filled(page.get(f"/book/heater?sheet={sheet.id}").text) | {"value:noise_db": "52"}
    page.post("/book/heater", again)
    assert [each.noise_db for each in _shown(page).heaters] == [52]
    raw = write_sheet(page.app.state.catalogue.heaters["bothy-40"]).encode()
    page.post("/book/heater/import", files={"file": ("h.yaml", io.BytesIO(raw), "x/y")})
    assert [each.id for each in _shown(page).heaters] == [sheet.id, "book-bothy-40"]
    job = page.new("heron")
    _keep(page, job)
    assert "Bothy 22 bench" in page.get(f"/jobs/{job}/heater").text


def _filled(page: str) -> dict[str, str]:
    """What a browser would send of the sheet's form."""
    form: dict[str, str] = {}
    for tag in re.findall(r"<input[^>]*>", page):
        name, value = (re.search(rf'\b{part}="([^"]*)"', tag) for part in ("name", "value"))
        if name is None or ('type="checkbox"' in tag and " checked" not in tag):
            continue
        form[name[1]] = value[1] if value else ""
    for name, body in re.findall(r'<select[^>]*name="([^"]*)"[^>]*>(.*?)</select>', page, re.S):
        chosen = re.search(r'<option value="([^"]*)" selected', body)
        if chosen is not None:
            form[name] = chosen[1]
    return form


def test_a_job_takes_a_school_and_gives_what_it_has(page: Page) -> None:
    job = page.new("heron")
    raw = write_book(demo_book()).encode()
    page.post("/book/import", files={"file": ("book.json", io.BytesIO(raw), "application/json")})
    _keep(page)
    shown = page.get(f"/jobs/{job}/book").text
    assert "The job takes nothing from the book." in shown
    assert "Clips of the line" in shown
    tracks = page.get(f"/jobs/{job}/book/effect?school=forest-tracks").text
    assert "Clips of the line" in tracks
    told = page.post(f"/jobs/{job}/book/take", {"school": "forest-tracks", "base": "1"}).text
    assert "as <strong>Forest tracks</strong>" in told
    assert "It has all of this already." in told
    plan = page.head(job).plan
    assert {each.id: each.minimum for each in plan.book.limits}["exhaust_ground_mm"] == 260
    assert page.post(f"/jobs/{job}/book/take", {"base": "1"}).status_code == 409
    bad = {"school": "gone", "base": "2"}
    assert page.post(f"/jobs/{job}/book/take", bad).status_code == 422
    named = {"label": "Heron, long", "source": "our survey"}
    for what in ("vehicle", "wishes"):
        assert "waits in the book" in page.post(f"/jobs/{job}/book/{what}", named).text.replace(
            "wait in", "waits in"
        )
        assert page.post(f"/jobs/{job}/book/{what}", {"label": "x"}).status_code == 422
    page.post(f"/jobs/{job}/book/heater", {"sheet": "book-bothy-40-tested"})
    assert page.post(f"/jobs/{job}/book/heater", {"sheet": "gone"}).status_code == 422
    book = _shown(page)
    assert [each.id for each in book.vehicles] == ["dunlin-long", "heron-long"]
    assert [each.id for each in book.wishes] == ["quiet-nights", "heron-long"]
    assert [each.id for each in book.heaters] == ["book-bothy-40-tested"]


def test_a_new_job_begins_with_the_book(page: Page) -> None:
    raw = write_book(demo_book()).encode()
    page.post("/book/import", files={"file": ("book.json", io.BytesIO(raw), "application/json")})
    _keep(page)
    assert "Dunlin, long" in page.get("/").text
    answer = page.post("/jobs", {"name": "Snipe of the book", "start": "book:dunlin-long"})
    job = int(answer.headers["hx-redirect"].split("/")[2])
    plan = page.head(job).plan
    assert plan.book.edit == 1
    assert plan.vehicle.shell == demo_book().vehicles[0].vehicle.shell
    assert [sheet.id for sheet in plan.heater.own_sheets] == ["book-bothy-40-tested"]
    gone = page.post("/jobs", {"name": "Another", "start": "book:gone"})
    assert gone.status_code == 422
    line = page.get(f"/jobs/{job}/heater").text
    assert "It takes edit 1 of" in line
    wishes = page.post(f"/jobs/{job}/planner/from-book", {"base": "1", "wishes": "quiet-nights"})
    assert wishes.status_code == 200
    assert page.head(job).plan.wishes.weights.quiet == 9
    bad = page.post(f"/jobs/{job}/planner/from-book", {"base": "2", "wishes": "gone"})
    assert bad.status_code == 422


def test_what_held_before_is_taken_up_again(page: Page) -> None:
    page.post("/book/limit", CLIPS)
    _keep(page)
    page.post("/book/drop", {"section": "limits", "id": "fuel_clip_mm"})
    _keep(page)
    assert _held(page).book.limits == ()
    page.post("/book/earlier", {"number": "1"})
    assert [each.maximum for each in _shown(page).limits] == [250]
    page.post("/book/forget")
    assert _shown(page).limits == ()


def test_fitters_prepare_owners_keep_and_others_look(database_url: str) -> None:
    app = create_app(database_url, workshop=True)
    with Session(app.state.engine) as db, db.begin():
        db.execute(text("TRUNCATE people, sessions, invitations, tries CASCADE"))
    pages = {}
    for role in ("owner", "fitter", "helper", "viewer"):
        with Session(app.state.engine) as db, db.begin():
            link = people.invite(db, role.title(), role, "test")
        pages[role] = Page(app)
        form = {"link": link, "name": role.title(), "passphrase": WORDS, "again": WORDS}
        assert pages[role].post("/join", form).status_code == 204
    for role in ("helper", "viewer"):
        assert pages[role].post("/book/limit", CLIPS).status_code == 403
        assert pages[role].get("/book").status_code == 200
    fitter = pages["fitter"]
    assert "last changed by Fitter" in fitter.post("/book/limit", CLIPS).text.lower().replace(
        "fitter", "Fitter"
    )
    assert "Only an owner" in fitter.get("/book/effect").text
    seen = _seen(fitter)
    assert fitter.post("/book/keep", {"seen": seen}).status_code == 403
    assert "by Owner" in pages["owner"].post("/book/keep", {"seen": seen}).text
    app.state.engine.dispose()
