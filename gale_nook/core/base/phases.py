"""The phases of a heater's run, from switching on to standing still, in their order."""

from __future__ import annotations

from typing import Literal

PhaseWord = Literal["check", "glow", "flame", "ramp", "full", "regulation", "stop", "after-run"]
PHASES: tuple[PhaseWord, ...] = (
    "check",
    "glow",
    "flame",
    "ramp",
    "full",
    "regulation",
    "stop",
    "after-run",
)
