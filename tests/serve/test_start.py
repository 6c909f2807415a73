"""The start command as a whole: it serves, keeps its data, survives kill -9, and says plainly what
it refuses.
"""

from __future__ import annotations

import hashlib
import os
import signal
import ssl
import subprocess
from pathlib import Path

import httpx2
import pytest

from gale_nook.demo.load import DEMO_NAMES
from gale_nook.serve import postgres
from gale_nook.serve.__main__ import TREE
from gale_nook.serve.supervisor import lan_addresses
from gale_nook.serve.trouble import StartTrouble
from tests.serve.started import command, start, wait_gone

pytestmark = pytest.mark.store
DEMO = {name.capitalize() for name in DEMO_NAMES}


def test_it_serves_the_demo_keeps_edits_and_stops_cleanly(folder: Path) -> None:
    started = start(folder, "--processes", "2")
    assert set(started.jobs()) == DEMO
    job = started.jobs()["Blank"]
    assert (
        started.post(f"/jobs/{job}/vehicle/set", {"base": "1", "set:name": "Shag"}).status_code
        == 200
    )
    assert started.end(signal.SIGINT) == 0
    assert not postgres.running(postgres.cluster_at(folder))
    again = start(folder)
    assert set(again.jobs()) == DEMO - {"Blank"} | {"Shag"}
    assert again.end(signal.SIGTERM) == 0


def test_kill_9_never_loses_what_was_called_saved(demo_folder: Path) -> None:
    """Everything is killed the moment that the page says "saved": server, web
    processes, database.
    """
    started = start(demo_folder)
    job = started.jobs()["Heron"]
    cluster = postgres.cluster_at(demo_folder)
    database = int((cluster.data / "postmaster.pid").read_text().splitlines()[0])
    for number in range(1, 6):
        saved = started.post(
            f"/jobs/{job}/heat/set", {"base": str(number), "set:heat.outside_c": f"-{20 + number}"}
        )
    assert "edit 6 · saved" in saved.text
    os.kill(started.process.pid, signal.SIGKILL)
    os.kill(database, signal.SIGKILL)
    started.process.wait(30)
    again = start(demo_folder)
    assert 'value="-25 °C"' in again.client.get(f"/jobs/{job}/heat").text
    assert again.end(signal.SIGINT) == 0


def test_web_processes_go_when_their_parent_is_killed_and_come_back_when_they_die(
    demo_folder: Path,
) -> None:
    started = start(demo_folder)
    (child,) = started.children("web_process")
    os.kill(child, signal.SIGKILL)
    assert httpx2.get(f"{started.url}/health", timeout=30).status_code == 200
    children = started.children("web_process") + started.children("worker_process")
    assert child not in children
    started.end(signal.SIGKILL)
    for each in children:
        wait_gone(each)
    with pytest.raises(httpx2.ConnectError):
        httpx2.get(f"http://127.0.0.1:{started.port}/health")


def test_fresh_asks_first(demo_folder: Path) -> None:
    started = start(demo_folder)
    started.post("/jobs", {"name": "Tern"})
    started.end(signal.SIGINT)
    refused = subprocess.run(
        command(demo_folder, 1, "--fresh"),
        input="no\n",
        capture_output=True,
        text=True,
        check=False,
    )
    assert "Nothing was changed." in refused.stdout
    kept = start(demo_folder)
    assert "Tern" in kept.jobs()
    kept.end(signal.SIGINT)
    fresh = start(demo_folder, "--fresh", "--yes")
    assert set(fresh.jobs()) == DEMO
    fresh.end(signal.SIGINT)


def test_a_second_start_on_the_same_data_is_refused(demo_folder: Path) -> None:
    started = start(demo_folder)
    second = subprocess.run(
        command(demo_folder, postgres.free_port()), capture_output=True, text=True, check=False
    )
    assert second.returncode == 1
    assert "running already" in second.stderr
    taken = subprocess.run(
        command(demo_folder.with_name("other"), started.port),
        capture_output=True,
        text=True,
        check=False,
    )
    assert f"Port {started.port} is taken" in taken.stderr
    assert started.client.get("/health").status_code == 200
    started.end(signal.SIGINT)
    postgres.stop(postgres.cluster_at(demo_folder.with_name("other")))


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["--host", "0.0.0.0"], "0.0.0.0 is refused"),
        (["--host", "192.168.1.4"], "phones are let in after pairing"),
        (["--port", "99999"], "There is no port 99999"),
    ],
)
def test_what_is_refused_is_told_in_a_sentence(
    folder: Path, arguments: list[str], said: str
) -> None:
    done = subprocess.run(
        [*command(folder, 1), *arguments], capture_output=True, text=True, check=False
    )
    assert done.returncode == 1
    assert said in done.stderr
    assert "Traceback" not in done.stderr
    assert not folder.exists()


def test_a_data_folder_of_another_user_is_told(folder: Path) -> None:
    cluster = postgres.cluster_at(folder)
    postgres.start(cluster)
    postgres.stop(cluster)
    if os.geteuid() != 0:
        cluster.data.chmod(0o700)
        return
    os.chown(cluster.data, 65534, 65534)
    with pytest.raises(StartTrouble, match="belongs to the user nobody"):
        postgres.start(cluster)


def test_the_tree_is_where_the_scripts_are() -> None:
    assert (TREE / "start").exists()


def test_with_lan_it_is_encrypted_for_the_network(demo_folder: Path) -> None:
    """Where this machine has an address on a network, it answers there with the plain page to
    whoever is not paired, by a certificate that can be had there and checked.
    """
    started = start(demo_folder, "--lan")
    assert started.client.get("/").status_code == 200
    authority = started.client.get("/gale-nook.crt")
    for address in lan_addresses():
        trusting = ssl.create_default_context(cadata=authority.text)
        url = f"https://{address}:{started.port}"
        answer = httpx2.get(f"{url}/", timeout=30, verify=trusting)
        assert answer.status_code == 401
        assert "Pair this device" in answer.text
        given = httpx2.get(f"{url}/gale-nook.crt", timeout=30, verify=trusting)
        assert given.content == authority.content
        assert trusting.cert_store_stats()["x509_ca"] == 1
        with pytest.raises(httpx2.ConnectError):
            httpx2.get(f"{url}/", timeout=30)
        told = started.client.get("/devices").text
        assert hashlib.sha256(_shown_by(address, started.port)).hexdigest().upper()[:4] in (
            told.replace(":", "")
        )
    assert started.end(signal.SIGINT) == 0


def _shown_by(address: str, port: int) -> bytes:
    return ssl.PEM_cert_to_DER_cert(ssl.get_server_certificate((address, port)))
