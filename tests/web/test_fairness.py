"""Turns: one at a time, one person after another, nobody waits for a slow sender or reader, nobody
is turned away unheard.
"""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from starlette.types import Message, Receive, Scope, Send

from gale_nook.web.fairness import BUSY, Fairness, Turns, person_of


def _scope(person: str, path: str = "/jobs/1/heat/set", fragment: bool = True) -> Scope:
    headers = [
        (b"cookie", f"person={person * 16}".encode()),
        *([(b"hx-request", b"true")] if fragment else []),
    ]
    return {
        "type": "http",
        "path": path,
        "method": "POST",
        "headers": headers,
        "client": ("127.0.0.1", 5),
    }


async def _nothing() -> Message:
    return {"type": "http.request", "body": b"", "more_body": False}


class Heard:
    """What was sent back."""

    def __init__(self) -> None:
        self.messages: list[Any] = []

    async def __call__(self, message: Message) -> None:
        self.messages.append(message)

    @property
    def status(self) -> int:
        return int(self.messages[0]["status"])


def _run(test: Callable[[], Any]) -> None:
    """In a thread of its own: the browser's tests leave a loop running in this one."""
    with ThreadPoolExecutor(1) as thread:
        thread.submit(asyncio.run, test()).result()


def test_turns_go_round_by_person_and_within_one_in_order() -> None:
    async def test() -> None:
        turns, order = Turns(at_once=1), []
        await turns.take("first", 5)

        async def wait(name: str) -> None:
            assert await turns.take(name[0], 5)
            order.append(name)
            turns.give_back()

        waiting = []
        for name in ("a1", "a2", "a3", "b1", "c1", "b2"):
            waiting.append(asyncio.create_task(wait(name)))
            await asyncio.sleep(0)
        turns.give_back()
        await asyncio.gather(*waiting)
        assert order == ["a1", "b1", "c1", "a2", "b2", "a3"]
        assert await turns.take("x", 0.01)  # all were given back

    _run(test)


def test_a_turn_that_nobody_waits_for_any_more_is_passed_on() -> None:
    async def test() -> None:
        turns = Turns(at_once=1)
        await turns.take("first", 5)
        gone = asyncio.create_task(turns.take("gone", 5))
        stays = asyncio.create_task(turns.take("stays", 5))
        await asyncio.sleep(0)
        gone.cancel()
        await asyncio.gather(gone, return_exceptions=True)
        turns.give_back()
        assert await stays
        assert await turns.take("late", 0.01) is False  # its patience ends before there is a turn
        turns.give_back()
        assert await turns.take("late", 0.01)

    _run(test)


def test_one_person_cannot_have_more_than_so_many_waiting() -> None:
    async def test() -> None:
        turns = Turns(at_once=1, most_of_one=2)
        await turns.take("first", 5)
        waiting = [asyncio.create_task(turns.take("greedy", 5)) for _ in range(2)]
        await asyncio.sleep(0)
        assert await turns.take("greedy", 5) is False
        for _ in waiting:
            turns.give_back()
        assert await asyncio.gather(*waiting) == [True, True]

    _run(test)


@pytest.mark.parametrize("fragment", [True, False])
def test_who_has_waited_too_long_is_told_that_theirs_is_waiting(fragment: bool) -> None:
    async def test() -> None:
        going = asyncio.Event()

        async def app(_scope: Scope, _receive: Receive, _send: Send) -> None:
            await going.wait()

        gate = Fairness(app, patience_s=0.02)
        first = asyncio.create_task(gate(_scope("a"), _nothing, Heard()))
        await asyncio.sleep(0)
        heard = Heard()
        await gate(_scope("b", fragment=fragment), _nothing, heard)
        assert heard.status == 429
        assert BUSY in heard.messages[1]["body"].decode()
        assert (b"x-busy", b"waiting") in heard.messages[0]["headers"]
        going.set()
        await first

    _run(test)


def test_nobody_waits_for_a_slow_sender_or_a_slow_reader() -> None:
    async def test() -> None:
        body, reading = asyncio.Event(), asyncio.Event()

        async def app(_scope: Scope, receive: Receive, send: Send) -> None:
            assert (await receive())["body"] in {b"", b"slow"}
            await send({"type": "http.response.start", "status": 200, "headers": []})
            await send({"type": "http.response.body", "body": b"done"})

        async def slow_sender() -> Message:
            await body.wait()
            return {"type": "http.request", "body": b"slow", "more_body": False}

        async def slow_reader(_message: Message) -> None:
            await reading.wait()

        gate = Fairness(app, patience_s=5)
        slow = [
            asyncio.create_task(gate(_scope("a"), slow_sender, Heard())),
            asyncio.create_task(gate(_scope("b"), _nothing, slow_reader)),
        ]
        await asyncio.sleep(0)
        quick = Heard()
        await asyncio.wait_for(gate(_scope("c"), _nothing, quick), 5)
        assert quick.status == 200
        body.set()
        reading.set()
        await asyncio.gather(*slow)

    _run(test)


def test_a_person_is_known_again_by_a_cookie_of_their_own() -> None:
    assert person_of(_scope("a")) == ("a" * 16, True)
    made_up = {**_scope("a"), "headers": [(b"cookie", b"person=<script>; other=1")]}
    name, known = person_of(made_up)
    assert (len(name), known) == (16, False)
