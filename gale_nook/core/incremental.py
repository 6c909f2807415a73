"""Facts: worked out once, and kept from plan to plan as long as nothing changed that they read.

With its value, each fact keeps a trace: which parts of the plan were read while it was worked out,
which other facts were asked, and what those gave, in that order. For another plan the value is
taken over where each of these is the same there. A fact that has to be worked out again and gives
an equal value stops the change from going further. Source: Mokhov, Mitchell, Peyton Jones, Build
systems à la carte (2018), verifying traces and early cutoff.

Three things are asked of a fact: it depends on nothing but its arguments and what it reads of its
inputs; it gives the same again for the same; and its value holds none of the inputs, which would
be read later than is noted here.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from contextvars import ContextVar
from dataclasses import fields, is_dataclass
from functools import lru_cache, wraps
from typing import Any, Concatenate, ParamSpec, TypeVar, cast

import numpy as np

P = ParamSpec("P")
T = TypeVar("T")
In = TypeVar("In", bound="Inputs")
Key = tuple[Callable[..., Any], tuple[Any, ...]]

# of one fact: of plans that stand, the last two, and of such as are only tried
MOST_STANDING, MOST_TRIED = 2, 8
MOST_KEYS, PLANS_OF_ONE_AGE = 4_000, 8  # after which a generation ends
MOST_ALIKE = 20  # values of one part that are compared


class Trace:
    """What a fact gave, and what that rests on.

    Attributes:
        reads: the parts that it rests on, one bit each, its own reads and those of facts it asked.
        parts: of the inputs that it was worked out or found to hold for.
        steps: in their order: the bits of parts that it read itself, and facts that it asked with
            their traces.
        strays: reads of inputs that are not its own and not derived from them: it holds for its
            own inputs alone then.
        tried: of inputs that are only tried.
    """

    __slots__ = ("parts", "reads", "steps", "strays", "tried", "value")

    def __init__(
        self,
        value: Any,
        inputs: Inputs,
        reads: int,
        steps: list[Any],
        strays: dict[int, tuple[Inputs, int]] | None = None,
    ) -> None:
        self.value = value
        self.parts, self.tried = inputs.parts, inputs.tried
        self.reads, self.steps = reads, tuple(steps)
        self.strays = strays


class TraceStore:
    """The traces of all plans of one job, and its parts as they were. Several threads may use it.

    What was not asked for longest is forgotten, in two generations; a trace that is kept keeps
    those that it rests on.
    """

    def __init__(self, part_count: int, most_keys: int = MOST_KEYS) -> None:
        self._young: dict[Key, tuple[Trace, ...]] = {}
        self._old: dict[Key, tuple[Trace, ...]] = {}
        self._most_keys, self._plans = most_keys, 0
        self._parts: list[tuple[Any, ...]] = [()] * part_count

    def versions(self, key: Key) -> tuple[Trace, ...]:
        """Return the traces that are kept of a fact with its arguments."""
        found = self._young.get(key)
        if found is None:
            found = self._old.pop(key, None)
            if found is None:
                return ()
            self._put(key, found)
        return found

    def keep(self, key: Key, trace: Trace) -> None:
        """Keep a trace; those of plans that are tried do not push out those of plans that stand."""
        known = (trace, *self.versions(key))
        standing = [each for each in known if not each.tried][:MOST_STANDING]
        tried = [each for each in known if each.tried][:MOST_TRIED]
        self._put(key, (*standing, *tried))

    def begin_plan(self) -> None:
        """Hear that there is another plan that stands."""
        self._plans += 1
        if self._plans % PLANS_OF_ONE_AGE == 0:
            self._old, self._young = self._young, {}

    def _put(self, key: Key, versions: tuple[Trace, ...]) -> None:
        if len(self._young) >= self._most_keys:
            self._old, self._young = self._young, {}
        self._young[key] = versions

    def same_part(self, number: int, part: Any) -> Any:
        """Return the part as it is known, if an equal one is; so that equal parts are one."""
        known = self._parts[number]
        for each in known:
            if each is part:
                return each
        for each in known:
            if type(each) is type(part) and each == part:
                return each
        self._parts[number] = (part, *known)[:MOST_ALIKE]
        return part

    def traces(self) -> Iterable[tuple[Key, Trace]]:
        """Yield everything that is kept."""
        for generation in (self._old, self._young):
            for key, versions in list(generation.items()):
                for trace in versions:
                    yield key, trace


class Inputs:
    """What facts are worked out from: a document in parts.

    Args:
        parts: each one object with its equals, see `TraceStore.same_part`.
        origin: what they are derived from, with the bits of the parts that stand otherwise here.
        tried: they are one of many that are tried.
    """

    def __init__(
        self,
        parts: tuple[Any, ...],
        store: TraceStore,
        origin: Inputs | None = None,
        own: int = 0,
        *,
        tried: bool = False,
    ) -> None:
        self.parts = parts
        self.store = store
        self.origin, self.own = origin, own
        self.tried = tried
        self.traces: dict[Key, Trace] = {}  # known to hold here
        self._changes: dict[int, tuple[int, tuple[Any, ...]]] = {}

    def changed_from(self, parts: tuple[Any, ...]) -> int:
        """Return the bits of the parts that are not as in others."""
        known = self._changes.get(id(parts))
        if known is None:
            bits = sum(
                1 << number
                for number, (one, other) in enumerate(zip(self.parts, parts, strict=True))
                if one is not other
            )
            known = self._changes[id(parts)] = bits, parts  # kept, so that its id stays its own
        return known[0]


class _Work:
    """A fact that is being worked out: what it read and asked so far."""

    __slots__ = ("direct", "inputs", "reads", "steps", "strays")

    def __init__(self, inputs: Inputs) -> None:
        self.inputs = inputs
        self.steps: list[Any] = []
        self.reads = self.direct = 0
        self.strays: dict[int, tuple[Inputs, int]] | None = None

    def read(self, inputs: Inputs, bits: int) -> None:
        """Note that parts of some inputs were read."""
        at: Inputs | None = inputs
        while at is not None:
            if at is self.inputs:
                if bits & ~self.direct:
                    self.steps.append(bits)
                    self.direct |= bits
                    self.reads |= bits
                return
            bits &= ~at.own  # these were given to it; whoever made it has read what they rest on
            if not bits:
                return
            at = at.origin
        strays = self.strays = self.strays or {}
        strays[id(inputs)] = inputs, bits | strays.get(id(inputs), (inputs, 0))[1]

    def ask(self, inputs: Inputs, key: Key, trace: Trace) -> None:
        """Note that a fact was asked."""
        if inputs is self.inputs and trace.strays is None:
            self.steps.append((key, trace))
            self.reads |= trace.reads
        else:
            self.rest_on(inputs, (), trace.reads, trace.strays)

    def rest_on(
        self,
        inputs: Inputs,
        steps: Iterable[Any],
        reads: int,
        strays: dict[int, tuple[Inputs, int]] | None,
    ) -> None:
        """Note what something rests on that is not asked again: its steps, where they are known and
        of the same inputs; else the parts that it read.
        """
        if steps and inputs is self.inputs:
            self.steps.extend(steps)
            self.reads |= reads
        else:
            self.read(inputs, reads)
        for other, bits in (strays or {}).values():
            self.read(other, bits)


_current: ContextVar[_Work | None] = ContextVar("the fact that is being worked out", default=None)


def read_part(inputs: Inputs, number: int) -> Any:
    """Return a part, noted as read by the fact that is being worked out."""
    work = _current.get()
    if work is not None:
        work.read(inputs, 1 << number)
    return inputs.parts[number]


def read_all(inputs: Inputs) -> None:
    """Note every part as read."""
    work = _current.get()
    if work is not None:
        work.read(inputs, (1 << len(inputs.parts)) - 1)


def fact(function: Callable[Concatenate[In, P], T]) -> Callable[Concatenate[In, P], T]:
    """Decorate a function of inputs and hashable arguments that is a fact, as above."""

    def remembered(inputs: In, /, *args: P.args, **kwargs: P.kwargs) -> T:
        if kwargs:  # the same arguments would have two keys
            raise TypeError(f"{function.__name__} takes its arguments by position")
        key: Key = (function, args)
        trace = inputs.traces.get(key) or _taken_over(inputs, key) or _worked_out(inputs, key)
        work = _current.get()
        if work is not None:
            work.ask(inputs, key, trace)
        return cast("T", trace.value)

    return cast("Callable[Concatenate[In, P], T]", wraps(function)(remembered))


def unshared_fact(function: Callable[Concatenate[In, P], T]) -> Callable[Concatenate[In, P], T]:
    """Decorate the same where the value holds its inputs: it is kept for these alone."""

    def remembered(inputs: In, /, *args: P.args, **kwargs: P.kwargs) -> T:
        if kwargs:
            raise TypeError(f"{function.__name__} takes its arguments by position")
        key: Key = (function, args)
        trace = inputs.traces.get(key)
        if trace is None:
            trace = inputs.traces[key] = noted(inputs, lambda: function(inputs, *args, **kwargs))
        return cast("T", seen(inputs, trace))

    return cast("Callable[Concatenate[In, P], T]", wraps(function)(remembered))


def noted(inputs: Inputs, work: Callable[[], Any]) -> Trace:
    """Return what some work gives, with what it rests on."""
    this = _Work(inputs)
    return Trace(_done(this, work), inputs, this.reads, this.steps, this.strays)


def seen(inputs: Inputs, trace: Trace) -> Any:
    """Return what was noted of some work; whoever asks rests on the same."""
    work = _current.get()
    if work is not None:
        work.rest_on(inputs, trace.steps, trace.reads, trace.strays)
    return trace.value


def if_known(function: Callable[..., T], inputs: Inputs, *args: Any) -> T | None:
    """Return what a fact gives where that is known already, or can be taken over; else None."""
    key: Key = (cast("Any", function).__wrapped__, args)
    trace = inputs.traces.get(key) or _taken_over(inputs, key)
    if trace is None:
        return None
    work = _current.get()
    if work is not None:
        work.ask(inputs, key, trace)
    return cast("T", trace.value)


def _worked_out(inputs: Inputs, key: Key) -> Trace:
    function, args = key
    this = _Work(inputs)
    value = _done(this, lambda: function(inputs, *args))
    for known in _nearest(inputs.store.versions(key)):
        if same(value, known.value):
            value = known.value  # equal values are one object, so that whoever asks sees it at once
            break
    trace = Trace(value, inputs, this.reads, this.steps, this.strays)
    inputs.traces[key] = trace
    if trace.strays is None:
        inputs.store.keep(key, trace)
    return trace


def _done(this: _Work, work: Callable[[], Any]) -> Any:
    before = _current.get()
    _current.set(this)
    try:
        return work()
    except BaseException:
        if before is not None:  # that it could not be worked out rests on the same
            before.rest_on(this.inputs, this.steps, this.reads, this.strays)
        raise
    finally:
        _current.set(before)


def _taken_over(inputs: Inputs, key: Key, given: Trace | None = None) -> Trace | None:
    """The trace of a fact that holds for the inputs too, if one does; one may be given besides."""
    versions = inputs.store.versions(key)
    near = _nearest(versions)
    if given is not None and given not in near:
        near.append(given)
    for trace in (*versions, *near):
        if not inputs.changed_from(trace.parts) & trace.reads:
            inputs.traces[key] = trace
            return trace
    for trace in near:
        held = _verified(inputs, trace)
        if held is not None:
            inputs.traces[key] = held
            inputs.store.keep(key, held)
            return held
    return None


def _nearest(versions: tuple[Trace, ...]) -> list[Trace]:
    """The newest of a plan that stands and of one that is tried: these are worth a closer look."""
    standing = next((each for each in versions if not each.tried), None)
    tried = next((each for each in versions if each.tried), None)
    return [each for each in (standing, tried) if each is not None]


def _verified(inputs: Inputs, trace: Trace) -> Trace | None:
    """The trace as it holds for the inputs; None where something that it rests on is not the same.

    The steps are gone through in their order: each is taken only after all before it gave the same,
    so that the fact would take it too.
    """
    changed = inputs.changed_from(trace.parts)
    reads, steps = 0, list[Any]()
    before = _current.get()
    _current.set(None)
    try:
        for step in trace.steps:
            if isinstance(step, int):
                if changed & step:
                    return None
                reads |= step
                steps.append(step)
                continue
            key, given = step
            now = given
            if changed & given.reads:
                now = (
                    inputs.traces.get(key)
                    or _taken_over(inputs, key, given)
                    or _worked_out(inputs, key)
                )
                if now.strays is not None or not same(now.value, given.value):
                    return None
            reads |= now.reads
            steps.append((key, now))
    except Exception:
        return None
    finally:
        _current.set(before)
    return Trace(trace.value, inputs, reads, steps)


def same(one: Any, other: Any) -> bool:
    """Return whether two values are the same to everything that asks for them; False where that
    cannot be told.
    """
    if one is other:
        return True
    if type(one) is not type(other):
        return False
    try:
        return bool(one == other)
    except ValueError:  # arrays in it
        return _alike(one, other)


def _alike(one: Any, other: Any) -> bool:
    if one is other:
        return True
    if type(one) is not type(other):
        return False
    if isinstance(one, np.ndarray):
        return one.dtype == other.dtype and bool(np.array_equal(one, other))
    if isinstance(one, tuple | list):
        return len(one) == len(other) and all(map(_alike, one, other))
    if isinstance(one, dict):
        return list(one) == list(other) and all(map(_alike, one.values(), other.values()))
    if is_dataclass(one):
        names = _field_names(cast("Any", type(one)))
        return all(_alike(getattr(one, name), getattr(other, name)) for name in names)
    return same(one, other)


@lru_cache(maxsize=1024)
def _field_names(of: type[Any]) -> tuple[str, ...]:
    return tuple(field.name for field in fields(of))
