"""When the database is away pages say so, and work again when it is back."""

from __future__ import annotations

from collections.abc import Iterator

import psycopg
import pytest
from psycopg import errors as pg
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from gale_nook.serve import postgres
from gale_nook.store.job_store import JobStore
from gale_nook.store.jobs import locked_job
from gale_nook.store.migrate import migrate
from gale_nook.web.app import create_app
from tests.conftest import temporary_cluster
from tests.web.conftest import Page

pytestmark = pytest.mark.store


@pytest.mark.parametrize(
    ("cause", "status", "said"),
    [
        (
            pg.DiskFull("could not extend file"),
            507,
            "The disk is full: nothing more can be kept until there is room on it.",
        ),
        (
            pg.LockNotAvailable("canceling statement due to lock timeout"),
            429,
            "Others are changing the same thing just now.",
        ),
        (
            pg.QueryCanceled("canceling statement due to statement timeout"),
            429,
            "try again in a moment",
        ),
        (pg.CharacterNotInRepertoire("invalid byte sequence"), 422, "cannot be kept"),
        (pg.AdminShutdown("terminating connection"), 503, "The database is away"),
    ],
)
def test_each_trouble_of_the_database_is_told_as_what_it_is(
    page: Page, monkeypatch: pytest.MonkeyPatch, cause: psycopg.Error, status: int, said: str
) -> None:
    job = page.new("heron")

    def failing(*_: object) -> int:
        raise DBAPIError.instance("INSERT", None, cause, psycopg.Error)

    monkeypatch.setattr(JobStore, "save", failing)
    answer = page.set(job, "heat", 1, heat__outside_c="-22")
    assert answer.status_code == status
    assert said in answer.text
    assert "What you typed is still in its field" in answer.text
    assert str(cause) not in answer.text


def test_who_waits_for_a_row_that_somebody_holds_is_not_told_that_the_database_is_away(
    page: Page,
) -> None:
    """A second edit of a job whose row another transaction keeps for longer than
    the lock's limit.
    """
    job = page.new("heron")
    with Session(page.app.state.engine) as holder:
        locked_job(holder, job)
        answer = page.set(job, "heat", 1, heat__outside_c="-22")
        assert answer.status_code == 429
        assert "The database is away" not in answer.text
    assert page.set(job, "heat", 1, heat__outside_c="-22").status_code == 200


@pytest.fixture
def own_cluster() -> Iterator[postgres.Cluster]:
    with temporary_cluster() as made:
        yield made


def test_away_and_back(own_cluster: postgres.Cluster) -> None:
    port = own_cluster.port
    migrate(own_cluster.url())
    page = Page(create_app(own_cluster.url()))
    job = page.new("heron")
    assert page.get(f"/jobs/{job}/heat").status_code == 200
    postgres.stop(own_cluster)
    for url in ("/", f"/jobs/{job}/heat", f"/jobs/{job}/plan.json", "/health"):
        away = page.get(url)
        assert away.status_code == 503
        assert "The database is away" in away.text
        assert "Traceback" not in away.text
    refused = page.set(job, "heat", 1, heat__outside_c="-22")
    assert refused.status_code == 503
    assert "What you typed is still in its field" in refused.text
    postgres.start(own_cluster, port)
    assert page.set(job, "heat", 1, heat__outside_c="-22").status_code == 200
    assert page.head(job).plan.heat.outside_c == -22
