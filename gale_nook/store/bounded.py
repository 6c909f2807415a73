"""Remembering things up to a size in bytes, the least used forgotten first."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

Key = TypeVar("Key", bound=Hashable)
Value = TypeVar("Value")


class BoundedCache(Generic[Key, Value]):
    """Values by key, as long as their sizes sum up to no more than `most_bytes`. Several threads
    may use it.

    >>> kept = BoundedCache(10)
    >>> kept.of("a", lambda: "first", 6), kept.of("a", lambda: "second", 6)
    ('first', 'first')
    >>> kept.of("b", lambda: "third", 6), kept.of("a", lambda: "fourth", 6)
    ('third', 'fourth')
    """

    def __init__(self, most_bytes: int) -> None:
        self._most = most_bytes
        self._kept: OrderedDict[Key, tuple[Value, int]] = OrderedDict()
        self._lock = threading.Lock()
        self.size_bytes = 0

    def of(self, key: Key, make: Callable[[], Value], size_bytes: int) -> Value:
        """Return the value of a key, made now unless it is kept.

        Args:
            size_bytes: what it will take, estimated; a value larger than the whole is made and not
                kept.
        """
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key][0]
        made = make()
        with self._lock:
            self._drop(key)
            if size_bytes <= self._most:
                self._kept[key] = (made, size_bytes)
                self.size_bytes += size_bytes
            while self.size_bytes > self._most:
                self._drop(next(iter(self._kept)))
        return made

    def _drop(self, key: Key) -> None:
        held = self._kept.pop(key, None)
        if held is not None:
            self.size_bytes -= held[1]

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._kept.clear()
            self.size_bytes = 0
