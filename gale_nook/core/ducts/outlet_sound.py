"""The sound that air makes in an outlet."""

from __future__ import annotations

import math


def outlet_sound_db(velocity_m_s: float, bore_mm: float) -> float:
    """Return the sound power that the air makes in an outlet, dB.

    Lw = 10 + 50·lg v + 10·lg A, of simple outlets. Source: VDI 2081, sheet 1, flow noise of
    terminal devices (v in m/s, A in m²).

    >>> round(outlet_sound_db(5.0, 75.0), 1)
    21.4
    """
    area = math.pi * (bore_mm / 2000) ** 2
    return 10 + 50 * math.log10(max(velocity_m_s, 0.1)) + 10 * math.log10(area)
