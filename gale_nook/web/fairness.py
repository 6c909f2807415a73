"""A few requests are worked on at a time, the others wait their turn, one person after another.

Computing in several threads at once makes each of them slower and none of them done sooner.
"""

from __future__ import annotations

import asyncio
import hashlib
from collections import OrderedDict, deque

from starlette.requests import cookie_parser
from starlette.types import ASGIApp, Message, Receive, Scope, Send

AT_ONCE = 1
WAIT_SECONDS = 15.0
MOST_OF_ONE = 12  # requests of one person that may wait
PERSON = "person"
ONE_YEAR_S = 365 * 24 * 3600
PASSING = ("/static/", "/health", "/card-worker.js")
WAITING = ("/floor.png", "/build.pdf")  # these wait for the workers, without computing
BUSY = (
    "Many people are working just now. Yours is waiting: it is sent again by itself, and what "
    "you typed is kept."
)


class Turns:
    """Hands out `at_once` turns, round robin over those who wait; within one person, first come
    first served.
    """

    def __init__(self, at_once: int = AT_ONCE, most_of_one: int = MOST_OF_ONE) -> None:
        self._free = at_once
        self._most_of_one = most_of_one
        self._waiting: OrderedDict[str, deque[asyncio.Future[None]]] = OrderedDict()

    @property
    def busy(self) -> bool:
        """Whether whoever comes now has to wait."""
        return self._free == 0

    async def take(self, person: str, patience_s: float) -> bool:
        """Wait for a turn; returns False when there was none in time, or when this person has too
        many waiting.
        """
        if self._free > 0:
            self._free -= 1
            return True
        own = self._waiting.setdefault(person, deque())
        if len(own) >= self._most_of_one:
            return False
        turn = asyncio.get_running_loop().create_future()
        own.append(turn)
        try:
            await asyncio.wait_for(asyncio.shield(turn), patience_s)
        except TimeoutError:
            if turn.done():  # it came at the very moment that patience ended
                return True
            self._forget(person, turn)
            return False
        except asyncio.CancelledError:
            if turn.done():
                self.give_back()
            self._forget(person, turn)
            raise
        return True

    def give_back(self) -> None:
        """Pass the turn on to whoever has waited longest since they had one."""
        while self._waiting:
            person, own = next(iter(self._waiting.items()))
            turn = own.popleft() if own else None
            del self._waiting[person]
            if own:
                self._waiting[person] = own  # to the end: the others come first now
            if turn is not None and not turn.done():
                turn.set_result(None)
                return
        self._free += 1

    def _forget(self, person: str, turn: asyncio.Future[None]) -> None:
        own = self._waiting.get(person)
        if own is None:
            return
        if turn in own:
            own.remove(turn)
        if not own:
            del self._waiting[person]


class Fairness:
    """Lets requests through by turns; whoever has waited too long is told so and sends again by
    itself.
    """

    def __init__(self, app: ASGIApp, patience_s: float = WAIT_SECONDS) -> None:
        self.app = app
        self.turns = Turns()
        self.patience_s = patience_s

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["path"].startswith(PASSING):
            await self.app(scope, receive, send)
            return
        person, known = person_of(scope)
        scope.setdefault("state", {})["person"] = person
        if scope["path"].endswith(WAITING):
            await self.app(scope, receive, send)
            return
        answer = send if known else _remembering(send, person)
        whole = await _whole(receive)  # nobody waits for a slow sender
        if self.turns.busy:
            answer = _closing(answer)  # the next one comes to the process that takes it first
        if not await self.turns.take(person, self.patience_s):
            await _busy(scope, answer)
            return
        turn = _Turn(self.turns)

        async def watched(message: Message) -> None:
            turn.end()  # the answer is worked out: nobody waits for a slow reader either
            await answer(message)

        try:
            await self.app(scope, whole, watched)
        finally:
            turn.end()


class _Turn:
    """A turn that is given back once, however often that is said."""

    def __init__(self, turns: Turns) -> None:
        self._turns: Turns | None = turns

    def end(self) -> None:
        if self._turns is not None:
            self._turns.give_back()
        self._turns = None


async def _whole(receive: Receive) -> Receive:
    """Take in the whole body, and return what hands it on message by message."""
    messages: deque[Message] = deque()
    while True:
        messages.append(await receive())
        if messages[-1]["type"] != "http.request" or not messages[-1].get("more_body"):
            break

    async def again() -> Message:
        return messages.popleft() if messages else await receive()

    return again


def person_of(scope: Scope) -> tuple[str, bool]:
    """Return a name for whoever sends a request, without meaning beyond taking turns, and whether
    they bring it along.
    """
    for name, value in scope["headers"]:
        if name == b"cookie":
            result = cookie_parser(value.decode("latin-1")).get(PERSON, "")
            if result.isalnum() and result.isascii() and len(result) == 16:
                return result, True
    client = scope.get("client") or ("", 0)
    return hashlib.sha256(f"{client[0]}:{client[1]}:{id(scope)}".encode()).hexdigest()[:16], False


def _remembering(send: Send, person: str) -> Send:
    async def with_cookie(message: Message) -> None:
        if message["type"] == "http.response.start":
            value = (
                f"{PERSON}={person}; Path=/; Max-Age={ONE_YEAR_S}; SameSite=Strict; HttpOnly"
            ).encode()
            message["headers"] = [*message.get("headers", ()), (b"set-cookie", value)]
        await send(message)

    return with_cookie


def _closing(send: Send) -> Send:
    """A connection stays with the process that took it: the next one may find another idle."""

    async def with_header(message: Message) -> None:
        if message["type"] == "http.response.start":
            message["headers"] = [*message.get("headers", ()), (b"connection", b"close")]
        await send(message)

    return with_header


async def _busy(scope: Scope, send: Send) -> None:
    """A page that loads itself again, or the bare sentence for the script, which sends again by
    itself.
    """
    fragment = any(name == b"hx-request" for name, _ in scope["headers"])
    page = (
        '<!doctype html><html lang="en"><head><meta charset="utf-8"><meta http-equiv="refresh" '
        'content="2">'
        f"<title>Busy</title></head><body><h1>Busy</h1><p>{BUSY}</p></body></html>"
    )
    headers = [
        (b"content-type", b"text/html; charset=utf-8"),
        (b"retry-after", b"2"),
        (b"x-busy", b"waiting"),
    ]
    await send({"type": "http.response.start", "status": 429, "headers": headers})
    await send({"type": "http.response.body", "body": (BUSY if fragment else page).encode()})
