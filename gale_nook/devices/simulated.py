"""The simulated heater as a process: it speaks the open protocol on standard output, or to whoever
connects.
"""

from __future__ import annotations

import asyncio
import json
import time
from collections.abc import Callable
from contextlib import suppress

from gale_nook.core.errors import BadInput
from gale_nook.core.firing.heater import SimulatedHeater
from gale_nook.core.firing.trace import run_of
from gale_nook.devices.orders import End, read_order
from gale_nook.exchange.readings import line_of

MOST_LINE_BYTES = 2000
MOST_WAITING_BYTES = 200_000  # that somebody may leave unread before nothing more is sent to them
PACES_A_SECOND = 20.0  # so often at the most it rests between its steps


def print_run(heater: SimulatedHeater, speed: float, write: Callable[[str], None]) -> None:
    """Write a whole first firing, line by line.

    Args:
        speed: simulated seconds in a second; 0 for as fast as it goes.
    """
    last_s = 0.0
    for told in run_of(heater):
        if speed > 0:
            time.sleep((told.at_s - last_s) / speed)
            last_s = told.at_s
        write(line_of(told))


class HeaterServer:
    """The heater with a socket: every reading goes to everybody who is connected, and each of them
    may give orders.
    """

    def __init__(self, heater: SimulatedHeater, speed: float) -> None:
        self.heater = heater
        self.speed = speed
        self.clients: set[asyncio.StreamWriter] = set()
        self.ended = asyncio.Event()

    async def run(self, host: str, port: int, ready: Callable[[str, int], None]) -> None:
        """Serve until somebody ends it.

        Args:
            ready: is told where it listens.
        """
        server = await asyncio.start_server(self._talk, host, port, limit=MOST_LINE_BYTES)
        async with server:
            where = server.sockets[0].getsockname()
            ready(where[0], where[1])
            ticking = asyncio.create_task(self._tick())
            await self.ended.wait()
            ticking.cancel()
            with suppress(asyncio.CancelledError):
                await ticking
            for client in tuple(self.clients):
                client.close()

    async def _tick(self) -> None:
        """Go on at the pace that was asked for, several steps at a time where it is fast."""
        steps = max(round(self.speed / PACES_A_SECOND), 1)
        while True:
            for _ in range(steps):
                self.heater.step()
                self._tell(line_of(self.heater.told()))
            await asyncio.sleep(steps * self.heater.step_s / self.speed)

    def _tell(self, line: str) -> None:
        for client in tuple(self.clients):
            if client.transport.get_write_buffer_size() < MOST_WAITING_BYTES:
                client.write(line.encode() + b"\n")

    async def _talk(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        self.clients.add(writer)
        try:
            while raw := await reader.readline():
                self._obey(raw.decode("utf-8", "replace"), writer)
        except (ValueError, ConnectionError):
            writer.write(_refusal("This line is too long.").encode())
        finally:
            self.clients.discard(writer)
            with suppress(ConnectionError):
                writer.close()

    def _obey(self, line: str, writer: asyncio.StreamWriter) -> None:
        if not line.strip():
            return
        try:
            order = read_order(line)
        except BadInput as error:
            writer.write(_refusal(str(error)).encode())
            return
        if isinstance(order, End):
            self.ended.set()
        else:
            order.give(self.heater)


def _refusal(text: str) -> str:
    return json.dumps({"refused": text}) + "\n"
