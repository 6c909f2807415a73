"""Taking down what a device tells: over TCP from `HOST:PORT`, or from a serial device's path."""

from __future__ import annotations

import socket
from collections.abc import Iterator
from pathlib import Path

from gale_nook.core.errors import BadInput

SILENT_S = 60.0  # after which a device counts as gone
HIGHEST_PORT = 65_535


def lines_from(source: str) -> Iterator[bytes]:
    """Yield the lines of a device until it ends, or is silent for SILENT_S.

    Raises:
        BadInput: it is neither a path nor HOST:PORT, or nobody is there.
    """
    path = Path(source)
    if path.exists():
        with path.open("rb") as device:
            yield from device
        return
    host, port = address_of(source)
    try:
        connection = socket.create_connection((host, port), timeout=SILENT_S)
    except OSError as error:
        raise BadInput("device", source, f"Nobody answers there: {error.strerror}.") from None
    with connection, connection.makefile("rb") as stream:
        try:
            yield from stream
        except (TimeoutError, ConnectionError):
            return


def address_of(text: str) -> tuple[str, int]:
    """Return host and port of an address.

    Raises:
        BadInput: it is none.

    >>> address_of("127.0.0.1:4000")
    ('127.0.0.1', 4000)
    """
    host, colon, port = text.rpartition(":")
    known = port.isascii() and port.isdigit() and int(port) <= HIGHEST_PORT
    if not colon or not host or not known:
        raise BadInput("device", text, "It is no device: give HOST:PORT, or the device's path.")
    return host, int(port)
