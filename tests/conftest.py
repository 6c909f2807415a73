"""What all tests share: the catalogue, the demo plans, and a PostgreSQL of their
own on loopback.
"""

from __future__ import annotations

import shutil
import signal
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.catalogue.book import Catalogue
from gale_nook.core.checking import Check, check
from gale_nook.core.plan.document import Plan
from gale_nook.demo.load import DEMO_NAMES, demo_plan
from gale_nook.serve import postgres
from gale_nook.store.migrate import migrate
from tests.serve.started import data_folder, start

settings.register_profile(
    "tests",
    deadline=None,
    derandomize=True,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.function_scoped_fixture],
)
settings.load_profile("tests")


@pytest.fixture(scope="session")
def catalogue() -> Catalogue:
    return load_catalogue()


@pytest.fixture(params=DEMO_NAMES)
def any_demo(request: pytest.FixtureRequest) -> Plan:
    return demo_plan(request.param)


@pytest.fixture
def heron() -> Plan:
    return demo_plan("heron")


@pytest.fixture
def wren() -> Plan:
    return demo_plan("wren")


@pytest.fixture
def heron_check(heron: Plan, catalogue: Catalogue) -> Check:
    return check(heron, catalogue)


@contextmanager
def temporary_cluster() -> Iterator[postgres.Cluster]:
    """A running PostgreSQL in a temporary folder that the unprivileged user can reach."""
    folder = Path(tempfile.mkdtemp(prefix="gale-nook-test-", dir="/var/tmp"))
    folder.chmod(0o755)
    made = postgres.cluster_at(folder / "pg")
    postgres.start(made)
    yield made
    postgres.stop(made)
    shutil.rmtree(folder)


@pytest.fixture(scope="session")
def cluster() -> Iterator[postgres.Cluster]:
    with temporary_cluster() as made:
        yield made


@pytest.fixture(scope="session")
def database_url(cluster: postgres.Cluster) -> str:
    url = cluster.url()
    migrate(url)
    return url


@pytest.fixture(scope="session")
def quiet_url(cluster: postgres.Cluster) -> str:
    """A second database, on which no worker of the browser's tests takes what is
    put on the queue.
    """
    postgres.make_database(cluster, "gale_quiet")
    url = cluster.url("gale_quiet")
    migrate(url)
    return url


@pytest.fixture(scope="session")
def stopped_data() -> Iterator[Path]:
    """A data folder with the demo, made by the start command once; a stopped one may be copied."""
    with data_folder() as folder:
        start(folder).end(signal.SIGINT)
        yield folder


@pytest.fixture
def demo_folder(stopped_data: Path) -> Iterator[Path]:
    """A copy of it, for one test."""
    with data_folder() as folder:
        subprocess.run(["cp", "-a", str(stopped_data), str(folder)], check=True)
        yield folder


FIGURE = "figure"  # a test's property of this name is printed at the end of the run


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    """Print the figures that tests have measured."""
    for report in terminalreporter.getreports("passed"):
        for name, value in report.user_properties:
            if name == FIGURE:
                terminalreporter.write_line(str(value))
