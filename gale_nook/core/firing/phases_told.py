"""The phase of each reading of a logger that knows nothing of phases: from current, ticks and
warmth.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from gale_nook.core.base.heater_sheet import HeaterSheet
from gale_nook.core.base.phases import PhaseWord
from gale_nook.core.firing.loads import strokes_hz
from gale_nook.core.firing.trace import Row

GLOWS_SHARE = 0.55  # of the glow current, from which the element is on
TICKS_HZ = 0.05
WARMER_K = 3.0  # that tell of a flame
FULL_SHARE = 0.97  # of the most ticks that come


def with_phases(rows: Sequence[Row], sheet: HeaterSheet) -> list[Row]:
    """Return the rows, each with its phase: the device's own word, else what its readings show.

    With ticks the burner runs; with the glow current the element is on; full is as many ticks as
    come at all. Without a current no glow is seen, and without ticks no flame.

    Args:
        rows: in the order of their times.
    """
    glow_a = GLOWS_SHARE * sheet.electrical.glow_current_a
    most_hz = max((row.pump_hz or 0.0 for row in rows), default=0.0)
    full_hz = max(FULL_SHARE * most_hz, strokes_hz(sheet, sheet.output.minimum_w))
    results: list[Row] = []
    words: set[PhaseWord] = set()
    lit = reached = False
    cold_c: float | None = None
    for row in rows:
        glows = (row.current_a or 0.0) >= glow_a
        ticks = (row.pump_hz or 0.0) > TICKS_HZ
        if row.outlet_c is not None and cold_c is None:
            cold_c = row.outlet_c
        warm = row.outlet_c is not None and cold_c is not None and row.outlet_c > cold_c + WARMER_K
        lit = lit or (ticks and (warm or not glows))
        reached = reached or (lit and not glows and (row.pump_hz or 0.0) >= full_hz)
        word = _word(row, glows=glows, ticks=ticks, lit=lit, reached=reached, full_hz=full_hz)
        if word == "check" and "glow" in words:
            word = "glow"  # between two tries
        words.add(row.phase or word)
        results.append(replace(row, phase=row.phase or word))
    return results


def _word(
    row: Row, *, glows: bool, ticks: bool, lit: bool, reached: bool, full_hz: float
) -> PhaseWord:
    if not lit:
        return "glow" if glows or ticks else "check"
    if glows:
        return "flame" if ticks else "stop"
    if not ticks:
        return "after-run"
    if not reached:
        return "ramp"
    return "full" if (row.pump_hz or 0.0) >= full_hz else "regulation"
