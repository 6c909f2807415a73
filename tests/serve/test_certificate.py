"""The certificate for the local network: one that a phone can trust once, for addresses at home."""

from __future__ import annotations

import hashlib
import socket
import ssl
import threading
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from gale_nook.serve import certificate

ADDRESS = "127.0.0.1"


def _shake_hands(letters: certificate.Letters, trusted: Path, name: str) -> None:
    """Connect as a phone that trusts one authority; raises what it would refuse."""
    listening = socket.create_server((ADDRESS, 0))

    def answer() -> None:
        connection, _ = listening.accept()
        try:
            with letters.context().wrap_socket(connection, server_side=True) as told:
                told.recv(1)
        except (ssl.SSLError, ConnectionError):
            connection.close()

    server = threading.Thread(target=answer)
    server.start()
    phone = ssl.create_default_context(cafile=str(trusted))
    try:
        with (
            socket.create_connection(listening.getsockname()) as plain,
            phone.wrap_socket(plain, server_hostname=name) as told,
        ):
            told.send(b"?")
    finally:
        server.join()
        listening.close()


def test_who_trusts_the_authority_is_let_through(tmp_path: Path) -> None:
    letters = certificate.made(tmp_path, ["192.168.7.4"])
    _shake_hands(letters, tmp_path / certificate.AUTHORITY, "192.168.7.4")


def test_nobody_else_is(tmp_path: Path) -> None:
    letters = certificate.made(tmp_path / "one", ["192.168.7.4"])
    certificate.made(tmp_path / "other", ["192.168.7.4"])
    with pytest.raises(ssl.SSLCertVerificationError):
        _shake_hands(letters, tmp_path / "other" / certificate.AUTHORITY, "192.168.7.4")
    with pytest.raises(ssl.SSLCertVerificationError, match="IP address mismatch"):
        _shake_hands(letters, tmp_path / "one" / certificate.AUTHORITY, "192.168.7.5")


def test_the_authority_vouches_for_addresses_at_home_only(tmp_path: Path) -> None:
    certificate.made(tmp_path, ["203.0.113.9"])
    _shake_hands(certificate.known(tmp_path), tmp_path / certificate.AUTHORITY, "203.0.113.9")
    certificate._make_server(tmp_path, ["203.0.113.10"], datetime.now(UTC))
    with pytest.raises(ssl.SSLCertVerificationError, match="permitted subtree"):
        _shake_hands(certificate.known(tmp_path), tmp_path / certificate.AUTHORITY, "203.0.113.10")
    before = certificate.known(tmp_path).authority_fingerprint
    moved = certificate.made(tmp_path, ["203.0.113.10"])
    assert moved.authority_fingerprint != before


def test_another_address_leaves_the_authority_as_it_is(tmp_path: Path) -> None:
    first = certificate.made(tmp_path, ["192.168.7.4"])
    again = certificate.made(tmp_path, ["192.168.7.4"])
    moved = certificate.made(tmp_path, ["192.168.7.5"])
    assert again == first
    assert moved.authority_fingerprint == first.authority_fingerprint
    assert moved.fingerprint != first.fingerprint
    _shake_hands(moved, tmp_path / certificate.AUTHORITY, "192.168.7.5")


def test_it_is_renewed_before_it_ends(tmp_path: Path) -> None:
    now = datetime.now(UTC)
    first = certificate.made(tmp_path, ["192.168.7.4"], now)
    late = now + certificate.SERVER_LIVES - timedelta(days=20)
    assert certificate.made(tmp_path, ["192.168.7.4"], late - timedelta(days=20)) == first
    renewed = certificate.made(tmp_path, ["192.168.7.4"], late)
    assert renewed.fingerprint != first.fingerprint
    assert renewed.authority_pem == first.authority_pem
    later = now + certificate.AUTHORITY_LIVES
    assert certificate.made(tmp_path, ["192.168.7.4"], later).authority_pem != first.authority_pem


def test_keys_are_for_their_owner_only(tmp_path: Path) -> None:
    certificate.made(tmp_path / "tls", ["192.168.7.4"])
    for file in (tmp_path / "tls").iterdir():
        assert file.stat().st_mode & 0o077 == 0
    assert (tmp_path / "tls").stat().st_mode & 0o077 == 0


def test_the_fingerprint_is_what_a_browser_shows(tmp_path: Path) -> None:
    letters = certificate.made(tmp_path, ["192.168.7.4"])
    der = ssl.PEM_cert_to_DER_cert((tmp_path / certificate.SERVER).read_text())
    assert letters.fingerprint.replace(":", "").lower() == hashlib.sha256(der).hexdigest()
