"""How a process that lives long looks for waste."""

from __future__ import annotations

import gc

# New objects before a search, and searches of each age before one of the next. Working out a check
# makes tens of thousands that are all freed by their counts: the usual 700 search them for nothing.
THRESHOLDS = (50_000, 20, 20)


def rest() -> None:
    """Leave what was loaded out of every later search, and search less often. Copies of the process
    then share its pages, too. To be called once all is loaded.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(*THRESHOLDS)
