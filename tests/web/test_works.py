"""Long work on a page: asked for, waited for, stopped, begun anew; here with nobody to do it."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from fastapi import FastAPI
from sqlalchemy import text
from sqlalchemy.orm import Session

from gale_nook.store import works as store
from gale_nook.web import works as shown
from gale_nook.web.app import create_app
from gale_nook.worker.kinds import KINDS
from tests.web.conftest import Page

pytestmark = pytest.mark.store


@pytest.fixture
def queued(quiet_url: str) -> Iterator[Page]:
    """A page of the application as it is served, with no worker running."""
    app: FastAPI = create_app(quiet_url, queued=True)
    with app.state.engine.begin() as connection:
        connection.execute(text("DELETE FROM works"))
        connection.execute(text("DELETE FROM procrastinate_jobs"))
    yield Page(app)
    app.state.engine.dispose()


def _key(answer: str) -> str:
    found = re.search(r"/works/([0-9a-f]{64})/stop", answer)
    assert found is not None, answer
    return found[1]


def _done(page: Page, key: str, result: bytes) -> None:
    with Session(page.app.state.engine) as session, session.begin():
        assert store.take(session, key) is not None
        store.end(session, key, "done", result)


def test_a_part_of_a_page_asks_again_until_there_is_a_result(queued: Page) -> None:
    job = queued.new("heron")
    waiting = queued.get(f"/jobs/{job}/spot/best").text
    assert "Looking over the whole floor…" in waiting
    assert 'hx-trigger="load delay:' in waiting
    again = re.search(r'hx-get="([^"]+)"', waiting)
    assert again is not None
    url = again[1].replace("&amp;", "&")
    assert _key(queued.get(url).text) == _key(waiting)
    _done(queued, _key(waiting), b"[]")
    assert "No place of the floor is clear" in queued.get(url).text


def test_stop_and_begin_anew(queued: Page) -> None:
    job = queued.new("heron")
    key = _key(queued.post(f"/jobs/{job}/fuel/find", {}).text)
    stopping = queued.post(f"/works/{key}/stop", {"url": f"/jobs/{job}/fuel/find"}).text
    assert f'hx-get="/jobs/{job}/fuel/find"' in stopping
    stopped = queued.get(f"/jobs/{job}/fuel/find").text
    assert "Stopped." in stopped
    assert f"/jobs/{job}/fuel/find?anew=yes" in stopped
    assert _key(queued.get(f"/jobs/{job}/fuel/find?anew=yes").text) == key


def test_stopping_leads_nowhere_else(queued: Page) -> None:
    for url in ("https://evil.test/", "//evil.test", "javascript:x"):
        assert "evil" not in queued.post(f"/works/{'0' * 64}/stop", {"url": url}).text
    assert queued.post("/works/nothing/stop", {}).status_code == 422


def test_what_failed_says_why(queued: Page) -> None:
    job = queued.new("wren")
    asked = f"/jobs/{job}/pipes/remedy?rule=pipes.radius&subject=n-1"
    key = _key(queued.get(asked).text)
    with Session(queued.app.state.engine) as session, session.begin():
        store.take(session, key)
        store.end(session, key, "failed", problem="This was given up after 120 s.")
    assert "This was given up after 120 s." in queued.get(asked).text


def test_a_print_that_takes_long_says_that_yours_is_waiting(
    queued: Page, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The page looks again by itself; when the print is there it is the print."""
    monkeypatch.setattr(shown, "FILE_SECONDS", 0.2)
    job = queued.new("heron")
    answer = queued.get(f"/jobs/{job}/build.pdf")
    assert answer.status_code == 202
    assert "Yours is waiting" in answer.text
    assert answer.headers["refresh"] == "2"
    with Session(queued.app.state.engine) as session:
        (key,) = session.scalars(text("SELECT key FROM works WHERE kind = 'print'"))
    _done(queued, key, b"%PDF-made")
    printed = queued.get(f"/jobs/{job}/build.pdf")
    assert (printed.status_code, printed.content) == (200, b"%PDF-made")
    assert "attachment" in printed.headers["content-disposition"]


def test_ways_found_so_far_are_shown_while_more_are_looked_for(queued: Page) -> None:
    job = queued.new("quarto-bare")
    key = _key(queued.post(f"/jobs/{job}/pipes/find", {"tube": "exhaust"}).text)
    plan, book = queued.head(job).plan, queued.app.state.catalogue
    partial: list[bytes] = []

    class Enough(Exception):
        pass

    def report(number: int, of: int, words: str, found: object) -> None:
        if found.ways:  # type: ignore[attr-defined]
            partial.append(KINDS["ways"].write(found))
            raise Enough

    with pytest.raises(Enough):
        KINDS["ways"].run(plan, book, {"tube": "exhaust"}, report)
    with Session(queued.app.state.engine) as session, session.begin():
        store.take(session, key)
        store.tell(session, key, 2, 20, "looking for another way", partial[0])
    text_shown = queued.get(f"/jobs/{job}/pipes/find?tube=exhaust").text
    assert "Looking for another way…" in text_shown
    assert 'value="2"' in text_shown
    assert "Take way A" in text_shown
