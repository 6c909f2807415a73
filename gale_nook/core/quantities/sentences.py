"""Quantities inside sentences: written once by the core, shown in the reader's units.

A rule writes `f"The hole ends {q(12.4)} from the rail."`; whoever shows the sentence calls `say`.
The marks are characters of Unicode's private use, which no text that is typed or read can hold (see
`core.plan.base.printable`).
"""

from __future__ import annotations

import re

from gale_nook.core.quantities.length import UnitSystem
from gale_nook.core.quantities.measures import format_quantity

OPEN, CLOSE = "\ue000", "\ue001"
_MARKED = re.compile(f"{OPEN}(-?[0-9.e+-]+) ([a-z0-9_]+){CLOSE}")


def q(value: float, kind: str = "mm") -> str:
    """Return a marked quantity of a kind known to `measures` for use in a sentence."""
    return f"{OPEN}{value if isinstance(value, int) else float(value)!r} {kind}{CLOSE}"


def capital(text: str) -> str:
    """Return a text with a capital at its start, the rest as it is.

    >>> capital("the duct to a splitter")
    'The duct to a splitter'
    """
    return text[:1].upper() + text[1:]


def counted(count: int, thing: str) -> str:
    """Return how many there are of a thing.

    >>> counted(0, "timer"), counted(1, "timer"), counted(3, "timer")
    ('no timers', '1 timer', '3 timers')
    """
    return f"{count or 'no'} {thing}{'' if count == 1 else 's'}"


def say(text: str, system: UnitSystem = UnitSystem.METRIC) -> str:
    """Return the text with every marked quantity written in a unit system.

    >>> say(f"shift it {q(22.0)} rearward")
    'shift it 22 mm rearward'
    """
    return _MARKED.sub(lambda match: format_quantity(float(match[1]), match[2], system), text)
