"""A process that copies itself for each piece of work, so that work can be stopped, timed and kept
within its memory.

It is made before its owner has threads or connections, which no copy could do anything with. A copy
has everything loaded.
"""

from __future__ import annotations

import contextlib
import json
import os
import resource
import select
import signal
import socket
import struct
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import structlog
from pydantic import ValidationError

from gale_nook import garbage
from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.errors import GaleNookError, places
from gale_nook.core.plan.document import kept_plan, places_of
from gale_nook.core.plan.words import field_words
from gale_nook.demo.load import demo_plan
from gale_nook.worker.kinds import KINDS
from gale_nook.worker.ties import end_with_parent

log = structlog.get_logger("gale_nook.worker")
_HEAD = struct.Struct("!cI")  # what kind of message, how many bytes follow
LOOK_SECONDS = 0.2


@dataclass(frozen=True, slots=True)
class Ended:
    """How a piece of work ended: "done" with its result, "stopped", or "failed" with the reason."""

    state: str
    result: bytes | None = None
    problem: str = ""


@dataclass(frozen=True, slots=True)
class Told:
    """How far a piece of work is."""

    done: int
    of: int
    words: str
    partial: bytes | None


class Nursery:
    """Starts copies of a process that has everything loaded."""

    def __init__(self) -> None:
        _warm_up()
        self._socket, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
        owner = os.getpid()
        if os.fork() == 0:
            self._socket.close()
            end_with_parent(owner)
            _mind(theirs)
        theirs.close()

    def work(
        self,
        kind: str,
        plan: str,
        arguments: str,
        told: Callable[[Told], None],
        stop: Callable[[], bool],
    ) -> Ended:
        """Do a piece of work in a copy, and wait for it.

        Args:
            told: called with what it says of itself.
            stop: asked now and then whether it should be stopped.
        """
        ours, theirs = socket.socketpair()
        socket.send_fds(self._socket, [b"work"], [theirs.fileno()])
        theirs.close()
        with ours:
            _send(ours, b"W", json.dumps([kind, plan, arguments]).encode())
            return self._watch(ours, time.monotonic() + KINDS[kind].seconds, kind, told, stop)

    @staticmethod
    def _watch(
        ours: socket.socket,
        deadline: float,
        kind: str,
        told: Callable[[Told], None],
        stop: Callable[[], bool],
    ) -> Ended:
        pid = 0
        while True:
            ready, _, _ = select.select([ours], [], [], LOOK_SECONDS)
            if stop():
                _kill(pid)
                return Ended("stopped")
            if time.monotonic() > deadline:
                _kill(pid)
                return Ended(
                    "failed", problem=f"This was given up after {KINDS[kind].seconds:.0f} s."
                )
            if not ready:
                continue
            message = _receive(ours)
            if message is None:
                return Ended(
                    "failed", problem="The process that worked on this ended. Try it again."
                )
            sort, body = message
            if sort == b"P":
                pid = int(body)
            elif sort == b"T":
                done, of, words, size = json.loads(body[: body.index(b"\n")])
                told(Told(done, of, words, body[body.index(b"\n") + 1 :] if size >= 0 else None))
            else:
                return (
                    Ended("done", body) if sort == b"R" else Ended("failed", problem=body.decode())
                )

    def close(self) -> None:
        """End the process and every copy of it."""
        self._socket.close()


def _warm_up() -> None:
    """Load what work needs: much of it is only loaded when it is first used, and a copy would load
    it each time.
    """
    book, plan = load_catalogue(), demo_plan("heron")
    for name, arguments in (
        ("print", {"system": "metric"}),
        ("floor", {"turn": "0", "plan": "above"}),
        ("lines", {}),
    ):
        KINDS[name].run(plan, book, arguments, lambda *_: None)
    garbage.rest()


def _kill(pid: int) -> None:
    if pid:
        with contextlib.suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)


def _mind(owner: socket.socket) -> None:
    """Copy this process whenever its owner asks for it; ends when the owner is gone."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    minder = os.getpid()
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # copies that ended leave nothing behind
    while True:
        asked, files, _, _ = socket.recv_fds(owner, 16, 1)
        if not asked:
            os._exit(0)
        if os.fork() == 0:
            owner.close()
            end_with_parent(minder)
            _copy(socket.socket(fileno=files[0]))
        os.close(files[0])


def _copy(line: socket.socket) -> None:
    """Do one piece of work, say how it went, and end."""
    try:
        _send(line, b"P", str(os.getpid()).encode())
        message = _receive(line)
        if message is not None:
            kind, plan, arguments = json.loads(message[1])
            _do(line, kind, plan, json.loads(arguments))
    finally:
        os._exit(0)


def _do(line: socket.socket, name: str, plan: str, arguments: dict[str, Any]) -> None:
    kind = KINDS[name]

    def report(done: int, of: int, words: str, partial: Any) -> None:
        body = kind.write(partial) if partial is not None else b""
        head = json.dumps([done, of, words, len(body) if partial is not None else -1]).encode()
        _send(line, b"T", head + b"\n" + body)

    try:
        _keep_within(kind.memory_bytes)
        result = kind.run(kept_plan(plan), load_catalogue(), arguments, report)
        _send(line, b"R", kind.write(result))
    except GaleNookError as error:
        _send(line, b"F", str(error).encode())
    except ValidationError as error:
        place, problem = places_of(error)[0]
        _send(
            line,
            b"F",
            f"It leads beyond what a plan can hold: {field_words(place)} {problem}.".encode(),
        )
    except MemoryError:
        _send(
            line,
            b"F",
            (
                f"This needs more than the {kind.memory_bytes / 1e6:.0f} MB of memory "
                "that it may take."
            ).encode(),
        )
    except Exception as error:
        log.error("work failed", work=name, kind=type(error).__name__, at=places(error))
        _send(
            line, b"F", b"This could not be worked out. It is noted as a fault of the application."
        )


def _keep_within(memory_bytes: int) -> None:
    """Let the process take so much memory more than it has now."""
    with open("/proc/self/status", encoding="ascii") as status:
        has = next(int(entry.split()[1]) * 1024 for entry in status if entry.startswith("VmData"))
    resource.setrlimit(resource.RLIMIT_DATA, (has + memory_bytes, has + memory_bytes))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def _send(line: socket.socket, sort: bytes, body: bytes) -> None:
    line.sendall(_HEAD.pack(sort, len(body)) + body)


def _receive(line: socket.socket) -> tuple[bytes, bytes] | None:
    """Return the next message; None when the other end is gone."""
    try:
        head = _exactly(line, _HEAD.size)
        if head is None:
            return None
        sort, size = _HEAD.unpack(head)
        body = _exactly(line, size)
    except ConnectionError:
        return None
    return None if body is None else (sort, body)


def _exactly(line: socket.socket, size: int) -> bytes | None:
    parts = bytearray()
    while len(parts) < size:
        part = line.recv(min(size - len(parts), 1 << 20))
        if not part:
            return None
        parts += part
    return bytes(parts)
