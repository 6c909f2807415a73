"""When the database is away pages say so, and work again when it is back."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from gale_nook.serve import postgres
from gale_nook.store.migrate import migrate
from gale_nook.web.app import create_app
from tests.conftest import temporary_cluster
from tests.web.conftest import Page

pytestmark = pytest.mark.store


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
